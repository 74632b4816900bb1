#include "language/lined_text.hpp"

#include <algorithm>

#include <nlohmann/json.hpp>

namespace vturn {

using nlohmann::json;
using vast_turn::Place;
using vast_turn::TextSpan;

namespace {

/// Bytes of the character that begins with this one; 1 for what begins none.
std::size_t bytes_of(char first) {
    const auto c = static_cast<unsigned char>(first);
    return c >= 0xF0 ? 4 : c >= 0xE0 ? 3 : c >= 0xC0 ? 2 : 1;
}

std::size_t whole_number(const json& object, const char* key) {
    const auto at = object.is_object() ? object.find(key) : object.end();
    return at != object.end() && at->is_number_unsigned() ? at->get<std::size_t>() : 0;
}

} // namespace

LinedText::LinedText(std::string text, ColumnUnit unit) : text_(std::move(text)), unit_(unit), starts_{0} {
    for (std::size_t at = text_.find('\n'); at != std::string::npos; at = text_.find('\n', at + 1)) {
        starts_.push_back(at + 1);
    }
}

TextSpan LinedText::line(std::size_t number) const {
    if (number >= starts_.size()) {
        return {text_.size(), text_.size()};
    }
    std::size_t to = number + 1 < starts_.size() ? starts_[number + 1] - 1 : text_.size();
    to -= to > starts_[number] && text_[to - 1] == '\r' ? 1 : 0;
    return {starts_[number], to};
}

std::string_view LinedText::line_text(std::size_t number) const {
    const TextSpan span = line(number);
    return std::string_view(text_).substr(span.from, span.to - span.from);
}

std::size_t LinedText::line_at(std::size_t byte) const {
    return static_cast<std::size_t>(std::upper_bound(starts_.begin(), starts_.end(), byte) - starts_.begin()) - 1;
}

std::size_t LinedText::byte_of(const json& position) const {
    const TextSpan span = line(whole_number(position, "line"));
    const std::size_t wanted = whole_number(position, "character");
    if (unit_ == ColumnUnit::utf8) {
        return std::min(span.from + wanted, span.to);
    }
    std::size_t at = span.from;
    for (std::size_t units = 0; at < span.to && units < wanted;) {
        const std::size_t bytes = bytes_of(text_[at]);
        units += bytes == 4 ? 2 : 1;
        at = std::min(at + bytes, span.to);
    }
    return at;
}

std::size_t LinedText::columns(TextSpan span) const {
    if (unit_ == ColumnUnit::utf8) {
        return span.to - span.from;
    }
    std::size_t columns = 0;
    for (std::size_t at = span.from; at < span.to && at < text_.size(); at += bytes_of(text_[at])) {
        columns += bytes_of(text_[at]) == 4 ? 2 : 1;
    }
    return columns;
}

json LinedText::position_of(std::size_t byte) const {
    const std::size_t number = line_at(std::min(byte, text_.size()));
    return {{"line", number}, {"character", columns({starts_[number], byte})}};
}

json LinedText::range_of(TextSpan span) const {
    return {{"start", position_of(span.from)}, {"end", position_of(span.to)}};
}

json LinedText::range_of_all() const { return range_of({0, text_.size()}); }

TextSpan LinedText::span_of(const Place& place) const {
    const TextSpan span = line(place.line > 0 ? static_cast<std::size_t>(place.line - 1) : 0);
    if (place.line <= 0 || place.column <= 0) {
        return span;
    }
    std::size_t at = span.from;
    for (int i = 1; i < place.column && at < span.to; ++i) {
        at = std::min(at + bytes_of(text_[at]), span.to);
    }
    TextSpan found{at, at};
    for (int i = 0; i < place.length && found.to < span.to; ++i) {
        found.to = std::min(found.to + bytes_of(text_[found.to]), span.to);
    }
    return found;
}

std::string LinedText::with(const json& change) const {
    const auto text = change.find("text");
    std::string put = text != change.end() && text->is_string() ? text->get<std::string>() : std::string();
    const auto range = change.find("range");
    if (range == change.end() || !range->is_object()) {
        return put;
    }
    const std::size_t from = byte_of(range->value("start", json::object()));
    const std::size_t to = std::max(from, byte_of(range->value("end", json::object())));
    return text_.substr(0, from) + put + text_.substr(to);
}

} // namespace vturn
