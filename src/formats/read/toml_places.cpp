/// Where in a TOML text its values stand, and faults there.
#include <algorithm>

#include "formats/read/toml_parts.hpp"
#include "vast_turn/base/utf8.hpp"

namespace vast_turn {

Place TomlText::place(int line, int column, int length) const {
    const auto number = static_cast<std::size_t>(std::max(1, line));
    const std::string_view whole = number <= line_starts_.size() ? line_text(number) : std::string_view{};
    const auto byte_of = [&whole](int characters) { // that stand before it
        std::size_t at = 0;
        for (; characters > 0 && at < whole.size(); --characters) {
            at += std::max<std::size_t>(1, first_character(whole.substr(at)).bytes);
        }
        return at;
    };
    const std::size_t from = byte_of(column - 1);
    return place_in_line(file_, line, whole, from, byte_of(column - 1 + length) - from);
}

std::pair<int, int> TomlTable::lines_of(const char* key) const {
    const auto found = node_->table->find(key);
    if (found == node_->table->end()) {
        return {1, 0};
    }
    const toml::node& value = found->second;
    int last = static_cast<int>(value.source().end.line);
    if (const toml::table* table = value.as_table(); table != nullptr && !table->is_inline()) {
        for (const auto& [name, held] : *table) {
            last = std::max(last, static_cast<int>(held.source().end.line));
        }
    }
    return {static_cast<int>(std::min(found->first.source().begin.line, value.source().begin.line)), last};
}

int TomlTable::line() const { return static_cast<int>(node_->table->source().begin.line); }

void TomlTable::fault(const char* key, std::string message, std::string cure, std::optional<std::size_t> skip) {
    const toml::node* value = node_->table->get(key);
    const toml::source_region region = value != nullptr ? value->source() : node_->table->source();
    const int line = std::max(1, static_cast<int>(region.begin.line));
    int column = std::max(1, static_cast<int>(region.begin.column));
    int size = 1;
    if (value != nullptr && region.end.line == region.begin.line) {
        size = std::max(1, static_cast<int>(region.end.column) - column);
    }
    if (skip) {
        column += 1 + static_cast<int>(*skip); // behind the quotation mark
        size = 1;
    }
    text_->problems_.add_error([&] { return text_->place(line, column, size); }, std::move(message), std::move(cure));
}

void TomlTable::fault_in_text(const char* key, int line, int column, int length, std::string message,
                              std::string cure) {
    const toml::node* value = node_->table->get(key);
    const auto begin = value != nullptr ? value->source().begin : node_->table->source().begin;
    const auto first = static_cast<std::size_t>(std::max(1U, static_cast<unsigned>(begin.line)));
    const std::string_view opens = text_->line_text(first);
    // A text of several lines begins behind the line break that follows its three quotation marks.
    const bool on_next = opens.ends_with("\"\"\"") || opens.ends_with("'''");
    const int at = static_cast<int>(first) + line - (on_next ? 0 : 1);
    const int shift = !on_next && line == 1 ? static_cast<int>(begin.column) : 0;
    text_->problems_.add_error([&] { return text_->place(at, shift + column, length); }, std::move(message),
                               std::move(cure));
}

} // namespace vast_turn
