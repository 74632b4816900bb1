#include "begin/first_files.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace vturn {

namespace {

constexpr double widest_array_mm = 130.0;

std::string robot_text(const FirstRobot& robot) {
    std::string text = fmt::format(
        "# {0}, as far as is known. Measure yours and write what you find: the map is as true as this file.\n"
        "# Lengths in millimetres; the point midway between the wheels is 0, 0.\n"
        "name = \"{0}\"\n"
        "track_mm = 124                              # between the wheels\n"
        "wheel_mm = 58\n"
        "top_speed_mm_s = 430                        # of a wheel at 100 % power\n"
        "look_ms = 9                                 # the loop's period\n"
        "delay_ms = 3                                # from a look to the wheels\n"
        "\n"
        "[motors]\n"
        "lag_ms = 48                                 # how slowly a wheel comes to its speed\n"
        "dead_band_pct = 7                           # a power below it moves nothing\n"
        "left = {{ gain = 1.00, reversed = false }}\n"
        "right = {{ gain = 1.00, reversed = true }}   # mounted mirrored\n",
        robot.name);
    for (int k = 0; k < robot.sensors; ++k) {
        text +=
            fmt::format("\n[[sensor]]{}\n"
                        "at_mm = [61, {:.4g}]\n"
                        "spot_mm = {:.3g}\n"
                        "light = \"red\"\n"
                        "channel = \"A{}\"\n"
                        "adc_max = 1023\n"
                        "noise = 4\n",
                        k == 0 ? "                                  # from left to right: [ahead, to the left]" : "",
                        robot.span_mm() / 2 - k * robot.spacing_mm, std::min(6.0, 0.4 * robot.line_mm), k);
    }
    return text;
}

std::string course_text(const FirstRobot& robot) {
    // One or two sensors go round to the left on it.
    const double pad_mm = robot.sensors < 3 ? 197.0 : std::max(86.0, robot.span_mm() + 64.0 + robot.line_mm);
    return fmt::format(
        "# Two bends and a fork, to practise on. Millimetres from the top left corner, y down.\n"
        "name = \"Practice\"\n"
        "size_mm = [{4:.0f}, 1080]\n"
        "floor = \"{0}\"\n"
        "line = {{ colour = \"{1}\", width_mm = {2:g} }}\n"
        "\n"
        "[[tape]]                                    # a bend to the left, one to the right, up to the fork\n"
        "path = \"M 96,910 H 540 A 172,172 0 0 0 712,738 V 704 A 164,164 0 0 1 876,540 H 1010\"\n"
        "[[tape]]                                    # left at the fork\n"
        "path = \"M 1010,540 A 236,236 0 0 0 1246,304 V 190\"\n"
        "[[tape]]                                    # right at the fork\n"
        "path = \"M 1010,540 A 236,236 0 0 1 1246,776 V 890\"\n"
        "\n"
        "[[tape]]                                    # a pad at each end, on which every sensor sees line\n"
        "path = \"M 1246,190 V 50\"\n"
        "width_mm = {3:.0f}\n"
        "[[tape]]\n"
        "path = \"M 1246,890 V 1030\"\n"
        "width_mm = {3:.0f}\n"
        "\n"
        "[[place]]\n"
        "name = \"fork\"\n"
        "at_mm = [1010, 540]\n"
        "radius_mm = 57\n"
        "[[place]]\n"
        "name = \"left end\"\n"
        "at_mm = [1246, 168]\n"
        "radius_mm = 79\n"
        "[[place]]\n"
        "name = \"right end\"\n"
        "at_mm = [1246, 912]\n"
        "radius_mm = 79\n"
        "\n"
        "[[start]]\n"
        "name = \"start\"\n"
        "at_mm = [158, 910]\n"
        "heading_deg = 0                             # to the right; 90 is up\n"
        "\n"
        "[[trip]]                                    # what `vturn trips` asks of a plan\n"
        "name = \"left at the fork\"\n"
        "from = \"start\"\n"
        "visits = [\"fork\", \"left end\"]\n"
        "within_s = 27\n",
        robot.line_is_dark ? "#E8E5DC" : "#22252A", robot.line_is_dark ? "#1D1D1D" : "#EFEDE6", robot.line_mm, pad_mm,
        1246 + std::max(134.0, pad_mm / 2 + 40.0));
}

std::string folder_text(const FirstRobot& robot) {
    return fmt::format("# What a call of vturn means that names no file, in this folder and below it.\n"
                       "course = \"practice.course.toml\"\n"
                       "robot = \"{}.robot.toml\"\n"
                       "plans = [\"follow.plan\"]\n"
                       "# calibration = \"{}.calibration.toml\"     # what its sensors read with: vturn calibrate\n"
                       "# days = \"ordinary.days.toml\"            # how its days differ: vturn trips --days 200\n",
                       robot.name, robot.name);
}

std::string readme_text(const FirstRobot& robot) {
    return fmt::format(
        "# {0}\n"
        "\n"
        "Five commands that work here as they stand:\n"
        "\n"
        "    vturn map -o map.png       # the course: its lines, bends and junctions\n"
        "    vturn table                # what the plan does for each pattern of the sensors\n"
        "    vturn vet                  # what is wrong with it before it drives\n"
        "    vturn run -o run.png       # a run, and its picture\n"
        "    vturn trips                # does it go where the course's trips say?\n"
        "\n"
        "Then make it yours:\n"
        "\n"
        "- `{0}.robot.toml` is your robot. Measure it: track, wheels, top speed, where the sensors stand.\n"
        "- `practice.course.toml` is a course of tape. Write yours, or name a drawing or a photograph of it.\n"
        "- `follow.plan` is what the robot does. `vturn watch` shows in a browser what each change does as you save "
        "it.\n"
        "- A trip is what you ask of it. Add one that goes right at the fork, and see `vturn trips` tell why the plan "
        "fails it\n"
        "  and which change would pass.\n"
        "- `vturn.toml` says which files these calls mean. Any can be named: `vturn run other.plan`.\n"
        "\n"
        "`vturn --help` lists all commands, `vturn trips --help` tells of one.\n",
        robot.name);
}

} // namespace

double usual_spacing_mm(int sensors, double line_mm) {
    if (sensors == 2) {
        return std::round(line_mm * 1.7); // on both sides of it
    }
    return std::min(std::round(line_mm * (sensors < 5 ? 0.74 : 0.63)),
                    std::floor(widest_array_mm / std::max(1, sensors - 1)));
}

std::optional<Unfit> unfit(const FirstRobot& robot) {
    const double narrowest_mm = 1.2 * robot.line_mm;
    const double span_mm = robot.span_mm();
    const std::string array =
        fmt::format("{} sensors {:g} mm apart make an array {:g} mm wide", robot.sensors, robot.spacing_mm, span_mm);
    if (span_mm > widest_array_mm) {
        return Unfit{array + ", wider than this robot and its course",
                     fmt::format("put them at most {:g} mm apart", std::floor(widest_array_mm / (robot.sensors - 1)))};
    }
    if (robot.sensors > 1 && robot.spacing_mm > 2.0 * robot.line_mm) {
        return Unfit{fmt::format("between sensors {:g} mm apart a line of {:g} mm is out of sight for too long",
                                 robot.spacing_mm, robot.line_mm),
                     fmt::format("put them at most {:g} mm apart", 2.0 * robot.line_mm)};
    }
    if (robot.sensors > 2 && span_mm < narrowest_mm) {
        return Unfit{array + fmt::format(", which a line of {:g} mm covers whole", robot.line_mm),
                     fmt::format("put them at least {:.1f} mm apart", narrowest_mm / (robot.sensors - 1) + 0.05)};
    }
    return std::nullopt;
}

std::vector<std::pair<std::string, std::string>> first_files(const FirstRobot& robot) {
    return {{robot.name + ".robot.toml", robot_text(robot)},
            {"practice.course.toml", course_text(robot)},
            {"follow.plan", first_plan(robot)},
            {"vturn.toml", folder_text(robot)},
            {"README.md", readme_text(robot)}};
}

} // namespace vturn
