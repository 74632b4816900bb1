#pragma once

/// What a hand does with a robot on the bench, one thing after another (docs/serial-line.md).

#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/sim/bench_hand.hpp"

namespace vast_turn {

/// One thing that it does.
struct HandMove {
    HeldOver held;
    bool unplugged = false; ///< the cable is out meanwhile
    double lasts_ms = 0.0;  ///< 0: until the next
};

/// Reads one from words: `floor 2s`, `line 800ms`, `plate amber 2s`, `sweep 3s`, `sweep-back 3s`, `card 2 1s`, `card
/// off 1s`, `unplug 1s`. `file` and `line` are what faults call the place. Without a time it lasts until the next, a
/// sweep 3 s. Throws InputError that names the nearest known word.
HandMove parse_hand_move(std::string_view words, std::string_view file, int line);

/// A script: one a line, each with its time; `//` begins a comment. Throws InputError for the first fault.
std::vector<HandMove> parse_hand_script(std::string_view text, std::string_view file);

/// What it does at a time since it began, with how much of a sweep is done; the last goes on for ever.
HandMove hand_at(const std::vector<HandMove>& script, double t_ms);

/// "the line", "a card under sensor 2", for people.
std::string words_of(const HandMove& move);

} // namespace vast_turn
