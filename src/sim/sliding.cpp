/// Strides of a robot with weight in which something slides, stands against friction or is in the way: impulses.

#include <algorithm>
#include <cmath>

#include "sim/drivetrain.hpp"

namespace vast_turn {

namespace {

constexpr double stroke_s = 0.0005; // in which impulses act
constexpr int rounds_of_impulses = 6;
constexpr double holds_below = 0.3; // mm/s: a tyre that slides slower than this holds again

/// What a bounded push has given so far, and gives now: Gauss-Seidel with projection.
double give(double& given, double more, double most) {
    const double before = given;
    given = std::clamp(given + more, -most, most);
    return given - before;
}

/// The push of a contact that slips by `slips` while it gives `given`: what ends the slip, or, where that is more than
/// `most`, the one of that size against which the rest of the slip goes. `eased` is what a push of 1 changes of the
/// slip, by direction: the friction that takes the most energy (Moreau, "On unilateral constraints, friction and
/// plasticity", 1974) is lambda = -(eased + s)^-1 slips0, with s such that it has the size.
Vec2 friction_of(Vec2 slips, Vec2 given, Vec2 eased, double most) {
    const Vec2 alone{slips.x - eased.x * given.x, slips.y - eased.y * given.y};
    Vec2 push{-alone.x / eased.x, -alone.y / eased.y};
    double s = 0.0;
    for (int i = 0; i < 6; ++i) {
        const double size = length(push);
        if (size <= most * (1.0 + 1e-9)) {
            break;
        }
        // Newton on 1 / |lambda(s)|, which is almost straight.
        const double slope = (push.x * push.x / (eased.x + s) + push.y * push.y / (eased.y + s)) / (size * size);
        s += (size / most - 1.0) / slope;
        push = {-alone.x / (eased.x + s), -alone.y / (eased.y + s)};
    }
    const double size = length(push);
    return size > most ? most / size * push : push;
}

} // namespace

/// What the motors do meanwhile: those that have their wheel push it by their torque line, taken at the end of the
/// stroke, which makes it heavier; the others cross the play of their gear.
void Drivetrain::push_wheels(Pushes& pushes) {
    const double part = volts();
    const double h = pushes.h_s;
    for (std::size_t k = 0; k < wheels_.size(); ++k) {
        Wheel& wheel = wheels_[k];
        const double wants = part * wheel.target - wheel.spin;
        pushes.heavy[k] = wheel_mass_;
        if (play_mm_ > 0.0 && !has_it(wheel, wants)) {
            const double before = wheel.play;
            wheel.play = std::clamp(wheel.play + wants * h, 0.0, play_mm_);
            wheel.counted_mm += wheel.play - before;
        } else {
            pushes.heavy[k] += h * push_;
            wheel.spin = (wheel_mass_ * wheel.spin + h * push_ * part * wheel.target) / pushes.heavy[k];
        }
    }
}

/// Tyres and bearings, each within what it bears.
void Drivetrain::push_tyres(Pushes& pushes) {
    std::array<Vec2, 2> more; // of both from the same slip, so that neither side bears more of what is shared
    for (std::size_t k = 0; k < wheels_.size(); ++k) {
        Wheel& wheel = wheels_[k];
        const double lever = -wheel.side;
        const double heavy = pushes.heavy[k];
        const double most_rub = pushes.h_s * push_ * (wheel.was_at_rest ? wheel.start : wheel.keep);
        wheel.spin += give(pushes.rubs[k], -wheel.spin * heavy, most_rub) / heavy;
        const Vec2 slips{ahead_ + lever * turning_ - wheel.spin, sideways_};
        const Vec2 eased{1.0 / mass_ + lever * lever / inertia_ + 1.0 / heavy, 2.0 / mass_};
        const Vec2 push = friction_of(slips, pushes.holds[k], eased, most_grip_ * pushes.h_s);
        more[k] = push - pushes.holds[k];
        pushes.holds[k] = push;
    }
    for (std::size_t k = 0; k < wheels_.size(); ++k) {
        push_body({0.0, wheels_[k].side}, more[k]);
        wheels_[k].spin -= more[k].x / pushes.heavy[k];
    }
}

void Drivetrain::push_caster(Pushes& pushes) {
    const double eased = 1.0 / mass_ + dot(caster_, caster_) / inertia_;
    const Vec2 push = friction_of(speed_at(caster_), pushes.drags, {eased, eased}, caster_grip_ * pushes.h_s);
    push_body(caster_, push - pushes.drags);
    pushes.drags = push;
}

Vec2 Drivetrain::speed_at(Vec2 place) const { return {ahead_ - turning_ * place.y, sideways_ + turning_ * place.x}; }

void Drivetrain::push_body(Vec2 place, Vec2 push) {
    ahead_ += push.x / mass_;
    sideways_ += push.y / mass_;
    turning_ += (place.x * push.y - place.y * push.x) / inertia_;
}

void Drivetrain::glide(Body& body, double h) {
    const double turned = turning_ * h;
    turn(body, 0.5 * turned);
    body.at.x += h * (ahead_ * body.ahead.x + sideways_ * body.ahead.y);
    body.at.y += h * (ahead_ * body.ahead.y - sideways_ * body.ahead.x);
    turn(body, 0.5 * turned);
    body.way_mm += h * ahead_;
    body.path_mm += h * std::hypot(ahead_, sideways_);
    // Where it goes stays; the body it is told by has turned.
    const auto [sine, cosine] = sine_and_cosine(turned);
    const double ahead = ahead_ * cosine + sideways_ * sine;
    sideways_ = sideways_ * cosine - ahead_ * sine;
    ahead_ = ahead;
}

/// Pushes of the floor within what tyres, caster and bearings bear.
void Drivetrain::slide(Body& body, double seconds) {
    const int strokes = std::max(1, static_cast<int>(std::ceil(seconds / stroke_s - 1e-9)));
    bool slid = false;
    for (int stroke = 0; stroke < strokes; ++stroke) {
        Pushes pushes;
        pushes.h_s = seconds / strokes;
        push_wheels(pushes);
        if (!barriers_.empty()) {
            find_meetings(body, 1.0 + 2.0 * fastest() * pushes.h_s);
            pushes.bumps.assign(meetings_.size(), {});
        }
        for (int round = 0; round < rounds_of_impulses; ++round) {
            push_tyres(pushes);
            if (caster_grip_ > 0.0) {
                push_caster(pushes);
            }
            if (!pushes.bumps.empty()) {
                push_bumps(body, pushes);
            }
        }
        constexpr double all_but = 1.0 - 1e-6;
        for (std::size_t k = 0; k < wheels_.size(); ++k) {
            slid = slid || !(length(pushes.holds[k]) < all_but * most_grip_ * pushes.h_s);
            wheels_[k].was_at_rest = std::abs(wheels_[k].spin) < at_rest;
            wheels_[k].counted_mm += wheels_[k].spin * pushes.h_s;
        }
        glide(body, pushes.h_s);
        if (!pushes.bumps.empty()) {
            note_pressed(pushes);
            come_out(body);
        }
    }
    slid_s_ += slid ? seconds : 0.0;
    holding_ = !slid && holds_again();
}

/// Tyres that all but hold do; what little they slid is given up.
bool Drivetrain::holds_again() {
    // What turning leaves over sideways in a stroke is taken up by the tyres in the next one.
    const double from_turning = std::abs(ahead_ * turning_) * stroke_s;
    if (std::abs(sideways_) > holds_below + from_turning) {
        return false;
    }
    for (const Wheel& wheel : wheels_) {
        if (std::abs(ahead_ - wheel.side * turning_ - wheel.spin) > holds_below) {
            return false;
        }
    }
    sideways_ = 0.0;
    for (Wheel& wheel : wheels_) {
        wheel.spin = wheel.was_at_rest ? 0.0 : ahead_ - wheel.side * turning_;
    }
    return true;
}

} // namespace vast_turn
