#pragma once

/// A terminal's screen, drawn as a whole. The macros of curses stay in the sources.

#include <string>
#include <vector>

namespace vturn {

/// The terminal as it was is there again when this ends.
class Screen {
public:
    /// How words look: curses' attributes, joined by |.
    using Look = unsigned;

    Screen();
    ~Screen();
    Screen(const Screen&) = delete;
    Screen& operator=(const Screen&) = delete;

    static Look bold();
    static Look reverse();
    static Look line_ink();
    static Look good_ink();
    static Look faint_ink();

    static int rows();
    static int columns();
    static void erase();
    static void refresh();

    /// Words at a place, cut at `width` and at the screen's edge.
    static void put(int row, int column, const std::string& words, int width, Look look = 0);

    /// A key, waited for so many milliseconds: a character, or one of curses' KEY_ numbers; nothing when none came. Of
    /// a terminal that is gone the end of input.
    static constexpr int no_key = -1;
    static constexpr int end_of_input = 4; ///< what a terminal sends for it
    static int key(int wait_ms);
    /// Numbers of keys that are no characters.
    static int key_up();
    static int key_down();
    static int key_left();
    static int key_right();
    static int key_backspace();

    /// A line that is typed into the last row.
    static std::string typed();
};

/// A text in lines of at most `width`, further ones set in as deep as their first.
std::vector<std::string> wrapped(const std::string& text, std::size_t width);

} // namespace vturn
