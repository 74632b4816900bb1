#include "vast_turn/trial/matched_route.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "trial/likeliest_states.hpp"
#include "vast_turn/robot/array.hpp"

namespace vast_turn {

namespace {

/// A stay on one stretch, from the states of the best way.
struct Stay {
    StretchId stretch; ///< none off every line
    std::size_t first = 0;
    std::size_t last = 0;
    double low_mm = 0.0; ///< along the stretch
    double high_mm = 0.0;
    double begin_mm = 0.0;
    double end_mm = 0.0;
};

class Matcher {
public:
    Matcher(const RouteGraph& graph, const LinePoints& points, const std::vector<PathPoint>& path, double off_mm,
            double least_mm)
        : graph_(graph), path_(path), points_(points), off_mm_(off_mm), least_mm_(least_mm) {}

    MatchedRoute run() {
        if (path_.empty() || points_.size() == 0) {
            route_.told = false;
            route_.why_not = "there is no line or no path";
            return std::move(route_);
        }
        states_ = likeliest_states(points_, path_, off_mm_);
        make_stays();
        take_out_glances();
        make_legs();
        return std::move(route_);
    }

private:
    void make_stays() {
        for (std::size_t i = 0; i < states_.size(); ++i) {
            const bool off = states_[i] == points_.size();
            const StretchId stretch = off ? StretchId{} : points_.stretch(states_[i]);
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

    double length_of(StretchId stretch) const { return graph_.stretch(stretch).length_mm; }

    /// A stay that goes in from a node by less than `least_mm` and comes out there again.
    bool is_glance(const Stay& stay) const {
        if (!stay.stretch) {
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
        if (!stay.stretch) {
            return 0.0;
        }
        const double size = length_of(stay.stretch);
        return stay.high_mm < 0.5 * size ? stay.high_mm : size - stay.low_mm;
    }

    /// Along the path, from point to point.
    double way_between(std::size_t from, std::size_t to) const {
        double way = 0.0;
        for (std::size_t i = from; i < to; ++i) {
            way += length(path_[i + 1].at - path_[i].at);
        }
        return way;
    }

    void take_out_glances() {
        for (std::size_t i = 0; i < stays_.size();) {
            const bool inner = i > 0 && i + 1 < stays_.size();
            // A whole stretch that is short is no glance: it leads from one node to another.
            const double half = stays_[i].stretch ? 0.5 * length_of(stays_[i].stretch) : 0.0;
            const bool crosses = (stays_[i].begin_mm < half) != (stays_[i].end_mm < half);
            const bool off_between = inner && !stays_[i].stretch && stays_[i - 1].stretch == stays_[i + 1].stretch;
            // It begins or ends with a bit of another stretch: shorter than the stray of the path, it means nothing.
            constexpr double bit_mm = 25.0;
            const bool rim = !inner && stays_.size() > 1 && far_from_node(stays_[i]) < bit_mm;
            if ((is_glance(stays_[i]) && !crosses && (inner || rim)) || off_between) {
                // Who goes round something is back on the line about as far ahead as it drove beside it.
                const double beside = off_between ? way_between(stays_[i - 1].last, stays_[i + 1].first) : 0.0;
                stays_.erase(stays_.begin() + static_cast<std::ptrdiff_t>(i));
                if (i > 0 && i < stays_.size() && stays_[i].stretch == stays_[i - 1].stretch &&
                    std::abs(stays_[i].begin_mm - stays_[i - 1].end_mm) < std::max(80.0, beside) + least_mm_) {
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

    /// The node at the end of a stay.
    NodeId node_at(const Stay& stay, bool begin) const {
        const Stretch& stretch = graph_.stretch(stay.stretch);
        const double along = begin ? stay.begin_mm : stay.end_mm;
        return along < 0.5 * stretch.length_mm ? stretch.from : stretch.to;
    }

    ExitId exit_of(NodeId node, StretchId stretch, bool forward) const {
        const std::vector<Exit>& exits = graph_.node(node).exits;
        for (std::size_t i = 0; i < exits.size(); ++i) {
            if (exits[i].stretch == stretch && exits[i].forward == forward) {
                return ExitId(i);
            }
        }
        return {};
    }

    void make_legs() {
        const Stay* before = nullptr;
        bool off_between = false;
        for (const Stay& stay : stays_) {
            if (!stay.stretch) {
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
        const NodeId out = node_at(a, false);
        const NodeId in = node_at(b, true);
        if (out != in) {
            route_.told = false;
            route_.why_not = fmt::format("at {:.2f} s it comes to a line that does not follow the one before{}",
                                         path_[b.first].t_s, off_between ? ", after driving off" : "");
            return;
        }
        const Stretch& came = graph_.stretch(a.stretch);
        const Stretch& goes = graph_.stretch(b.stretch);
        // An exit leaves its node: forward when the stretch begins there.
        const bool came_by = came.from == out && (came.to != out || a.end_mm < 0.5 * came.length_mm);
        const bool goes_by = goes.from == in && (goes.to != in || b.begin_mm < 0.5 * goes.length_mm);
        const ExitId from = exit_of(out, a.stretch, came_by);
        const ExitId to = exit_of(in, b.stretch, goes_by);
        const Node& node = graph_.node(in);
        if (!from || !to || node.exits.size() < 3) {
            return;
        }
        route_.choices.push_back({in, from, to, turn_between(node, from, to), path_[b.first].t_s});
    }

    const RouteGraph& graph_;
    const std::vector<PathPoint>& path_;
    const LinePoints& points_;
    double off_mm_;
    double least_mm_;
    std::vector<std::size_t> states_;
    std::vector<Stay> stays_;
    MatchedRoute route_;
};

} // namespace

std::vector<PathPoint> array_path(const Run& run, const Robot& robot) {
    const Vec2 middle = array_middle(robot);
    std::vector<PathPoint> path;
    path.reserve(run.looks.size() / 2);
    constexpr double step_mm = 7.0;
    const double arm = length(middle);
    const LookRecord* last = nullptr; // of the path's last point
    for (const LookRecord& look : run.looks) {
        if (last != nullptr) { // no array comes farther than its robot has moved and turned it
            const double turned = std::abs(to_radians(static_cast<double>(look.heading_deg - last->heading_deg)));
            if (length(look.at - last->at) + arm * turned < step_mm - 1e-3) {
                continue;
            }
        }
        const Vec2 at = from_robot(look.at, direction(static_cast<double>(look.heading_deg)), middle);
        if (path.empty() || length(at - path.back().at) >= step_mm) {
            path.push_back({at, look.t_s});
            last = &look;
        }
    }
    return path;
}

MatchedRoute match_route(const RouteGraph& graph, const std::vector<PathPoint>& path, double off_mm, double least_mm) {
    constexpr double spacing_mm = 10.0;
    const LinePoints points(graph, spacing_mm, 1.6 * off_mm); // beyond that, off every line is cheaper
    return Matcher(graph, points, path, off_mm, least_mm).run();
}

MatchedRoute match_run(const Scene& scene, const Run& run) {
    constexpr double off_mm = 70.0;
    constexpr double least_mm = 60.0;
    constexpr double margin_mm = 30.0;
    return Matcher(scene.graph(), scene.line_points(), array_path(run, scene.robot()), off_mm,
                   std::max(least_mm, scene.array_middle().x + margin_mm))
        .run();
}

std::string describe(const RouteGraph& graph, const MatchedRoute& route) {
    std::string text;
    for (const Choice& choice : route.choices) {
        const Node& node = graph.node(choice.node);
        text += fmt::format("{}{} {}", text.empty() ? "" : ", ", node.name, way_name(node, choice.from, choice.to));
    }
    return text;
}

} // namespace vast_turn
