#pragma once

/// A guess of where a robot is, how it errs, and what many of them say together.

#include <array>
#include <cmath>
#include <cstddef>
#include <cstdint>
#include <numbers>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/noise.hpp"

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
    double lag = 1.0;       ///< times the file's, where only powers are known
    double left_mm_s = 0.0; ///< where only powers are known
    double right_mm_s = 0.0;
};

/// What a guess keeps the run through: its left, right, turn and lag.
using Kept = std::array<double, 4>;
using KeptSquares = std::array<Kept, std::tuple_size_v<Kept>>;

/// What the guesses say of those numbers, by their weights.
struct Learned {
    Kept mean{1.0, 1.0, 1.0, 1.0};
    KeptSquares covariance{};
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

} // namespace vast_turn
