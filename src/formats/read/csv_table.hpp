#pragma once

/// A table of text cells read from CSV (RFC 4180), each with its place for faults.

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// The first line that is neither blank nor a comment (`#`) names the columns. Cells are parted by commas,
/// or by semicolons when the header has those and no comma; then numbers may have a decimal comma.
class CsvTable {
public:
    /// Throws InputError when there is no header, a column has no name or the name of another, a row has
    /// another number of cells than the header, or a quotation mark stays open.
    CsvTable(std::string_view text, std::string_view file);

    const std::vector<std::string>& columns() const { return columns_; }
    std::size_t rows() const { return rows_.size(); }
    /// The column of this name, if there is one.
    std::optional<std::size_t> find(std::string_view name) const;

    const std::string& text(std::size_t row, std::size_t column) const { return rows_[row].cells[column].text; }
    /// A finite number; reports a fault and gives 0 when the cell holds none.
    double number(std::size_t row, std::size_t column);

    /// Reports a fault at a cell, or at a column's name.
    void fault(std::size_t row, std::size_t column, std::string message, std::string cure);
    void column_fault(std::size_t column, std::string message, std::string cure);
    /// Throws InputError with all faults, if there are any (the first 20 of many).
    void finish();

private:
    struct Cell {
        std::string text;
        int column = 1; // of its first character in the line
        int length = 0; // as written
    };
    struct Row {
        int line = 0;
        std::string source;
        std::vector<Cell> cells;
    };

    Row parse_line(std::string_view line, int number);
    void take_header(Row row);
    void report(const Row& row, const Cell& cell, std::string message, std::string cure);

    std::string file_;
    char separator_ = ',';
    Row header_;
    std::vector<std::string> columns_;
    std::vector<Row> rows_;
    std::vector<Problem> problems_;
};

} // namespace vast_turn
