#pragma once

/// Guesses of where a robot is, moved as its log says and weighed by what it saw.

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <numbers>
#include <vector>

#include "recorded/guess_pasts.hpp"
#include "recorded/guesses.hpp"
#include "recorded/seen_on_map.hpp"
#include "vast_turn/recorded/log_way.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"

namespace vast_turn {

/// What a log lets its way be reckoned from. Throws InputError when nothing does.
WayBy way_by(const Robot& robot, const std::vector<LoggedLook>& log);

/// From where a log may have begun: the pose, the start or any start of the course. Throws InputError when there is
/// none.
std::vector<StartPose> starts_for(const Course& course, const LogWayOptions& options);

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

    /// What the first looks say of wheels, motors and turns, when so little is known of them before: their standard
    /// errors. Keeps no past, so that what is asked of it afterwards is only this.
    guessing::Learned learned(const Pose& start, std::size_t looks, const guessing::Kept& before) {
        learns_ = true;
        before_ = before;
        go(start, std::min(looks, log_.size()));
        return learned();
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
            if (!learns_) {
                keep();
            }
            resample();
            if (!learns_ && pasts_.open_looks() >= guessing::longest_open) {
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
            if (learns_) {
                guess.left = 1.0 + before_[0] * chance_.normal();
                guess.right = 1.0 + before_[1] * chance_.normal();
                guess.turn = 1.0 + before_[2] * chance_.normal();
                guess.lag = std::exp(before_[3] * chance_.normal());
            }
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
            const double own_lag_s = learns_ ? std::max(0.1, guess.lag) * lag_s : lag_s;
            const double own_kept = learns_ && by_powers ? std::exp(-step.s / own_lag_s) : kept;
            double left = step.left_mm * guess.left;
            double right = step.right_mm * guess.right;
            if (by_powers) {
                left = rolled(guess.left_mm_s, guess.left * target.left_mm_s, step.s, own_lag_s, own_kept);
                right = rolled(guess.right_mm_s, guess.right * target.right_mm_s, step.s, own_lag_s, own_kept);
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
        if (learns_) {
            spread_ = learned();
            root_ = root_of(spread_.covariance);
        }
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
        if (learns_) {
            return drawn_in(guess);
        }
        guess.left += guessing::rough_part * chance_.normal();
        guess.right += guessing::rough_part * chance_.normal();
        guess.turn += guessing::rough_part * chance_.normal();
        return guess;
    }

    /// A copy with other numbers that all copies together spread no wider for (Liu and West, "Combined parameter and
    /// state estimation in simulation-based filtering", 2001): drawn in to the mean, and moved about by what that took.
    Guess drawn_in(Guess guess) {
        constexpr double drawn = 0.995;
        const double moved = std::sqrt(1.0 - drawn * drawn);
        const guessing::Kept chance{chance_.normal(), chance_.normal(), chance_.normal(), chance_.normal()};
        const std::array<double*, 4> numbers{&guess.left, &guess.right, &guess.turn, &guess.lag};
        for (std::size_t i = 0; i < numbers.size(); ++i) {
            double off = 0.0;
            for (std::size_t k = 0; k <= i; ++k) {
                off += root_[i][k] * chance[k];
            }
            *numbers[i] = drawn * *numbers[i] + (1.0 - drawn) * spread_.mean[i] + moved * off;
        }
        return guess;
    }

    guessing::Learned learned() const {
        guessing::Learned out;
        out.mean = {};
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const guessing::Kept kept = kept_of(guesses_[n]);
            for (std::size_t i = 0; i < kept.size(); ++i) {
                out.mean[i] += std::exp(logs_[n]) * kept[i];
            }
        }
        for (std::size_t n = 0; n < guesses_.size(); ++n) {
            const guessing::Kept kept = kept_of(guesses_[n]);
            for (std::size_t i = 0; i < kept.size(); ++i) {
                for (std::size_t k = 0; k < kept.size(); ++k) {
                    out.covariance[i][k] += std::exp(logs_[n]) * (kept[i] - out.mean[i]) * (kept[k] - out.mean[k]);
                }
            }
        }
        return out;
    }

    static guessing::Kept kept_of(const Guess& guess) { return {guess.left, guess.right, guess.turn, guess.lag}; }

    /// Cholesky's.
    static guessing::KeptSquares root_of(const guessing::KeptSquares& of) {
        guessing::KeptSquares root{};
        for (std::size_t i = 0; i < root.size(); ++i) {
            for (std::size_t k = 0; k <= i; ++k) {
                double rest = of[i][k];
                for (std::size_t m = 0; m < k; ++m) {
                    rest -= root[i][m] * root[k][m];
                }
                if (i == k) {
                    root[i][i] = std::sqrt(std::max(0.0, rest));
                } else {
                    root[i][k] = root[k][k] > 0.0 ? rest / root[k][k] : 0.0;
                }
            }
        }
        return root;
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
    bool learns_ = false;    ///< what guesses keep is sought, not their way
    guessing::Kept before_{};
    guessing::Learned spread_;
    guessing::KeptSquares root_{};
};

} // namespace vast_turn
