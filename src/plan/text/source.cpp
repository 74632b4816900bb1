#include "plan/text/source.hpp"

#include <algorithm>
#include <tuple>
#include <utility>

namespace vast_turn::lang {

namespace {

constexpr int most_errors = 20;

} // namespace

Source::Source(std::string_view text, std::string_view file) : text_(text), file_(file) {
    line_starts_.push_back(0);
    for (std::size_t i = 0; i < text_.size(); ++i) {
        if (text_[i] == '\n') {
            line_starts_.push_back(i + 1);
        }
    }
}

std::string_view Source::text(Span span) const {
    const std::size_t from = std::min(span.from, text_.size());
    return std::string_view(text_).substr(from, std::max(span.to, from) - from);
}

int Source::line_of(std::size_t byte) const {
    const auto after = std::upper_bound(line_starts_.begin(), line_starts_.end(), byte);
    return static_cast<int>(after - line_starts_.begin());
}

Place Source::place(Span span) const {
    const std::size_t from = std::min(span.from, text_.size());
    const int line = line_of(from);
    const std::size_t start = line_starts_[static_cast<std::size_t>(line - 1)];
    std::size_t end = text_.find('\n', start);
    end = end == std::string::npos ? text_.size() : end;
    std::string_view whole = std::string_view(text_).substr(start, end - start);
    if (whole.ends_with('\r')) {
        whole.remove_suffix(1);
    }
    return place_in_line(file_, line, whole, from - start, std::max(from, std::min(span.to, end)) - from);
}

void Problems::error(Span span, std::string message, std::string cure) {
    if (++errors_ <= most_errors) {
        list_.push_back({Severity::error, source_->place(span), std::move(message), std::move(cure)});
    }
}

void Problems::warning(Span span, std::string message, std::string cure) {
    constexpr int most_warnings = 40;
    if (++warnings_ <= most_warnings) {
        list_.push_back({Severity::warning, source_->place(span), std::move(message), std::move(cure)});
    }
}

std::vector<Problem> Problems::take() {
    std::stable_sort(list_.begin(), list_.end(), [](const Problem& a, const Problem& b) {
        return std::tie(a.place.line, a.place.column) < std::tie(b.place.line, b.place.column);
    });
    if (errors_ > most_errors) {
        Place whole;
        whole.file = source_->file();
        list_.push_back({Severity::error, whole, std::to_string(errors_ - most_errors) + " more errors not shown",
                         "mend these first"});
    }
    return std::move(list_);
}

} // namespace vast_turn::lang
