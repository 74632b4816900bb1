#pragma once

/// How a robot with weight moves: motors by their torque lines, tyres that hold or slide.

#include <algorithm>
#include <array>
#include <cstddef>
#include <vector>

#include "sim/outline.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn {

/// The drive of one run. docs/simulation.md has the equations and their sources.
///
/// While the tyres hold by far and both motors have their wheels, strides of at most 8 ms are the closed form of the
/// linear motors, with the battery's voltage and the caster's drag of their middle. Near the end of what tyres bear
/// they take 2 ms, and where a motor is in the play of its gear the midpoint rule takes the place of the closed form.
/// When a tyre slides, or a wheel stands or turns back against friction, the same bodies are moved by impulses within
/// the cone of friction, in halves of a millisecond.
class Drivetrain {
public:
    /// `robot` has a drive (asserted) and outlives this; `step_ms` > 0.
    Drivetrain(const Robot& robot, double step_ms);

    /// Moves for `steps` steps; the targets are the speeds that free wheels would settle at with a full battery.
    void advance(Body& body, int steps, double left_target_mm_s, double right_target_mm_s);

    /// It moves as another does, of the same robot on another day.
    void go_on_from(const Drivetrain& other);

    /// What is in the way near the robot until this is called again.
    void beside(const std::vector<Barrier>& barriers) { barriers_ = barriers; }
    /// Where it has come against something in the last move.
    const std::vector<Meeting>& pressed() const { return pressed_; }

    /// How long tyres have been sliding.
    double slid_s() const { return slid_s_; }

    /// Of the body and of its turning wheels, microjoules (g mm^2 / s^2 / 1000).
    double kinetic_uj() const;

private:
    /// One wheel with its motor. Forces are in g mm / s^2.
    struct Wheel {
        double side = 0.0;       ///< of the axle's middle, mm to the left; turns about it
        double full_speed = 1.0; ///< at full power
        double keep = 0.0;       ///< friction that it turns against, as the speed that the motor loses to it
        double start = 0.0;      ///< likewise of a standing one
        double target = 0.0;     ///< for a full battery
        double spin = 0.0;       ///< speed at the rim
        double play = 0.0;       ///< of the gear, 0 to play_mm_: where the motor stands in it
        double counted_mm = 0.0; ///< by the encoder, which sits at the motor
        bool was_at_rest = true; ///< so that it takes `start` to move it
    };

    void aim(double left_target, double right_target);
    static constexpr double longest_stride_s = 0.008;
    static constexpr double close_stride_s = 0.002; // where something may begin to slide, or to turn back
    static constexpr double at_rest = 1e-9;         // mm/s

    /// Part of its voltage that the battery has for wheels of these speeds.
    double volts_at(double left_spin, double right_spin) const {
        return std::min(full_part_, held_part_ + left_gives_ * left_spin + right_gives_ * right_spin);
    }
    double volts() const { return volts_at(wheels_[0].spin, wheels_[1].spin); }
    bool stands_still();
    /// Whether the motor stands at the side of its gear's play from which it pushes that way.
    bool has_it(const Wheel& wheel, double force) const {
        return force > 0.0 ? !(wheel.play < play_mm_) : (force < 0.0 ? !(wheel.play > 0.0) : true);
    }
    /// A stride of some units, and what a closed form needs of it.
    struct Stride {
        double h_s = 0.0;
        double decay = 0.0; ///< of a difference to the settled speed
        double turn_decay = 0.0;
        double gone_s = 0.0; ///< the integral of that
        double turn_gone_s = 0.0;
    };
    using AtWork = std::array<bool, 2>; ///< motors that have their wheel

    /// What friction takes: of each motor's speed, and of the body's, a second.
    struct Losses {
        double left = 0.0;
        double right = 0.0;
        double ahead = 0.0;
        double turning = 0.0;
    };
    /// Where a stride without sliding leads.
    struct Rolled {
        double h_s = 0.0;
        double speed = 0.0;
        double turning = 0.0;
        double way = 0.0;
        double turned = 0.0;
    };
    double volts_in_the_middle(const Rolled& to) const;
    double volts_that_last(const Stride& stride, const Losses& loses) const;
    Losses rubbing() const;
    bool drag(double speed, double turning, double h_s, Losses& out) const;
    Rolled closed_form(const Stride& stride, double part, const Losses& loses) const;
    Rolled by_midpoint(double h, double part, const Losses& loses, const AtWork& at_work) const;
    bool bears(const Rolled& to, double part, const AtWork& at_work) const;
    double gains_on(const Wheel& wheel, const Rolled& to, double part) const;
    double play_ends(const Rolled& to, double part, const AtWork& at_work) const;
    void cross_play(const Rolled& to, double part, const AtWork& at_work);
    void take(Body& body, const Rolled& to);
    bool has_both(double part, double left_spin, double right_spin) const {
        return has_it(wheels_[0], part * wheels_[0].target - left_spin) &&
               has_it(wheels_[1], part * wheels_[1].target - right_spin);
    }
    bool bears_by_far(const Rolled& to, double part, const Stride& stride) const;
    bool roll_on(Body& body, const Stride& stride);
    double roll(Body& body, const Stride& stride);
    /// What was pushed in a stroke so far, g mm / s.
    struct Pushes {
        double h_s = 0.0;
        std::array<double, 2> heavy{}; ///< g: a wheel with what its motor adds
        std::array<double, 2> rubs{};  ///< in its bearings
        std::array<Vec2, 2> holds{};   ///< at its tyre
        Vec2 drags{};                  ///< at the caster
        std::vector<Vec2> bumps{};     ///< by each meeting: away from what is there, and along it
    };
    void push_wheels(Pushes& pushes);
    void push_tyres(Pushes& pushes);
    void push_caster(Pushes& pushes);
    /// At a place, x ahead, y to the left, of the axle's middle.
    Vec2 speed_at(Vec2 place) const;
    void push_body(Vec2 place, Vec2 push);
    double fastest() const;
    bool is_near_something(const Body& body, double seconds);
    void find_meetings(const Body& body, double near_mm);
    void push_bumps(const Body& body, Pushes& pushes);
    void note_pressed(const Pushes& pushes);
    void come_out(Body& body);
    void glide(Body& body, double h);
    void slide(Body& body, double seconds);
    bool holds_again();
    static void turn(Body& body, double angle) {
        const auto [sine, cosine] = sine_and_cosine(angle);
        const Vec2 ahead = turned(body.ahead, sine, cosine);
        const double scale = 1.5 - 0.5 * dot(ahead, ahead); // so that rounding never adds up
        body.ahead = scale * ahead;
        body.turned_rad += angle;
    }

    std::array<Stride, 16> strides_; // by their number of units, less one
    std::size_t longest_ = 1;
    std::size_t close_ = 1; // units of a close stride
    double unit_s_;
    int per_step_; // units
    double mass_;
    double inertia_;
    double turned_inertia_; // with the wheels
    double wheel_mass_;
    double push_;       // force of a motor for each mm/s that it wants to go faster
    double lag_s_;      // on the straight
    double turn_lag_s_; // on the spot
    double most_grip_;  // force that a tyre bears
    double caster_grip_;
    double play_mm_;
    double apart_; // effective track
    double sag_;
    double run_down_;
    // Parts of the battery's voltage, for the targets in hand: of what there is without current, with wheels that are
    // held, and more for each mm/s that they turn.
    double full_part_ = 1.0;
    double held_part_ = 1.0;
    double left_gives_ = 0.0;
    double right_gives_ = 0.0;
    Vec2 caster_;
    std::array<Wheel, 2> wheels_;
    Outline outline_;
    double rub_;
    std::vector<Barrier> barriers_;
    std::vector<Meeting> meetings_;
    std::vector<Meeting> pressed_;
    double ahead_ = 0.0;    // speed of the axle's middle, mm/s
    double sideways_ = 0.0; // to the left
    double turning_ = 0.0;  // rad/s, counter-clockwise
    double time_s_ = 0.0;
    double slid_s_ = 0.0;
    bool holding_ = true; // both tyres
};

} // namespace vast_turn
