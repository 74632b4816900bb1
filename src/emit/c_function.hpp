#pragma once

/// Functions of C, put together from their statements.

#include <string>
#include <string_view>
#include <vector>

#include "emit/c_text.hpp"

namespace vast_turn::emit {

/// Whether a name of C stands in a text, as a whole word.
bool stands_in(std::string_view name, std::string_view text);

/// Statements under one another, each at its depth.
class Lines {
public:
    explicit Lines(int depth = 1) : depth_(depth) {}
    /// One line; `{` at its end leads deeper, `}` at its begin back.
    void add(std::string_view line);
    /// Several, with line breaks between.
    void add_all(std::string_view lines);
    const std::string& text() const { return text_; }

private:
    int depth_;
    std::string text_;
};

/// A local name of a function: it is declared only where it is used.
struct Local {
    std::string name;
    std::string declaration;
};

/// `static TYPE NAME(PARAMETERS)` with these statements. Parameters that no statement names are set aside, locals that
/// none names left out; one may use those before it.
std::string c_function(const CPieces& pieces, std::string_view head, const std::vector<std::string>& parameters,
                       const std::vector<Local>& locals, std::string_view statements);

} // namespace vast_turn::emit
