#include <memory>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "print/print_calibration.hpp"
#include "vast_turn/formats/read/bench_file.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/bench_csv.hpp"
#include "vast_turn/formats/write/calibration_json.hpp"
#include "vast_turn/formats/write/calibration_toml.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/sim/bench.hpp"
#include "vast_turn/view/picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct CalibrateCall {
    std::vector<std::string> readings;
    std::vector<std::string> simulate; // course, robot
    std::string robot;
    std::vector<std::string> outputs;
    std::vector<std::string> faults;
    BenchOptions bench;
    bool json = false;
};

struct Recorded {
    BenchReadings readings;
    ArrayFacts facts;
    std::string from;
    std::string whose;
};

Recorded simulated(const Streams& streams, const CalibrateCall& call) {
    if (!call.readings.empty() || !call.robot.empty()) {
        throw InputError("", "--simulate takes the place of readings and --robot",
                         "write vturn calibrate --simulate COURSE ROBOT");
    }
    const Course course = read_course(streams, call.simulate[0]);
    const Robot robot = load_robot(call.simulate[1]);
    BenchOptions options = call.bench;
    options.faults = parse_faults(call.faults, static_cast<int>(robot.sensors.size()));
    Recorded out;
    out.readings = simulate_bench(Scene(course, robot), options);
    out.facts = array_facts(robot);
    out.from = fmt::format("{} held over {} by simulation, seed {}", robot.name, course.name, options.seed);
    out.whose = out.from;
    return out;
}

Recorded read(const CalibrateCall& call) {
    if (call.readings.empty()) {
        throw InputError("", "there are no readings to calibrate with",
                         "name a file of readings, or write --simulate COURSE ROBOT");
    }
    if (!call.faults.empty()) {
        throw InputError("", "--fault goes with --simulate: real readings have the faults they have", "leave it out");
    }
    Recorded out;
    out.readings = load_bench(call.readings);
    out.from = fmt::format("{}", fmt::join(call.readings, ", "));
    out.whose = out.from;
    if (!call.robot.empty()) {
        const Robot robot = load_robot(call.robot);
        out.readings = arranged_for(robot, out.readings);
        out.facts = array_facts(robot);
        out.whose = fmt::format("{} from {}", robot.name, out.from);
    }
    return out;
}

void check_outputs(const CalibrateCall& call) {
    for (const std::string& path : call.outputs) {
        if (!ends_with(path, ".toml") && !ends_with(path, ".csv") && !picture_format(path)) {
            throw InputError(path, "the ending does not say what to write",
                             "end it with .toml (calibration), .csv (readings), .png, .svg or .pdf (picture)");
        }
    }
}

void write_outputs(const Streams& streams, const CalibrateCall& call, const Recorded& recorded,
                   const CalibrationReport& report) {
    for (const std::string& path : call.outputs) {
        if (ends_with(path, ".toml")) {
            write_output(streams, path, calibration_toml(report, recorded.from));
        } else if (ends_with(path, ".csv")) {
            write_output(streams, path, bench_csv(recorded.readings));
        } else {
            write_output(streams, path, draw_calibration(recorded.readings, report, recorded.whose, format_for(path)));
        }
    }
}

int calibrate_array(const Streams& streams, const CalibrateCall& call) {
    check_outputs(call);
    const Recorded recorded = call.simulate.empty() ? read(call) : simulated(streams, call);
    const CalibrationReport report = calibrate(recorded.readings, recorded.facts);
    write_outputs(streams, call, recorded, report);
    if (call.json) {
        streams.out << calibration_json(report);
    } else {
        print_calibration(streams, report, recorded.whose);
    }
    return report.any_serious() ? answer_no : passed;
}

} // namespace

void add_calibrate(Parser& parser, Streams& streams) {
    Command command =
        parser.command("calibrate", "Levels, thresholds and faults of an array, from readings on the bench");
    auto options = std::make_shared<CalibrateCall>();
    command.reads("READINGS", options->readings,
                  "bench readings (CSV with a column `under`), or WHAT=FILE for a file over one surface");
    command.reads("--robot", options->robot, "robot file: order of the channels, their ranges and places");
    command.reads("--simulate", options->simulate, "take the readings from the simulated robot: COURSE ROBOT")
        .values(2);
    command.option("--seed", options->bench.seed, "of the simulated readings").shows_default();
    command.option("--looks", options->bench.looks, "simulated looks over each surface")
        .shows_default()
        .within(2, 100000);
    command
        .option("--fault", options->faults,
                std::string("put a fault into the simulated robot; may be given again: ") + fault_forms)
        .one_value_each();
    command
        .writes(
            "-o,--output", options->outputs,
            "write the calibration (.toml), the readings (.csv) or a picture (.png, .svg, .pdf); may be given again")
        .one_value_each();
    command.prints_data("--json", options->json, "print JSON");
    add_drawings_option(command, streams);
    command.footer("Examples:\n"
                   "  vturn calibrate data/fern-house/sprig-5.bench.csv --robot data/fern-house/sprig-5.robot.toml \\\n"
                   "      -o sprig-5.calibration.toml -o sprig-5.png\n"
                   "  vturn calibrate line=on-tape.csv floor=beside.csv sweep=across.csv\n"
                   "  vturn calibrate --simulate data/fern-house/mist-loop.course.toml \\\n"
                   "      data/fern-house/sprig-5.robot.toml --fault sensor2=dim:0.4\n\n"
                   "Exit status: 0 when the array can be used, 1 when a verdict is serious, 2 for unusable input.");
    command.does([options, &streams] { return calibrate_array(streams, *options); });
}

} // namespace vturn
