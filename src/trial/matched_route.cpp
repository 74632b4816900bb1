#include "vast_turn/trial/matched_route.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "trial/line_points.hpp"

namespace vast_turn {

namespace {

constexpr double spacing_mm = 10.0;
constexpr double stray_mm = 18.0; // one standard deviation of the array's middle from the line
constexpr double slip_mm = 9.0;   // scale of how far the ways differ

/// A stay on one stretch, from the states of the best way.
struct Stay {
    int stretch = -1; ///< -1 off every line
    std::size_t first = 0;
    std::size_t last = 0;
    double low_mm = 0.0; ///< along the stretch
    double high_mm = 0.0;
    double begin_mm = 0.0;
    double end_mm = 0.0;
};

class Matcher {
public:
    Matcher(const RouteGraph& graph, const std::vector<PathPoint>& path, double off_mm, double least_mm)
        : graph_(graph), path_(path), points_(graph, spacing_mm), least_mm_(least_mm),
          off_cost_(0.5 * (off_mm / stray_mm) * (off_mm / stray_mm)) {}

    MatchedRoute run() {
        if (path_.empty() || points_.size() == 0) {
            route_.told = false;
            route_.why_not = "there is no line or no path";
            return std::move(route_);
        }
        find_best();
        make_stays();
        take_out_glances();
        make_legs();
        return std::move(route_);
    }

private:
    double stray_cost(std::size_t point, Vec2 at) const {
        const double away = length(points_.at(point) - at) / stray_mm;
        return 0.5 * away * away;
    }

    /// Viterbi: the cheapest way to each state; state `size` is off every line.
    void find_best() {
        const std::size_t states = points_.size() + 1;
        const std::size_t off = points_.size();
        constexpr double never = std::numeric_limits<double>::infinity();
        std::vector<double> cost(states, never);
        came_from_.assign(path_.size(), std::vector<std::uint32_t>(states, 0));
        for (std::size_t s = 0; s < off; ++s) {
            cost[s] = stray_cost(s, path_[0].at);
        }
        cost[off] = off_cost_;
        constexpr double leave = 4.0; // going off and coming back each cost this much
        for (std::size_t i = 1; i < path_.size(); ++i) {
            const double way = length(path_[i].at - path_[i - 1].at);
            const auto best_on =
                static_cast<std::size_t>(std::min_element(cost.begin(), cost.end() - 1) - cost.begin());
            std::vector<double> next(states, never);
            for (std::size_t s = 0; s < off; ++s) {
                const double here = stray_cost(s, path_[i].at);
                if (here > 2.5 * off_cost_) {
                    continue; // far away
                }
                for (const LinePoints::Near& near : points_.near(s)) {
                    const double candidate = cost[near.point] + std::abs(near.way_mm - way) / slip_mm;
                    if (candidate < next[s]) {
                        next[s] = candidate;
                        came_from_[i][s] = near.point;
                    }
                }
                if (cost[off] + leave < next[s]) {
                    next[s] = cost[off] + leave;
                    came_from_[i][s] = static_cast<std::uint32_t>(off);
                }
                next[s] += here;
            }
            const bool stays_off = cost[off] <= cost[best_on] + leave;
            next[off] = (stays_off ? cost[off] : cost[best_on] + leave) + off_cost_;
            came_from_[i][off] = static_cast<std::uint32_t>(stays_off ? off : best_on);
            cost = std::move(next);
        }
        auto state = static_cast<std::size_t>(std::min_element(cost.begin(), cost.end()) - cost.begin());
        states_.assign(path_.size(), 0);
        for (std::size_t i = path_.size(); i-- > 0;) {
            states_[i] = state;
            state = came_from_[i][state];
        }
    }

    void make_stays() {
        for (std::size_t i = 0; i < states_.size(); ++i) {
            const bool off = states_[i] == points_.size();
            const int stretch = off ? -1 : points_.stretch(states_[i]);
            const double along = off ? 0.0 : points_.along(states_[i]);
            // Through a loop's node one stretch follows itself.
            const bool jumped = !stays_.empty() && !off && stays_.back().stretch == stretch &&
                                std::abs(along - stays_.back().end_mm) > 80.0;
            if (stays_.empty() || stays_.back().stretch != stretch || jumped) {
                stays_.push_back({stretch, i, i, along, along, along, along});
            }
            Stay& stay = stays_.back();
            stay.last = i;
            stay.low_mm = std::min(stay.low_mm, along);
            stay.high_mm = std::max(stay.high_mm, along);
            stay.end_mm = along;
        }
    }

    double length_of(int stretch) const { return graph_.stretches[static_cast<std::size_t>(stretch)].length_mm; }

    /// A stay that goes in from a node by less than `least_mm` and comes out there again.
    bool is_glance(const Stay& stay) const {
        if (stay.stretch < 0) {
            return false;
        }
        const double size = length_of(stay.stretch);
        const bool at_begin = stay.begin_mm < least_mm_ && stay.end_mm < least_mm_ && stay.high_mm < least_mm_;
        const bool at_end =
            stay.begin_mm > size - least_mm_ && stay.end_mm > size - least_mm_ && stay.low_mm > size - least_mm_;
        return at_begin || at_end;
    }

    /// How far a glance goes from its node.
    double far_from_node(const Stay& stay) const {
        if (stay.stretch < 0) {
            return 0.0;
        }
        const double size = length_of(stay.stretch);
        return stay.high_mm < 0.5 * size ? stay.high_mm : size - stay.low_mm;
    }

    void take_out_glances() {
        for (std::size_t i = 0; i < stays_.size();) {
            const bool inner = i > 0 && i + 1 < stays_.size();
            // A whole stretch that is short is no glance: it leads from one node to another.
            const double half = stays_[i].stretch >= 0 ? 0.5 * length_of(stays_[i].stretch) : 0.0;
            const bool crosses = (stays_[i].begin_mm < half) != (stays_[i].end_mm < half);
            const bool off_between = inner && stays_[i].stretch < 0 && stays_[i - 1].stretch == stays_[i + 1].stretch;
            // It begins or ends with a bit of another stretch: shorter than the stray of the path, it means nothing.
            constexpr double bit_mm = 25.0;
            const bool rim = !inner && stays_.size() > 1 && far_from_node(stays_[i]) < bit_mm;
            if ((is_glance(stays_[i]) && !crosses && (inner || rim)) || off_between) {
                stays_.erase(stays_.begin() + static_cast<std::ptrdiff_t>(i));
                if (i > 0 && i < stays_.size() && stays_[i].stretch == stays_[i - 1].stretch &&
                    std::abs(stays_[i].begin_mm - stays_[i - 1].end_mm) < 80.0 + least_mm_) {
                    Stay& kept = stays_[i - 1];
                    kept.last = stays_[i].last;
                    kept.low_mm = std::min(kept.low_mm, stays_[i].low_mm);
                    kept.high_mm = std::max(kept.high_mm, stays_[i].high_mm);
                    kept.end_mm = stays_[i].end_mm;
                    stays_.erase(stays_.begin() + static_cast<std::ptrdiff_t>(i));
                }
                i = i > 0 ? i - 1 : 0;
            } else {
                ++i;
            }
        }
    }

    /// The node at the end of a stay; -1 in the middle of the stretch.
    int node_at(const Stay& stay, bool begin) const {
        const Stretch& stretch = graph_.stretches[static_cast<std::size_t>(stay.stretch)];
        const double along = begin ? stay.begin_mm : stay.end_mm;
        return along < 0.5 * stretch.length_mm ? stretch.from : stretch.to;
    }

    int exit_of(int node, int stretch, bool forward) const {
        const std::vector<Exit>& exits = graph_.nodes[static_cast<std::size_t>(node)].exits;
        for (std::size_t i = 0; i < exits.size(); ++i) {
            if (exits[i].stretch == stretch && exits[i].forward == forward) {
                return static_cast<int>(i);
            }
        }
        return -1;
    }

    void make_legs() {
        const Stay* before = nullptr;
        bool off_between = false;
        for (const Stay& stay : stays_) {
            if (stay.stretch < 0) {
                off_between = true;
                if (&stay == &stays_.back()) {
                    route_.off_from_s = path_[stay.first].t_s;
                }
                continue;
            }
            if (before != nullptr) {
                join(*before, stay, off_between);
            }
            const double size = length_of(stay.stretch);
            // There and back from one node is two legs, with a turn back between.
            const bool begins_low = stay.begin_mm < 0.5 * size;
            const bool came_back =
                before != nullptr && std::abs(stay.end_mm - stay.begin_mm) < 0.5 * (stay.high_mm - stay.low_mm);
            const bool forward = came_back ? begins_low : stay.end_mm >= stay.begin_mm;
            route_.legs.push_back({stay.stretch, forward, path_[stay.first].t_s, path_[stay.last].t_s});
            before = &stay;
            off_between = false;
        }
    }

    void join(const Stay& a, const Stay& b, bool off_between) {
        const int out = node_at(a, false);
        const int in = node_at(b, true);
        if (out != in) {
            route_.told = false;
            route_.why_not = fmt::format("at {:.2f} s it comes to a line that does not follow the one before{}",
                                         path_[b.first].t_s, off_between ? ", after driving off" : "");
            return;
        }
        const Stretch& came = graph_.stretches[static_cast<std::size_t>(a.stretch)];
        const Stretch& goes = graph_.stretches[static_cast<std::size_t>(b.stretch)];
        // An exit leaves its node: forward when the stretch begins there.
        const bool came_by = came.from == out && (came.to != out || a.end_mm < 0.5 * came.length_mm);
        const bool goes_by = goes.from == in && (goes.to != in || b.begin_mm < 0.5 * goes.length_mm);
        const int from = exit_of(out, a.stretch, came_by);
        const int to = exit_of(in, b.stretch, goes_by);
        const Node& node = graph_.nodes[static_cast<std::size_t>(in)];
        if (from < 0 || to < 0 || node.exits.size() < 3) {
            return;
        }
        route_.choices.push_back({in, from, to, turn_between(node, from, to), path_[b.first].t_s});
    }

    const RouteGraph& graph_;
    const std::vector<PathPoint>& path_;
    LinePoints points_;
    double least_mm_;
    double off_cost_;
    std::vector<std::vector<std::uint32_t>> came_from_;
    std::vector<std::size_t> states_;
    std::vector<Stay> stays_;
    MatchedRoute route_;
};

} // namespace

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
double turn_deg(const Node& node, int from, std::size_t exit) {
    return std::remainder(node.exits[exit].heading_deg - node.exits[static_cast<std::size_t>(from)].heading_deg - 180.0,
                          360.0);
}

} // namespace

int exit_number(const Node& node, int from, int to) {
    if (from == to) {
        return 0;
    }
    int number = 1;
    const double mine = turn_deg(node, from, static_cast<std::size_t>(to));
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        number += static_cast<int>(i) != from && turn_deg(node, from, i) > mine ? 1 : 0;
    }
    return number;
}

std::string way_name(const Node& node, int from, int to) {
    const Turn turn = turn_between(node, from, to);
    for (int other = 0; other < static_cast<int>(node.exits.size()); ++other) {
        if (other != from && other != to && turn_between(node, from, other) == turn) {
            return fmt::format("exit {}", exit_number(node, from, to));
        }
    }
    return name_of(turn);
}

Turn turn_between(const Node& node, int from, int to) {
    if (from == to) {
        return Turn::back;
    }
    const auto turn_to = [&](std::size_t exit) { return turn_deg(node, from, exit); };
    std::size_t straightest = node.exits.size();
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const bool is_from = static_cast<int>(i) == from;
        if (!is_from && (straightest == node.exits.size() || std::abs(turn_to(i)) < std::abs(turn_to(straightest)))) {
            straightest = i;
        }
    }
    const double mine = turn_to(static_cast<std::size_t>(to));
    constexpr double straight_deg = 40.0;
    constexpr double apart_deg = 20.0;
    bool clear = std::abs(turn_to(straightest)) <= straight_deg;
    for (std::size_t i = 0; i < node.exits.size(); ++i) {
        const bool other = i != straightest && static_cast<int>(i) != from;
        clear = clear && (!other || std::abs(turn_to(i)) - std::abs(turn_to(straightest)) > apart_deg);
    }
    if (clear && static_cast<int>(straightest) == to) {
        return Turn::straight;
    }
    return mine >= 0.0 ? Turn::left : Turn::right;
}

std::vector<PathPoint> array_path(const Run& run, const Robot& robot) {
    Vec2 middle;
    for (const LineSensor& sensor : robot.sensors) {
        middle = middle + 1.0 / static_cast<double>(robot.sensors.size()) * sensor.at_mm;
    }
    std::vector<PathPoint> path;
    constexpr double step_mm = 7.0;
    for (const LookRecord& look : run.looks) {
        const Vec2 at = from_robot(look.at, direction(static_cast<double>(look.heading_deg)), middle);
        if (path.empty() || length(at - path.back().at) >= step_mm) {
            path.push_back({at, look.t_s});
        }
    }
    return path;
}

MatchedRoute match_route(const RouteGraph& graph, const std::vector<PathPoint>& path, double off_mm, double least_mm) {
    return Matcher(graph, path, off_mm, least_mm).run();
}

MatchedRoute match_run(const Scene& scene, const Run& run) {
    constexpr double off_mm = 70.0;
    constexpr double least_mm = 60.0;
    constexpr double margin_mm = 30.0;
    return match_route(scene.graph(), array_path(run, scene.robot()), off_mm,
                       std::max(least_mm, scene.array_middle().x + margin_mm));
}

std::string describe(const RouteGraph& graph, const MatchedRoute& route) {
    std::string text;
    for (const Choice& choice : route.choices) {
        const Node& node = graph.nodes[static_cast<std::size_t>(choice.node)];
        text += fmt::format("{}{} {}", text.empty() ? "" : ", ", node.name, way_name(node, choice.from, choice.to));
    }
    return text;
}

} // namespace vast_turn
