#include "step/keys.hpp"

#include <algorithm>
#include <sstream>
#include <vector>

#include <fmt/format.h>
// As wide characters; its macros stay in this file.
#define NCURSES_NOMACROS 1
#include <ncurses.h>

#include "print/print.hpp"
#include "print/print_ask.hpp"
#include "print/screen.hpp"
#include "step/show.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/explain/asker.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

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
            Screen::put(at++, 0, bars[i], left, is_line ? Screen::line_ink() | A_BOLD : A_NORMAL);
        }
        int beside = row;
        for (const std::string& line :
             wrapped(told(session_), static_cast<std::size_t>(std::max(20, columns - left - 2)))) {
            if (beside < at) {
                const bool acts = line.find("  acts ") == 0;
                Screen::put(beside++, left + 2, line, columns, acts ? Screen::good_ink() | A_BOLD : A_NORMAL);
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
                look = is_line ? Screen::line_ink() | A_BOLD | A_REVERSE : A_BOLD;
            } else if (mark == '~') {
                look = Screen::faint_ink();
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

    bool obey(int key) {
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
        case KEY_ENTER: say(Screen::typed()); break;
        case 'q':
        case Screen::end_of_input:
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
