#pragma once

/// The loop of looks that the two other ways share: read, decide, obey after the delay, move.

#include <algorithm>
#include <cstddef>
#include <deque>
#include <vector>

#include "loop.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/runtime/line_position.hpp"
#include "vast_turn/sim/motion.hpp"

namespace bench {

/// `World` has: double reflectance(sensor index), double noise(look, sensor index), void step(left,
/// right settled speeds), vast_turn::Vec2 at(), double way().
template <class World> Outcome run_loop(const vast_turn::Scene& scene, const vast_turn::Plan& plan, World& world) {
    using namespace vast_turn;
    struct Command {
        int at_step;
        double left;
        double right;
    };
    const Robot& robot = scene.robot();
    const auto look_steps = static_cast<int>(robot.look_ms / step_ms);
    const auto delay_steps = static_cast<int>(robot.delay_ms / step_ms);
    const auto last = static_cast<int>(run_s * 1000.0 / step_ms);
    const std::vector<double> weights = position_weights(robot);
    Mind mind(plan);
    ArrayScale scale(scene.own_calibration().sensors.data(), static_cast<int>(robot.sensors.size()));
    Look look;
    Answer answer;
    std::deque<Command> queue;
    double left = 0.0;
    double right = 0.0;
    Outcome outcome;
    for (int step = 0; step < last; ++step) {
        if (step % look_steps == 0) {
            for (std::size_t i = 0; i < robot.sensors.size(); ++i) {
                const LineSensor& sensor = robot.sensors[i];
                const double value =
                    sensor.adc_max * world.reflectance(i) + sensor.noise * world.noise(step / look_steps, i);
                look.raw[i] = static_cast<int>(std::clamp(value, 0.0, static_cast<double>(sensor.adc_max)) + 0.5);
            }
            look.line_bits = scale.read(look.raw, look.sensor);
            look.sensors = static_cast<std::uint8_t>(scale.count());
            look.offset = weighted_position(look.sensor, weights.data(), scale.count(), look.line_bits, look.offset);
            look.clock_ms = step * step_ms;
            look.way_mm = world.way();
            mind(look, answer);
            queue.push_back({step + delay_steps, settled_speed(robot, robot.motors.left, answer.left_pct),
                             settled_speed(robot, robot.motors.right, answer.right_pct)});
        }
        while (!queue.empty() && queue.front().at_step <= step) {
            left = queue.front().left;
            right = queue.front().right;
            queue.pop_front();
        }
        world.step(left, right);
    }
    outcome.way_mm = world.way();
    outcome.stayed = scene.tape().distance(world.at()) < 100.0;
    return outcome;
}

} // namespace bench
