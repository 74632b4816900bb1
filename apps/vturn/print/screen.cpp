#include "print/screen.hpp"

#include <algorithm>
#include <clocale>
#include <sstream>

#include <poll.h>
#include <unistd.h>

// As wide characters; its macros stay in this file.
#define NCURSES_NOMACROS 1
#include <ncurses.h>

#include "vast_turn/base/utf8.hpp"

namespace vturn {

namespace {

constexpr short line_colour = 1;
constexpr short good_colour = 2;
constexpr short faint_colour = 3;

} // namespace

Screen::Screen() {
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

Screen::~Screen() { ::endwin(); }

Screen::Look Screen::bold() { return A_BOLD; }
Screen::Look Screen::reverse() { return A_REVERSE; }
Screen::Look Screen::line_ink() { return static_cast<Look>(COLOR_PAIR(line_colour)); }
Screen::Look Screen::good_ink() { return static_cast<Look>(COLOR_PAIR(good_colour)); }
Screen::Look Screen::faint_ink() { return static_cast<Look>(COLOR_PAIR(faint_colour)); }

int Screen::rows() { return ::getmaxy(stdscr); }
int Screen::columns() { return ::getmaxx(stdscr); }
void Screen::erase() { ::erase(); }
void Screen::refresh() { ::refresh(); }

void Screen::put(int row, int column, const std::string& words, int width, Look look) {
    if (row < 0 || row >= rows() || column >= columns() || width <= 0) {
        return;
    }
    const auto most = static_cast<std::size_t>(std::min(width, columns() - column));
    std::size_t bytes = 0;
    for (std::size_t shown = 0; shown < most && bytes < words.size(); ++shown) {
        bytes += vast_turn::bytes_begun_by(words[bytes]);
    }
    ::attr_on(look, nullptr);
    ::mvaddnstr(row, column, words.c_str(), static_cast<int>(std::min(bytes, words.size())));
    ::attr_off(look, nullptr);
}

int Screen::key(int wait_ms) {
    ::timeout(wait_ms);
    const int key = ::getch();
    ::timeout(-1);
    if (key != ERR) {
        return key;
    }
    pollfd terminal{STDIN_FILENO, POLLIN, 0};
    const bool is_gone = ::poll(&terminal, 1, 0) > 0 && (terminal.revents & (POLLHUP | POLLERR | POLLNVAL)) != 0;
    return is_gone ? end_of_input : no_key;
}

int Screen::key_up() { return KEY_UP; }
int Screen::key_down() { return KEY_DOWN; }
int Screen::key_left() { return KEY_LEFT; }
int Screen::key_right() { return KEY_RIGHT; }
int Screen::key_backspace() { return KEY_BACKSPACE; }

std::string Screen::typed() {
    char line[512] = {};
    put(rows() - 1, 0, std::string(static_cast<std::size_t>(columns()), ' '), columns());
    put(rows() - 1, 0, "> ", 2, A_BOLD);
    ::echo();
    ::curs_set(1);
    ::mvgetnstr(rows() - 1, 2, line, static_cast<int>(sizeof line) - 1);
    ::curs_set(0);
    ::noecho();
    return line;
}

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

} // namespace vturn
