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

namespace {

using lang::Op;

class CourseChecker {
public:
    explicit CourseChecker(Collector& out) : out_(out), course_(*out.course()), graph_(find_route_graph(course_)) {}

    void run() {
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
            out_.fact("highest speed for this course",
                      highest_mm_s_ > 0.0 ? fmt::format("{:.0f} mm/s ({})", highest_mm_s_, highest_for_)
                                          : fmt::format("none found ({})", highest_for_));
        }
    }

private:
    const Robot& robot() const { return *out_.robot(); }

    void plates_known() {
        const std::vector<std::string>& known = out_.plan().markers();
        std::set<std::string> there;
        for (const Marker& marker : course_.markers) {
            there.insert(marker.colour);
        }
        std::vector<std::string> ignored;
        std::copy_if(there.begin(), there.end(), std::back_inserter(ignored), [&](const std::string& colour) {
            return std::find(known.begin(), known.end(), colour) == known.end();
        });
        if (!ignored.empty()) {
            out_.add_whole("plate-ignored",
                           fmt::format("the course has {} plates, the plan has no marker of {}",
                                       fmt::join(ignored, ", "), ignored.size() == 1 ? "that name" : "those names"),
                           fmt::format("write {} behind markers, and a rule for {}", fmt::join(ignored, ", "),
                                       ignored.size() == 1 ? "it" : "each"));
        }
        for (const std::string& marker : known) {
            if (!there.contains(marker)) {
                out_.add_whole("plate-absent",
                               fmt::format("the plan waits for {}, the course has no such plate", marker),
                               "put the plate on the course, or use a plan without it");
            }
        }
    }

    void limit_speed(double mm_s, std::string why) {
        if (mm_s < highest_mm_s_) {
            highest_mm_s_ = mm_s;
            highest_for_ = std::move(why);
        }
    }

    /// By how much a stretch turns about its tightest place.
    static double turn_about(const Stretch& stretch) {
        const double reach = 1.6 * stretch.tightest_mm + 26.0;
        std::size_t at = 0;
        for (std::size_t i = 0; i < stretch.path.size(); ++i) {
            at =
                length(stretch.path[i] - stretch.tightest_at) < length(stretch.path[at] - stretch.tightest_at) ? i : at;
        }
        const auto heading = [&](std::ptrdiff_t step) {
            double way = 0.0;
            auto i = static_cast<std::ptrdiff_t>(at);
            const auto last = static_cast<std::ptrdiff_t>(stretch.path.size()) - 1;
            while (i + step >= 0 && i + step <= last && way < reach) {
                way += length(stretch.path[static_cast<std::size_t>(i + step)] -
                              stretch.path[static_cast<std::size_t>(i)]);
                i += step;
            }
            const auto from = std::clamp<std::ptrdiff_t>(i - 5 * step, 0, last);
            const Vec2 d = stretch.path[static_cast<std::size_t>(i)] - stretch.path[static_cast<std::size_t>(from)];
            const Vec2 along = step > 0 ? d : Vec2{-d.x, -d.y};
            return to_degrees(std::atan2(-along.y, along.x));
        };
        return std::clamp(std::abs(std::remainder(heading(1) - heading(-1), 360.0)), 10.0, 180.0);
    }

    void bends() {
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
    double fastest_factor(const Bend& bend, bool holds) const {
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
    BendEnd driven(const Robot& by, Bend bend) const {
        bend.side = 1.0;
        const BendEnd left = drive_bend(out_.plan(), by, bend);
        bend.side = -1.0;
        const BendEnd right = drive_bend(out_.plan(), by, bend);
        return left == BendEnd::unclear || right == BendEnd::held ? left : right;
    }

    /// A crossing line lies under the array for its width: it must be looked at while it does.
    void junctions() {
        for (const Node& node : graph_.nodes) {
            if (node.exits.size() < 3) {
                continue;
            }
            double narrowest = HUGE_VAL;
            for (const Exit& exit : node.exits) {
                narrowest = std::min(narrowest, graph_.stretches[static_cast<std::size_t>(exit.stretch)].width_mm);
            }
            limit_speed(narrowest / robot().look_ms * 1000.0, "the junction " + node.name);
        }
    }

    void widths() {
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

    const std::string& node(int number) const { return graph_.nodes[static_cast<std::size_t>(number)].name; }

    /// How long a plate is along the line that it lies on; along its shorter side when it lies on none.
    double along_line(std::size_t number) const {
        const Marker& marker = course_.markers[number];
        for (const Stretch& stretch : graph_.stretches) {
            if (std::find(stretch.markers.begin(), stretch.markers.end(), static_cast<int>(number)) ==
                stretch.markers.end()) {
                continue;
            }
            std::size_t at = 1;
            for (std::size_t i = 1; i < stretch.path.size(); ++i) {
                at = length(stretch.path[i] - marker.at) < length(stretch.path[at] - marker.at) ? i : at;
            }
            const Vec2 way = stretch.path[at] - stretch.path[at - 1];
            const Vec2 ahead = direction(marker.heading_deg);
            const double size = std::max(1e-9, length(way));
            const double cos = std::abs(dot(way, ahead)) / size;
            const double sin = std::abs(cross(way, ahead)) / size;
            return std::min(marker.length_mm / std::max(cos, 1e-9), marker.across_mm / std::max(sin, 1e-9));
        }
        return std::min(marker.length_mm, marker.across_mm);
    }

    /// In how many looks a marker must be seen before a rule acts on it.
    int looks_needed(const std::string& name) const {
        int most = 1;
        for_each_expression(out_.text(), [&](const lang::Expr& whole) {
            lang::any_part(whole, [&](const lang::Expr& part) {
                const bool asks = part.kind == lang::ExprKind::lasting &&
                                  part.args[1].kind == lang::ExprKind::constant &&
                                  lang::any_part(part.args[0], [&](const lang::Expr& inner) {
                                      return inner.kind == lang::ExprKind::marker && inner.text == name;
                                  });
                if (asks) {
                    const double looks = part.args[1].type.unit.looks != 0
                                             ? part.args[1].value
                                             : std::floor(part.args[1].value / robot().look_ms) + 2.0;
                    most = std::max(most, static_cast<int>(std::ceil(looks)));
                }
                return false;
            });
        });
        return most;
    }

    void plates_seen() {
        if (robot().colour_sensors.empty()) {
            return;
        }
        const std::vector<std::string>& known = out_.plan().markers();
        for (std::size_t i = 0; i < course_.markers.size(); ++i) {
            const Marker& marker = course_.markers[i];
            if (std::find(known.begin(), known.end(), marker.colour) == known.end()) {
                continue;
            }
            const double way = along_line(i);
            const int looks = looks_needed(marker.colour);
            const double fastest = way / looks / robot().look_ms * 1000.0;
            limit_speed(fastest,
                        fmt::format("the {} plate at {:.0f},{:.0f} mm", marker.colour, marker.at.x, marker.at.y));
            if (speed_mm_s_ > fastest) {
                out_.add_whole(
                    "plate-missed",
                    fmt::format("the {} plate at {:.0f},{:.0f} mm is {:.0f} mm long, the robot drives {:.1f} mm in "
                                "the {} look{} that it takes",
                                marker.colour, marker.at.x, marker.at.y, way,
                                speed_mm_s_ * robot().look_ms / 1000.0 * looks, looks, looks == 1 ? "" : "s"),
                    fmt::format("drive at most {:.0f} mm/s there", fastest));
            }
        }
    }

    /// Looks until a rule that stands for "nothing is seen" turns or does something else; with its line.
    struct Patience {
        double ms = HUGE_VAL;
        double then_mm = 0.0; ///< that the errand behind it first goes on
        lang::Span span;
    };

    Patience patience() const {
        Patience best;
        for (std::size_t i = 0; i < out_.text().blocks.size(); ++i) {
            for (const lang::Rule& rule : out_.text().blocks[i].rules) {
                if (!out_.is_reached(i) || rule.is_else || rule.is_twin) {
                    continue;
                }
                const lang::Expr& c = rule.condition;
                const bool stays = c.kind == lang::ExprKind::lasting && c.args[1].kind == lang::ExprKind::constant;
                const lang::Expr& what = stays ? c.args[0] : c;
                const int all = pattern_count(out_.plan().sensors()) - 1;
                if (what.kind != lang::ExprKind::pattern || what.bits != 0 || what.mask != all || !gives_up(rule)) {
                    continue;
                }
                const double ms = !stays                           ? 0.0
                                  : c.args[1].type.unit.looks != 0 ? (c.args[1].value - 1.0) * robot().look_ms
                                                                   : c.args[1].value;
                if (ms < best.ms) {
                    best = {ms, goes_on(rule), rule.span};
                }
            }
        }
        return best;
    }

    static bool gives_up(const lang::Rule& rule) {
        if (!rule.acts.empty() && lang::is_transfer(rule.acts.back().kind)) {
            return true;
        }
        const lang::Act* motion = motion_among(rule.acts);
        if (motion == nullptr || motion->motion == Op::keep) {
            return false;
        }
        const auto wheels = constant_motion(*motion);
        return !wheels || turn_of(*wheels) != 0 || wheels->left_pct + wheels->right_pct <= 0.0;
    }

    /// How far the block that a rule goes over to first drives on: its first items that keep on or go ahead.
    double goes_on(const lang::Rule& rule) const {
        if (rule.acts.empty() ||
            (rule.acts.back().kind != lang::ActKind::call && rule.acts.back().kind != lang::ActKind::become)) {
            return 0.0;
        }
        const lang::LaidBlock& block = out_.text().blocks[out_.text().block_number(rule.acts.back().name)];
        double way = 0.0;
        for (const lang::LaidItem& item : block.items) {
            const bool on = item.kind == lang::LaidItem::Kind::move &&
                            (item.act.motion == Op::keep || item.act.motion == Op::ahead) &&
                            item.limit.kind == lang::Limit::Kind::over &&
                            item.limit.value.kind == lang::ExprKind::constant;
            if (!on) {
                break;
            }
            const lang::Unit unit = item.limit.value.type.unit;
            way += unit.mm != 0      ? item.limit.value.value
                   : unit.ms != 0    ? item.limit.value.value / 1000.0 * speed_mm_s_
                   : unit.looks != 0 ? item.limit.value.value * robot().look_ms / 1000.0 * speed_mm_s_
                                     : 0.0;
        }
        return way;
    }

    void gaps() {
        const Patience wait = patience();
        double longest = 0.0;
        for (const Stretch& stretch : graph_.stretches) {
            for (const Bridge& bridge : stretch.bridges) {
                longest = bridge.marker.empty() ? std::max(longest, bridge.length_mm) : longest;
            }
        }
        if (longest <= 0.0 || !(wait.ms < HUGE_VAL)) {
            return;
        }
        const double spot = robot().sensors.front().spot_mm;
        const double way = wait.ms / 1000.0 * speed_mm_s_ + wait.then_mm;
        if (longest - 0.5 * spot > way) {
            out_.add("gap-too-long", wait.span,
                     fmt::format(
                         "the gap of {:.0f} mm is longer than the {:.0f} mm that it goes on before it takes the line "
                         "for lost",
                         longest, way),
                     fmt::format("let it go on for {:.0f} looks or more at {:.0f} mm/s",
                                 std::ceil((longest - wait.then_mm) / speed_mm_s_ / robot().look_ms * 1000.0) + 1.0,
                                 speed_mm_s_));
        }
    }

    /// The pattern that the array sees where it stands, by the colours of floor and line.
    Pattern pattern_at(const Pose& pose) const {
        Look look;
        const Vec2 ahead = direction(pose.heading_deg);
        for (std::size_t i = 0; i < robot().sensors.size(); ++i) {
            const LineSensor& sensor = robot().sensors[i];
            const LightWeights w = weights_of(sensor.light);
            const auto light = light_under(course_.surface, from_robot(pose.at, ahead, sensor.at_mm), sensor.spot_mm);
            const double value = w.r * light[0] + w.g * light[1] + w.b * light[2];
            const double floor = reflectance(course_.floor, sensor.light);
            const double line = reflectance(course_.line, sensor.light);
            look.sensor[i] = std::abs(line - floor) > 1e-9 ? (value - floor) / (line - floor) : 0.0;
        }
        array_reader(robot()).from_readings(look);
        return {look.line_bits, static_cast<int>(robot().sensors.size())};
    }

    void starts() {
        const std::size_t first = 0;
        if (out_.text().blocks.empty() || out_.text().blocks[first].is_errand) {
            return;
        }
        const BlockLogic logic(out_.plan(), first);
        const PatternSet open = logic.unanswered().always;
        for (const StartPose& start : course_.starts) {
            const Pattern pattern = pattern_at(start.pose);
            if (open.test(pattern.bits)) {
                out_.add("start-unanswered", out_.text().blocks[first].name_span,
                         fmt::format("at the start `{}` the array sees [{}], for which `{}` has no rule", start.name,
                                     to_marks(pattern), out_.text().blocks[first].name),
                         "move the start, or give the pattern a rule");
            }
        }
    }

    Collector& out_;
    const Course& course_;
    RouteGraph graph_;
    double speed_mm_s_ = 0.0;
    double highest_mm_s_ = HUGE_VAL;
    std::string highest_for_;
};

} // namespace

void check_course(Collector& out) { CourseChecker(out).run(); }

} // namespace vast_turn::vetting
