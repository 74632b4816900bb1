#include "vet/bend_model.hpp"

#include <algorithm>
#include <cmath>
#include <deque>
#include <optional>

#include "plan/check/checked.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/robot/wheel_speeds.hpp"
#include "vast_turn/sim/motion.hpp"

namespace vast_turn::vetting {

namespace {

/// Part of a disc of radius 1 on one side of a straight cut at `u` from its centre.
double part_below(double u) {
    const double c = std::clamp(u, -1.0, 1.0);
    return 0.5 + (c * std::sqrt(1.0 - c * c) + std::asin(c)) / pi;
}

constexpr double run_up_mm = 260.0;
constexpr double run_out_mm = 220.0;

/// The line's middle, to the left or right of a start at the origin that faces right.
class Way {
public:
    explicit Way(const Bend& bend) : bend_(bend), turn_(to_radians(bend.turn_deg)) {
        const double r = bend.radius_mm;
        end_ = {run_up_mm + r * std::sin(turn_), r * (1.0 - std::cos(turn_))};
        ahead_ = {std::cos(turn_), std::sin(turn_)};
    }

    /// Distance of a point of the course frame from the line's middle.
    double from(Vec2 course) const {
        const Vec2 p = up(course);
        double best = p.x <= run_up_mm ? std::abs(p.y) : std::hypot(p.x - run_up_mm, p.y);
        const Vec2 centre{run_up_mm, bend_.radius_mm};
        const double angle = std::atan2(p.x - centre.x, centre.y - p.y);
        if (angle >= 0.0 && angle <= turn_) {
            best = std::min(best, std::abs(std::hypot(p.x - centre.x, p.y - centre.y) - bend_.radius_mm));
        }
        const Vec2 out = p - end_;
        best = std::min(best, dot(out, ahead_) >= 0.0 ? std::abs(cross(out, ahead_)) : length(out));
        return best;
    }

    /// How far a point is past the bend.
    double past(Vec2 course) const { return dot(up(course) - end_, ahead_); }

    double length_mm() const { return run_up_mm + bend_.radius_mm * turn_ + run_out_mm; }

private:
    /// y up, and the bend to the left.
    Vec2 up(Vec2 p) const { return {p.x, -p.y * bend_.side}; }

    Bend bend_;
    double turn_;
    Vec2 end_;
    Vec2 ahead_;
};

class BendRun {
public:
    BendRun(const Plan& plan, const Robot& robot, const Bend& bend, runtime::NumberKind numbers)
        : robot_(robot), bend_(bend), way_(bend), mind_(plan, numbers), reader_(array_reader(robot)),
          motion_(robot, 1.0) {
        middle_ = array_middle(robot);
        for (const LineSensor& sensor : robot.sensors) {
            reach_ = std::max(reach_, length(sensor.at_mm - middle_) + 0.5 * sensor.spot_mm + 0.5 * bend.line_mm);
        }
    }

    BendEnd run() {
        const int look_ms = std::max(1, static_cast<int>(std::lround(robot_.look_ms)));
        const int delay_ms = std::max(0, static_cast<int>(std::lround(robot_.delay_ms)));
        const double usual = 0.2 * robot_.top_speed_mm_s;
        const int longest_ms = static_cast<int>(1000.0 * way_.length_mm() / usual) + 4000;
        for (int t = 0; t < longest_ms; ++t) {
            if (t % look_ms == 0) {
                look(t, t + delay_ms);
                if (end_) {
                    return *end_;
                }
            }
            while (!commands_.empty() && commands_.front().at_ms <= t) {
                wheels_ = settled_speeds(robot_, {}, commands_.front().left_pct, commands_.front().right_pct);
                commands_.pop_front();
            }
            motion_.advance(body_, 1, wheels_.left_mm_s, wheels_.right_mm_s);
            if (way_.past(body_.at) > run_out_mm - 60.0) {
                return BendEnd::held;
            }
        }
        return BendEnd::lost; // it stands, or goes round in circles
    }

private:
    struct Command {
        int at_ms;
        double left_pct;
        double right_pct;
    };

    void look(int t_ms, int at_ms) {
        Look in;
        in.clock_ms = t_ms;
        for (std::size_t i = 0; i < robot_.sensors.size(); ++i) {
            const LineSensor& sensor = robot_.sensors[i];
            in.sensor[i] =
                covered(way_.from(from_robot(body_.at, body_.ahead, sensor.at_mm)), bend_.line_mm, sensor.spot_mm);
        }
        reader_.from_readings(in);
        in.button = t_ms < 400;
        in.way_mm = body_.way_mm;
        in.range_mm = robot_.range_sensor ? robot_.range_sensor->max_mm : nothing_ahead_mm;
        const double turned = to_degrees(body_.turned_rad);
        in.heading_deg = in.heading_by_wheels_deg = in.heading_by_gyro_deg = in.heading_by_compass_deg = turned;
        const double apart = 0.5 * body_.turned_rad * robot_.skid_track_mm();
        in.left_deg = to_degrees((body_.way_mm - apart) / (0.5 * robot_.wheel_mm));
        in.right_deg = to_degrees((body_.way_mm + apart) / (0.5 * robot_.wheel_mm));
        Answer out;
        mind_(in, out);
        commands_.push_back({at_ms, out.left_pct, out.right_pct});
        const bool off = way_.from(from_robot(body_.at, body_.ahead, middle_)) > reach_;
        off_ = off ? off_ + 1 : 0;
        const bool errand = mind_.plan().checked().blocks[out.block].is_errand;
        if (off_ >= 3 || (errand && in.line_bits == 0 && t_ms > 400)) { // or the plan itself takes it for lost
            end_ = BendEnd::lost;
        } else if (out.halted || errand) {
            end_ = BendEnd::unclear;
        }
    }

    const Robot& robot_;
    Bend bend_;
    Way way_;
    Mind mind_;
    ArrayReader reader_;
    Motion motion_;
    Body body_;
    WheelSpeeds wheels_;
    std::deque<Command> commands_;
    Vec2 middle_;
    double reach_ = 0.0;
    int off_ = 0;
    std::optional<BendEnd> end_;
};

} // namespace

double covered(double aside_mm, double line_mm, double spot_mm) {
    const double radius = std::max(1e-6, 0.5 * spot_mm);
    const double part =
        part_below((0.5 * line_mm - aside_mm) / radius) + part_below((0.5 * line_mm + aside_mm) / radius) - 1.0;
    return std::clamp(part, 0.0, 1.0);
}

BendEnd drive_bend(const Plan& plan, const Robot& robot, const Bend& bend, runtime::NumberKind numbers) {
    return BendRun(plan, robot, bend, numbers).run();
}

TightestBend tightest_bend(const Plan& plan, const Robot& robot, double side, double line_mm,
                           runtime::NumberKind numbers) {
    const auto end_at = [&](double radius) { return drive_bend(plan, robot, {radius, 90.0, side, line_mm}, numbers); };
    constexpr double widest_mm = 800.0;
    TightestBend out{end_at(widest_mm), widest_mm};
    if (out.widest != BendEnd::held) {
        return out;
    }
    double low = out.radius_mm;
    while (low > 6.0) {
        low *= 0.8;
        if (end_at(low) != BendEnd::held) {
            break;
        }
        out.radius_mm = low;
    }
    for (int i = 0; i < 3 && low < out.radius_mm; ++i) {
        const double middle = 0.5 * (low + out.radius_mm);
        (end_at(middle) == BendEnd::held ? out.radius_mm : low) = middle;
    }
    return out;
}

} // namespace vast_turn::vetting
