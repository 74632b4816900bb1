/// What the first looks of plans' runs pass through, for bench/chip/prices.py: a line for each call on the input,
/// COURSE ROBOT PLAN CALIBRATION, each a path; out come the numbers of looks, the work of a look in the mean, and that
/// of the source.
#include <functional>
#include <iostream>
#include <string>

#include "vast_turn/emit/chip_cost.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sim/run.hpp"

using namespace vast_turn;

int main() {
    constexpr int looks = 250; // as many as bench/chip/cost.py plays
    std::string course;
    std::string robot_path;
    std::string plan_path;
    std::string calibration_path;
    while (std::cin >> course >> robot_path >> plan_path >> calibration_path) {
        const Robot robot = load_robot(robot_path);
        const Plan plan = load_plan(plan_path);
        const Calibration calibration = calibration_for(robot, load_calibration(calibration_path));
        const Course floor = load_course(course);
        const Scene scene(floor, robot);
        ChipMeter meter(plan, robot, calibration, ChipKind::bits_8);
        RunOptions options;
        options.numbers = runtime::NumberKind::binary32;
        options.calibration = calibration;
        options.time_limit_s = looks * robot.look_ms / 1000.0;
        drive(scene, plan, std::ref(meter), options);
        std::cout << plan_path << ' ' << meter.cost().looks;
        for (const std::vector<double>& counts : {meter.work(), meter.source_work()}) {
            for (const double count : counts) {
                std::cout << ' ' << count;
            }
        }
        std::cout << '\n';
    }
}
