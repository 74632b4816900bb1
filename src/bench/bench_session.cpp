#include "vast_turn/bench/bench_session.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/sim/run.hpp"

namespace vast_turn {

namespace {

constexpr int least_over_one = 10;
/// Over one surface; more tell nothing new.
constexpr int most_over_one = 20000;
/// As the text form rounds powers.
constexpr double powers_alike_pct = 0.5;

} // namespace

BenchSession::BenchSession(const BenchParts& parts)
    : robot_(parts.robot), plan_(parts.plan), calibration_(parts.calibration), numbers_(parts.numbers),
      walk_(parts.robot) {
    if (plan_) {
        check_sensor_count(robot_, *plan_);
    }
    if (calibration_ && calibration_->sensors.size() != robot_.sensors.size()) {
        throw InputError(robot_.file, "the calibration is for another number of sensors than the robot has",
                         "use files that belong together");
    }
    for (std::size_t i = 0; i < robot_.sensors.size(); ++i) {
        const std::string& channel = robot_.sensors[i].channel;
        readings_.channels.push_back(channel.empty() ? fmt::format("sensor_{}", i + 1) : channel);
    }
    begin_plan();
}

void BenchSession::begin_plan() {
    reader_.emplace(calibration_ ? array_reader(robot_, *calibration_, numbers_) : array_reader(robot_));
    if (plan_) {
        asker_.emplace(Mind(*plan_, numbers_));
    }
    for (const auto& [name, value] : vars_) {
        give_var(name, value);
    }
    from_first_ = false;
    differing_ = compared_ = 0;
}

void BenchSession::give_var(const std::string& name, double value) {
    const auto at = std::find(plan_->vars().begin(), plan_->vars().end(), name);
    if (at != plan_->vars().end()) {
        asker_->set_var(static_cast<std::size_t>(at - plan_->vars().begin()), value);
    }
}

void BenchSession::set_var(const std::string& name, double value) {
    if (asker_) {
        vars_[name] = value;
        give_var(name, value);
    }
}

/// Whether a look follows the one before, and that another, back to the robot's first.
void BenchSession::note_gap(double now_ms) {
    const bool is_first = now_ms < 1.5 * robot_.look_ms;
    const bool follows = last_ && now_ms - last_->look.clock_ms < 1.5 * robot_.look_ms;
    from_first_ = is_first || (from_first_ && follows);
}

void BenchSession::take(const LoggedLook& told, bool has_counts) {
    const bool went_back = last_ && told.look.clock_ms < last_->look.clock_ms;
    const double was_blind_ms = blind_ms();
    if (went_back) { // the robot began anew
        begin_plan();
    }
    note_gap(told.look.clock_ms);
    last_ = told;
    can_read_ = !has_counts || calibration_.has_value();
    if (has_counts) {
        if (calibration_) {
            reader_->from_counts(last_->look);
        }
        walk_.take(last_->look.raw);
        if (!under_.empty() && looks_over(under_) < most_over_one) {
            BenchLook look;
            look.under = under_;
            std::copy_n(last_->look.raw, robot_.sensors.size(), look.counts.begin());
            readings_.looks.push_back(look);
            ++counted_[under_];
            under_ = left_ == 1 ? "" : under_;
            left_ = std::max(0, left_ - 1);
        }
    }
    if (!can_read_ || last_->look.line_bits != 0) {
        blind_since_ms_.reset();
    } else if (!blind_since_ms_ || went_back) { // beginning anew finds no line
        blind_since_ms_ = last_->look.clock_ms - was_blind_ms;
    }
    reply_.reset();
    if (asker_ && can_read_) {
        reply_ = asker_->ask(last_->look);
        if (told.left_pct && told.right_pct && from_first_) {
            ++compared_;
            const Answer& answer = reply_->answer;
            differing_ += std::abs(answer.left_pct - *told.left_pct) > powers_alike_pct ||
                                  std::abs(answer.right_pct - *told.right_pct) > powers_alike_pct
                              ? 1
                              : 0;
        }
    }
}

void BenchSession::forget(const std::string& under) {
    std::erase_if(readings_.looks, [&](const BenchLook& look) { return look.under == under; });
    counted_.erase(under);
}

int BenchSession::looks_over(const std::string& under) const {
    const auto found = counted_.find(under);
    return found == counted_.end() ? 0 : found->second;
}

std::optional<CalibrationReport> BenchSession::report() const {
    if (looks_over(under::line) < least_over_one || looks_over(under::floor) < least_over_one) {
        return std::nullopt;
    }
    return calibrate(readings_, array_facts(robot_));
}

bool BenchSession::use_report() {
    const std::optional<CalibrationReport> found = report();
    if (!found || !std::all_of(found->sensors.begin(), found->sensors.end(),
                               [](const SensorReport& sensor) { return sensor.usable; })) {
        return false;
    }
    calibration_ = found->calibration();
    begin_plan();
    return true;
}

} // namespace vast_turn
