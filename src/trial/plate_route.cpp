#include "vast_turn/trial/plate_route.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

#include "trial/line_under.hpp"
#include "vast_turn/trial/matched_route.hpp"

namespace vast_turn {

namespace {

/// A plate that lies on a stretch or beside it, as seen by who drives along the stretch.
struct PlateOnWay {
    std::size_t marker;
    double along_mm;
    double left_mm; ///< of the line's middle
    PlateMeaning meaning;
};

class PlateWalk {
public:
    PlateWalk(const Scene& scene, const Trip& trip) : scene_(scene), graph_(scene.graph()), trip_(trip), told_(trip) {}

    Trip run() {
        const StartPose* start = scene_.course().find_start(trip_.from);
        const Pose pose = start != nullptr ? start->pose : Pose{};
        OnLine at = line_under(graph_, pose);
        if (!at.stretch) {
            throw refused(
                fmt::format("there is no line within 90 mm of its start, {:.0f},{:.0f} mm", pose.at.x, pose.at.y),
                "move the start, or give the trip choices in place of plates");
        }
        at.along_mm = at.forward ? at.along_mm : graph_.stretch(at.stretch).length_mm - at.along_mm;
        comes_again(at);
        while (goes_on(at)) {
        }
        told_.plates.clear();
        told_.laps = 1;
        return std::move(told_);
    }

private:
    /// Drives along a stretch, `along_mm` counted as it is driven, and chooses at its end.
    bool goes_on(OnLine& at) {
        const std::vector<PlateOnWay> plates = plates_on(at);
        for (const PlateOnWay& plate : plates) {
            if (plate.meaning == PlateMeaning::end) {
                ends_at(plate);
                return false;
            }
            if (plate.meaning == PlateMeaning::back) {
                turn_round(at, plate);
                return !comes_again(at);
            }
        }
        const Stretch& stretch = graph_.stretch(at.stretch);
        const NodeId id = at.forward ? stretch.to : stretch.from;
        const Node& node = graph_.node(id);
        if (node.exits.size() == 1) {
            line_ends(node);
            return false;
        }
        const ExitId from = exit_by(node, at);
        if (node.exits.size() == 2) {
            leave_by(at, node.exit(ExitId(1 - from.index())));
            return !comes_again(at);
        }
        const auto [meaning, colour] = told_at(plates);
        if (meaning == PlateMeaning::back) {
            turn_round(at, plates.back());
            return !comes_again(at);
        }
        const ExitId to = exit_for(node, from, meaning, colour);
        told_.choices.push_back(fmt::format("{} {}", node.name, way_name(node, from, to)));
        leave_by(at, node.exit(to));
        return !comes_again(at);
    }

    /// Those that lie ahead, in the order in which they are come to.
    std::vector<PlateOnWay> plates_on(const OnLine& at) const {
        const Stretch& stretch = graph_.stretch(at.stretch);
        std::vector<Vec2> path = stretch.path;
        if (!at.forward) {
            std::reverse(path.begin(), path.end());
        }
        std::vector<PlateOnWay> plates;
        const std::vector<Marker>& markers = scene_.course().markers;
        for (std::size_t m = 0; m < markers.size(); ++m) {
            const auto meaning = trip_.plates.find(markers[m].colour);
            if (meaning == trip_.plates.end()) {
                continue;
            }
            const auto [along, left, near] = beside(path, markers[m]);
            const bool at_node = along < 1.0 || along > stretch.length_mm - 1.0;
            if (distance_to(markers[m], near) > (at_node ? 0.0 : 0.5 * stretch.width_mm + 4.0) ||
                along <= at.along_mm) {
                continue;
            }
            const bool is_side = meaning->second == PlateMeaning::side;
            const bool counts =
                std::abs(left) > 0.3 * stretch.width_mm &&
                stretch.length_mm - along - 0.5 * std::max(markers[m].length_mm, markers[m].across_mm) < 60.0;
            if (!is_side || counts) {
                plates.push_back({m, along, left, meaning->second});
            }
        }
        std::stable_sort(plates.begin(), plates.end(),
                         [](const PlateOnWay& a, const PlateOnWay& b) { return a.along_mm < b.along_mm; });
        return plates;
    }

    struct Beside {
        double along;
        double left;
        Vec2 near;
    };

    static Beside beside(const std::vector<Vec2>& path, const Marker& marker) {
        double best = std::numeric_limits<double>::infinity();
        double along = 0.0;
        Beside found{0.0, 0.0, path.front()};
        for (std::size_t i = 1; i < path.size(); ++i) {
            const Vec2 step = path[i] - path[i - 1];
            const Vec2 near = nearest_on_segment(marker.at, path[i - 1], path[i]);
            const Vec2 off = marker.at - near;
            if (length(off) < best) {
                best = length(off);
                found = {along + length(near - path[i - 1]), cross(step, off) < 0.0 ? best : -best, near};
            }
            along += length(step);
        }
        return found;
    }

    /// What the plates before a junction tell, and the colour that does.
    std::pair<PlateMeaning, std::string> told_at(const std::vector<PlateOnWay>& plates) const {
        if (plates.empty()) {
            return {PlateMeaning::straight, ""};
        }
        const PlateOnWay& last = plates.back();
        const std::string& colour = scene_.course().markers[last.marker].colour;
        if (last.meaning != PlateMeaning::side) {
            return {last.meaning, colour};
        }
        constexpr double abreast_mm = 30.0;
        const bool both = std::any_of(plates.begin(), plates.end(), [&](const PlateOnWay& plate) {
            return plate.meaning == PlateMeaning::side && last.along_mm - plate.along_mm < abreast_mm &&
                   (plate.left_mm > 0.0) != (last.left_mm > 0.0);
        });
        return {both ? PlateMeaning::back : last.left_mm > 0.0 ? PlateMeaning::left : PlateMeaning::right, colour};
    }

    ExitId exit_for(const Node& node, ExitId from, PlateMeaning meaning, const std::string& colour) const {
        const Turn wanted = meaning == PlateMeaning::left    ? Turn::left
                            : meaning == PlateMeaning::right ? Turn::right
                                                             : Turn::straight;
        const double square = wanted == Turn::left ? 90.0 : wanted == Turn::right ? -90.0 : 0.0;
        const double ahead = node.exit(from).heading_deg + 180.0;
        ExitId best;
        double least = 0.0;
        for (std::size_t e = 0; e < node.exits.size(); ++e) {
            const double off = std::abs(std::remainder(node.exits[e].heading_deg - ahead - square, 360.0));
            if (ExitId(e) != from && turn_between(node, from, ExitId(e)) == wanted && (!best || off < least)) {
                best = ExitId(e);
                least = off;
            }
        }
        if (!best) {
            throw refused(
                colour.empty()
                    ? fmt::format("no plate tells the way at {}, and no line leads straight on there", node.name)
                    : fmt::format("the {} plate tells {} at {}, where no line leads there", colour, name_of(wanted),
                                  node.name),
                "vturn map shows the junction and its plates; lay a plate, or give the trip choices");
        }
        return best;
    }

    static ExitId exit_by(const Node& node, const OnLine& at) {
        for (std::size_t e = 0; e < node.exits.size(); ++e) {
            if (node.exits[e].stretch == at.stretch && node.exits[e].forward != at.forward) {
                return ExitId(e);
            }
        }
        return ExitId(0);
    }

    static void leave_by(OnLine& at, const Exit& exit) { at = {exit.stretch, exit.forward, 0.0}; }

    void turn_round(OnLine& at, const PlateOnWay& plate) const {
        const Marker& marker = scene_.course().markers[plate.marker];
        const double half = 0.5 * std::hypot(marker.length_mm, marker.across_mm);
        at.along_mm = graph_.stretch(at.stretch).length_mm - plate.along_mm + half;
        at.forward = !at.forward;
    }

    void ends_at(const PlateOnWay& plate) {
        const Marker& marker = scene_.course().markers[plate.marker];
        const Robot& robot = scene_.robot();
        double ahead = length(scene_.array_middle());
        for (const ColourSensor& sensor : robot.colour_sensors) {
            ahead = std::max(ahead, length(sensor.at_mm));
        }
        constexpr double spare_mm = 40.0;
        told_.ends_near = EndSpot{marker.at, ahead + 0.5 * std::hypot(marker.length_mm, marker.across_mm) + spare_mm,
                                  fmt::format("the {} plate", marker.colour)};
    }

    void line_ends(const Node& node) const {
        const auto end = std::find_if(trip_.plates.begin(), trip_.plates.end(),
                                      [](const auto& one) { return one.second == PlateMeaning::end; });
        if (end != trip_.plates.end()) {
            throw refused(fmt::format("the plates lead to the end of a line at {:.0f},{:.0f} mm, and past no {} plate",
                                      node.at.x, node.at.y, end->first),
                          "lay one there, or leave the plate that means the end out of the trip");
        }
    }

    /// Whether it has been here before; then what it did since is expected `laps` times.
    bool comes_again(const OnLine& at) {
        const auto before = std::find_if(seen_.begin(), seen_.end(), [&](const auto& one) {
            return one.first.stretch == at.stretch && one.first.forward == at.forward &&
                   at.along_mm < one.first.along_mm + 1.0; // it is about to drive over it
        });
        if (before == seen_.end()) {
            seen_.emplace_back(at, told_.choices.size());
            return false;
        }
        const std::vector<std::string> round(told_.choices.begin() + static_cast<std::ptrdiff_t>(before->second),
                                             told_.choices.end());
        for (int lap = 1; lap < trip_.laps; ++lap) {
            told_.choices.insert(told_.choices.end(), round.begin(), round.end());
        }
        return true;
    }

    InputError refused(std::string message, std::string cure) const {
        Problem problem;
        problem.place.file = trip_.file.empty() ? scene_.course().file : trip_.file;
        problem.place.line = trip_.line;
        problem.message =
            fmt::format("trip \"{}\"{}: {}", trip_.name,
                        scene_.course().variant == as_drawn ? "" : ", " + scene_.course().variant, message);
        problem.cure = std::move(cure);
        return InputError(std::vector<Problem>{std::move(problem)});
    }

    const Scene& scene_;
    const RouteGraph& graph_;
    const Trip& trip_;
    Trip told_;
    std::vector<std::pair<OnLine, std::size_t>> seen_; ///< where it has been, and how many choices were before
};

} // namespace

Trip told_by_plates(const Scene& scene, const Trip& trip) {
    return trip.plates.empty() ? trip : PlateWalk(scene, trip).run();
}

} // namespace vast_turn
