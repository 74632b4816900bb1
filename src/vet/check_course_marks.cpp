/// A course's plates, gaps and starts.
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

void CourseChecker::plates_known() {
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
                       fmt::format("the course has {} plates, the plan has no marker of {}", fmt::join(ignored, ", "),
                                   ignored.size() == 1 ? "that name" : "those names"),
                       fmt::format("write {} behind markers, and a rule for {}", fmt::join(ignored, ", "),
                                   ignored.size() == 1 ? "it" : "each"));
    }
    for (const std::string& marker : known) {
        if (!there.contains(marker)) {
            out_.add_whole("plate-absent", fmt::format("the plan waits for {}, the course has no such plate", marker),
                           "put the plate on the course, or use a plan without it");
        }
    }
}

/// How long a plate is along the line that it lies on; along its shorter side when it lies on none.
double CourseChecker::along_line(std::size_t number) const {
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
int CourseChecker::looks_needed(const std::string& name) const {
    int most = 1;
    lang::for_each_expression(out_.text(), [&](const lang::Expr& whole) {
        lang::any_part(whole, [&](const lang::Expr& part) {
            const bool asks = part.is<lang::Lasting>() && lang::any_part(part.args[0], [&](const lang::Expr& inner) {
                                  return inner.is<lang::MarkerSeen>() && inner.as<lang::MarkerSeen>()->text == name;
                              });
            if (asks) {
                const double limit = written_value(part.args[1]).value_or(0.0);
                const double looks =
                    part.args[1].type.unit.looks != 0 ? limit : std::floor(limit / robot().look_ms) + 2.0;
                most = std::max(most, static_cast<int>(std::ceil(looks)));
            }
            return false;
        });
    });
    return most;
}

void CourseChecker::plates_seen() {
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
        limit_speed(fastest, fmt::format("the {} plate at {:.0f},{:.0f} mm", marker.colour, marker.at.x, marker.at.y));
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

CourseChecker::Patience CourseChecker::patience() const {
    Patience best;
    for (std::size_t i = 0; i < out_.text().blocks.size(); ++i) {
        for (const lang::Rule& rule : out_.text().blocks[i].rules) {
            if (!out_.is_reached(i) || rule.is_else || rule.is_twin) {
                continue;
            }
            const lang::Expr& c = rule.condition;
            const bool stays = c.is<lang::Lasting>();
            const auto* what = (stays ? c.args[0] : c).as<lang::PatternMarks>();
            const int all = pattern_count(out_.plan().sensors()) - 1;
            if (what == nullptr || what->bits != 0 || what->mask != all || !gives_up(rule)) {
                continue;
            }
            const double limit = stays ? written_value(c.args[1]).value_or(0.0) : 0.0;
            const bool in_looks = stays && c.args[1].type.unit.looks != 0;
            const double ms = in_looks ? (limit - 1.0) * robot().look_ms : limit;
            if (ms < best.ms) {
                best = {ms, goes_on(rule), rule.span};
            }
        }
    }
    return best;
}

bool CourseChecker::gives_up(const lang::Rule& rule) {
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
double CourseChecker::goes_on(const lang::Rule& rule) const {
    if (rule.acts.empty() ||
        (rule.acts.back().kind != lang::ActKind::call && rule.acts.back().kind != lang::ActKind::become)) {
        return 0.0;
    }
    const lang::LaidBlock& block = out_.text().blocks[out_.text().block_number(rule.acts.back().name)];
    double way = 0.0;
    for (const lang::LaidItem& item : block.items) {
        const bool on = item.kind == lang::LaidItem::Kind::move &&
                        (item.act.motion == Op::keep || item.act.motion == Op::ahead) &&
                        item.limit.kind == lang::Limit::Kind::over && item.limit.value.is<lang::Constant>();
        if (!on) {
            break;
        }
        const lang::Unit unit = item.limit.value.type.unit;
        const double limit = item.limit.value.as<lang::Constant>()->value;
        way += unit.mm != 0      ? limit
               : unit.ms != 0    ? limit / 1000.0 * speed_mm_s_
               : unit.looks != 0 ? limit * robot().look_ms / 1000.0 * speed_mm_s_
                                 : 0.0;
    }
    return way;
}

void CourseChecker::gaps() {
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
        out_.add(
            "gap-too-long", wait.span,
            fmt::format("the gap of {:.0f} mm is longer than the {:.0f} mm that it goes on before it takes the line "
                        "for lost",
                        longest, way),
            fmt::format("let it go on for {:.0f} looks or more at {:.0f} mm/s",
                        std::ceil((longest - wait.then_mm) / speed_mm_s_ / robot().look_ms * 1000.0) + 1.0,
                        speed_mm_s_));
    }
}

/// The pattern that the array sees where it stands, by the colours of floor and line.
Pattern CourseChecker::pattern_at(const Pose& pose) const {
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

void CourseChecker::starts() {
    const std::size_t first = 0;
    if (out_.text().blocks.empty() || out_.text().blocks[first].is_errand) {
        return;
    }
    const BlockLogic logic(out_.plan(), first, out_.effort());
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

} // namespace vast_turn::vetting
