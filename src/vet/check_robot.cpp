#include <algorithm>
#include <cmath>
#include <map>
#include <set>
#include <vector>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"
#include "vet/bend_model.hpp"
#include "vet/collector.hpp"
#include "vet/lane.hpp"
#include "vet/loop_model.hpp"
#include "vet/motions.hpp"

namespace vast_turn::vetting {

namespace {

double line_of(const Collector& out) {
    if (out.course() != nullptr && !out.course()->tapes.empty()) {
        return out.course()->tapes.front().width_mm;
    }
    return usual_line_mm;
}

void steps(Collector& out) {
    const Robot& robot = *out.robot();
    const double speed = fastest_mm_s(out);
    if (speed <= 0.0) {
        out.undecided("how fast it goes forward: its powers are reckoned at each look, and it was not driven");
        return;
    }
    const double step = speed * robot.look_ms / 1000.0;
    out.fact("fastest forward", fmt::format("{:.0f} mm/s, {:.1f} mm between two looks", speed, step));
    double closest = HUGE_VAL;
    for (std::size_t i = 0; i + 1 < robot.sensors.size(); ++i) {
        closest = std::min(closest, length(robot.sensors[i + 1].at_mm - robot.sensors[i].at_mm));
    }
    if (step > closest) {
        out.add_whole(
            "step-too-long",
            fmt::format("it drives {:.1f} mm between two looks, the sensors stand {:.1f} mm apart", step, closest),
            fmt::format("drive no faster than {:.0f} mm/s, or look every {:.0f} ms", closest / robot.look_ms * 1000.0,
                        std::floor(closest / speed * 1000.0)));
    }
}

void dead_bands(Collector& out) {
    const Robot& robot = *out.robot();
    const double band = robot.motors.dead_band_pct;
    for (const WrittenMotion& motion : written_motions(out)) {
        std::vector<std::string> wheels;
        for (const auto& [name, power] :
             {std::pair{"left", motion.wheels.left_pct}, {"right", motion.wheels.right_pct}}) {
            if (std::abs(power) > 0.0 && std::abs(power) < band) {
                wheels.push_back(fmt::format("{:g} percent for the {} wheel", power, name));
            }
        }
        if (!wheels.empty()) {
            out.add("dead-band", motion.act->span,
                    fmt::format("{} {} within the dead band of {:g}", fmt::join(wheels, " and "),
                                wheels.size() == 1 ? "is" : "are", band),
                    fmt::format("use 0, or at least {:g} percent", band));
        }
    }
}

/// On which radius the middle of the robot turns under these powers; infinite straight on, 0 on the spot.
double radius_of(const Robot& robot, const Wheels& wheels) {
    const WheelSpeeds speeds = settled_speeds(robot, {}, wheels.left_pct, wheels.right_pct);
    const double turn = std::abs(speeds.right_mm_s - speeds.left_mm_s);
    const double ahead = std::abs(speeds.right_mm_s + speeds.left_mm_s);
    return turn > 0.0 ? 0.5 * robot.skid_track_mm() * ahead / turn : HUGE_VAL;
}

void bends(Collector& out) {
    const Robot& robot = *out.robot();
    for (const WrittenMotion& motion : written_motions(out)) {
        const double radius = radius_of(robot, motion.wheels);
        if (motion.rule != nullptr && turn_of(motion.wheels) != 0 && std::isfinite(radius)) {
            out.fact(fmt::format("line {}: {}", out.line_of(motion.act->span), lang::to_text(*motion.act)),
                     radius > 0.0 ? fmt::format("turns on {:.0f} mm", radius) : std::string("turns on the spot"));
        }
    }
    const double line = line_of(out);
    const TightestBend left = tightest_bend(out.plan(), robot, 1.0, line, out.numbers());
    const TightestBend right = tightest_bend(out.plan(), robot, -1.0, line, out.numbers());
    if (left.widest == BendEnd::unclear || right.widest == BendEnd::unclear) {
        out.undecided("which bends it holds: on the way it halts or does an errand while it sees the line");
        return;
    }
    const auto told = [](const TightestBend& tightest) {
        return tightest.widest == BendEnd::lost ? std::string("none of 800 mm and less")
               : tightest.radius_mm < 7.0       ? "a corner"
                                                : fmt::format("{:.0f} mm", tightest.radius_mm);
    };
    out.fact("tightest quarter turn held", fmt::format("{} to the left, {} to the right", told(left), told(right)));
}

/// The turn of the robot that so many degrees of a wheel make.
void wheel_turns(Collector& out) {
    const Robot& robot = *out.robot();
    for (const WrittenMotion& motion : written_motions(out)) {
        if (motion.item == nullptr || !motion.item->limit.of_wheel || turn_of(motion.wheels) == 0 ||
            !motion.item->limit.value.is<lang::Constant>()) {
            continue;
        }
        const WheelSpeeds speeds = settled_speeds(robot, {}, motion.wheels.left_pct, motion.wheels.right_pct);
        const bool of_left = written_value(motion.item->limit.wheel).value_or(0.0) > 0.0;
        const double own = std::abs(of_left ? speeds.left_mm_s : speeds.right_mm_s);
        const double apart = std::abs(speeds.right_mm_s - speeds.left_mm_s);
        if (own > 0.0) {
            const double way = to_radians(motion.item->limit.value.as<lang::Constant>()->value) * 0.5 * robot.wheel_mm;
            out.fact(
                fmt::format("line {}: {}", out.line_of(motion.act->span), lang::to_text(motion.item->limit)),
                fmt::format("turns the robot by {:.0f} deg", to_degrees(way * apart / own / robot.skid_track_mm())));
        }
    }
}

/// The rule that steers by `offset`, its loop, and where its motion stands.
struct SteeringRule {
    LoopJudgement loop;
    bool damped = false;
    lang::Span span;
};

std::vector<SteeringRule> steering_rules(Collector& out) {
    std::vector<SteeringRule> list;
    std::set<std::size_t> told;
    for (std::size_t i = 0; i < out.text().blocks.size(); ++i) {
        for (const lang::Rule& rule : out.text().blocks[i].rules) {
            const lang::Act* motion = motion_among(rule.acts);
            const auto steering = motion != nullptr ? steering_of(*motion) : std::nullopt;
            if (!steering || !out.is_reached(i) || rule.is_twin || !told.insert(motion->span.from).second) {
                continue;
            }
            list.push_back({judge_loop(*steering, *out.robot(), line_of(out)), steering->kd > 0.0, motion->span});
            out.fact(fmt::format("line {}: {}", out.line_of(motion->span), lang::to_text(*motion)),
                     fmt::format("phase margin {:.0f} deg", list.back().loop.phase_margin_deg));
        }
    }
    return list;
}

/// What a drive over a straight lane shows; nothing where the robot cannot be driven.
LaneDrive lane_drive(Collector& out) {
    const Course lane = straight_lane(out.course(), line_of(out));
    try {
        return drive_lane(lane, *out.robot(), out.plan(),
                          out.calibration() != nullptr ? std::optional(*out.calibration()) : std::nullopt,
                          out.numbers());
    } catch (const InputError&) {
        return {}; // what it asks for this robot cannot tell: said where the plan is held against the robot
    }
}

void swinging(Collector& out) {
    const std::vector<SteeringRule> rules = steering_rules(out);
    const LaneDrive lane = lane_drive(out);
    const char* cure = "lower the gain, add a derivative part, look more often or drive slower";
    const auto at = [&]() {
        const lang::Span acted = out.span_of(lane.rule);
        const auto inside = std::find_if(rules.begin(), rules.end(), [&](const SteeringRule& rule) {
            return rule.span.from >= acted.from && rule.span.to <= acted.to;
        });
        return inside == rules.end() ? acted : inside->span;
    };
    if (lane.end == LaneDrive::End::followed) {
        out.fact("swing on a straight",
                 fmt::format("{:.1f} mm each way{}", lane.swing_mm, lane.when_pushed ? " once it is 8 mm aside" : ""));
    }
    const bool swings = lane.end == LaneDrive::End::followed && lane.swing_mm >= least_swing_mm;
    if (swings || lane.end == LaneDrive::End::lost) {
        out.add("oscillates", at(),
                (swings ? fmt::format("it swings about a straight line, by some {:.0f} mm each way", lane.swing_mm)
                        : std::string("it swings about a straight line until it loses it")) +
                    (lane.when_pushed ? ", once it is 8 mm aside" : ""),
                rules.empty() ? "make the turns of the inner patterns gentler, look more often or drive slower" : cure);
        return;
    }
    for (const SteeringRule& rule : rules) {
        if (lane.end == LaneDrive::End::unclear && rule.loop.swing_mm >= least_swing_mm) {
            out.add("oscillates", rule.span,
                    fmt::format("with this gain, delay and speed it will swing about the line, by some {:.0f} mm each "
                                "way (phase margin {:.0f} deg)",
                                rule.loop.swing_mm, rule.loop.phase_margin_deg),
                    rule.damped ? "lower the gains, look more often or drive slower" : cure);
        } else if (rule.loop.phase_margin_deg < 0.0) {
            out.add("margin-negative", rule.span,
                    fmt::format("the phase margin of this loop is {:.0f} deg, though on a straight it {}",
                                rule.loop.phase_margin_deg,
                                lane.end == LaneDrive::End::followed
                                    ? fmt::format("swings by no more than {:.1f} mm", lane.swing_mm)
                                    : std::string("was not driven")),
                    rule.damped ? "lower the gains, look more often or drive slower" : cure);
        }
    }
}

/// A colour sensor that looks at the same spot as a line sensor that the same habit asks.
void devices(Collector& out) {
    const Robot& robot = *out.robot();
    for (const ColourSensor& colour : robot.colour_sensors) {
        for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
            const LineSensor& line = robot.sensors[k];
            if (length(colour.at_mm - line.at_mm) > 0.25 * (colour.spot_mm + line.spot_mm)) {
                continue;
            }
            for (std::size_t i = 0; i < out.text().blocks.size(); ++i) {
                const auto asks = [&](auto predicate) {
                    const std::vector<lang::Rule>& rules = out.text().blocks[i].rules;
                    return std::find_if(rules.begin(), rules.end(),
                                        [&](const lang::Rule& rule) {
                                            return !rule.is_else && lang::any_part(rule.condition, predicate);
                                        }) -
                           rules.begin();
                };
                const auto marker = asks([](const lang::Expr& e) { return e.is<lang::MarkerSeen>(); });
                const auto pattern = asks([&](const lang::Expr& e) {
                    const auto* marks = e.as<lang::PatternMarks>();
                    return marks != nullptr && ((marks->mask >> k) & 1) != 0;
                });
                const auto rules = static_cast<std::ptrdiff_t>(out.text().blocks[i].rules.size());
                if (out.is_reached(i) && pattern < marker && marker < rules) {
                    out.add("one-device", out.text().blocks[i].rules[static_cast<std::size_t>(marker)].span,
                            fmt::format(
                                "colour sensor `{}` looks where line sensor {} does, and line {} asks the line first",
                                colour.name, k + 1,
                                out.line_of(out.text().blocks[i].rules[static_cast<std::size_t>(pattern)].span)),
                            "put the rules of plates above those of the line");
                }
            }
        }
    }
}

} // namespace

void check_robot(Collector& out) {
    steps(out);
    dead_bands(out);
    bends(out);
    wheel_turns(out);
    swinging(out);
    devices(out);
    out.fact("memory on the robot",
             fmt::format("{} bytes, {} bytes of tables, at most {} steps of the program a look",
                         out.plan().memory_bytes(), out.plan().table_bytes(), out.plan().tables().code.size()));
}

} // namespace vast_turn::vetting
