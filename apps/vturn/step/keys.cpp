#include "step/keys.hpp"

#include <algorithm>
#include <clocale>
#include <sstream>
#include <vector>

#include <fmt/format.h>
// As wide characters; its macros stay in this file.
#define NCURSES_NOMACROS 1
#include <ncurses.h>

#include "print/print.hpp"
#include "print/print_ask.hpp"
#include "step/show.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/explain/asker.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// The terminal as it was is there again when this ends.
class Screen {
public:
    Screen() {
        std::setlocale(LC_CTYPE, "");
        ::initscr();
        ::cbreak();
        ::noecho();
        ::keypad(stdscr, TRUE);
        ::curs_set(0);
        if (::has_colors()) {
            ::start_color();
            ::use_default_colors();
            ::init_pair(line_colour, COLOR_RED, -1);
            ::init_pair(good_colour, COLOR_GREEN, -1);
            ::init_pair(faint_colour, COLOR_CYAN, -1);
        }
    }
    ~Screen() { ::endwin(); }
    Screen(const Screen&) = delete;
    Screen& operator=(const Screen&) = delete;

    static constexpr short line_colour = 1;
    static constexpr short good_colour = 2;
    static constexpr short faint_colour = 3;

    static attr_t in(short colour) { return static_cast<attr_t>(COLOR_PAIR(colour)); }

    static int rows() { return ::getmaxy(stdscr); }
    static int columns() { return ::getmaxx(stdscr); }

    /// Words at a place, cut at `width` and at the screen's edge.
    static void put(int row, int column, const std::string& words, int width, attr_t look = A_NORMAL) {
        if (row < 0 || row >= rows() || column >= columns() || width <= 0) {
            return;
        }
        ::attr_on(look, nullptr);
        ::mvaddnstr(row, column, words.c_str(),
                    static_cast<int>(std::min<std::size_t>(
                        words.size(), static_cast<std::size_t>(std::min(width, columns() - column)))));
        ::attr_off(look, nullptr);
    }
};

/// A text in lines of at most `width`, further ones set in as deep as their first.
std::vector<std::string> wrapped(const std::string& text, std::size_t width) {
    std::vector<std::string> lines;
    std::istringstream in(text);
    for (std::string line; std::getline(in, line);) {
        const std::size_t deep = std::min(line.find_first_not_of(' '), width / 2);
        const std::string indent(deep == std::string::npos ? 0 : deep + 2, ' ');
        while (line.size() > width && width > indent.size() + 8) {
            std::size_t cut = line.rfind(' ', width);
            cut = cut == std::string::npos || cut <= indent.size() ? width : cut;
            lines.push_back(line.substr(0, cut));
            const std::size_t next = line.find_first_not_of(' ', cut);
            line.erase(0, next == std::string::npos ? line.size() : next);
            line.insert(0, indent);
        }
        lines.push_back(line);
    }
    return lines;
}

/// What the plan makes of the look, and what it remembers.
std::string told(const Session& session) {
    std::ostringstream out;
    std::istringstream nothing;
    const SteppedRun& run = session.run();
    if (!run.is_over()) {
        const Mind& mind = *run.mind_before();
        print_reply({nothing, out, out}, mind.plan(), Asker(mind).ask(run.look()), run.at() + 1,
                    &session.parts().scene.robot());
    }
    for (const std::vector<std::string>& row : memory_rows(run)) {
        out << fmt::format("  {:<9} {}\n", row[0], row[1]);
    }
    for (std::size_t i = 0; i < session.stops().size(); ++i) {
        out << fmt::format("  stop {:<4} {}\n", i + 1, session.stops()[i].words());
    }
    return out.str();
}

class KeyView {
public:
    KeyView(Session& session, std::ostringstream& said) : session_(session), said_(said) {}

    void go() {
        for (draw(); obey(::getch()); draw()) {
        }
    }

private:
    void draw() const {
        ::erase();
        const int columns = Screen::columns();
        const int rows = Screen::rows();
        const int left = std::min(96, columns * 11 / 20);
        const SteppedRun& run = session_.run();
        const std::vector<std::string> where = wrapped(session_.where(), static_cast<std::size_t>(columns));
        int row = 0;
        for (const std::string& line : where) {
            Screen::put(row++, 0, line, columns, A_BOLD);
        }
        const std::vector<std::string> bars = reading_bars(run, std::max(8, left - 34));
        const std::vector<std::string> message = wrapped(message_, static_cast<std::size_t>(columns));
        const int said = std::min(static_cast<int>(message.size()), std::max(1, rows / 3));
        const int map_rows = std::max(3, rows - row - static_cast<int>(bars.size()) - said - 2);
        const Scene& scene = session_.parts().scene;
        int at = row;
        for (const std::string& line : map_around(scene, run, left, map_rows, map_scale(scene, left))) {
            draw_map_row(at++, line);
        }
        for (std::size_t i = 0; i < bars.size(); ++i) {
            const bool is_line = ((run.look().line_bits >> i) & 1) != 0;
            Screen::put(at++, 0, bars[i], left, is_line ? Screen::in(Screen::line_colour) | A_BOLD : A_NORMAL);
        }
        int beside = row;
        for (const std::string& line :
             wrapped(told(session_), static_cast<std::size_t>(std::max(20, columns - left - 2)))) {
            if (beside < at) {
                const bool acts = line.find("  acts ") == 0;
                Screen::put(beside++, left + 2, line, columns,
                            acts ? Screen::in(Screen::good_colour) | A_BOLD : A_NORMAL);
            }
        }
        for (int i = 0; i < said; ++i) {
            Screen::put(rows - 1 - said + i, 0, message[message.size() - static_cast<std::size_t>(said - i)], columns);
        }
        Screen::put(rows - 1, 0,
                    "arrows: 1 look on or back   page keys: 25   Home, End   g: go to a stop   b: back to stop   "
                    "Enter: a command   ?: all of them   q: leave",
                    columns, A_REVERSE);
        ::refresh();
    }

    void draw_map_row(int row, const std::string& line) const {
        for (std::size_t i = 0; i < line.size(); ++i) {
            const char mark = line[i];
            attr_t look = A_NORMAL;
            if (mark == '#' || mark == ':') {
                look = A_REVERSE;
            } else if (mark >= '1' && mark <= '8') {
                const bool is_line = ((session_.run().look().line_bits >> (mark - '1')) & 1) != 0;
                look = is_line ? Screen::in(Screen::line_colour) | A_BOLD | A_REVERSE : A_BOLD;
            } else if (mark == '~') {
                look = Screen::in(Screen::faint_colour);
            }
            const char shown = mark == '#' ? ' ' : (mark == ':' ? '.' : mark);
            Screen::put(row, static_cast<int>(i), std::string(1, shown), 1, look);
        }
    }

    void say(const std::string& line) {
        said_.str("");
        try {
            goes_on_ = session_.carry_out(line, "command", 1);
            message_ = "> " + line + "\n" + said_.str();
        } catch (const InputError& error) {
            message_ =
                "> " + line + "\n" + error.problems().front().message + "\n  to do: " + error.problems().front().cure;
        }
    }

    /// A command, typed below.
    std::string typed() const {
        char line[512] = {};
        Screen::put(Screen::rows() - 1, 0, std::string(static_cast<std::size_t>(Screen::columns()), ' '),
                    Screen::columns());
        Screen::put(Screen::rows() - 1, 0, "> ", 2, A_BOLD);
        ::echo();
        ::curs_set(1);
        ::mvgetnstr(Screen::rows() - 1, 2, line, static_cast<int>(sizeof line) - 1);
        ::curs_set(0);
        ::noecho();
        return line;
    }

    bool obey(int key) {
        constexpr int end_of_input = 4; // what a terminal sends for it
        switch (key) {
        case KEY_RIGHT: say("on"); break;
        case KEY_LEFT: say("back"); break;
        case KEY_NPAGE: say("on 25"); break;
        case KEY_PPAGE: say("back 25"); break;
        case KEY_HOME: say("to start"); break;
        case KEY_END: say("to end"); break;
        case 'g': say("go"); break;
        case 'b': say("back to stop"); break;
        case '?': say("help"); break;
        case ':':
        case '\n':
        case KEY_ENTER: say(typed()); break;
        case 'q':
        case end_of_input:
        case ERR: return false; // the terminal is gone
        default: break;         // also of a screen of another size, which is drawn anew
        }
        return goes_on_;
    }

    Session& session_;
    std::ostringstream& said_;
    std::string message_;
    bool goes_on_ = true;
};

} // namespace

void follow_keys(const std::function<std::unique_ptr<Session>(const Streams&)>& make, const Streams& streams,
                 const std::function<void(const Session&)>& at_end) {
    std::ostringstream said;
    const Streams quiet{streams.in, said, said, false, false, nullptr, streams.files, false};
    const std::unique_ptr<Session> session = make(quiet);
    {
        const Screen screen;
        KeyView(*session, said).go();
    }
    at_end(*session);
}

} // namespace vturn
