#include "vast_turn/sim/run.hpp"

#include <functional>

#include "sim/driver.hpp"
#include "sim/run_ground.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

AskedNames asked_names(const Plan& plan) { return {plan.markers(), plan.places(), plan.heard()}; }

Run drive(const Scene& scene, const Decide& decide, const AskedNames& names, const RunOptions& options) {
    const RunGround ground(scene, names, options);
    Driver driver(ground);
    Run run;
    driver.begin(run);
    while (driver.to_look(run)) {
        decide(driver.look(), driver.answer());
        driver.answered(run);
    }
    return run;
}

RunOptions nth_run(RunOptions options, std::uint64_t n) {
    (options.day > 0 ? options.day : options.seed) += n;
    return options;
}

RunOptions options_like(RunOptions options, const Run& run) {
    options.seed = run.seed;
    options.day = run.day;
    return options;
}

Run drive(const Scene& scene, const Decide& decide, const RunOptions& options) {
    return drive(scene, decide, AskedNames{}, options);
}

Run drive(const Scene& scene, const Plan& asks_as, const Decide& decide, const RunOptions& options) {
    check_fit(scene.robot(), asks_as);
    return drive(scene, decide, asked_names(asks_as), options);
}

Run drive(const Scene& scene, const Plan& plan, const RunOptions& options) {
    Mind mind(plan, options.numbers);
    return drive(scene, plan, Decide(std::ref(mind)), options);
}

std::vector<double> readings_of(const Run& run, const LookRecord& look) {
    std::vector<double> readings;
    for (std::size_t i = 0; i < run.calibration.sensors.size(); ++i) {
        readings.push_back(SensorScale(run.calibration.sensors[i]).reading(look.raw[i]));
    }
    return readings;
}

} // namespace vast_turn
