#pragma once

/// A table of text cells read from CSV (RFC 4180), each with its place for faults.

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

/// The first line that is neither blank nor a comment (`#`) names the columns, at most 256. Cells are parted by commas,
/// or by semicolons when the header has those and no comma; then numbers may have a decimal comma.
///
/// It keeps the text and where its rows begin; cells are found when they are asked for, so it takes little more memory
/// than the text has bytes.
class CsvTable {
public:
    /// Throws InputError when there is no header, a column has no name or the name of another, a row has
    /// another number of cells than the header, or a quotation mark stays open.
    CsvTable(std::string_view text, std::string_view file);

    const std::vector<std::string>& columns() const { return columns_; }
    std::size_t rows() const { return rows_.size(); }
    /// The column of this name, if there is one.
    std::optional<std::size_t> find(std::string_view name) const;

    /// What a cell says, without quotation marks and blanks around it.
    std::string text(std::size_t row, std::size_t column);
    /// A finite number; reports a fault and gives 0 when the cell holds none.
    double number(std::size_t row, std::size_t column);

    /// Reports a fault at a cell, or at a column's name.
    void fault(std::size_t row, std::size_t column, std::string message, std::string cure);
    void column_fault(std::size_t column, std::string message, std::string cure);
    /// Whether there are more faults than anybody wants to see: a reader may stop.
    bool full() const { return problems_.full(); }
    /// Throws InputError with the faults, if there are any.
    void finish() { problems_.finish(file_); }

private:
    /// Where a cell stands in its line, as written.
    struct Cell {
        std::size_t from = 0;
        std::size_t size = 0;
    };
    /// A line of the text, without its end.
    struct Row {
        int line = 0;
        std::size_t from = 0;
        std::size_t size = 0;
    };

    std::string_view source(const Row& row) const { return std::string_view(text_).substr(row.from, row.size); }
    /// The cells of a line; of one with far too many the first ones.
    void part(const Row& row);
    /// The same, kept until another row is asked for.
    const Cell& cell(std::size_t row, std::size_t column);
    std::string content(const Row& row, const Cell& cell) const;
    void take_header(const Row& row);
    void check_row(const Row& row);
    void report(const Row& row, const Cell& cell, std::string message, std::string cure);

    std::string text_;
    std::string file_;
    char separator_ = ',';
    Row header_;
    std::vector<std::string> columns_;
    std::vector<Row> rows_;
    std::vector<Cell> cells_; // of the row that was asked for last
    std::size_t parted_ = static_cast<std::size_t>(-1);
    bool open_quote_ = false; // in the line that was parted last
    ProblemList problems_;
};

} // namespace vast_turn
