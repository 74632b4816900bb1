#pragma once

/// Guesses of where a robot is, moved as its log says and weighed by what it saw.

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

#include "recorded/guess_pasts.hpp"
#include "recorded/seen_on_map.hpp"
#include "vast_turn/base/noise.hpp"
#include "vast_turn/recorded/log_way.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"

namespace vast_turn {

namespace guessing {

inline constexpr double rad = std::numbers::pi / 180.0;

/// How the guesses err. As parts of what is moved; a little more than robots do, since a guess that errs too little is
/// lost where the robot slips.
inline constexpr double wheel_error = 0.02;  ///< of each wheel's size, the whole run through
inline constexpr double track_error = 0.04;  ///< of the track
inline constexpr double gyro_error = 0.01;   ///< of the gyro's scale
inline constexpr double power_error = 0.08;  ///< of each motor's speed, where only powers are known
inline constexpr double way_noise = 0.03;    ///< of each look's way
inline constexpr double turn_noise = 0.04;   ///< of each look's turn
inline constexpr double any_way_mm = 0.04;   ///< and so much at each look
inline constexpr double wander_rad = 0.0007; ///< by the root of each millimetre
inline constexpr double rough_mm = 0.8;      ///< what copies of a guess differ by
inline constexpr double rough_rad = 0.004;
inline constexpr double rough_part = 0.002;
/// How far a reading may be from the map's, 0..1, and what a wilder one costs at most.
inline constexpr double reading_off = 0.16;
inline constexpr double most_off = 3.0;
/// Looks for which all guesses are kept, at most.
inline constexpr std::size_t longest_open = 1500;

/// As direction() has it: y goes down the board.
inline Vec2 ahead_of(double heading_rad) { return {std::cos(heading_rad), -std::sin(heading_rad)}; }

/// One guess.
struct Guess {
    Vec2 at;
    double heading_rad = 0.0;
    double left = 1.0; ///< times what each wheel seems to go
    double right = 1.0;
    double turn = 1.0;      ///< times what it seems to turn
    double left_mm_s = 0.0; ///< where only powers are known
    double right_mm_s = 0.0;
};

/// What moved between two looks, as the log has it.
struct Step {
    double left_mm = 0.0;
    double right_mm = 0.0;
    double turned_rad = 0.0; ///< by the gyro
    double s = 0.0;
};

/// Standard normal numbers in a row.
class Chance {
public:
    explicit Chance(std::uint64_t seed) : seed_(seed) {}

    double normal() {
        if (at_ == draw_.size()) {
            draw_ = random_draw(seed_, Stream::log_way, index_++);
            at_ = 0;
        }
        return NormalQuantile::table()(draw_[at_++]);
    }
    double uniform() {
        const Draw draw = random_draw(seed_, Stream::log_way, index_++);
        return (draw[0] + draw[1] / 65536.0) / 65536.0;
    }

private:
    std::uint64_t seed_;
    std::uint64_t index_ = 0;
    Draw draw_{};
    std::size_t at_ = std::tuple_size_v<Draw>;
};

} // namespace guessing

/// One start tried. The way that comes of it is yet to be judged.
class WayFilter {
    using Guess = guessing::Guess;
    using Step = guessing::Step;
    using Chance = guessing::Chance;

public:
    WayFilter(const Scene& scene, const std::vector<LoggedLook>& log, const LogWayOptions& options, WayBy by,
              double errs)
        : robot_(scene.robot()), log_(log), options_(options), by_(by), map_(scene), errs_(errs),
          chance_(options.seed) {}

    /// All looks.
    LogWay run(const Pose& start) {
        go(start, log_.size());
        return told();
    }

    /// How likely the first looks are from there.
    double evidence_of(const Pose& start, std::size_t looks) {
        go(start, std::min(looks, log_.size()));
        return evidence_;
    }

    /// The logarithm of how likely what was seen is from there.
    double evidence() const { return evidence_; }

private:
    void go(const Pose& start, std::size_t looks) {
        begin(start);
        for (std::size_t i = 0; i < looks; ++i) {
            if (i > 0) {
                move(step_before(i));
            }
            weigh(log_[i].look);
            keep();
            resample();
            if (pasts_.open_looks() >= guessing::longest_open) {
                pasts_.settle(parents_, best_);
            }
        }
    }

    void begin(const Pose& start) {
        guesses_.clear();
        for (int n = 0; n < options_.guesses; ++n) {
            Guess guess;
            guess.at = start.at + Vec2{options_.off_mm * chance_.normal(), options_.off_mm * chance_.normal()};
            guess.heading_rad = guessing::rad * (start.heading_deg + options_.off_deg * chance_.normal());
            const double wheels = errs_ * (by_ == WayBy::powers ? guessing::power_error : guessing::wheel_error);
            guess.left = 1.0 + wheels * chance_.normal();
            guess.right = 1.0 + wheels * chance_.normal();
            guess.turn = 1.0 + errs_ * (by_ == WayBy::wheels_and_gyro ? guessing::gyro_error : guessing::track_error) *
                                   chance_.normal();
            guesses_.push_back(guess);
        }
        logs_.assign(guesses_.size(), 0.0);
    }

    Step step_before(std::size_t i) const {
        const Look& now = log_[i].look;
        const Look& last = log_[i - 1].look;
        const double mm_per_deg = robot_.wheel_mm * std::numbers::pi / 360.0;
        return {(now.left_deg - last.left_deg) * mm_per_deg, (now.right_deg - last.right_deg) * mm_per_deg,
                guessing::rad * (now.heading_by_gyro_deg - last.heading_by_gyro_deg),
                std::max(0.0, now.clock_ms - last.clock_ms) / 1000.0};
    }

    /// What the motors have: powers reach them after the delay.
    WheelSpeeds targets(double now_ms) const {
        const double asked_ms = now_ms - robot_.delay_ms;
        std::size_t at = powers_at_;
        while (at + 1 < log_.size() && log_[at + 1].look.clock_ms <= asked_ms) {
            ++at;
        }
        powers_at_ = at;
        return settled_speeds(robot_, {}, log_[at].left_pct.value_or(0.0), log_[at].right_pct.value_or(0.0));
    }

    void move(const Step& step) {
        const bool by_powers = by_ == WayBy::powers;
        const WheelSpeeds target = by_powers ? targets(time_ms_) : WheelSpeeds{};
        time_ms_ += 1000.0 * step.s;
        const double lag_s = std::max(1e-4, robot_.motors.lag_ms / 1000.0);
        const double kept = std::exp(-step.s / lag_s);
        for (Guess& guess : guesses_) {
            double left = step.left_mm * guess.left;
            double right = step.right_mm * guess.right;
            if (by_powers) {
                left = rolled(guess.left_mm_s, guess.left * target.left_mm_s, step.s, lag_s, kept);
                right = rolled(guess.right_mm_s, guess.right * target.right_mm_s, step.s, lag_s, kept);
            }
            const double way = 0.5 * (left + right);
            const double size = std::abs(way) + 0.1 * std::abs(right - left);
            double turned = by_ == WayBy::wheels_and_gyro ? step.turned_rad * guess.turn
                                                          : (right - left) / robot_.skid_track_mm() * guess.turn;
            turned += errs_ * (guessing::turn_noise * std::abs(turned) * chance_.normal() +
                               guessing::wander_rad * std::sqrt(size) * chance_.normal());
            const double went =
                way + errs_ * (guessing::way_noise * std::abs(way) + guessing::any_way_mm) * chance_.normal();
            const double middle = guess.heading_rad + 0.5 * turned;
            guess.at = guess.at + went * guessing::ahead_of(middle);
            guess.heading_rad += turned;
        }
    }

    /// The way of a wheel whose speed follows its target, and its speed behind it.
    static double rolled(double& speed, double target, double s, double lag_s, double kept) {
        const double way = target * s + (speed - target) * lag_s * (1.0 - kept);
        speed = target + (speed - target) * kept;
        return way;
    }

    void weigh(const Look& look) {
        const std::size_t sensors = robot_.sensors.size();
        double best = -1e300;
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const Guess& guess = guesses_[n];
            const Vec2 ahead = guessing::ahead_of(guess.heading_rad);
            double sum = 0.0;
            for (std::size_t k = 0; k < sensors; ++k) {
                const double off = (look.sensor[k] - map_.reading(k, guess.at, ahead)) / guessing::reading_off;
                sum -= 0.5 * std::min(off * off, guessing::most_off * guessing::most_off);
            }
            // What one look sees it sees in the next again, a millimetre on: neighbours are no news of their own.
            logs_[n] += 0.35 * sum;
            best = std::max(best, logs_[n]);
        }
        double total = 0.0;
        for (double& one : logs_) {
            total += std::exp(one - best);
        }
        const double level = best + std::log(total);
        evidence_ += level;
        for (double& one : logs_) {
            one -= level;
        }
    }

    /// A look's guesses, and of which guess of the look before each is.
    void keep() {
        best_ = static_cast<std::uint32_t>(std::max_element(logs_.begin(), logs_.end()) - logs_.begin());
        std::vector<GuessPlace> places;
        places.reserve(guesses_.size());
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const Guess& guess = guesses_[n];
            places.push_back({static_cast<float>(guess.at.x), static_cast<float>(guess.at.y),
                              static_cast<float>(guess.heading_rad)});
        }
        pasts_.add(std::move(places), parents_);
    }

    /// Those that fit best several times, others not at all, when few carry all the weight.
    void resample() {
        double squares = 0.0;
        for (const double one : logs_) {
            squares += std::exp(2.0 * one);
        }
        const auto count = static_cast<double>(guesses_.size());
        if (1.0 / squares > 0.5 * count) {
            parents_.clear();
            return;
        }
        std::vector<Guess> next;
        parents_.clear();
        next.reserve(guesses_.size());
        const double from = chance_.uniform();
        double sum = 0.0;
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            sum += std::exp(logs_[n]);
            while (next.size() < guesses_.size() && (static_cast<double>(next.size()) + from) / count < sum) {
                next.push_back(roughened(guesses_[n]));
                parents_.push_back(static_cast<std::uint32_t>(n));
            }
        }
        while (next.size() < guesses_.size()) { // of rounding
            next.push_back(guesses_.back());
            parents_.push_back(static_cast<std::uint32_t>(guesses_.size() - 1));
        }
        guesses_ = std::move(next);
        std::fill(logs_.begin(), logs_.end(), -std::log(count));
    }

    /// A copy that is not quite the same, so that copies of one guess do not all share its errors.
    Guess roughened(Guess guess) {
        guess.at = guess.at + Vec2{guessing::rough_mm * chance_.normal(), guessing::rough_mm * chance_.normal()};
        guess.heading_rad += guessing::rough_rad * chance_.normal();
        guess.left += guessing::rough_part * chance_.normal();
        guess.right += guessing::rough_part * chance_.normal();
        guess.turn += guessing::rough_part * chance_.normal();
        return guess;
    }

    LogWay told() {
        LogWay way;
        way.by = by_;
        for (const GuessPlace& place : pasts_.of(best_)) {
            way.poses.push_back({{static_cast<double>(place[0]), static_cast<double>(place[1])},
                                 static_cast<double>(place[2]) / guessing::rad});
        }
        return way;
    }

    const Robot& robot_;
    const std::vector<LoggedLook>& log_;
    const LogWayOptions& options_;
    WayBy by_;
    SeenOnMap map_;
    double errs_; ///< times what guesses err otherwise
    Chance chance_;
    double time_ms_ = 0.0;
    mutable std::size_t powers_at_ = 0;
    double evidence_ = 0.0;
    std::vector<Guess> guesses_;
    std::vector<double> logs_;           ///< of their weights
    std::vector<std::uint32_t> parents_; ///< of each among those of the look before; empty: its own number
    GuessPasts pasts_;
    std::uint32_t best_ = 0; ///< guess of the last look
};

} // namespace vast_turn
