#include "vast_turn/robot/day.hpp"

#include <algorithm>
#include <iterator>

#include "vast_turn/base/noise.hpp"

namespace vast_turn {

namespace {

/// Of one 16-bit number: in the middle of its 65,536th part of 0 to 1.
double uniform_of(std::uint16_t bits) { return (static_cast<double>(bits) + 0.5) / 65536.0; }

double drawn(const Scatter& how, const Draw& draw) {
    switch (how.kind) {
    case Scatter::Kind::about: return how.middle + how.deviation * NormalQuantile::table()(draw[0]);
    case Scatter::Kind::even: return how.from + (how.to - how.from) * uniform_of(draw[0]);
    case Scatter::Kind::one_of: break;
    }
    const auto count = static_cast<double>(how.values.size());
    return how.values.empty() ? how.middle : how.values[static_cast<std::size_t>(uniform_of(draw[0]) * count)];
}

void apply(Drive& drive, const DayValue& value) {
    const double v = value.value;
    switch (value.what) {
    case Quantity::grip: drive.grip *= v; break;
    case Quantity::friction:
        drive.keep_pct = std::clamp(drive.keep_pct + v, 0.0, 95.0);
        drive.start_pct = std::clamp(drive.start_pct + v, drive.keep_pct, 95.0);
        break;
    case Quantity::weight: drive.mass_g *= v; break;
    case Quantity::sag: drive.sag = std::min(0.9, drive.sag * v); break;
    case Quantity::play: drive.play_deg = std::clamp(drive.play_deg + v, 0.0, 45.0); break;
    case Quantity::caster_drag: drive.caster_drag = std::min(3.0, drive.caster_drag * v); break;
    default: break;
    }
}

void apply(LineSensor& sensor, const DayValue& value) {
    switch (value.what) {
    case Quantity::light:
    case Quantity::sensor: sensor.gain *= value.value; break;
    case Quantity::noise: sensor.noise *= value.value; break;
    case Quantity::outside: sensor.outside *= value.value; break;
    case Quantity::raised: sensor = raised(sensor, value.value); break;
    default: break;
    }
}

/// What senses other things than the line.
void apply_to_senses(Robot& robot, const DayValue& value) {
    const double v = value.value;
    switch (value.what) {
    case Quantity::gyro_scale: robot.gyro.scale *= v; break;
    case Quantity::gyro_drift: robot.gyro.drift_deg_s += v; break;
    case Quantity::gyro_wander: robot.gyro.wander_deg_s += v; break;
    case Quantity::gyro_settling: robot.gyro.settling_deg_s += v; break;
    case Quantity::compass_bias: robot.compass.bias_deg += v; break;
    case Quantity::counts_lost: robot.encoders.lost = std::min(0.9, robot.encoders.lost + v); break;
    case Quantity::colour_noise:
        for (ColourSensor& sensor : robot.colour_sensors) {
            sensor.noise *= v;
        }
        break;
    case Quantity::range_noise:
        if (robot.range_sensor) {
            robot.range_sensor->noise_mm *= v;
        }
        break;
    default: break;
    }
}

/// What drives it, and when.
void apply_to_motion(Robot& robot, const DayValue& value) {
    const double v = value.value;
    switch (value.what) {
    case Quantity::left_motor: robot.motors.left.gain *= v; break;
    case Quantity::right_motor: robot.motors.right.gain *= v; break;
    case Quantity::battery: robot.top_speed_mm_s *= v; break;
    case Quantity::motor_lag: robot.motors.lag_ms *= v; break;
    case Quantity::dead_band: robot.motors.dead_band_pct = std::clamp(robot.motors.dead_band_pct + v, 0.0, 99.0); break;
    case Quantity::delay: robot.delay_ms = std::max(0.0, robot.delay_ms + v); break;
    case Quantity::delay_varies: robot.delay_varies_ms += v; break;
    case Quantity::left_wheel: robot.motors.left.wheel *= v; break;
    case Quantity::right_wheel: robot.motors.right.wheel *= v; break;
    case Quantity::skid: robot.skid = std::max(1.0, robot.skid * v); break;
    case Quantity::late_looks: robot.late_often = std::min(0.9, robot.late_often + v); break;
    case Quantity::lost_looks: robot.lost_often = std::min(0.9, robot.lost_often + v); break;
    default: break;
    }
}

/// Where it stands and on what is left to set_down() and course_on_day().
void apply(Robot& robot, const DayValue& value) {
    apply_to_motion(robot, value);
    apply_to_senses(robot, value);
    if (robot.drive) {
        apply(*robot.drive, value);
    }
    for (std::size_t k = 0; k < robot.sensors.size(); ++k) {
        if (value.what != Quantity::sensor || value.sensor == k) {
            apply(robot.sensors[k], value);
        }
    }
}

} // namespace

std::vector<DayValue> draw_day(const Variation& variation, std::uint64_t seed, std::uint64_t day, std::size_t sensors) {
    constexpr std::uint64_t room = 256; // draws of a day: a quantity has its own, whatever else varies
    constexpr std::uint64_t of_sensors = 64;
    std::vector<DayValue> values;
    const auto add = [&](const Varied& varied, std::size_t sensor, std::uint64_t place) {
        const QuantityFacts& facts = facts_of(varied.what);
        const Draw draw = random_draw(seed, Stream::days, day * room + place);
        values.push_back({varied.what, sensor, std::clamp(drawn(varied.how, draw), facts.least, facts.most)});
    };
    for (const QuantityFacts& facts : quantities()) {
        const auto varied = std::find_if(variation.begin(), variation.end(),
                                         [&](const Varied& one) { return one.what == facts.quantity; });
        if (varied == variation.end()) {
            continue;
        }
        if (facts.quantity != Quantity::sensor) {
            add(*varied, 0, static_cast<std::uint64_t>(facts.quantity));
            continue;
        }
        for (std::size_t k = 0; k < sensors; ++k) {
            add(*varied, k, of_sensors + k);
        }
    }
    return values;
}

Variation telling_variation(const Robot& robot) {
    const auto any_line_sensor = [&robot](auto&& is_so) {
        return std::any_of(robot.sensors.begin(), robot.sensors.end(), is_so);
    };
    const auto tells = [&](const Varied& varied) {
        switch (varied.what) {
        case Quantity::gyro_scale:
        case Quantity::gyro_drift:
        case Quantity::gyro_wander:
        case Quantity::gyro_settling: return robot.gyro.fitted;
        case Quantity::compass_bias: return robot.compass.fitted;
        case Quantity::counts_lost: return robot.encoders.fitted && robot.encoders.counts > 0.0;
        case Quantity::grip:
        case Quantity::friction:
        case Quantity::weight:
        case Quantity::play: return robot.drive.has_value();
        case Quantity::sag: return robot.drive && robot.drive->sag > 0.0;
        case Quantity::caster_drag:
            return robot.drive && robot.drive->caster_drag > 0.0 && robot.drive->on_wheels < 1.0;
        case Quantity::plates_faded:
        case Quantity::plates_off: return !robot.colour_sensors.empty();
        case Quantity::colour_noise:
            return std::any_of(robot.colour_sensors.begin(), robot.colour_sensors.end(),
                               [](const ColourSensor& sensor) { return sensor.noise > 0.0; });
        case Quantity::range_noise: return robot.range_sensor && robot.range_sensor->noise_mm > 0.0;
        case Quantity::outside: return any_line_sensor([](const LineSensor& s) { return s.outside > 0.0; });
        case Quantity::raised: return any_line_sensor([](const LineSensor& s) { return s.height_mm > 0.0; });
        default: return true;
        }
    };
    Variation telling;
    std::copy_if(robot.variation.begin(), robot.variation.end(), std::back_inserter(telling), tells);
    return telling;
}

Robot on_day(Robot robot, const std::vector<DayValue>& values) {
    for (const DayValue& value : values) {
        apply(robot, value);
    }
    return robot;
}

CourseDay course_on_day(const std::vector<DayValue>& values) {
    CourseDay day;
    for (const DayValue& value : values) {
        switch (value.what) {
        case Quantity::line_faded: day.line_faded = value.value; break;
        case Quantity::plates_faded: day.plates_faded = value.value; break;
        case Quantity::things_later: day.things_later_s += value.value; break;
        case Quantity::tape_off: day.tape_off_mm = value.value; break;
        case Quantity::tape_wider: day.tape_wider_mm = value.value; break;
        case Quantity::tape_lifted: day.tape_lifted_mm = value.value; break;
        case Quantity::plates_off: day.plates_off_mm = value.value; break;
        default: break;
        }
    }
    return day;
}

Pose set_down(Pose start, const std::vector<DayValue>& values) {
    const Vec2 ahead = direction(start.heading_deg);
    Vec2 off;
    for (const DayValue& value : values) {
        if (value.what == Quantity::ahead) {
            off.x += value.value;
        } else if (value.what == Quantity::aside) {
            off.y += value.value;
        } else if (value.what == Quantity::turned) {
            start.heading_deg += value.value;
        }
    }
    start.at = from_robot(start.at, ahead, off);
    return start;
}

} // namespace vast_turn
