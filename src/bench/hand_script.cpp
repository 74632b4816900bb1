#include "vast_turn/bench/hand_script.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

namespace {

constexpr double sweep_lasts_ms = 3000.0;
constexpr double longest_ms = 3.6e6;

/// A word and where it begins in its line.
struct Word {
    std::string text;
    std::size_t at = 0;
};

/// One line, its words taken one by one.
class Line {
public:
    Line(std::string_view text, std::string_view file, int number) : text_(text), file_(file), number_(number) {
        for (std::size_t at = 0; at < text_.size();) {
            const std::size_t from = text_.find_first_not_of(" \t\r", at);
            if (from == std::string::npos || text_.compare(from, 2, "//") == 0) {
                break;
            }
            at = std::min(text_.find_first_of(" \t\r", from), text_.size());
            words_.push_back({text_.substr(from, at - from), from});
        }
    }

    bool empty() const { return words_.empty(); }
    bool done() const { return next_ == words_.size(); }
    const Word& next(const char* wanted) {
        if (done()) {
            fail({"", text_.size()}, fmt::format("expected {}", wanted), "");
        }
        return words_[next_++];
    }
    void again() { --next_; }

    [[noreturn]] void fail(const Word& word, const std::string& message, const std::string& cure) const {
        throw InputError(
            {{Severity::error,
              place_in_line(std::string(file_), number_, text_, word.at, std::max<std::size_t>(word.text.size(), 1)),
              message, cure.empty() ? forms() : cure}});
    }

    static std::string forms() {
        return "write floor, line, plate COLOUR, sweep, sweep-back, card SENSOR, card off or unplug, and how long: "
               "floor 2s";
    }

private:
    std::string text_;
    std::string_view file_;
    int number_;
    std::vector<Word> words_;
    std::size_t next_ = 0;
};

double parse_time(const Line& line, const Word& word) {
    const auto number = parse_number(word.text);
    const double ms = number && number->unit == "s"    ? 1000.0 * number->value
                      : number && number->unit == "ms" ? number->value
                                                       : 0.0;
    if (!(ms > 0.0) || ms > longest_ms) {
        line.fail(word, fmt::format("`{}` is no time", word.text), "write how long, up to an hour: 2s, 800ms");
    }
    return ms;
}

HeldOver parse_card(Line& line) {
    HeldOver held;
    held.what = HeldOver::What::card;
    const Word word = line.next("a sensor, from 1 at the left, or off");
    if (word.text == "off") {
        return held;
    }
    const auto number = parse_number(word.text);
    for (int k = 1; number && number->unit.empty() && k <= max_sensors; ++k) {
        if (static_cast<double>(k) == number->value) {
            held.cards = 1U << static_cast<unsigned>(k - 1);
            return held;
        }
    }
    line.fail(word, fmt::format("`{}` is no sensor", word.text),
              "number sensors from 1 at the left, or write card off");
}

HandMove parse_what(Line& line) {
    HandMove move;
    const Word word = line.next("what the hand does");
    if (word.text == "floor") {
        return move;
    }
    if (word.text == "line") {
        move.held.what = HeldOver::What::line;
    } else if (word.text == "plate") {
        move.held.what = HeldOver::What::plate;
        move.held.colour = line.next("the plate's colour").text;
    } else if (word.text == "sweep" || word.text == "sweep-back") {
        move.held.what = HeldOver::What::sweep;
        move.held.backwards = word.text == "sweep-back";
        move.lasts_ms = sweep_lasts_ms;
    } else if (word.text == "card") {
        move.held = parse_card(line);
    } else if (word.text == "unplug") {
        move.unplugged = true;
    } else {
        const std::string near =
            nearest(word.text, {"floor", "line", "plate", "sweep", "sweep-back", "card", "unplug"});
        line.fail(word, fmt::format("a hand does not `{}`", word.text),
                  near.empty() ? "" : fmt::format("did you mean {}?", near));
    }
    return move;
}

HandMove parse_move(Line& line, bool must_say_time) {
    HandMove move = parse_what(line);
    if (!line.done() || must_say_time) {
        const Word word = line.next("how long: 2s, 800ms");
        move.lasts_ms = parse_time(line, word);
    }
    if (!line.done()) {
        const Word word = line.next("");
        line.fail(word, fmt::format("`{}` is one word too many", word.text), "");
    }
    return move;
}

} // namespace

HandMove parse_hand_move(std::string_view words, std::string_view file, int line) {
    Line parsed(words, file, line);
    return parse_move(parsed, false);
}

std::vector<HandMove> parse_hand_script(std::string_view text, std::string_view file) {
    std::vector<HandMove> script;
    int number = 0;
    for (std::size_t from = 0; from <= text.size();) {
        const std::size_t end = std::min(text.find('\n', from), text.size());
        Line line(text.substr(from, end - from), file, ++number);
        if (!line.empty()) {
            script.push_back(parse_move(line, true));
        }
        from = end + 1;
    }
    if (script.empty()) {
        throw InputError(std::string(file), "the hand does nothing", Line::forms());
    }
    return script;
}

HandMove hand_at(const std::vector<HandMove>& script, double t_ms) {
    double from = 0.0;
    for (const HandMove& move : script) {
        if (t_ms < from + move.lasts_ms || &move == &script.back()) {
            HandMove now = move;
            now.held.share = move.lasts_ms > 0.0 ? std::clamp((t_ms - from) / move.lasts_ms, 0.0, 1.0) : 0.0;
            return now;
        }
        from += move.lasts_ms;
    }
    return {};
}

std::string words_of(const HandMove& move) {
    if (move.unplugged) {
        return "the cable is out";
    }
    switch (move.held.what) {
    case HeldOver::What::floor: return "over the floor";
    case HeldOver::What::line: return "over the line";
    case HeldOver::What::plate: return fmt::format("over {}", move.held.colour);
    case HeldOver::What::sweep: return move.held.backwards ? "swept back across the line" : "swept across the line";
    case HeldOver::What::card: break;
    }
    for (unsigned k = 0; k < max_sensors; ++k) {
        if (((move.held.cards >> k) & 1U) != 0) {
            return fmt::format("a card under sensor {}", k + 1);
        }
    }
    return "no card";
}

} // namespace vast_turn
