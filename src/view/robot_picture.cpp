#include "vast_turn/view/robot_picture.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "view/canvas.hpp"

namespace vast_turn {

namespace {

constexpr Ink rubber{{70, 74, 72}, 1.0};
constexpr Ink board_of_robot{{226, 229, 220}, 1.0};
constexpr Ink lamp{{186, 40, 52}, 1.0};
constexpr Ink colour_lamp{{20, 118, 128}, 1.0};
constexpr double plan_left = page_margin;
constexpr double plan_top = 96.0;
constexpr double plan_width = 560.0;
constexpr double plan_height = 640.0;
constexpr double table_left = 640.0;
constexpr double wheel_broad_mm = 16.0; // nobody says how broad it is

class RobotDrawing {
public:
    RobotDrawing(Canvas& canvas, const Robot& robot, const RobotFacts& facts)
        : canvas_(canvas), robot_(robot), facts_(facts) {
        add({0.5 * robot.wheel_mm, 0.5 * robot.track_mm + wheel_broad_mm});
        add({-0.5 * robot.wheel_mm, -0.5 * robot.track_mm - wheel_broad_mm});
        for (const LineSensor& sensor : robot.sensors) {
            around(sensor.at_mm, sensor.spot_mm);
        }
        for (const ColourSensor& sensor : robot.colour_sensors) {
            around(sensor.at_mm, sensor.spot_mm);
        }
        if (robot.drive) {
            around(robot.drive->caster_mm, 8.0);
        }
        if (robot.range_sensor) {
            around(robot.range_sensor->at_mm, 8.0);
        }
        const Vec2 size = high_ - low_;
        scale_ = std::min((plan_width - 90.0) / size.y, (plan_height - 110.0) / size.x);
    }

    void draw() {
        title();
        plan();
        double y = powers(plan_top + 8.0);
        y = circles(y + 34.0);
        turns(y + 30.0);
    }

private:
    void add(Vec2 p) {
        low_ = {std::min(low_.x, p.x), std::min(low_.y, p.y)};
        high_ = {std::max(high_.x, p.x), std::max(high_.y, p.y)};
    }
    void around(Vec2 p, double size) {
        add(p + Vec2{0.5 * size, 0.5 * size});
        add(p - Vec2{0.5 * size, 0.5 * size});
    }

    /// From the robot frame (x ahead, y left) to the page: ahead is up.
    Vec2 page(Vec2 p) const {
        const Vec2 middle = 0.5 * (low_ + high_);
        return {plan_left + 0.5 * plan_width - scale_ * (p.y - middle.y),
                plan_top + 0.5 * plan_height - scale_ * (p.x - middle.x)};
    }

    void title() {
        canvas_.text({page_margin, 36.0}, canvas_.fitted(robot_.name, 560.0, {20.0, ink::text, Align::left, true}),
                     {20.0, ink::text, Align::left, true});
        canvas_.text({page_margin, 60.0},
                     fmt::format("{} line sensor{}, looks every {:g} ms, {:g} ms to the wheels, lag {:g} ms, dead band "
                                 "{:g} %",
                                 robot_.sensors.size(), robot_.sensors.size() == 1 ? "" : "s", robot_.look_ms,
                                 robot_.delay_ms, robot_.motors.lag_ms, robot_.motors.dead_band_pct),
                     {14.0});
    }

    void wheel(double y_mm) {
        const Vec2 a = page({0.5 * robot_.wheel_mm, y_mm + 0.5 * wheel_broad_mm});
        const Vec2 b = page({-0.5 * robot_.wheel_mm, y_mm - 0.5 * wheel_broad_mm});
        canvas_.fill_rect(a, b - a, rubber);
    }

    void plan() {
        const double half = 0.5 * robot_.track_mm;
        const double front = std::max(0.5 * robot_.wheel_mm, facts_.array_ahead_mm);
        canvas_.polygon({page({-0.5 * robot_.wheel_mm, 0.8 * half}), page({front, 0.8 * half}),
                         page({front, -0.8 * half}), page({-0.5 * robot_.wheel_mm, -0.8 * half})},
                        board_of_robot);
        canvas_.line({page({0.0, half}), page({0.0, -half})}, ink::faint, 2.0);
        wheel(half);
        wheel(-half);
        canvas_.dot(page({0.0, 0.0}), 4.0, ink::text);
        if (robot_.drive) {
            canvas_.circle(page(robot_.drive->caster_mm), std::max(4.0, 4.0 * scale_), rubber, 2.0);
            canvas_.text(page(robot_.drive->caster_mm) + Vec2{4.0 * scale_ + 7.0, 4.0},
                         fmt::format("caster, {:.0f} % of {:g} g", 100.0 * (1.0 - robot_.drive->on_wheels),
                                     robot_.drive->mass_g),
                         {12.0, ink::text, Align::left, false, false, true});
        }
        if (robot_.range_sensor) {
            const RangeSensor& sensor = *robot_.range_sensor;
            const double angle = to_radians(sensor.heading_deg);
            const Vec2 from = page(sensor.at_mm);
            const Vec2 way{-std::sin(angle), -std::cos(angle)};
            canvas_.line({from, from + 46.0 * way}, ink::fern, 2.0, true);
            canvas_.text(from + 46.0 * way + Vec2{8.0, 4.0}, fmt::format("range, to {:g} mm", sensor.max_mm),
                         {12.0, ink::fern, Align::left, false, false, true});
        }
        for (const ColourSensor& sensor : robot_.colour_sensors) {
            const Vec2 at = page(sensor.at_mm);
            canvas_.circle(at, std::max(3.0, 0.5 * scale_ * sensor.spot_mm), colour_lamp, 2.5);
            canvas_.text(at + Vec2{0.5 * scale_ * sensor.spot_mm + 7.0, 4.0},
                         sensor.name.empty() ? "colour" : sensor.name,
                         {12.0, colour_lamp, Align::left, false, false, true});
        }
        for (std::size_t k = 0; k < robot_.sensors.size(); ++k) {
            const LineSensor& sensor = robot_.sensors[k];
            const Vec2 at = page(sensor.at_mm);
            canvas_.dot(at, std::max(2.5, 0.5 * scale_ * sensor.spot_mm), {lamp.colour, 0.85});
            canvas_.text(at + Vec2{0.0, -0.5 * scale_ * sensor.spot_mm - 7.0}, fmt::format("{}", k + 1),
                         {13.0, ink::text, Align::middle, true, false, true});
        }
        measures();
    }

    void measures() {
        const double below = plan_top + plan_height - 14.0;
        const Vec2 left = page({0.0, 0.5 * robot_.track_mm});
        const Vec2 right = page({0.0, -0.5 * robot_.track_mm});
        canvas_.line({{left.x, below}, {right.x, below}}, ink::faint, 1.0);
        canvas_.line({{left.x, below - 5.0}, {left.x, below + 5.0}}, ink::faint, 1.0);
        canvas_.line({{right.x, below - 5.0}, {right.x, below + 5.0}}, ink::faint, 1.0);
        canvas_.text({0.5 * (left.x + right.x), below + 18.0},
                     fmt::format("track {:g} mm, wheels {:g} mm", robot_.track_mm, robot_.wheel_mm),
                     {12.0, ink::faint, Align::middle});
        const Vec2 axle = page({0.0, 0.0});
        const Vec2 array = page({facts_.array_ahead_mm, 0.0});
        const double x = plan_left + 8.0;
        canvas_.line({{x, axle.y}, {x, array.y}}, ink::faint, 1.0);
        canvas_.line({{x - 5.0, axle.y}, {x + 5.0, axle.y}}, ink::faint, 1.0);
        canvas_.line({{x - 5.0, array.y}, {x + 5.0, array.y}}, ink::faint, 1.0);
        canvas_.text({x + 8.0, 0.5 * (axle.y + array.y)}, fmt::format("{:.3g} mm", facts_.array_ahead_mm),
                     {12.0, ink::faint, Align::left, false, false, true});
    }

    void row(double y, const std::vector<std::string>& cells, bool head) {
        constexpr double step = 92.0;
        for (std::size_t i = 0; i < cells.size(); ++i) {
            canvas_.text({table_left + 70.0 + step * static_cast<double>(i), y}, cells[i],
                         {13.0, head ? ink::faint : ink::text, Align::right, false, !head});
        }
    }

    double powers(double y) {
        canvas_.text({table_left, y}, "Both wheels at one power", {15.0, ink::text, Align::left, true});
        y += 24.0;
        std::vector<std::string> head{"power", "speed", "a look", "to stop", "tightest"};
        std::vector<std::string> below{"%", "mm/s", "mm", "mm", "bend, mm"};
        if (robot_.drive) {
            head.emplace_back("slides in");
            below.emplace_back("bend, mm");
        }
        row(y, head, true);
        row(y + 16.0, below, true);
        y += 38.0;
        for (const PowerFacts& one : facts_.powers) {
            std::vector<std::string> cells{fmt::format("{:g}", one.power_pct), fmt::format("{:.0f}", one.speed_mm_s),
                                           fmt::format("{:.1f}", one.between_looks_mm),
                                           fmt::format("{:.1f}", one.to_stop_mm), radius_text(one.tightest_bend_mm)};
            if (robot_.drive) {
                cells.push_back(fmt::format("{:.0f}", one.slides_in_mm));
            }
            row(y, cells, false);
            y += 19.0;
        }
        return y;
    }

    double circles(double y) {
        canvas_.text({table_left, y}, "Radius of the turn, mm, by the power of the wheels",
                     {15.0, ink::text, Align::left, true});
        y += 24.0;
        std::vector<std::string> head{"outside"};
        std::vector<std::string> cells;
        double outside = -1.0;
        for (const CircleFacts& one : facts_.circles) {
            if (one.outside_pct < outside || outside < 0.0) {
                if (!cells.empty()) {
                    row(y += 19.0, cells, false);
                }
                outside = one.outside_pct;
                cells = {fmt::format("{:g} %", outside)};
            }
            if (head.size() < 7) {
                head.push_back(fmt::format("inside {:g} %", one.inside_pct));
                if (head.size() == 7) {
                    row(y, head, true);
                }
            }
            cells.push_back(radius_text(one.radius_mm));
        }
        row(y += 19.0, cells, false);
        return y;
    }

    void turns(double y) {
        canvas_.text({table_left, y},
                     fmt::format("A quarter turn: {:.1f} deg of each wheel on the spot, {:.1f} of one about the other",
                                 facts_.quarter_on_spot_deg, facts_.quarter_on_wheel_deg),
                     {14.0});
        for (const std::string& odd : facts_.unlikely) {
            for (const std::string& words : canvas_.wrapped(odd, 600.0, {13.0})) {
                canvas_.text({table_left, y += 20.0}, words, {13.0, ink::alarm});
            }
        }
    }

    Canvas& canvas_;
    const Robot& robot_;
    const RobotFacts& facts_;
    Vec2 low_;
    Vec2 high_;
    double scale_ = 1.0;
};

} // namespace

std::string draw_robot(const Robot& robot, const RobotFacts& facts, PictureFormat format) {
    return draw_page(format, [&](Canvas& canvas) { RobotDrawing(canvas, robot, facts).draw(); });
}

} // namespace vast_turn
