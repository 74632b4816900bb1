#pragma once

/// What many tests need: small courses, robots and plans, and the command line in process.

#include <string>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/course/board/course.hpp"
#include "vast_turn/plan/mind.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/run.hpp"

namespace fixtures {

/// A plan of one habit with these rules, for this many sensors.
std::string plan_text(int sensors, const std::string& rules);

/// Compiles; fails the test with the problems when there are errors.
vast_turn::Plan compiled(const std::string& text);

/// All problems of a text as a person reads them, with "plan" as the file's name.
std::string problems_of(const std::string& text);

/// A robot without noise, lag, dead band and delay, whose sensors stand 50 mm ahead, `spacing` mm apart.
vast_turn::Robot ideal_robot(int sensors, double spacing_mm = 14.0);

/// A painted board of 1000 x 600 mm with these pieces of tape and a start at 100,300 facing right.
vast_turn::Course board(const std::vector<std::string>& paths, double width_mm = 19.0, double cell_mm = 1.0);

/// Every look of a run with these powers, whatever it sees.
std::vector<vast_turn::Look> looks_of(const vast_turn::Course& course, const vast_turn::Robot& robot, double left_pct,
                                      double right_pct, const vast_turn::RunOptions& options);

/// Asks a plan a row of patterns, 10 ms apart, and lists the wheel powers: "55,55 -24,47".
std::string powers(const vast_turn::Plan& plan, const std::vector<std::string>& patterns);

/// One look with this pattern, at this time.
vast_turn::Look look(const std::string& marks, double clock_ms = 0.0);

/// What InputError says when `read` throws one; empty when it does not.
template <class Read> std::string message_of(Read read) {
    try {
        read();
    } catch (const vast_turn::InputError& error) {
        return error.what();
    }
    return "";
}

/// What a call of the command line gave.
struct Called {
    int status = 0;
    std::string out;
    std::string err;
};
Called call_vturn(const std::vector<std::string>& arguments);

/// Path of a program that was built with these tests: "apps/vturn/vturn".
std::string built(const std::string& program);

/// The same as a program of its own, through a shell.
Called program(const std::string& command);

/// A fresh folder that is removed at the end.
class Folder {
public:
    Folder();
    ~Folder();
    Folder(const Folder&) = delete;
    Folder& operator=(const Folder&) = delete;
    std::string file(const std::string& name) const { return path_ + "/" + name; }
    const std::string& path() const { return path_; }
    std::vector<std::string> names() const;

private:
    std::string path_;
};

} // namespace fixtures
