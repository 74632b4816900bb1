#include "language/toml_help.hpp"

#include <algorithm>
#include <array>
#include <map>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "files_page.hpp"

namespace vturn {

using nlohmann::json;
using vast_turn::TextSpan;

namespace {

std::string_view trimmed(std::string_view text) {
    const std::size_t from = text.find_first_not_of(" \t\r");
    return from == std::string_view::npos ? std::string_view{}
                                          : text.substr(from, text.find_last_not_of(" \t\r") - from + 1);
}

/// The cells of a row of a Markdown table; a bar within code does not end one.
std::vector<std::string> cells_of(std::string_view row) {
    std::vector<std::string> cells;
    bool in_code = false;
    std::string cell;
    for (const char c : row.substr(1)) {
        in_code = c == '`' ? !in_code : in_code;
        if (c == '|' && !in_code) {
            cells.emplace_back(trimmed(cell));
            cell.clear();
        } else {
            cell += c;
        }
    }
    return cells;
}

std::vector<std::string> codes_in(const std::string& cell) {
    std::vector<std::string> codes;
    for (std::size_t at = cell.find('`'); at != std::string::npos;) {
        const std::size_t end = cell.find('`', at + 1);
        if (end == std::string::npos) {
            break;
        }
        codes.push_back(cell.substr(at + 1, end - at - 1));
        at = cell.find('`', end + 1);
    }
    return codes;
}

/// Rows of one section of the page. A row that begins with a table says to which table it and those behind it belong.
void take_row(std::vector<TomlKey>& keys, std::string& table, const std::vector<std::string>& cells) {
    if (cells.size() < 2 || cells[0].find('`') == std::string::npos) {
        return;
    }
    const std::string usual = cells.size() > 2 ? cells[1] : "";
    const std::string& meaning = cells.back();
    for (std::string code : codes_in(cells[0])) {
        if (code.starts_with('[')) {
            const std::size_t end = code.find_last_of(']');
            table = code.substr(0, end + 1);
            code = std::string(trimmed(code.substr(end + 1)));
            if (code.empty()) {
                keys.push_back({table, "", usual, meaning, true});
                continue;
            }
        }
        keys.push_back({code, cells[0].find(" of a ") != std::string::npos ? "of" : table, usual, meaning, false});
    }
}

std::map<DocumentKind, std::vector<TomlKey>> all_keys() {
    constexpr std::array<std::pair<std::string_view, DocumentKind>, 7> sections = {
        {{"## A folder", DocumentKind::folder},
         {"## Robot ", DocumentKind::robot},
         {"## Course ", DocumentKind::course},
         {"## Pieces ", DocumentKind::pieces},
         {"## Trips ", DocumentKind::trips},
         {"## Calibration ", DocumentKind::calibration},
         {"### Days ", DocumentKind::days}}};
    std::map<DocumentKind, std::vector<TomlKey>> all;
    DocumentKind kind = DocumentKind::other;
    std::string table;
    std::string_view page = files_page;
    while (!page.empty()) {
        const std::size_t end = std::min(page.find('\n'), page.size());
        const std::string_view line = page.substr(0, end);
        page = page.substr(std::min(end + 1, page.size()));
        if (line.starts_with("## ") || line.starts_with("### ")) {
            const auto at = std::find_if(sections.begin(), sections.end(),
                                         [&](const auto& one) { return line.starts_with(one.first); });
            kind = at == sections.end() ? DocumentKind::other : at->second;
            table.clear();
        } else if (line.starts_with("| ") && kind != DocumentKind::other) {
            take_row(all[kind], table, cells_of(line));
        }
    }
    for (const TomlKey& key : all[DocumentKind::course]) { // trips stand in courses too
        if (key.name == "[[trip]]") {
            all[DocumentKind::trips].push_back(key);
        }
    }
    return all;
}

bool is_key_letter(char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
}

/// The header of the table in which a line stands.
std::string table_at(const LinedText& lined, std::size_t line) {
    for (std::size_t i = line + 1; i-- > 0;) {
        const std::string_view text = trimmed(lined.line_text(i));
        if (text.starts_with('[')) {
            const std::size_t end = text.find('#');
            std::string_view head = trimmed(text.substr(0, std::min(end, text.size())));
            return head.ends_with(']') ? std::string(head) : "";
        }
    }
    return "";
}

std::string key_text(const TomlKey& key) {
    return fmt::format("`{}`{}\n\n{}", key.name, key.usual.empty() ? "" : fmt::format(": {}", key.usual), key.meaning);
}

/// The header of the tables whose names a key's values are.
std::string_view named_by(std::string_view key) {
    constexpr std::array<std::pair<std::string_view, std::string_view>, 6> keys = {{{"from", "[[start]]"},
                                                                                    {"visits", "[[place]]"},
                                                                                    {"never", "[[place]]"},
                                                                                    {"variants", "[[variant]]"},
                                                                                    {"without", "[[marker]]"},
                                                                                    {"colour", "[palette]"}}};
    const auto at = std::find_if(keys.begin(), keys.end(), [&](const auto& one) { return one.first == key; });
    return at == keys.end() ? std::string_view{} : at->second;
}

json proposal(const std::string& label, int kind, const std::string& about, const std::string& meaning) {
    return {{"label", label},
            {"kind", kind},
            {"detail", about},
            {"documentation", {{"kind", "markdown"}, {"value", meaning}}}};
}

constexpr int kind_property = 10;
constexpr int kind_value = 12;
constexpr int kind_module = 9;

} // namespace

std::vector<std::string> names_under(const LinedText& lined, std::string_view header) {
    std::vector<std::string> names;
    std::string table;
    for (std::size_t i = 0; i < lined.lines(); ++i) {
        const std::string_view text = trimmed(lined.line_text(i));
        if (text.starts_with('[')) {
            table = table_at(lined, i);
        } else if (table == header) {
            const bool is_palette = header == "[palette]";
            const std::size_t equals = text.find('=');
            if (is_palette && equals != std::string_view::npos && !text.starts_with('#')) {
                names.emplace_back(trimmed(text.substr(0, equals)));
            } else if (text.starts_with("name") && equals != std::string_view::npos) {
                const std::size_t from = text.find('"', equals);
                const std::size_t to = from == std::string_view::npos ? from : text.find('"', from + 1);
                if (to != std::string_view::npos) {
                    names.emplace_back(text.substr(from + 1, to - from - 1));
                }
            }
        }
    }
    return names;
}

const std::vector<TomlKey>& toml_keys(DocumentKind kind) {
    static const std::map<DocumentKind, std::vector<TomlKey>> all = all_keys();
    static const std::vector<TomlKey> none;
    const auto at = all.find(kind);
    return at == all.end() ? none : at->second;
}

json toml_hover(const Document& document, std::size_t byte) {
    const LinedText& lined = *document.lined;
    const std::size_t number = lined.line_at(byte);
    const std::string_view line = lined.line_text(number);
    const std::string_view text = trimmed(line);
    const TextSpan whole = lined.line(number);
    std::size_t from = byte - whole.from;
    std::size_t to = from;
    while (from > 0 && is_key_letter(line[from - 1])) {
        --from;
    }
    while (to < line.size() && is_key_letter(line[to])) {
        ++to;
    }
    const std::string table = table_at(lined, number);
    const std::string word = text.starts_with('[') ? table : std::string(line.substr(from, to - from));
    const TomlKey* found = nullptr;
    for (const TomlKey& key : toml_keys(document.kind)) {
        if (key.name == word && (found == nullptr || key.table == table)) {
            found = &key;
        }
    }
    if (found == nullptr) {
        return nullptr;
    }
    const TextSpan span = text.starts_with('[') ? whole : TextSpan{whole.from + from, whole.from + to};
    return {{"contents", {{"kind", "markdown"}, {"value", key_text(*found)}}}, {"range", lined.range_of(span)}};
}

json toml_proposals(const Document& document, std::size_t byte) {
    const LinedText& lined = *document.lined;
    const std::size_t number = lined.line_at(byte);
    const std::string_view before = lined.line_text(number).substr(0, byte - lined.line(number).from);
    json list = json::array();
    const std::size_t equals = before.find('=');
    if (equals != std::string_view::npos) {
        const bool in_quotes = std::count(before.begin(), before.end(), '"') % 2 == 1;
        const std::string_view header = named_by(trimmed(before.substr(0, equals)));
        for (const std::string& name : header.empty() ? std::vector<std::string>{} : names_under(lined, header)) {
            list.push_back(
                proposal(in_quotes ? name : fmt::format("\"{}\"", name), kind_value, std::string(header), ""));
        }
        return list;
    }
    if (trimmed(before).starts_with('#')) {
        return list;
    }
    const std::string table = table_at(lined, number);
    for (const TomlKey& key : toml_keys(document.kind)) {
        if (key.is_table) {
            list.push_back(proposal(key.name, kind_module, key.usual, key.meaning));
        } else if (key.table == table) {
            list.push_back(proposal(key.name, kind_property, key.usual, key.meaning));
        }
    }
    return list;
}

json toml_outline(const Document& document) {
    const LinedText& lined = *document.lined;
    constexpr int kind_object = 19;
    json list = json::array();
    for (std::size_t i = 0; i < lined.lines(); ++i) {
        if (!trimmed(lined.line_text(i)).starts_with('[')) {
            continue;
        }
        std::size_t last = i;
        std::string name = table_at(lined, i);
        while (last + 1 < lined.lines() && !trimmed(lined.line_text(last + 1)).starts_with('[')) {
            ++last;
            const std::string_view text = trimmed(lined.line_text(last));
            const std::size_t from = text.starts_with("name") ? text.find('"') : std::string_view::npos;
            if (from != std::string_view::npos && text.find('"', from + 1) != std::string_view::npos) {
                name += fmt::format(" {}", text.substr(from + 1, text.find('"', from + 1) - from - 1));
            }
        }
        if (!name.empty()) {
            list.push_back({{"name", name},
                            {"kind", kind_object},
                            {"range", lined.range_of({lined.line(i).from, lined.line(last).to})},
                            {"selectionRange", lined.range_of(lined.line(i))}});
        }
    }
    return list;
}

} // namespace vturn
