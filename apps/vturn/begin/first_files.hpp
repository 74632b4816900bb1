#pragma once

/// The files with which somebody begins: a robot, a course to practise on, a plan that follows its line, and what they
/// mean together.

#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace vturn {

/// What is known of the robot.
struct FirstRobot {
    std::string name; ///< file names are made of it: letters, digits, `-` and `_`
    int sensors = 3;  ///< 1 to 8
    double spacing_mm = 14.0;
    double line_mm = 19.0;    ///< width of the line
    bool line_is_dark = true; ///< on a light floor; else light on a dark one

    /// From its first sensor to its last.
    double span_mm() const { return spacing_mm * (sensors - 1); }
    /// One sensor, or two that stand over the line together.
    bool follows_an_edge() const { return sensors == 1 || (sensors == 2 && spacing_mm < line_mm); }
};

/// The spacing that suits so many sensors over such a line where nobody says one.
double usual_spacing_mm(int sensors, double line_mm);

/// Why the plan made for such a robot cannot follow such a line, and what to change.
struct Unfit {
    std::string why;
    std::string cure;
};
/// Nothing when it can.
std::optional<Unfit> unfit(const FirstRobot& robot);

/// The plan: the leftmost sensor that sees line decides, so that at a fork it goes left.
std::string first_plan(const FirstRobot& robot);

/// Names and texts of the files, in the order in which one reads them.
std::vector<std::pair<std::string, std::string>> first_files(const FirstRobot& robot);

} // namespace vturn
