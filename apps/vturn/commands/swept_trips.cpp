// Trips driven with other numbers.
#include "commands/swept_trips.hpp"

#include <algorithm>
#include <iterator>

#include <fmt/format.h>

#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/trial/layouts_report.hpp"
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

namespace {

/// The trips that have `filter` in their names.
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

/// How many layouts there are, and how many are driven: each run is on another one as long as they fit into memory.
std::size_t layouts_for(const Streams& streams, const Course& first, const std::string& course, std::size_t runs) {
    constexpr double most_cells = 2e8; // of about seven bytes with all that is made of them
    const auto all = static_cast<std::size_t>(first.laid->layouts);
    const double cells_each = static_cast<double>(first.surface.columns) * first.surface.rows;
    const auto that_fit = static_cast<std::size_t>(std::max(1.0, most_cells / std::max(1.0, cells_each)));
    if (std::min(all, runs) > that_fit && !streams.quiet) {
        streams.err << fmt::format("vturn: of {} layouts of {} the first {} are driven: more do not fit into memory at "
                                   "once; with a larger cell_mm they do\n",
                                   all, course, that_fit);
    }
    return std::min({all, runs, that_fit});
}

} // namespace

SweptGround::SweptGround(const Streams& streams, const CourseReading& reading, const std::string& course,
                         const Robot& robot, const Call& call) {
    grounds_.push_back(reading.trip_ground(robot, call.trips, call.variant, call.robot_says_days));
    const Course& drawn = first().course();
    if (drawn.laid && drawn.laid->number > 0 && call.variant == as_drawn) {
        layouts_ = layouts_for(streams, drawn, course, call.runs);
        const MakeLayout make = [&](int number) {
            return reading.trip_ground(robot, call.trips, fmt::format("layout {}", number), call.robot_says_days);
        };
        std::vector<TripGround> further = make_layouts(2, static_cast<int>(layouts_), make, call.jobs);
        std::move(further.begin(), further.end(), std::back_inserter(grounds_));
    }
    for (const TripGround& ground : grounds_) {
        cases_.push_back(chosen_trips(ground, call.filter, course));
        if (cases_.back().size() != cases_.front().size()) {
            throw InputError(course,
                             fmt::format("{} has {} trips, the first layout {}", ground.course().variant,
                                         cases_.back().size(), cases_.front().size()),
                             "choose trips that all layouts have with --filter, or one layout with --variant");
        }
    }
}

std::string SweptGround::told() const {
    return layouts_ > 0 ? fmt::format(", each run on the next of {} {}", layouts_, layouts_ == 1 ? "layout" : "layouts")
                        : "";
}

void SweptGround::say(SweepAsk& ask) const {
    ask.cases = cases_.front();
    ask.further_layouts.assign(cases_.begin() + 1, cases_.end());
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
