#include "trial/wanted_way.hpp"

#include <algorithm>
#include <charconv>
#include <optional>

#include <fmt/format.h>

namespace vast_turn {

namespace {

struct Words {
    std::string name;
    std::optional<Turn> turn;
    int exit = 0;
};

/// The last word is a turn, or the last two are "exit" and a number.
Words parted(const std::string& text) {
    const std::size_t space = text.rfind(' ');
    Words words{text.substr(0, space), std::nullopt, 0};
    if (space == std::string::npos) {
        return words;
    }
    const std::string last = text.substr(space + 1);
    for (const Turn turn : {Turn::left, Turn::straight, Turn::right, Turn::back}) {
        if (last == name_of(turn)) {
            words.turn = turn;
        }
    }
    constexpr std::string_view exit = " exit";
    const bool is_exit = words.name.size() > exit.size() && words.name.ends_with(exit);
    int number = 0;
    const auto [stopped, error] = std::from_chars(last.data(), last.data() + last.size(), number);
    if (is_exit && error == std::errc{} && stopped == last.data() + last.size() && number > 0) {
        words.exit = number;
        words.name.resize(words.name.size() - exit.size());
    }
    return words;
}

InputError refused(const Trip& trip, const Course& course, std::string message, std::string cure) {
    Problem problem;
    problem.place.file = trip.file.empty() ? course.file : trip.file;
    problem.place.line = trip.line;
    problem.message = fmt::format("trip \"{}\" expects {}", trip.name, message);
    problem.cure = std::move(cure);
    return InputError(std::vector<Problem>{std::move(problem)});
}

} // namespace

WantedWay wanted_way(const Course& course, const RouteGraph& graph, const Trip& trip, const std::string& text) {
    const Words words = parted(text);
    std::vector<std::string> known;
    for (std::size_t n = 0; n < graph.nodes.size(); ++n) {
        const Node& node = graph.nodes[n];
        const auto others = static_cast<int>(node.exits.size()) - 1;
        if (node.name == words.name && words.exit > others) {
            throw refused(trip, course, fmt::format("\"{}\", which has {} exits for who comes in", text, others),
                          "they are counted from the left; vturn map lists the ways out");
        }
        if (node.name == words.name && (words.turn || words.exit > 0)) {
            return {NodeId(n), words.turn.value_or(Turn::straight), words.exit};
        }
        if (node.exits.size() > 2) {
            known.push_back(node.name);
        }
    }
    throw refused(trip, course,
                  fmt::format("\"{}\", which is no junction with left, straight, right, back or exit and a number{}",
                              text, did_you_mean(words.name, known)),
                  known.empty() ? "the course has no junctions"
                                : fmt::format("its junctions are {}; vturn map lists them", one_of(known)));
}

std::vector<WantedWay> wanted_ways(const Course& course, const RouteGraph& graph, const Trip& trip) {
    std::vector<WantedWay> ways;
    for (const std::string& words : trip.choices) {
        ways.push_back(wanted_way(course, graph, trip, words));
    }
    return ways;
}

bool is_wanted(const RouteGraph& graph, const WantedWay& wanted, const Choice& choice) {
    const Node& node = graph.node(choice.node);
    return choice.node == wanted.node &&
           (wanted.exit > 0 ? exit_number(node, choice.from, choice.to) == wanted.exit : choice.turn == wanted.turn);
}

ExitId wanted_exit(const RouteGraph& graph, const WantedWay& wanted, ExitId from) {
    const Node& node = graph.node(wanted.node);
    ExitId found;
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const ExitId to(i);
        if (is_wanted(graph, wanted, {wanted.node, from, to, turn_between(node, from, to), 0.0})) {
            if (found) {
                return {};
            }
            found = to;
        }
    }
    return found;
}

std::size_t matched_choices(const RouteGraph& graph, const std::vector<WantedWay>& wanted, const MatchedRoute& route) {
    std::size_t k = 0;
    while (k < wanted.size() && k < route.choices.size() && is_wanted(graph, wanted[k], route.choices[k])) {
        ++k;
    }
    return k;
}

} // namespace vast_turn
