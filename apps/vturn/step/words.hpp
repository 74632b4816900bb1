#pragma once

/// A line of a script, word by word.

#include <cstddef>
#include <optional>
#include <string>
#include <string_view>

namespace vturn {

/// Words stand apart by blanks; one in double quotes may have blanks in it. What does not fit throws InputError at its
/// place.
class Words {
public:
    /// `file` and `line` are what problems call the place. The text outlives this.
    Words(std::string_view text, std::string file, int line);

    /// Whether there is no further word.
    bool at_end() const { return at_ >= text_.size(); }
    /// The next word, left where it is; empty at the end.
    std::string_view peek() const;
    /// Takes the next word when it is this one.
    bool take(std::string_view word);
    /// Takes the next word; `what` is told when there is none: "the name of a block".
    std::string word(const std::string& what);
    /// A number without a unit; with a whole one not below `least`.
    double number(const std::string& what);
    std::size_t whole(const std::string& what, std::size_t least);
    /// A way in mm ("35mm", "4cm", "1.2m"), a time in s ("4.2s", "350ms"); the next word is left when it is none.
    std::optional<double> way_mm();
    std::optional<double> time_s();
    /// All that is left.
    std::string rest();
    /// Nothing may be left.
    void end(const std::string& after);

    /// Throws at the word that was taken last, or would be taken next.
    [[noreturn]] void fail_at_last(std::string message, std::string cure) const;
    [[noreturn]] void fail_at_next(std::string message, std::string cure) const;
    /// At a byte behind where rest() began.
    [[noreturn]] void fail_in_rest(std::size_t offset, std::string message, std::string cure) const;

private:
    [[noreturn]] void fail(std::size_t from, std::size_t size, std::string message, std::string cure) const;
    std::size_t end_of_word() const;
    void skip_blanks();
    std::optional<double> with_unit(std::string_view unit, double factor);

    std::string_view text_;
    std::string file_;
    int line_;
    std::size_t at_ = 0;
    std::size_t last_ = 0; // where the last word began
    std::size_t last_size_ = 1;
};

} // namespace vturn
