#include "formats/read/csv_table.hpp"

#include <algorithm>
#include <charconv>
#include <cmath>

#include <fmt/format.h>

namespace vast_turn {

namespace {

constexpr std::size_t most_columns = 256;

std::string_view trimmed(std::string_view text) {
    const std::size_t from = text.find_first_not_of(" \t");
    return from == std::string_view::npos ? std::string_view{}
                                          : text.substr(from, text.find_last_not_of(" \t") - from + 1);
}

} // namespace

void CsvTable::part(const Row& row) {
    const std::string_view line = source(row);
    cells_.clear();
    open_quote_ = false;
    std::size_t from = 0;
    for (std::size_t at = 0; at <= line.size(); ++at) {
        if (at < line.size() && line[at] == '"') {
            open_quote_ = !open_quote_; // a doubled one closes and opens
        }
        if (at == line.size() || (line[at] == separator_ && !open_quote_)) {
            cells_.push_back({from, at - from});
            from = at + 1;
            if (cells_.size() > most_columns) {
                return;
            }
        }
    }
}

const CsvTable::Cell& CsvTable::cell(std::size_t row, std::size_t column) {
    if (parted_ != row) {
        part(rows_[row]);
        parted_ = row;
    }
    return cells_[column];
}

std::string CsvTable::content(const Row& row, const Cell& cell) const {
    const std::string_view written = source(row).substr(cell.from, cell.size);
    if (written.find('"') == std::string_view::npos) {
        return std::string(trimmed(written));
    }
    std::string text;
    bool quoted = false;
    for (std::size_t at = 0; at < written.size(); ++at) {
        if (written[at] != '"') {
            text += written[at];
        } else if (quoted && at + 1 < written.size() && written[at + 1] == '"') {
            text += written[at++];
        } else {
            quoted = !quoted;
        }
    }
    return std::string(trimmed(text));
}

void CsvTable::take_header(const Row& row) {
    header_ = row;
    const std::string_view line = source(row);
    separator_ = line.find(',') == std::string_view::npos && line.find(';') != std::string_view::npos ? ';' : ',';
    part(row);
    if (cells_.size() > most_columns) {
        throw InputError(file_, fmt::format("the first line names more than {} columns", most_columns),
                         "check that this is the right file; see docs/files.md for the columns");
    }
    if (open_quote_) {
        report(row, cells_.back(), "a quotation mark is not closed", "close it in the same line");
    }
    for (std::size_t i = 0; i < cells_.size(); ++i) {
        const std::string name = content(row, cells_[i]);
        if (name.empty()) {
            column_fault(i, "a column has no name", "the first line names every column");
        } else if (find(name)) {
            column_fault(i, fmt::format("there are two columns \"{}\"", name), "give each column a name of its own");
        }
        columns_.push_back(name);
    }
}

void CsvTable::check_row(const Row& row) {
    part(row);
    if (open_quote_) {
        report(row, cells_.back(), "a quotation mark is not closed", "close it in the same line");
    }
    if (cells_.size() != columns_.size()) {
        const std::string found =
            cells_.size() > most_columns ? fmt::format("more than {}", most_columns) : std::to_string(cells_.size());
        report(row, cells_.back(),
               fmt::format("expected {} cells as in the first line, found {}", columns_.size(), found),
               "part the cells by commas, one for each column");
    }
}

CsvTable::CsvTable(std::string_view text, std::string_view file) : text_(text), file_(file) {
    std::size_t at = text.substr(0, 3) == "\xEF\xBB\xBF" ? 3 : 0;
    for (int number = 1; at < text_.size() && !full(); ++number) {
        const std::size_t end = std::min(text_.find('\n', at), text_.size());
        const bool has_return = end > at && text_[end - 1] == '\r';
        const Row row{number, at, end - at - (has_return ? 1 : 0)};
        at = end + 1;
        const std::string_view line = source(row);
        const std::size_t first = line.find_first_not_of(" \t");
        if (first == std::string_view::npos || line[first] == '#') {
            continue;
        }
        if (columns_.empty()) {
            take_header(row);
        } else {
            check_row(row);
            rows_.push_back(row);
        }
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

std::string CsvTable::text(std::size_t row, std::size_t column) { return content(rows_[row], cell(row, column)); }

double CsvTable::number(std::size_t row, std::size_t column) {
    std::string text = this->text(row, column);
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
    problems_.add_error(
        [&] { return place_in_line(file_, row.line, source(row), cell.from, std::max<std::size_t>(1, cell.size)); },
        std::move(message), std::move(cure));
}

void CsvTable::fault(std::size_t row, std::size_t column, std::string message, std::string cure) {
    report(rows_[row], cell(row, column), std::move(message), std::move(cure));
}

void CsvTable::column_fault(std::size_t column, std::string message, std::string cure) {
    parted_ = static_cast<std::size_t>(-1);
    part(header_);
    report(header_, cells_[column], std::move(message), std::move(cure));
}

} // namespace vast_turn
