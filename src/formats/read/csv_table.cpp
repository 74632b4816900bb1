#include "formats/read/csv_table.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

namespace vast_turn {

namespace {

constexpr std::size_t most_faults = 20;

std::string trimmed(const std::string& text) {
    const std::size_t from = text.find_first_not_of(" \t");
    return from == std::string::npos ? std::string{} : text.substr(from, text.find_last_not_of(" \t") - from + 1);
}

} // namespace

CsvTable::Row CsvTable::parse_line(std::string_view line, int number) {
    Row row{number, std::string(line), {}};
    std::size_t at = 0;
    while (true) {
        const std::size_t from = at;
        Cell cell;
        bool quoted = false;
        while (at < line.size() && (quoted || line[at] != separator_)) {
            if (line[at] != '"') {
                cell.text += line[at];
            } else if (quoted && at + 1 < line.size() && line[at + 1] == '"') {
                cell.text += line[at++];
            } else {
                quoted = !quoted;
            }
            ++at;
        }
        cell.column = static_cast<int>(from) + 1;
        cell.length = static_cast<int>(at - from);
        cell.text = trimmed(cell.text);
        if (quoted) {
            report(row, cell, "a quotation mark is not closed", "close it in the same line");
        }
        row.cells.push_back(std::move(cell));
        if (at >= line.size()) {
            return row;
        }
        ++at;
    }
}

void CsvTable::take_header(Row row) {
    header_ = std::move(row);
    for (std::size_t i = 0; i < header_.cells.size(); ++i) {
        const std::string& name = header_.cells[i].text;
        if (name.empty()) {
            column_fault(i, "a column has no name", "the first line names every column");
        } else if (find(name)) {
            column_fault(i, fmt::format("there are two columns \"{}\"", name), "give each column a name of its own");
        }
        columns_.push_back(name);
    }
}

CsvTable::CsvTable(std::string_view text, std::string_view file) : file_(file) {
    if (text.substr(0, 3) == "\xEF\xBB\xBF") {
        text.remove_prefix(3);
    }
    int number = 0;
    while (!text.empty()) {
        const std::size_t end = std::min(text.find('\n'), text.size());
        std::string_view line = text.substr(0, end);
        text.remove_prefix(std::min(end + 1, text.size()));
        ++number;
        if (!line.empty() && line.back() == '\r') {
            line.remove_suffix(1);
        }
        const std::size_t first = line.find_first_not_of(" \t");
        if (first == std::string_view::npos || line[first] == '#') {
            continue;
        }
        if (columns_.empty()) {
            separator_ =
                line.find(',') == std::string_view::npos && line.find(';') != std::string_view::npos ? ';' : ',';
            take_header(parse_line(line, number));
            continue;
        }
        Row row = parse_line(line, number);
        if (row.cells.size() != columns_.size()) {
            report(row, row.cells.back(),
                   fmt::format("expected {} cells as in the first line, found {}", columns_.size(), row.cells.size()),
                   "part the cells by commas, one for each column");
            row.cells.resize(columns_.size());
        }
        rows_.push_back(std::move(row));
    }
    if (columns_.empty()) {
        throw InputError(file_, "the file has no line that names the columns", "see docs/files.md for the columns");
    }
    finish();
}

std::optional<std::size_t> CsvTable::find(std::string_view name) const {
    const auto at = std::find(columns_.begin(), columns_.end(), name);
    return at == columns_.end() ? std::nullopt : std::optional(static_cast<std::size_t>(at - columns_.begin()));
}

double CsvTable::number(std::size_t row, std::size_t column) {
    std::string text = rows_[row].cells[column].text;
    if (separator_ == ';') {
        std::replace(text.begin(), text.end(), ',', '.');
    }
    double value = 0.0;
    const char* end = text.data() + text.size();
    const auto [stopped, error] = std::from_chars(text.data(), end, value);
    if (error != std::errc{} || stopped != end || !std::isfinite(value)) {
        fault(row, column, fmt::format("column \"{}\" wants a number, not `{}`", columns_[column], text),
              "write a number, or leave the line out");
        return 0.0;
    }
    return value;
}

void CsvTable::report(const Row& row, const Cell& cell, std::string message, std::string cure) {
    problems_.push_back({Severity::error,
                         {file_, row.line, cell.column, std::max(1, cell.length), row.source},
                         std::move(message),
                         std::move(cure)});
}

void CsvTable::fault(std::size_t row, std::size_t column, std::string message, std::string cure) {
    report(rows_[row], rows_[row].cells[column], std::move(message), std::move(cure));
}

void CsvTable::column_fault(std::size_t column, std::string message, std::string cure) {
    report(header_, header_.cells[column], std::move(message), std::move(cure));
}

void CsvTable::finish() {
    if (problems_.empty()) {
        return;
    }
    if (problems_.size() > most_faults) {
        const std::size_t more = problems_.size() - most_faults;
        problems_.resize(most_faults);
        problems_.push_back({Severity::error, {file_, 0, 0, 1, {}}, fmt::format("{} more faults", more), {}});
    }
    throw InputError(std::move(problems_));
}

} // namespace vast_turn
