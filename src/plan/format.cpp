#include "vast_turn/plan/format.hpp"

#include <algorithm>
#include <array>

#include "plan/text/token.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/plan/plan.hpp"

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

constexpr std::size_t widest_line = 100;
constexpr std::size_t widest_one_line_block = 80;
constexpr std::size_t widest_condition = 48; // a longer one does not push the arrows of its neighbours
constexpr std::size_t widest_code = 76;      // likewise for comments

/// One line of the result, before arrows and comments are put below one another.
struct Row {
    int depth = 0;
    std::string code;
    std::string comment;
    std::size_t arrow = std::string::npos; // where the `->` of a rule stands in `code`
    bool blank_before = false;
    bool opens = false;
    bool closes = false;
    bool broken = false; // goes on in the next row
};

bool is_one_of(const std::string& word, std::initializer_list<const char*> list) {
    return std::any_of(list.begin(), list.end(), [&](const char* other) { return word == other; });
}

/// Words behind which a bracket or minus begins a value.
bool is_prefix_word(const Token& token) {
    return token.kind == TokenKind::word &&
           is_one_of(token.text, {"and", "or", "not", "fresh", "lasting", "till", "over", "of", "if", "loop",
                                  "widening", "guard", "weights", "else", "mirrored"});
}

bool is_symbol(const Token& token, const char* text) { return token.kind == TokenKind::symbol && token.text == text; }

bool is_unary_minus(const std::vector<Token>& tokens, std::size_t i) {
    if (!is_symbol(tokens[i], "-")) {
        return false;
    }
    if (i == 0) {
        return true;
    }
    const Token& before = tokens[i - 1];
    return (before.kind == TokenKind::symbol && before.text != ")") || is_prefix_word(before);
}

bool is_look_unit(const std::string& unit) { return unit == "look" || unit == "looks"; }

std::string text_of(const Token& token) {
    switch (token.kind) {
    case TokenKind::number: return token.text + (is_look_unit(token.unit) ? " " : "") + token.unit;
    case TokenKind::string: return "\"" + token.text + "\"";
    case TokenKind::pattern: {
        std::string marks = token.text;
        marks.erase(std::remove(marks.begin(), marks.end(), ' '), marks.end());
        return "[" + marks + "]";
    }
    default: return token.text;
    }
}

bool blank_between(const std::vector<Token>& tokens, std::size_t i) {
    const Token& before = tokens[i - 1];
    const Token& next = tokens[i];
    if (is_symbol(before, "(") || is_symbol(next, ")") || is_symbol(next, ",") || is_unary_minus(tokens, i - 1)) {
        return false;
    }
    if (is_symbol(next, "(")) {
        return before.kind != TokenKind::word || is_prefix_word(before);
    }
    const bool unit = before.kind == TokenKind::number && before.unit.empty() && next.kind == TokenKind::word &&
                      lang::find_unit(next.text).has_value();
    return !unit || is_look_unit(next.text);
}

/// Cuts a text into rows.
class Rows {
public:
    explicit Rows(const lang::Source& source, std::vector<Token> tokens)
        : source_(source), tokens_(std::move(tokens)) {}

    std::vector<Row> cut() {
        std::size_t from = source_.text().starts_with("\xEF\xBB\xBF") ? 3 : 0;
        for (std::size_t i = 0; i < tokens_.size(); ++i) {
            const Token& token = tokens_[i];
            gap(source_.text({from, token.span.from}));
            from = token.span.to;
            take(token, i + 1 < tokens_.size() ? tokens_[i + 1] : token);
        }
        return std::move(rows_);
    }

private:
    /// What stands between two tokens: blanks, line ends, comments.
    void gap(std::string_view text) {
        bool same_line = !line_.empty() || !rows_.empty();
        while (!text.empty()) {
            const std::size_t end = std::min(text.find('\n'), text.size());
            std::string_view piece = text.substr(0, end);
            const std::size_t comment = piece.find("//");
            if (comment != std::string_view::npos) {
                piece.remove_prefix(comment);
                piece = piece.substr(0, piece.find_last_not_of(" \t\r") + 1);
                note(std::string(piece), same_line);
            } else if (!same_line && end < text.size()) {
                blank_ = true;
            }
            same_line = same_line && end == text.size();
            text.remove_prefix(std::min(end + 1, text.size()));
        }
    }

    void note(std::string comment, bool same_line) {
        if (!line_.empty()) { // within a line that goes on
            flush_part(std::move(comment));
        } else if (same_line && rows_.back().comment.empty() && !rows_.back().code.empty()) {
            rows_.back().comment = std::move(comment);
        } else {
            Row row;
            row.depth = depth_;
            row.comment = std::move(comment);
            row.blank_before = take_blank();
            rows_.push_back(std::move(row));
        }
    }

    bool take_blank() {
        const bool blank = blank_;
        blank_ = false;
        return blank;
    }

    void take(const Token& token, const Token& next) {
        if (token.kind == TokenKind::line_end || token.kind == TokenKind::text_end) {
            return flush();
        }
        if (is_symbol(token, "}")) {
            flush();
            depth_ = std::max(depth_ - 1, 0);
            line_.push_back(token);
            comma_follows_ = is_symbol(next, ",");
            if (!comma_follows_) {
                flush();
                rows_.back().closes = true;
            }
            return;
        }
        line_.push_back(token);
        if (is_symbol(token, "{")) {
            flush();
            rows_.back().opens = true;
            ++depth_;
        } else if (comma_follows_) {
            comma_follows_ = false;
            flush();
            rows_.back().closes = true;
        }
    }

    /// Ends a row within a line, after a comment in it.
    void flush_part(std::string comment) {
        flush();
        rows_.back().comment = std::move(comment);
        rows_.back().broken = true;
        goes_on_ = true;
    }

    void flush() {
        if (line_.empty()) {
            goes_on_ = false;
            return;
        }
        const std::vector<Token> line = std::move(line_);
        line_.clear();
        Row row;
        row.depth = depth_;
        row.blank_before = take_blank() && !goes_on_;
        std::size_t indent = 4 * static_cast<std::size_t>(depth_) + (goes_on_ ? 4 : 0);
        row.code = goes_on_ ? "    " : "";
        goes_on_ = false;
        int brackets = 0;
        std::size_t last_break = std::string::npos; // in `code`, where the row may be parted
        for (std::size_t i = 0; i < line.size(); ++i) {
            if (i > 0 && blank_between(line, i)) {
                row.code += " ";
            }
            brackets += is_symbol(line[i], "(") ? 1 : is_symbol(line[i], ")") ? -1 : 0;
            if (is_symbol(line[i], "->") && brackets == 0 && row.arrow == std::string::npos) {
                row.arrow = row.code.size();
            }
            row.code += text_of(line[i]);
            if (indent + row.code.size() > widest_line && last_break != std::string::npos) {
                Row rest = row;
                rest.code = "    " + row.code.substr(row.code.find_first_not_of(' ', last_break));
                rest.arrow = std::string::npos;
                rest.blank_before = false;
                row.code.resize(last_break);
                row.broken = true;
                row.arrow = std::string::npos;
                rows_.push_back(std::move(row));
                row = std::move(rest);
                last_break = std::string::npos;
            }
            const bool may_break = is_symbol(line[i], ",") || is_symbol(line[i], "->") ||
                                   (line[i].kind == TokenKind::word && is_one_of(line[i].text, {"and", "or"}));
            if (may_break && brackets == 0) {
                last_break = row.code.size();
            }
        }
        rows_.push_back(std::move(row));
    }

    const lang::Source& source_;
    std::vector<Token> tokens_;
    std::vector<Token> line_;
    std::vector<Row> rows_;
    int depth_ = 0;
    bool blank_ = false;
    bool goes_on_ = false;
    bool comma_follows_ = false;
};

/// A block of one short line stands on one line; a habit never does.
void join_short_blocks(std::vector<Row>& rows) {
    std::vector<Row> out;
    for (Row& row : rows) {
        out.push_back(std::move(row));
        const std::size_t n = out.size();
        if (n < 3 || !out[n - 1].closes) {
            continue;
        }
        Row& head = out[n - 3];
        const Row& inner = out[n - 2];
        const Row& end = out[n - 1];
        const bool plain = head.opens && !inner.opens && !inner.closes && !inner.broken && inner.comment.empty() &&
                           head.comment.empty() && !inner.code.empty() && !head.code.starts_with("habit ") &&
                           !inner.code.starts_with("guard ");
        const std::string joined = head.code + " " + inner.code + " " + end.code;
        const bool part = n > 3 && out[n - 4].broken;
        if (plain && !part && 4 * static_cast<std::size_t>(head.depth) + joined.size() <= widest_one_line_block) {
            head.code = joined;
            head.comment = end.comment;
            head.opens = false;
            head.arrow = std::string::npos;
            out.resize(n - 2);
        }
    }
    rows = std::move(out);
}

bool begins_block(const Row& row) { return row.code.starts_with("habit ") || row.code.starts_with("errand "); }

/// One blank line before a block, with the comments that stand above it; none behind { and before }.
void set_blank_lines(std::vector<Row>& rows) {
    for (std::size_t i = 0; i < rows.size(); ++i) {
        const bool first = i == 0 || rows[i - 1].opens;
        if (first || rows[i].closes) {
            rows[i].blank_before = false;
        }
        if (begins_block(rows[i]) && i > 0) {
            std::size_t top = i;
            while (top > 0 && rows[top - 1].code.empty() && rows[top - 1].depth == 0 && !rows[top].blank_before) {
                --top;
            }
            rows[top].blank_before = top > 0;
        }
        if (i > 0 && rows[i - 1].depth == 0 && rows[i - 1].closes && rows[i].depth == 0) {
            rows[i].blank_before = true;
        }
    }
}

/// Puts something of neighbouring rows below one another: `width` tells how wide what stands before it is, or
/// npos; `pad` moves it to a column.
template <class Width, class Pad> void align(std::vector<Row>& rows, std::size_t widest, Width width, Pad pad) {
    for (std::size_t from = 0; from < rows.size();) {
        std::size_t to = from + 1;
        while (to < rows.size() && !rows[to].blank_before && rows[to].depth == rows[from].depth) {
            ++to;
        }
        std::size_t column = 0;
        for (std::size_t i = from; i < to; ++i) {
            const std::size_t mine = width(rows[i]);
            column = mine != std::string::npos && mine <= widest ? std::max(column, mine) : column;
        }
        for (std::size_t i = from; i < to; ++i) {
            const std::size_t mine = width(rows[i]);
            if (mine != std::string::npos && mine < column) {
                pad(rows[i], column - mine);
            }
        }
        from = to;
    }
}

std::string written(std::vector<Row> rows) {
    align(
        rows, widest_condition, [](const Row& row) { return row.arrow; },
        [](Row& row, std::size_t blanks) { row.code.insert(row.arrow, blanks, ' '); });
    align(
        rows, widest_code,
        [](const Row& row) { return row.comment.empty() || row.code.empty() ? std::string::npos : row.code.size(); },
        [](Row& row, std::size_t blanks) { row.code.append(blanks, ' '); });
    std::string text;
    for (const Row& row : rows) {
        text += row.blank_before ? "\n" : "";
        text += std::string(4 * static_cast<std::size_t>(row.depth), ' ') + row.code;
        text += (row.code.empty() || row.comment.empty() ? "" : "  ") + row.comment + "\n";
    }
    return text;
}

} // namespace

Formatted format_plan(std::string_view text, std::string_view file) {
    Compiled compiled = compile_plan(text, file);
    if (!compiled.plan) {
        return {"", std::move(compiled.problems)};
    }
    const lang::Source source(text, file);
    lang::Problems problems(source);
    std::vector<Row> rows = Rows(source, lang::tokenize(source, problems)).cut();
    join_short_blocks(rows);
    set_blank_lines(rows);
    return {written(std::move(rows)), {}};
}

} // namespace vast_turn
