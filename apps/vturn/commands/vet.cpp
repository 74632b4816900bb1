#include <memory>
#include <optional>

#include <fmt/format.h>

#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_vet.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/chip_text.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/vet_json.hpp"
#include "vast_turn/vet/vet.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct VetCall {
    std::string variant = as_drawn;
    std::vector<std::string> plans;
    std::string robot;
    std::string course;
    std::string calibration;
    std::string explain;
    std::string chip;
    std::string numbers = "double";
    SetOptions set;
    bool json = false;
    bool sarif = false;
};

/// The levels for a robot's sensors, or in the order of the file without one.
Calibration levels_of(const VetCall& call, const Robot* robot) {
    const NamedCalibration named = load_calibration(call.calibration);
    return robot != nullptr ? calibration_for(*robot, named) : named.levels;
}

void check_vet(const VetCall& call) {
    if (call.robot.empty() && !call.chip.empty()) {
        throw InputError("", "--chip is of a robot, whose looks it times", "name it: --robot ROBOT");
    }
    if (call.course.empty() && call.variant != as_drawn) {
        throw InputError("", "--variant is of a course", "name it: --course COURSE");
    }
}

/// On a terminal: of the first finding.
void say_what_explains(const Streams& streams, const std::vector<VettedPlan>& all) {
    for (const VettedPlan& vetted : all) {
        if (!vetted.report.findings.empty()) {
            say_next(streams, fmt::format("vet --explain {}", vetted.report.findings.front().kind->code),
                     "what it is, and a plan that cures it", false);
            return;
        }
    }
}

int vet_plans(const Streams& streams, const VetCall& call) {
    if (!call.explain.empty()) {
        streams.out << explained(call.explain);
        return passed;
    }
    check_vet(call);
    std::optional<Robot> robot;
    std::optional<Course> course;
    std::optional<Calibration> calibration;
    std::optional<ChipRoom> chip;
    if (!call.chip.empty()) {
        chip = parse_chip(call.chip);
    }
    if (!call.robot.empty()) {
        robot = call.set.robot(read_file(call.robot), call.robot);
    }
    if (!call.course.empty()) {
        course = read_course(streams, call.course, call.variant);
    }
    if (!call.calibration.empty()) {
        calibration = levels_of(call, robot ? &*robot : nullptr);
    }
    std::vector<VettedPlan> all;
    std::vector<Problem> warnings;
    for (const std::string& path : call.plans) {
        Plan plan = call.set.plan(path, warnings);
        if (robot) {
            check_sensor_count(*robot, plan);
        }
        if (calibration && calibration->sensors.size() != static_cast<std::size_t>(plan.sensors())) {
            throw InputError(call.calibration,
                             fmt::format("it has levels for {} sensors, plan {} has {}", calibration->sensors.size(),
                                         path, plan.sensors()),
                             "use a calibration and a plan that belong together");
        }
        VetReport report = vet(plan, {robot ? &*robot : nullptr, course ? &*course : nullptr,
                                      calibration ? &*calibration : nullptr, numbers_of(call.numbers), chip});
        all.push_back({std::move(plan), std::move(report)});
    }
    call.set.check();
    print_warnings(streams, warnings);
    bool clean = true;
    for (const VettedPlan& vetted : all) {
        clean = clean && vetted.report.count(Grade::fault) + vetted.report.count(Grade::risk) == 0;
    }
    if (call.sarif) {
        streams.out << vet_sarif(all);
    } else if (call.json) {
        streams.out << vet_json(all);
    } else {
        for (const VettedPlan& vetted : all) {
            const bool lone = vetted.report.findings.empty() && vetted.report.facts.empty();
            streams.out << (&vetted == &all.front() || lone ? "" : "\n");
            print_vetted(streams, vetted);
        }
        say_what_explains(streams, all);
    }
    return clean ? passed : answer_no;
}

} // namespace

void add_vet(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "vet", "What is wrong with a plan: patterns without a rule, rules that never act, bends that it does not hold");
    auto options = std::make_shared<VetCall>();
    command.plans(options->plans, "plan files (*.plan)");
    command.may_read(FolderKind::robot, "--robot", options->robot, "robot file: bends, dead band, gains and delay");
    command.may_read(FolderKind::course, "--course", options->course,
                     "course file: its bends, lines, plates, gaps and starts");
    command.may_read(FolderKind::calibration, "--calibration", options->calibration,
                     "calibration file: levels within noise, dead sensors");
    command.option(
        "--chip", options->chip,
        "8-bit or 32-bit, with its clock, flash and memory (8-bit,16MHz,24kB,1.5kB): whether the plan's C fits "
        "and how long a look takes there");
    command.alone();
    command.option("--explain", options->explain,
                   "tell about one code, with a plan that shows it and one that cures it");
    command.about_no_file_with(options->explain);
    const Option json = command.prints_data("--json", options->json, "print JSON");
    command.prints_data("--sarif", options->sarif, "print SARIF 2.1.0, which editors and build servers read")
        .excludes(json);
    add_numbers_option(command, options->numbers);
    add_set_option(command, options->set);
    add_variant_option(command, options->variant);
    add_drawings_option(command, streams);
    command.footer("Example:\n  vturn vet data/fern-house/left-first.plan --robot data/fern-house/sprig-2.robot.toml "
                   "--course data/fern-house/fern-house.course.toml\n\n"
                   "A comment allows a finding: // vet: allow CODE because REASON\n"
                   "Exit status: 0 nothing but hints, 1 faults or risks, 2 unusable input.");
    command.does([options, &streams] { return vet_plans(streams, *options); });
}

} // namespace vturn
