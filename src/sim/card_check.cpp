#include "vast_turn/sim/card_check.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

namespace {

std::vector<double> counts_with(const Robot& robot, const Faults& faults, const Pattern& card, CardSurfaces surfaces) {
    std::vector<double> counts;
    for (const Channel& channel : channels_of(robot, faults)) {
        const double light = ((card.bits >> channel.source) & 1) != 0 ? surfaces.line : surfaces.floor;
        counts.push_back(std::round(std::min(channel.counts(light), channel.most)));
    }
    return counts;
}

std::string lamps(std::uint8_t bits) {
    std::string list;
    for (int i = 0; i < max_sensors; ++i) {
        if (((bits >> i) & 1) != 0) {
            list += fmt::format("{}{}", list.empty() ? "" : ", ", i + 1);
        }
    }
    return list;
}

/// Which way a wheel goes, for a comparison.
int way(double speed) { return speed > 0.0 ? 1 : (speed < 0.0 ? -1 : 0); }

const char* way_word(int way) { return way > 0 ? "forwards" : (way < 0 ? "backwards" : "not at all"); }

std::string wheel_remark(const char* side, double asked, double turned) {
    if (way(asked) != way(turned)) {
        return fmt::format("the {} wheel should turn {}, it turns {}", side, way_word(way(asked)),
                           way_word(way(turned)));
    }
    if (std::abs(turned) < 0.999 * std::abs(asked)) {
        return fmt::format("the {} wheel turns at {:.0f} % of its speed", side, 100.0 * turned / asked);
    }
    return std::abs(turned) > 1.001 * std::abs(asked) ? fmt::format("the {} wheel turns too fast", side) : "";
}

std::string remark_on(const CardStep& step, const WheelSpeeds& sound) {
    std::vector<std::string> parts;
    const auto missing = static_cast<std::uint8_t>(step.expected.bits & ~step.pattern.bits);
    const auto surplus = static_cast<std::uint8_t>(step.pattern.bits & ~step.expected.bits);
    if (missing != 0) {
        parts.push_back(fmt::format("lamp {} stays dark", lamps(missing)));
    }
    if (surplus != 0) {
        parts.push_back(fmt::format("lamp {} is lit", lamps(surplus)));
    }
    parts.push_back(wheel_remark("left", sound.left_mm_s, step.left_mm_s));
    parts.push_back(wheel_remark("right", sound.right_mm_s, step.right_mm_s));
    std::string all;
    for (const std::string& part : parts) {
        all += all.empty() || part.empty() ? part : "; " + part;
    }
    return all;
}

CardStep step_with(const Robot& robot, const Plan& plan, const Faults& faults, const Calibration& calibration,
                   CardSurfaces surfaces, Pattern card, runtime::NumberKind numbers) {
    CardStep step;
    step.expected = card;
    for (int i = 0; i < card.count; ++i) {
        if (((card.bits >> i) & 1) != 0) {
            step.card_under.push_back(i + 1);
        }
    }
    step.counts = counts_with(robot, faults, card, surfaces);
    Look look;
    std::copy(step.counts.begin(), step.counts.end(), look.raw);
    array_reader(robot, calibration, numbers).from_counts(look);
    step.pattern = {look.line_bits, card.count};
    step.readings.assign(look.sensor, look.sensor + card.count);
    Answer answer;
    Mind mind(plan, numbers);
    mind(look, answer);
    step.left_pct = answer.left_pct;
    step.right_pct = answer.right_pct;
    step.left = command_for(robot.motors.left, answer.left_pct);
    step.right = command_for(robot.motors.right, answer.right_pct);
    const WheelSpeeds speeds = settled_speeds(robot, faults, answer.left_pct, answer.right_pct);
    step.left_mm_s = speeds.left_mm_s;
    step.right_mm_s = speeds.right_mm_s;
    step.remark = remark_on(step, settled_speeds(robot, {}, answer.left_pct, answer.right_pct));
    return step;
}

} // namespace

std::vector<CardStep> card_check(const Robot& robot, const Plan& plan, const Faults& faults,
                                 const std::optional<Calibration>& calibration, CardSurfaces surfaces,
                                 runtime::NumberKind numbers) {
    const auto n = static_cast<int>(robot.sensors.size());
    if (plan.sensors() != n || (calibration && static_cast<int>(calibration->sensors.size()) != n)) {
        throw InputError(
            plan.file(),
            fmt::format("the plan is for {} sensors, the robot has {}{}", plan.sensors(), n,
                        calibration ? fmt::format(", the calibration {}", calibration->sensors.size()) : ""),
            "use files that belong together");
    }
    const Calibration levels = calibration
                                   ? *calibration
                                   : ideal_calibration(robot, std::vector<double>(robot.sensors.size(), surfaces.floor),
                                                       std::vector<double>(robot.sensors.size(), surfaces.line));
    std::vector<std::uint8_t> cards = {0};
    for (int i = 0; i < n; ++i) {
        cards.push_back(static_cast<std::uint8_t>(1U << static_cast<unsigned>(i)));
    }
    if (n > 1) {
        cards.push_back(static_cast<std::uint8_t>(pattern_count(n) - 1));
    }
    std::vector<CardStep> steps;
    for (const std::uint8_t card : cards) {
        steps.push_back(step_with(robot, plan, faults, levels, surfaces, {card, n}, numbers));
    }
    return steps;
}

} // namespace vast_turn
