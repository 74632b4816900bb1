#pragma once

/// A text by lines, and places in it as the Language Server Protocol counts them.

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include "vast_turn/assist/written_plan.hpp"
#include "vast_turn/base/problem.hpp"

namespace vturn {

/// In what columns are counted: what the client asks for, or UTF-16 as the protocol has it.
enum class ColumnUnit { utf8, utf16 };

class LinedText {
public:
    explicit LinedText(std::string text, ColumnUnit unit);

    const std::string& text() const { return text_; }
    std::size_t lines() const { return starts_.size(); }
    /// Bytes of a line, from 0, without its end.
    vast_turn::TextSpan line(std::size_t number) const;
    std::string_view line_text(std::size_t number) const;
    std::size_t line_at(std::size_t byte) const;
    /// Where a line begins; of one behind the last no byte of the text.
    std::size_t line_from(std::size_t number) const {
        return number < starts_.size() ? starts_[number] : text_.size() + 1;
    }
    /// How many columns these bytes of one line take.
    std::size_t columns(vast_turn::TextSpan span) const;

    /// A place of the protocol as a byte; beyond the end of a line or the text it is that end.
    std::size_t byte_of(const nlohmann::json& position) const;
    nlohmann::json position_of(std::size_t byte) const;
    nlohmann::json range_of(vast_turn::TextSpan span) const;
    /// Of a place that a reader tells: its characters are code points, from 1; of a whole file the first line.
    vast_turn::TextSpan span_of(const vast_turn::Place& place) const;
    nlohmann::json range_of_all() const;

    /// The text with a change of the protocol in it.
    std::string with(const nlohmann::json& change) const;

    ColumnUnit unit() const { return unit_; }

private:
    std::string text_;
    ColumnUnit unit_;
    std::vector<std::size_t> starts_;
};

} // namespace vturn
