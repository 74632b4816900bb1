/// What a choice at a junction is called.
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

const char* name_of(Turn turn) {
    switch (turn) {
    case Turn::left: return "left";
    case Turn::straight: return "straight";
    case Turn::right: return "right";
    case Turn::back: return "back";
    }
    return "";
}

namespace {

/// Degrees that who comes in by `from` turns to leave by an exit, counter-clockwise, -180 to 180.
double turn_deg(const Node& node, ExitId from, std::size_t exit) {
    return std::remainder(node.exits[exit].heading_deg - node.exit(from).heading_deg - 180.0, 360.0);
}

} // namespace

int exit_number(const Node& node, ExitId from, ExitId to) {
    if (from == to) {
        return 0;
    }
    int number = 1;
    const double mine = turn_deg(node, from, to.index());
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        number += i != from.index() && turn_deg(node, from, i) > mine ? 1 : 0;
    }
    return number;
}

std::string way_name(const Node& node, ExitId from, ExitId to) {
    const Turn turn = turn_between(node, from, to);
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const ExitId other(i);
        if (other != from && other != to && turn_between(node, from, other) == turn) {
            return fmt::format("exit {}", exit_number(node, from, to));
        }
    }
    return name_of(turn);
}

Turn turn_between(const Node& node, ExitId from, ExitId to) {
    if (from == to) {
        return Turn::back;
    }
    const auto turn_to = [&](std::size_t exit) { return turn_deg(node, from, exit); };
    std::size_t straightest = node.exits.size();
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const bool is_from = i == from.index();
        if (!is_from && (straightest == node.exits.size() || std::abs(turn_to(i)) < std::abs(turn_to(straightest)))) {
            straightest = i;
        }
    }
    const double mine = turn_to(to.index());
    constexpr double straight_deg = 40.0;
    constexpr double apart_deg = 20.0;
    bool clear = std::abs(turn_to(straightest)) <= straight_deg;
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const bool other = i != straightest && i != from.index();
        clear = clear && (!other || std::abs(turn_to(i)) - std::abs(turn_to(straightest)) > apart_deg);
    }
    if (clear && straightest == to.index()) {
        return Turn::straight;
    }
    return mine >= 0.0 ? Turn::left : Turn::right;
}

} // namespace vast_turn
