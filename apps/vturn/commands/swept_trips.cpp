// Trips driven with other numbers.
#include "commands/swept_trips.hpp"

#include <fmt/format.h>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/version.hpp"

namespace vturn {

using namespace vast_turn;

Plan plan_with(const std::string& text, const std::string& file, const std::vector<Setting>& settings) {
    SettingsTaken taken;
    Compiled compiled = compile_plan(plan_text_with(text, file, settings, taken), file);
    check_all_taken(settings, taken, lets_of(text, file));
    if (!compiled.plan) {
        throw InputError(std::move(compiled.problems));
    }
    return *compiled.plan;
}

Robot robot_with(const std::string& text, const std::string& file, const SetOptions& set,
                 const std::vector<Setting>& settings, const Robot& as) {
    std::vector<Setting> all = set.all();
    all.insert(all.end(), settings.begin(), settings.end());
    Robot robot = parse_robot(text, file, all);
    robot.variation = as.variation;
    return robot;
}

std::vector<TripCase> chosen_trips(const TripGround& ground, const std::string& filter, const std::string& course) {
    std::vector<TripCase> cases;
    for (const TripCase& one : ground.cases()) {
        if (one.trip.name.find(filter) != std::string::npos) {
            cases.push_back(one);
        }
    }
    if (cases.empty()) {
        throw InputError(course, fmt::format("no trip has \"{}\" in its name", filter), "see the trips with vturn map");
    }
    return cases;
}

Fingerprint fingerprint_of(const DriveOptions& drive, const Course& course, const std::vector<std::string>& texts) {
    Fingerprint all;
    all.take(version_text); // another one may drive otherwise
    for (const std::string& text : texts) {
        all.take(text);
    }
    for (const std::string& file : {drive.days_file, drive.robot.calibration, course.drawing,
                                    course.laid ? course.laid->pieces : std::string{}}) {
        all.take(file.empty() ? "" : read_file(file));
    }
    all.take(fmt::format("{} {} {:a} {:a} {} {}", drive.run.seed, drive.run.day, drive.run.step_ms,
                         drive.run.lost_after_s, drive.touches_go_on, drive.numbers));
    for (const std::vector<std::string>* words : {&drive.set.words, &drive.robot.faults}) {
        for (const std::string& word : *words) {
            all.take(word);
        }
    }
    return all;
}

} // namespace vturn
