#include "bench/live_view.hpp"

#include <algorithm>
#include <chrono>
#include <cmath>
#include <deque>
#include <optional>

#include <fmt/format.h>

#include "bench/show.hpp"
#include "commands/interrupt.hpp"
#include "print/screen.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/utf8.hpp"
#include "vast_turn/base/visible.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

class LiveView {
public:
    LiveView(BenchSession& session, RobotLink& link, BenchActions& actions, std::string port,
             const std::vector<std::string>& saves_to)
        : session_(session), link_(link), actions_(actions), port_(std::move(port)), saves_to_(saves_to) {}

    void go() {
        const Interrupt interrupt;
        while (!interrupt.asked() && !actions_.is_left()) {
            for (const Told& told : link_.go_on(20)) {
                note(told);
            }
            for (int key = Screen::key(0); key != Screen::no_key; key = Screen::key(0)) {
                if (!obey(key)) {
                    return;
                }
                drawn_ = {};
            }
            if (std::chrono::steady_clock::now() - drawn_ >= std::chrono::milliseconds(50)) {
                draw();
                drawn_ = std::chrono::steady_clock::now();
            }
        }
    }

private:
    void note(const Told& told) {
        const double s = session_.last() ? session_.last()->look.clock_ms / 1000.0 : 0.0;
        said_.push_back(visible(fmt::format("{:8.2f} s  {}  {}", s, told.kind, told.what)));
        while (said_.size() > 6) {
            said_.pop_front();
        }
    }

    /// A line and how it looks.
    struct Shown {
        std::string words;
        Screen::Look look = 0;
    };

    void draw() {
        Screen::erase();
        const int columns = Screen::columns();
        const int rows = Screen::rows();
        int row = 0;
        const double s = session_.last() ? session_.last()->look.clock_ms / 1000.0 : 0.0;
        Screen::put(row++, 0, fmt::format("{} on the bench   {:.2f} s", session_.robot().name, s), columns,
                    Screen::bold());
        const Screen::Look alarm = Screen::line_ink() | Screen::bold();
        put_wrapped(row, line_words(link_, port_, true), link_.is_open() ? 0 : alarm);
        put_wrapped(row, motors_words(), link_.motors_are_off() ? 0 : alarm);
        ++row;
        // What the plan thinks stands beside what the robot sees, or below where there is no room.
        const bool beside = columns >= 112;
        const int left = beside ? columns * 11 / 20 : columns;
        int at = row;
        for (const Shown& shown : seen(left - 2)) {
            Screen::put(at++, 0, shown.words, left - 1, shown.look);
        }
        int plan_at = beside ? row : at;
        const auto width = static_cast<std::size_t>(std::max(20, beside ? columns - left - 1 : columns));
        for (const std::string& line : wrapped(plan_words(session_), width)) {
            Screen::put(plan_at++, beside ? left : 0, line, static_cast<int>(width),
                        line.find("  acts ") == 0 ? Screen::good_ink() | Screen::bold() : Screen::Look{0});
        }
        draw_said(beside ? plan_at + 1 : std::max(at, plan_at), beside ? left : 0, static_cast<int>(width));
        const std::string keys =
            actions_.settings() != nullptr
                ? "up, down: which   left, right: less, more   w: into the plan   m: motors off   M: on   Enter: a "
                  "command   q: leave"
                : "f floor  l line  p plate  s sweep  space stop  u use  a plan anew  k card, then Enter  w save  "
                  ": command  ? help  q leave";
        Screen::put(rows - 1, 0, typing_ ? visible("> " + *typing_ + "_") : keys, columns,
                    typing_ ? Screen::bold() : Screen::reverse());
        Screen::refresh();
    }

    /// Sensors, what else it senses, settings, the card check and what was learned.
    std::vector<Shown> seen(int width) {
        std::vector<Shown> all;
        const auto add = [&](const std::string& words, Screen::Look look = 0) { all.push_back({words, look}); };
        if (!session_.last()) {
            add(link_.is_open() ? "  no look has come yet" : "");
        }
        const std::vector<std::string> bars = sensor_rows(session_, std::clamp(width - 34, 8, 60));
        for (std::size_t k = 0; k < bars.size(); ++k) {
            const bool is_line = session_.can_read() && ((session_.last()->look.line_bits >> k) & 1) != 0;
            add(bars[k], is_line ? Screen::line_ink() | Screen::bold() : Screen::Look{0});
        }
        for (const std::vector<std::string>& sense : sense_rows(session_)) {
            add(fmt::format("  {:<9} {}", sense[0], sense[1]));
        }
        add("");
        for (const std::string& line : setting_rows(actions_, chosen_, std::clamp(width - 56, 8, 40))) {
            add(line, line.front() == '>' ? Screen::bold() : Screen::Look{0});
        }
        if (actions_.walks()) {
            for (const std::string& line : wrapped(card_rows(actions_, session_), static_cast<std::size_t>(width))) {
                add(line, line.starts_with("card:") ? card_look() : Screen::Look{0});
            }
            add("");
        }
        if (std::chrono::steady_clock::now() - learned_at_ >=
            std::chrono::milliseconds(400)) { // it takes a while over many looks
            learned_ = learned_rows(session_);
            learned_at_ = std::chrono::steady_clock::now();
        }
        for (const std::string& row : learned_) {
            for (const std::string& line : wrapped(row, static_cast<std::size_t>(width))) {
                add(line, row.starts_with("  !") ? Screen::line_ink() | Screen::bold() : Screen::Look{0});
            }
        }
        return all;
    }

    Screen::Look card_look() const {
        return (session_.card_walk().findings().empty() ? Screen::good_ink() : Screen::line_ink()) | Screen::bold();
    }

    std::string motors_words() const {
        if (link_.motors_are_off()) {
            return "motors: off, it says";
        }
        if (actions_.settings() != nullptr) {
            return link_.answers() ? "motors: as they were" : "motors: as they were; it has answered nothing yet";
        }
        return link_.is_open() && !link_.is_quiet() ? "motors: it is asked to keep them off ..."
                                                    : "motors: it does not say that they are off; see to it yourself";
    }

    /// What was said lately and what came of the last command, above the last row, as much as there is room for.
    void draw_said(int from, int column, int width) const {
        std::vector<std::string> all(said_.begin(), said_.end());
        for (const std::string& line : wrapped(message_, static_cast<std::size_t>(width))) {
            all.push_back(line);
        }
        const int end = Screen::rows() - 1;
        const int shown = std::min(static_cast<int>(all.size()), std::max(1, end - from));
        for (int i = 0; i < shown; ++i) {
            const std::string& line = all[all.size() - static_cast<std::size_t>(shown - i)];
            const std::string room(static_cast<std::size_t>(width), ' ');
            Screen::put(end - shown + i, column, room, width); // the plan's words may reach down there
            Screen::put(end - shown + i, column, line, width, Screen::faint_ink());
        }
    }

    static void put_wrapped(int& row, const std::string& words, Screen::Look look) {
        for (const std::string& line : wrapped(words, static_cast<std::size_t>(Screen::columns()))) {
            Screen::put(row++, 0, line, Screen::columns(), look);
        }
    }

    void say(const std::string& line) {
        attempt([&] { message_ = actions_.carry_out(line); });
    }

    template <class Do> void attempt(const Do& carry_out) {
        try {
            carry_out();
        } catch (const InputError& error) {
            message_ = error.problems().front().message + "\n  to do: " + error.problems().front().cure;
        }
    }

    void next_plate() {
        std::vector<std::string> plates = {"amber"};
        if (session_.plan() && !session_.plan()->markers().empty()) {
            plates = session_.plan()->markers();
        }
        say("learn plate " + plates[next_plate_++ % plates.size()]);
    }

    void save() {
        std::string all;
        for (const std::string& path : saves_to_) {
            say("save " + path);
            all += message_ + "\n";
        }
        message_ = saves_to_.empty() ? "name a file: save sprig.calibration.toml, or -o where the bench is begun" : all;
    }

    void move_setting(int steps) {
        const BenchSettings* settings = actions_.settings();
        if (settings == nullptr || settings->plan.lets.empty()) {
            return;
        }
        const AdjustableLet& let = settings->plan.lets[chosen_];
        // About sixty steps over what it may be, of 1, 2 or 5 times a power of ten, on whole ones of which it stops.
        const double about = (let.most - let.least) / 60.0;
        const double power = std::pow(10.0, std::floor(std::log10(about)));
        const double step =
            power * (about < 1.5 * power ? 1.0 : (about < 3.5 * power ? 2.0 : (about < 7.5 * power ? 5.0 : 10.0)));
        attempt([&] { actions_.set(chosen_, step * (std::round(settings->values[chosen_] / step) + steps)); });
    }

    void choose(int steps) {
        const BenchSettings* settings = actions_.settings();
        if (settings != nullptr && !settings->plan.lets.empty()) {
            const auto last = static_cast<int>(settings->plan.lets.size()) - 1;
            chosen_ = static_cast<std::size_t>(std::clamp(static_cast<int>(chosen_) + steps, 0, last));
        }
    }

    bool obey_for_settings(int key) {
        if (key == Screen::key_up() || key == Screen::key_down()) {
            choose(key == Screen::key_up() ? -1 : 1);
        } else if (key == Screen::key_left() || key == Screen::key_right()) {
            move_setting(key == Screen::key_left() ? -1 : 1);
        } else if (key == 'w') {
            say("write");
        } else if (key == 'm' || key == 'M') {
            say(key == 'm' ? "motors off" : "motors on");
        } else {
            return false;
        }
        return true;
    }

    /// A key of a command that is being typed; looks go on coming meanwhile.
    void type(int key) {
        constexpr int escape = 27;
        if (key == '\n' || key == '\r') {
            const std::string line = *typing_;
            typing_.reset();
            say(line);
        } else if (key == escape) {
            typing_.reset();
        } else if (key == Screen::key_backspace() || key == 127 || key == 8) {
            while (!typing_->empty() && continues_character(typing_->back())) {
                typing_->pop_back();
            }
            if (!typing_->empty()) {
                typing_->pop_back();
            }
        } else if (key >= ' ' && key < 256 && typing_->size() < 400) {
            *typing_ += static_cast<char>(key);
        }
    }

    bool obey(int key) {
        if (typing_ && key != Screen::end_of_input) {
            type(key);
            return true;
        }
        if (actions_.settings() != nullptr && obey_for_settings(key)) {
            return true;
        }
        switch (key) {
        case 'f': say("learn floor"); break;
        case 'l': say("learn line"); break;
        case 's': say("learn sweep"); break;
        case 'b': say("learn sweep-back"); break;
        case 'p': next_plate(); break;
        case ' ': say("stop"); break;
        case 'u': say("use"); break;
        case 'a': say("anew"); break;
        case 'k':
            say("card");
            message_.clear(); // it is shown
            break;
        case 'w': save(); break;
        case '?': message_ = help_words(); break;
        case '\n':
        case '\r':
            if (actions_.walks() && !session_.card_walk().is_done()) {
                say("hold");
            } else {
                typing_.emplace();
            }
            break;
        case ':': typing_.emplace(); break;
        case 'q':
        case Screen::end_of_input: return false;
        default: break;
        }
        return true;
    }

    static std::string help_words() {
        std::string all;
        for (const std::vector<std::string>& row : BenchActions::help()) {
            all += fmt::format("{:<26} {}\n", row[0], row[1]);
        }
        return all;
    }

    BenchSession& session_;
    RobotLink& link_;
    BenchActions& actions_;
    std::string port_;
    const std::vector<std::string>& saves_to_;
    std::deque<std::string> said_;
    std::vector<std::string> learned_;
    std::chrono::steady_clock::time_point learned_at_;
    std::chrono::steady_clock::time_point drawn_;
    std::string message_;
    std::optional<std::string> typing_;
    std::size_t chosen_ = 0;
    std::size_t next_plate_ = 0;
};

} // namespace

void show_bench(BenchSession& session, RobotLink& link, BenchActions& actions, const std::string& port,
                const std::vector<std::string>& saves_to) {
    const Screen screen;
    LiveView(session, link, actions, port, saves_to).go();
}

} // namespace vturn
