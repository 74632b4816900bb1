#include "support/drawn_course.hpp"

#include <algorithm>
#include <array>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <sstream>
#include <sys/wait.h>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "cli.hpp"
#include "vast_turn/course/board/svg_path.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/surface.hpp"
#include "vast_turn/sense/pattern.hpp"

namespace fixtures {

using namespace vast_turn;

std::string plan_text(int sensors, const std::string& rules) {
    return fmt::format("plan \"test\"\nsensors {}\nhabit follow {{\n{}\n}}\n", sensors, rules);
}

Plan compiled(const std::string& text) {
    Compiled result = compile_plan(text, "plan");
    REQUIRE_MESSAGE(result.plan.has_value(), to_text(result.problems));
    return *result.plan;
}

std::string problems_of(const std::string& text) { return to_text(compile_plan(text, "plan").problems); }

Robot ideal_robot(int sensors, double spacing_mm) {
    Robot robot;
    robot.name = "Ideal";
    robot.motors.lag_ms = 0.0;
    robot.motors.dead_band_pct = 0.0;
    robot.delay_ms = 0.0;
    for (int i = 0; i < sensors; ++i) {
        LineSensor sensor;
        sensor.at_mm = {50.0, spacing_mm * (0.5 * (sensors - 1) - i)};
        robot.sensors.push_back(sensor);
    }
    return robot;
}

Course board(const std::vector<std::string>& paths, double width_mm, double cell_mm) {
    Course course;
    course.name = "Board";
    course.width_mm = 1000.0;
    course.height_mm = 600.0;
    for (const std::string& path : paths) {
        const PathResult parsed = parse_svg_path(path, 0.02);
        REQUIRE_FALSE(parsed.fault.has_value());
        for (const SubPath& sub : parsed.paths) {
            course.tapes.push_back({sub.points, sub.closed, width_mm, {}});
        }
    }
    course.starts.push_back({"start", {{100.0, 300.0}, 0.0}});
    paint_surface(course, cell_mm);
    return course;
}

std::vector<Look> looks_of(const Course& course, const Robot& robot, double left_pct, double right_pct,
                           const RunOptions& options) {
    std::vector<Look> all;
    const Scene scene(course, robot);
    drive(scene, Decide([&](const Look& look, Answer& answer) {
              all.push_back(look);
              answer = Answer{};
              answer.left_pct = left_pct;
              answer.right_pct = right_pct;
          }),
          options);
    return all;
}

Look look(const std::string& marks, double clock_ms) {
    const Pattern pattern = parse_marks(marks).value();
    Look in;
    in.clock_ms = clock_ms;
    in.line_bits = pattern.bits;
    in.sensors = static_cast<std::uint8_t>(pattern.count);
    for (int i = 0; i < pattern.count; ++i) {
        in.sensor[i] = ((pattern.bits >> i) & 1) != 0 ? 1.0 : 0.0;
    }
    return in;
}

std::string powers(const Plan& plan, const std::vector<std::string>& patterns) {
    Mind mind(plan);
    std::string list;
    double clock_ms = 0.0;
    for (const std::string& marks : patterns) {
        Answer answer;
        mind(look(marks, clock_ms), answer);
        list += fmt::format("{}{:g},{:g}{}", list.empty() ? "" : " ", answer.left_pct, answer.right_pct,
                            answer.halted ? "!" : "");
        clock_ms += 10.0;
    }
    return list;
}

Called call_vturn(const std::vector<std::string>& arguments) {
    std::istringstream in;
    std::ostringstream out;
    std::ostringstream err;
    Called called;
    called.status = vturn::run(arguments, {in, out, err, false});
    called.out = out.str();
    called.err = err.str();
    return called;
}

std::string built(const std::string& name) {
    return (std::filesystem::read_symlink("/proc/self/exe").parent_path().parent_path() / name).string();
}

Called program(const std::string& command) {
    const Folder folder;
    const std::string whole = fmt::format("{} >{} 2>{} </dev/null", command, folder.file("out"), folder.file("err"));
    const int status = std::system(whole.c_str());
    Called called;
    called.status = WIFEXITED(status) ? WEXITSTATUS(status) : -1;
    called.out = read_file(folder.file("out"));
    called.err = read_file(folder.file("err"));
    return called;
}

Folder::Folder() {
    std::string name = (std::filesystem::temp_directory_path() / "vast-turn-test-XXXXXX").string();
    REQUIRE(::mkdtemp(name.data()) != nullptr);
    path_ = name;
}

Folder::~Folder() {
    std::error_code ignored;
    std::filesystem::remove_all(path_, ignored);
}

std::vector<std::string> Folder::names() const {
    std::vector<std::string> list;
    for (const auto& entry : std::filesystem::directory_iterator(path_)) {
        list.push_back(entry.path().filename().string());
    }
    std::sort(list.begin(), list.end());
    return list;
}

int largest_difference(const Course& a, const Course& b) {
    if (a.surface.columns != b.surface.columns || a.surface.cells.size() != b.surface.cells.size()) {
        return 256;
    }
    int most = 0;
    for (std::size_t i = 0; i < a.surface.cells.size(); ++i) {
        for (const unsigned shift : {0U, 8U, 16U}) {
            const auto channel = [&](const Course& c) {
                return static_cast<int>((c.surface.cells[i] >> shift) & 255U);
            };
            most = std::max(most, std::abs(channel(a) - channel(b)));
        }
    }
    return most;
}

} // namespace fixtures
