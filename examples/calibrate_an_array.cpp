// Calibrates an array from bench readings, lists what is wrong with it and drives with the result.
#include <iostream>

#include "vast_turn/formats/read/bench_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/sense/calibrate.hpp"
#include "vast_turn/sim/bench.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

int main() {
    const Robot robot = load_robot("data/fern-house/sprig-5.robot.toml");
    const BenchReadings readings = arranged_for(robot, load_bench({"data/fern-house/sprig-5.bench.csv"}));
    const CalibrationReport report = calibrate(readings, array_facts(robot));
    for (const SensorReport& sensor : report.sensors) {
        std::cout << sensor.channel << ": threshold " << sensor.threshold_counts << ", contrast " << sensor.contrast
                  << "\n";
    }
    for (const Verdict& verdict : report.verdicts) {
        std::cout << verdict.says << "\n  " << verdict.to_do << "\n";
    }

    // The simulated robot has no smear, so it wants a calibration of its own.
    const Course course = load_course("data/fern-house/mist-loop.course.toml");
    const Scene scene(course, robot);
    const Run run = drive(
        scene, load_plan("data/fern-house/five-wide.plan"),
        {.time_limit_s = 14.0, .calibration = calibrate(simulate_bench(scene), array_facts(robot)).calibration()});
    std::cout << "with its own calibration it passes " << run.visits.size() << " places in " << run.time_s << " s\n";
}
