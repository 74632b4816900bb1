#include "step/words.hpp"

#include <charconv>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

bool is_blank(char c) { return c == ' ' || c == '\t' || c == '\r'; }

/// The number that a word begins with, and what stands behind it.
std::optional<std::pair<double, std::string_view>> number_of(std::string_view word) {
    double value = 0.0;
    const char* end = word.data() + word.size();
    const auto [stopped, error] = std::from_chars(word.data(), end, value);
    if (error != std::errc{} || !std::isfinite(value)) {
        return std::nullopt;
    }
    return std::pair{value, std::string_view(stopped, static_cast<std::size_t>(end - stopped))};
}

} // namespace

Words::Words(std::string_view text, std::string file, int line) : text_(text), file_(std::move(file)), line_(line) {
    while (!text_.empty() && is_blank(text_.back())) {
        text_.remove_suffix(1);
    }
    skip_blanks();
}

void Words::skip_blanks() {
    while (at_ < text_.size() && is_blank(text_[at_])) {
        ++at_;
    }
}

std::size_t Words::end_of_word() const {
    if (at_ < text_.size() && text_[at_] == '"') {
        const std::size_t end = text_.find('"', at_ + 1);
        return end == std::string_view::npos ? text_.size() : end + 1;
    }
    std::size_t end = at_;
    while (end < text_.size() && !is_blank(text_[end])) {
        ++end;
    }
    return end;
}

std::string_view Words::peek() const { return text_.substr(at_, end_of_word() - at_); }

bool Words::take(std::string_view word) {
    if (peek() != word) {
        return false;
    }
    last_ = at_;
    last_size_ = word.size();
    at_ += word.size();
    skip_blanks();
    return true;
}

std::string Words::word(const std::string& what) {
    if (at_end()) {
        fail_at_next(fmt::format("expected {}, found the end of the line", what), fmt::format("write {}", what));
    }
    std::string_view found = peek();
    last_ = at_;
    last_size_ = found.size();
    at_ += found.size();
    if (found.front() == '"') {
        if (found.size() < 2 || found.back() != '"') {
            fail_at_last("the closing quote is missing", "close what begins with \" on the same line");
        }
        found = found.substr(1, found.size() - 2);
    }
    skip_blanks();
    return std::string(found);
}

double Words::number(const std::string& what) {
    const std::string text = word(what);
    const auto number = number_of(text);
    if (!number || !number->second.empty()) {
        fail_at_last(fmt::format("expected {}, found `{}`", what, text), "write a number");
    }
    return number->first;
}

std::size_t Words::whole(const std::string& what, std::size_t least) {
    constexpr double most = 1e9;
    const double value = number(what);
    if (std::floor(value) < value || value < static_cast<double>(least) || value > most) {
        fail_at_last(fmt::format("{} is a whole number from {}", what, least), "write one");
    }
    return static_cast<std::size_t>(value);
}

std::optional<double> Words::with_unit(std::string_view unit, double factor) {
    const std::string_view found = peek();
    const auto number = number_of(found);
    if (!number || number->second != unit) {
        return std::nullopt;
    }
    last_ = at_;
    last_size_ = found.size();
    at_ += found.size();
    skip_blanks();
    return number->first * factor;
}

std::optional<double> Words::way_mm() {
    for (const auto& [unit, factor] : {std::pair{"mm", 1.0}, {"cm", 10.0}, {"m", 1000.0}}) {
        if (const auto way = with_unit(unit, factor)) {
            return way;
        }
    }
    return std::nullopt;
}

std::optional<double> Words::time_s() {
    for (const auto& [unit, factor] : {std::pair{"s", 1.0}, {"ms", 0.001}}) {
        if (const auto time = with_unit(unit, factor)) {
            return time;
        }
    }
    return std::nullopt;
}

std::string Words::rest() {
    last_ = at_;
    last_size_ = std::max<std::size_t>(1, text_.size() - at_);
    std::string all(text_.substr(at_));
    at_ = text_.size();
    return all;
}

void Words::end(const std::string& after) {
    if (!at_end()) {
        fail_at_next(fmt::format("expected the end of the line after {}, found `{}`", after, peek()),
                     "write one command a line");
    }
}

void Words::fail(std::size_t from, std::size_t size, std::string message, std::string cure) const {
    throw InputError(
        {{Severity::error, place_in_line(file_, line_, text_, from, size), std::move(message), std::move(cure)}});
}

void Words::fail_at_last(std::string message, std::string cure) const {
    fail(last_, last_size_, std::move(message), std::move(cure));
}

void Words::fail_at_next(std::string message, std::string cure) const {
    fail(at_, std::max<std::size_t>(1, peek().size()), std::move(message), std::move(cure));
}

void Words::fail_in_rest(std::size_t offset, std::string message, std::string cure) const {
    fail(last_ + std::min(offset, last_size_ - 1), 1, std::move(message), std::move(cure));
}

} // namespace vturn
