#include <algorithm>
#include <cctype>
#include <charconv>
#include <cmath>
#include <filesystem>
#include <functional>
#include <istream>
#include <memory>
#include <optional>
#include <ostream>
#include <system_error>

#include <fmt/format.h>

#include "begin/first_files.hpp"
#include "commands/commands.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/text_file.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

namespace fs = std::filesystem;

constexpr double narrowest_mm = 6.0;
constexpr double widest_mm = 50.0;
constexpr double closest_mm = 4.0;
constexpr double farthest_mm = 60.0;

struct NewCall {
    std::string folder;
    std::string name;
    std::optional<double> sensors;
    std::optional<double> spacing_mm;
    std::optional<double> line_mm;
    std::string line;
};

/// A number as somebody types it; with a decimal comma too.
std::optional<double> number_of(std::string text) {
    std::replace(text.begin(), text.end(), ',', '.');
    double value = 0.0;
    const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), value);
    return fault == std::errc() && end == text.data() + text.size() ? std::optional(value) : std::nullopt;
}

/// Asks until the answer can be used; nothing typed is what is proposed.
std::string answer(const Streams& streams, const std::string& question, const std::string& proposed,
                   const std::function<std::string(const std::string&)>& fault_of) {
    while (true) {
        streams.err << fmt::format("{} [{}] ", question, proposed) << std::flush;
        std::string typed;
        if (!std::getline(streams.in, typed)) {
            throw InputError("", "there was no answer, and nothing is written",
                             "answer, or say it in the call: vturn new --help");
        }
        const auto is_blank = [](unsigned char c) { return std::isspace(c) != 0; };
        typed.erase(std::remove_if(typed.begin(), typed.end(), is_blank), typed.end());
        if (typed.empty()) {
            return proposed;
        }
        const std::string fault = fault_of(typed);
        if (fault.empty()) {
            return typed;
        }
        streams.err << fmt::format("  {}\n", fault);
    }
}

double asked_number(const Streams& streams, const std::string& question, double proposed, double low, double high,
                    bool is_whole) {
    const std::string typed = answer(streams, question, fmt::format("{:g}", proposed), [&](const std::string& text) {
        const std::optional<double> value = number_of(text);
        const bool good = value && *value >= low && *value <= high && (!is_whole || *value == std::floor(*value));
        return good ? ""
                    : fmt::format("{} from {:g} to {:g}, please", is_whole ? "a whole number" : "a number", low, high);
    });
    return *number_of(typed);
}

/// A name for files: what of it can stand in one.
std::string file_word(const std::string& text) {
    std::string word;
    for (const char c : text) {
        const bool plain = std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '-' || c == '_';
        word += plain ? c : '-';
    }
    const std::size_t from = word.find_first_not_of('-');
    return from == std::string::npos ? "robot" : word.substr(from);
}

/// What the call says, what is asked on a terminal, and what is usual for the rest.
FirstRobot robot_of(const Streams& streams, const NewCall& call) {
    const bool asks = streams.in_is_terminal && streams.err_is_terminal;
    FirstRobot robot;
    std::error_code fault;
    robot.name =
        !call.name.empty()
            ? call.name
            : file_word((fs::absolute(call.folder, fault) / "").lexically_normal().parent_path().filename().string());
    const double sensors = call.sensors ? *call.sensors
                           : asks       ? asked_number(streams, "Line sensors, 1 to 8?", 3, 1, 8, true)
                                        : 3;
    robot.sensors = static_cast<int>(sensors);
    robot.line_mm = call.line_mm ? *call.line_mm
                    : asks       ? asked_number(streams, "Width of the line, mm?", 19, narrowest_mm, widest_mm, false)
                                 : 19;
    const double usual = std::clamp(usual_spacing_mm(robot.sensors, robot.line_mm), closest_mm, farthest_mm);
    robot.spacing_mm = call.spacing_mm ? *call.spacing_mm
                       : asks && robot.sensors > 1
                           ? asked_number(streams, "From sensor to sensor, mm?", usual, closest_mm, farthest_mm, false)
                           : usual;
    const auto shade_fault = [](const std::string& text) {
        return text == "dark" || text == "light" ? "" : "dark or light, please";
    };
    const std::string shade = !call.line.empty() ? call.line
                              : asks             ? answer(streams, "Is the line dark or light?", "dark", shade_fault)
                                                 : "dark";
    robot.line_is_dark = shade == "dark";
    return robot;
}

void check_new(const NewCall& call) {
    if (call.sensors && *call.sensors != std::floor(*call.sensors)) {
        throw InputError("", fmt::format("{:g} sensors are no whole number", *call.sensors), "write --sensors 3");
    }
    if (!call.line.empty() && call.line != "dark" && call.line != "light") {
        throw InputError("", fmt::format("a line is not `{}`{}", call.line, did_you_mean(call.line, {"dark", "light"})),
                         "write --line dark, or --line light for a light line on a dark floor");
    }
    if (!call.name.empty() && call.name != file_word(call.name)) {
        throw InputError("", fmt::format("`{}` cannot be the name of a file", call.name),
                         "use letters, digits, - and _");
    }
    std::error_code fault;
    if (fs::exists(call.folder, fault) &&
        (!fs::is_directory(call.folder, fault) || !fs::is_empty(call.folder, fault))) {
        throw InputError(call.folder, "is there already, and nothing in it is written over",
                         "name a folder that is not there yet, or an empty one");
    }
}

/// Writes all files or, where that cannot be, none.
void write_all(const std::string& folder, const std::vector<std::pair<std::string, std::string>>& files) {
    std::error_code fault;
    const bool was_there = fs::exists(folder, fault);
    fs::create_directory(folder, fault);
    if (fault) {
        throw InputError(folder, fmt::format("this folder cannot be made: {}", fault.message()),
                         "name one whose parent is there and may be written in");
    }
    std::vector<std::string> written;
    try {
        for (const auto& [name, text] : files) {
            const std::string path = (fs::path(folder) / name).string();
            write_file(path, text);
            written.push_back(path);
        }
    } catch (const InputError&) {
        for (const std::string& path : written) {
            fs::remove(path, fault);
        }
        if (!was_there) {
            fs::remove(folder, fault);
        }
        throw;
    }
}

int begin_folder(const Streams& streams, const NewCall& call) {
    check_new(call);
    const FirstRobot robot = robot_of(streams, call);
    if (const std::optional<Unfit> reason = unfit(robot)) {
        throw InputError("", reason->why, reason->cure);
    }
    const auto files = first_files(robot);
    write_all(call.folder, files);
    streams.out << fmt::format("{}: {} with {} line sensor{}{}, a {} line of {:g} mm\n", call.folder, robot.name,
                               robot.sensors, robot.sensors == 1 ? "" : "s",
                               robot.sensors == 1 ? "" : fmt::format(" {:g} mm apart", robot.spacing_mm),
                               robot.line_is_dark ? "dark" : "light", robot.line_mm);
    const std::vector<std::string> what = {
        "the robot: measure yours and write what you find", "a course of tape to practise on, with a trip",
        "the plan: what the robot does", "which files a call means that names none", "five commands that work here"};
    for (std::size_t i = 0; i < files.size(); ++i) {
        streams.out << fmt::format("  {:<24}{}\n", files[i].first, what[i]);
    }
    streams.out << fmt::format("\nNow: cd {} && vturn trips\n", call.folder);
    return passed;
}

} // namespace

void add_new(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "new",
        "Begins a folder: a robot, a course to practise on, a plan that follows its line, and a trip that passes");
    auto call = std::make_shared<NewCall>();
    command.option("FOLDER", call->folder, "a folder that is not there yet, or an empty one").required();
    command.option("--sensors", call->sensors, "line sensors, 1 to 8 (3)").within(1.0, 8.0);
    command.option("--spacing", call->spacing_mm, "mm from sensor to sensor; what suits the line when not given")
        .within(closest_mm, farthest_mm);
    command.option("--line", call->line, "dark (on a light floor) or light (on a dark one)");
    command.option("--width", call->line_mm, "mm, of the line (19)").within(narrowest_mm, widest_mm);
    command.option("--name", call->name, "the robot's; the folder's when not given");
    command.footer(
        "Example:\n  vturn new my-robot --sensors 4 --line light\n\n"
        "On a terminal it asks what the call does not say; else it takes what is usual and tells what it took.\n"
        "Exit status: 0 when the folder is begun, 2 when it cannot be.");
    command.does([call, &streams] { return begin_folder(streams, *call); });
}

} // namespace vturn
