#pragma once

/// The text of a plan, and where in it something stands.

#include <cstddef>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"

namespace vast_turn::lang {

/// Bytes from..to (exclusive) of the text.
struct Span {
    std::size_t from = 0;
    std::size_t to = 0;
};

class Source {
public:
    Source(std::string_view text, std::string_view file);

    std::string_view text() const { return text_; }
    std::string_view text(Span span) const;
    const std::string& file() const { return file_; }

    /// Line from 1 of a byte.
    int line_of(std::size_t byte) const;
    Place place(Span span) const;

private:
    std::string text_;
    std::string file_;
    std::vector<std::size_t> line_starts_;
};

/// Collects problems, at most a screenful of errors: after that a text is better mended than read on.
class Problems {
public:
    explicit Problems(const Source& source) : source_(&source) {}

    void error(Span span, std::string message, std::string cure = {});
    void warning(Span span, std::string message, std::string cure = {});

    bool any_error() const { return errors_ > 0; }

    /// In the order of their places.
    std::vector<Problem> take();

private:
    const Source* source_;
    std::vector<Problem> list_;
    int errors_ = 0;
    int warnings_ = 0;
};

} // namespace vast_turn::lang
