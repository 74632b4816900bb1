/// A course's lines and bends.
#include "vet/course_checker.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/robot/array.hpp"
#include "vet/bend_model.hpp"
#include "vet/block_logic.hpp"
#include "vet/collector.hpp"
#include "vet/motions.hpp"

namespace vast_turn::vetting {

using lang::Op;

void CourseChecker::run() {
    plates_known();
    if (out_.robot() == nullptr) {
        return;
    }
    speed_mm_s_ = fastest_pct(out_) / 100.0 * out_.robot()->top_speed_mm_s;
    bends();
    junctions();
    widths();
    plates_seen();
    gaps();
    starts();
    if (highest_mm_s_ < HUGE_VAL) {
        out_.fact("highest speed for this course", highest_mm_s_ > 0.0
                                                       ? fmt::format("{:.0f} mm/s ({})", highest_mm_s_, highest_for_)
                                                       : fmt::format("none found ({})", highest_for_));
    }
}

void CourseChecker::limit_speed(double mm_s, std::string why) {
    if (mm_s < highest_mm_s_) {
        highest_mm_s_ = mm_s;
        highest_for_ = std::move(why);
    }
}

/// By how much a stretch turns about its tightest place.
double CourseChecker::turn_about(const Stretch& stretch) {
    const double reach = 1.6 * stretch.tightest_mm + 26.0;
    std::size_t at = 0;
    for (std::size_t i = 0; i < stretch.path.size(); ++i) {
        at = length(stretch.path[i] - stretch.tightest_at) < length(stretch.path[at] - stretch.tightest_at) ? i : at;
    }
    const auto heading = [&](std::ptrdiff_t step) {
        double way = 0.0;
        auto i = static_cast<std::ptrdiff_t>(at);
        const auto last = static_cast<std::ptrdiff_t>(stretch.path.size()) - 1;
        while (i + step >= 0 && i + step <= last && way < reach) {
            way += length(stretch.path[static_cast<std::size_t>(i + step)] - stretch.path[static_cast<std::size_t>(i)]);
            i += step;
        }
        const auto from = std::clamp<std::ptrdiff_t>(i - 5 * step, 0, last);
        const Vec2 d = stretch.path[static_cast<std::size_t>(i)] - stretch.path[static_cast<std::size_t>(from)];
        const Vec2 along = step > 0 ? d : Vec2{-d.x, -d.y};
        return to_degrees(std::atan2(-along.y, along.x));
    };
    return std::clamp(std::abs(std::remainder(heading(1) - heading(-1), 360.0)), 10.0, 180.0);
}

void CourseChecker::bends() {
    std::set<std::pair<int, int>> tried;
    for (const Stretch& stretch : graph_.stretches) {
        if (!std::isfinite(stretch.tightest_mm) || stretch.tightest_mm > 600.0) {
            continue;
        }
        const double turn = turn_about(stretch);
        const auto key = std::pair(static_cast<int>(stretch.tightest_mm), static_cast<int>(turn / 5.0));
        if (!tried.insert(key).second) {
            continue;
        }
        const Bend bend{stretch.tightest_mm, turn, 1.0, stretch.width_mm};
        const std::string where = fmt::format("the bend of {:.0f} mm over {:.0f} deg at {:.0f},{:.0f} mm",
                                              bend.radius_mm, turn, stretch.tightest_at.x, stretch.tightest_at.y);
        const BendEnd end = driven(robot(), bend);
        if (end == BendEnd::unclear) {
            out_.undecided("whether it holds " + where);
            continue;
        }
        const bool holds = end == BendEnd::held;
        const double factor = fastest_factor(bend, holds);
        if (!holds) {
            out_.add_whole("bend-too-tight", "it does not hold " + where,
                           factor > 0.0
                               ? fmt::format("drive it at {:.0f} % of this speed, or turn harder on the outermost "
                                             "patterns",
                                             100.0 * factor)
                               : "turn harder on the outermost patterns: half the speed is not enough");
        }
        limit_speed(factor * speed_mm_s_, factor < 3.0 ? where : "no more than three times its speed was tried");
    }
}

/// By what its speed may be multiplied so that it holds a bend, up to 3; 0 when half the speed is still too much.
double CourseChecker::fastest_factor(const Bend& bend, bool holds) const {
    const double step = holds ? 1.15 : 0.9;
    Robot other = robot();
    double factor = 1.0;
    while (holds ? factor < 3.0 : factor > 0.5) {
        other.top_speed_mm_s = step * factor * robot().top_speed_mm_s;
        if ((driven(other, bend) == BendEnd::held) != holds) {
            return holds ? factor : step * factor;
        }
        factor *= step;
    }
    return holds ? 3.0 : 0.0;
}

/// To both sides: the line may be driven either way. The worse of the two.
BendEnd CourseChecker::driven(const Robot& by, Bend bend) const {
    bend.side = 1.0;
    const BendEnd left = drive_bend(out_.plan(), by, bend);
    bend.side = -1.0;
    const BendEnd right = drive_bend(out_.plan(), by, bend);
    return left == BendEnd::unclear || right == BendEnd::held ? left : right;
}

/// A crossing line lies under the array for its width: it must be looked at while it does.
void CourseChecker::junctions() {
    for (const Node& node : graph_.nodes) {
        if (node.exits.size() < 3) {
            continue;
        }
        double narrowest = HUGE_VAL;
        for (const Exit& exit : node.exits) {
            narrowest = std::min(narrowest, graph_.stretch(exit.stretch).width_mm);
        }
        limit_speed(narrowest / robot().look_ms * 1000.0, "the junction " + node.name);
    }
}

void CourseChecker::widths() {
    const std::vector<LineSensor>& sensors = robot().sensors;
    if (sensors.size() < 3) {
        return; // fewer straddle the line, or ride on it
    }
    double widest_step = 0.0;
    for (std::size_t i = 0; i + 1 < sensors.size(); ++i) {
        widest_step = std::max(widest_step, std::abs(sensors[i].at_mm.y - sensors[i + 1].at_mm.y));
    }
    const double span = std::abs(sensors.front().at_mm.y - sensors.back().at_mm.y);
    const Stretch* narrow = nullptr;
    const Stretch* wide = nullptr;
    for (const Stretch& stretch : graph_.stretches) {
        constexpr double scrap_mm = 60.0; // what sticks out from under a plate
        if (stretch.length_mm >= scrap_mm) {
            narrow = narrow == nullptr || stretch.width_mm < narrow->width_mm ? &stretch : narrow;
            wide = wide == nullptr || stretch.width_mm > wide->width_mm ? &stretch : wide;
        }
    }
    if (narrow == nullptr) {
        return;
    }
    if (narrow->width_mm < widest_step) {
        out_.add_whole(
            "line-misfit",
            fmt::format("the line from {} to {} is {:.0f} mm wide and fits between two sensors, {:.1f} mm apart",
                        node(narrow->from), node(narrow->to), narrow->width_mm, widest_step),
            "set the sensors nearer to one another");
    }
    if (wide->width_mm > span) {
        out_.add_whole(
            "line-misfit",
            fmt::format("the line from {} to {} is {:.0f} mm wide, all sensors within {:.1f} mm see it at once",
                        node(wide->from), node(wide->to), wide->width_mm, span),
            "set the sensors wider apart");
    }
}

void check_course(Collector& out) { CourseChecker(out).run(); }

} // namespace vast_turn::vetting
