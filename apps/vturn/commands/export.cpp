#include <filesystem>
#include <memory>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/settings/adjustable.hpp"
#include "vast_turn/sim/run.hpp"

namespace vturn {

using namespace vast_turn;
using runtime::NumberKind;

namespace {

struct ExportCall {
    std::string plan;
    std::string folder;
    std::string numbers = "double";
    std::string name;
    std::string robot;
    std::string calibration;
    bool settings = false;
    bool talks = false;
    bool lean = false;
};

/// Where a file of the pair goes. It may not be the plan itself.
std::string path_of(const ExportCall& call, const std::string& file) {
    std::string path = (std::filesystem::path(call.folder) / file).string();
    std::error_code none;
    if (std::filesystem::equivalent(path, call.plan, none)) {
        throw InputError(call.plan, "the plan would be written over by what is made of it",
                         "name another folder with -o, or another name with --name");
    }
    return path;
}

void make_folder(const std::string& folder) {
    std::error_code error;
    std::filesystem::create_directory(folder, error);
    if (!std::filesystem::is_directory(folder)) {
        throw InputError(folder, "this is no folder, and none can be made there",
                         "name a folder whose parent exists: vturn export PLAN -o FOLDER");
    }
}

/// The functions that a robot gives.
std::vector<std::string> asked_functions(const CSource& made, bool lean) {
    std::vector<std::string> asked = {"clock_us"};
    for (const SenseField& sense : made.senses) {
        asked.push_back(sense.name);
    }
    asked.emplace_back("drive");
    if (!lean) {
        asked.insert(asked.end(), {"say", "put"});
    }
    return asked;
}

/// What the options say of one another.
void check_fit_together(const ExportCall& call) {
    if (call.robot.empty() && !call.calibration.empty()) {
        throw InputError("", "--calibration is of a robot, whose sensors it is for", "name it: --robot ROBOT");
    }
    if (call.lean && (call.settings || call.talks)) {
        throw InputError(
            "",
            fmt::format("--lean leaves out the serial line that {} needs", call.settings ? "--settings" : "--talks"),
            "name one of the two");
    }
    if (call.lean && !call.robot.empty() && call.calibration.empty()) {
        throw InputError(
            "", "--lean builds the levels of the sensors in, and there are none",
            "name the calibration: --calibration FILE; without --lean the robot can learn it on the floor");
    }
}

int export_plan(const Streams& streams, const ExportCall& call) {
    std::vector<Problem> warnings;
    const NumberKind numbers = numbers_of(call.numbers);
    const AdjustablePlan adjustable = call.settings ? adjustable_plan(read_plan(call.plan), call.plan, &warnings)
                                                    : AdjustablePlan{load_plan(call.plan, &warnings), {}, {}, {}};
    const Plan& plan = adjustable.plan;
    print_warnings(streams, warnings);
    if (call.settings && adjustable.lets.empty()) {
        throw InputError(call.plan, "no let of the plan may be changed on the running robot",
                         "say of one what it may be: let cruise = 47 // may be 36..84");
    }
    check_fit_together(call);
    CSourceOptions options{.numbers = numbers, .name = call.name};
    options.talks = call.settings || call.talks;
    options.lean = call.lean;
    if (!call.robot.empty()) {
        options.robot = load_robot(call.robot);
        check_fit(*options.robot, plan);
        if (call.settings) { // until a number is changed it decides as the plan that is written there
            options.mark = program_mark(load_plan(call.plan), *options.robot);
        }
        if (!call.calibration.empty()) {
            options.calibration = calibration_for(*options.robot, load_calibration(call.calibration));
        }
    }
    const CSource made = c_source(plan, options);
    make_folder(call.folder);
    const std::string header = path_of(call, made.name + ".h");
    const std::string source = path_of(call, made.name + ".c");
    write_file(header, made.header);
    write_file(source, made.source);
    const auto bytes = [&](ChipKind chip) { return made.state_bytes[static_cast<std::size_t>(chip)]; };
    const std::vector<std::string> inputs = options.robot ? asked_functions(made, call.lean) : made.inputs;
    streams.out << fmt::format("{}, {}\n", header, source)
                << fmt::format("  asks the robot for  {}\n", fmt::join(inputs, ", "))
                << fmt::format("  remembers           {} bytes on an 8-bit chip, {} on a 32-bit one\n",
                               bytes(ChipKind::bits_8), bytes(ChipKind::bits_32));
    if (call.settings) {
        std::vector<std::string> names;
        for (const AdjustableLet& let : adjustable.lets) {
            names.push_back(let.name);
        }
        streams.out << fmt::format("  can be given        other values of {} while it runs\n", fmt::join(names, ", "));
        names.clear();
        for (const ReckonedLet& let : adjustable.reckoned) {
            names.push_back(let.name);
        }
        if (!names.empty()) {
            streams.out << fmt::format("  reckoned from them  {}\n", fmt::join(names, ", "));
        }
    }
    if (options.robot) {
        streams.out << fmt::format("  reads with          {}\n",
                                   options.calibration ? fmt::format("the calibration of {}{}", call.calibration,
                                                                     call.lean ? ", for good" : "")
                                                       : "what it learns on the floor: no --calibration");
    }
    return passed;
}

} // namespace

void add_export(Parser& parser, Streams& streams) {
    Command command = parser.command("export", "Writes a plan as plain C for the robot's own program");
    auto call = std::make_shared<ExportCall>();
    command.plan(call->plan);
    command.option("-o,--output", call->folder, "folder for NAME.h and NAME.c; made when there is none").required();
    add_numbers_option(command, call->numbers);
    command.may_read(FolderKind::robot, "--robot", call->robot,
                     "also what lies between this robot's wires and the plan (*.robot.toml): sensing, "
                     "motors, the loop, calibration on the floor, the serial line");
    command.may_read(FolderKind::calibration, "--calibration", call->calibration,
                     "built in (*.calibration.toml); without one the robot must be calibrated on the floor");
    command.alone();
    command.option("--name", call->name,
                   "NAME, with which every name in them begins; otherwise made from the plan's name");
    command.flag(
        "--settings", call->settings,
        "lets whose comments say `may be 36..84` can be changed over the serial line while it runs (vturn bench)");
    command.flag("--talks", call->talks,
                 "it hears commands over the serial line and tells there what the plan says; --settings does so too");
    command.flag("--lean", call->lean,
                 "least flash and memory: levels are built in, nothing goes over a serial line, no rule is told");
    command.footer("Examples:\n  vturn export data/fern-house/rounds.plan -o robot --numbers float\n"
                   "  vturn export data/fern-house/rounds.plan -o robot --numbers float \\\n"
                   "      --robot data/fern-house/sprig-5.robot.toml --calibration sprig-5.calibration.toml\n\n"
                   "Exit status: 0 when both files are written, 2 for unusable input.");
    command.does([call, &streams] { return export_plan(streams, *call); });
}

} // namespace vturn
