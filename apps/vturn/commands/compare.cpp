#include <algorithm>
#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/run_options.hpp"
#include "print/print.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/comparison_json.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/view/comparison_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct CompareCall {
    std::string course;
    std::string robot;
    std::string trips;
    std::vector<std::string> plans;
    std::string picture;
    std::string variant = as_drawn;
    bool json = false;
    int repeats = 0; ///< 0 when not given
    int days = 0;
    int jobs = 0;
    DriveOptions drive;
};

std::string spread_text(const Spread& spread, int digits) {
    return fmt::format("{:.{}f} +- {:.{}f}", spread.mean, digits, spread.deviation, digits);
}

/// "by 3.1 to 8 % (14 gained, 2 lost)", or that nobody can tell.
std::string better_text(const Against& one) {
    const bool is_told = one.better.low > 0.0 || one.better.high < 0.0;
    const std::string by =
        is_told ? fmt::format("by {:+.0f} to {:+.0f} %", 100.0 * one.better.low, 100.0 * one.better.high)
                : fmt::format("not sure: {:+.0f} to {:+.0f} %", 100.0 * one.better.low, 100.0 * one.better.high);
    return fmt::format("{} ({} gained, {} lost)", by, one.gained, one.lost);
}

/// "to the mist room, from the door", as far as the trips differ in it.
std::string title_of(const TripCase& one, bool over_layouts) {
    const std::string& variant = one.scene->course().variant;
    return one.trip.name + (variant == as_drawn || over_layouts ? std::string{} : fmt::format(" ({})", variant));
}

bool is_over_layouts(const TripGround& ground, const CompareCall& call) {
    return ground.course().laid && ground.course().laid->number > 0 && call.variant == as_drawn;
}

/// What the numbers of a comparison are; `first`: the plan that others are held against, if there are others.
void explain_numbers(const Streams& streams, const std::string& first) {
    streams.out
        << "\nEach number is the mean over the runs +- one standard deviation; the speeds are those of the point "
           "midway between the wheels.\n";
    if (!first.empty()) {
        streams.out << fmt::format("passes more than {}: in how many of 100 runs, as sure as 95 of 100; gained and "
                                   "lost are the runs that only "
                                   "one of both passed\n",
                                   first);
    }
    streams.out << "change of steering: how much the wheels' difference changes from look to look; small is smooth\n"
                   "aside: how far the array's middle is from the middle of the nearest tape, as a root mean square "
                   "over the looks\n"
                   "lost: the line was nowhere under the array for three looks or more\n";
}

std::string heading_of(const std::vector<TripCase>& cases, int repeats, int layouts) {
    const Scene& scene = *cases.front().scene;
    return fmt::format("{}: {}, {} {}, {} {} {}", scene.course().name, scene.robot().name, cases.size(),
                       cases.size() == 1 ? "trip" : "trips", repeats, repeats == 1 ? "run" : "runs",
                       layouts > 0 ? fmt::format("on each of {} layouts", layouts) : "each");
}

void print_comparison(const Streams& streams, const std::vector<TripCase>& cases, const std::vector<PilotFigures>& all,
                      int repeats, int layouts) {
    const Paint paint(streams.colour);
    streams.out << paint.strong(heading_of(cases, repeats, layouts)) << "\n";
    std::vector<std::vector<std::string>> rows{{""}};
    std::vector<std::pair<std::string, std::string>> plans;
    for (const PilotFigures& one : all) {
        plans.emplace_back(one.pilot.name(), one.pilot.file());
    }
    const std::vector<std::string> names = names_apart(plans);
    rows[0].insert(rows[0].end(), names.begin(), names.end());
    rows.push_back({"trips passed"});
    for (const PilotFigures& one : all) {
        rows.back().push_back(fmt::format("{} of {}", one.passed, one.runs));
    }
    if (all.size() > 1) {
        rows.push_back({fmt::format("passes more than {}", names.front())});
        for (std::size_t p = 0; p < all.size(); ++p) {
            rows.back().push_back(p == 0 ? "" : better_text(all[p].against));
        }
    }
    struct Row {
        const char* what;
        Spread CaseFigures::*figure;
        int digits;
    };
    for (std::size_t i = 0; i < cases.size(); ++i) {
        rows.push_back({title_of(cases[i], layouts > 0)});
        for (const PilotFigures& one : all) {
            rows.back().push_back(fmt::format("{} of {}", one.cases[i].passed, one.cases[i].runs));
        }
        const bool differ = std::any_of(all.begin(), all.end(), [i](const PilotFigures& one) {
            return one.cases[i].against.gained + one.cases[i].against.lost > 0;
        });
        if (cases.size() > 1 && differ) {
            rows.push_back({fmt::format("  passes more than {}", names.front())});
            for (std::size_t p = 0; p < all.size(); ++p) {
                rows.back().push_back(p == 0 ? "" : better_text(all[p].cases[i].against));
            }
        }
        for (const Row& row :
             {Row{"  time, s", &CaseFigures::time_s, 2}, Row{"  mean speed, mm/s", &CaseFigures::mean_mm_s, 0},
              Row{"  top speed, mm/s", &CaseFigures::top_mm_s, 0},
              Row{"  change of steering, % a look", &CaseFigures::steering_change_pct, 2},
              Row{"  aside of the tape, mm", &CaseFigures::aside_mm, 1},
              Row{"  farthest from it, mm", &CaseFigures::farthest_mm, 0},
              Row{"  looks unanswered", &CaseFigures::unanswered, 1},
              Row{"  times the line was lost", &CaseFigures::losses, 1}}) {
            rows.push_back({row.what});
            for (const PilotFigures& one : all) {
                rows.back().push_back(spread_text(one.cases[i].*row.figure, row.digits));
            }
        }
    }
    print_columns(streams.out, rows);
    explain_numbers(streams, all.size() > 1 ? names.front() : "");
}

int compare_plans(const Streams& streams, const CompareCall& call) {
    const Robot robot = call.drive.load(call.robot);
    const auto format = call.picture.empty() ? PictureFormat::png : format_for(call.picture);
    const CourseReading reading(call.course, drawings_of(streams));
    const TripGround ground = reading.trip_ground(robot, call.trips, call.variant, call.drive.says_days());
    also_reads(streams, ground.course().drawing);
    if (ground.course().laid) {
        also_reads(streams, ground.course().laid->pieces);
    }
    const std::vector<TripCase>& cases = ground.cases();
    print_warnings(streams, ground.course().warnings);
    std::vector<Problem> warnings;
    std::vector<Pilot> pilots;
    for (const std::string& path : call.plans) {
        const Plan plan = call.drive.set.plan(path, warnings);
        check_sensor_count(robot, plan);
        pilots.emplace_back(plan);
    }
    call.drive.set.check();
    print_warnings(streams, warnings);
    RunOptions run = call.drive.filled_for(robot);
    run.day = call.days > 0 ? std::max<std::uint64_t>(1, run.day) : run.day;
    if (run.day > 0) {
        warn_of_days_alike(streams, ground.scene().robot());
    }
    const int layouts = is_over_layouts(ground, call) ? ground.course().laid->layouts : 0;
    const int runs = call.days > 0 ? call.days : call.repeats > 0 ? call.repeats : layouts > 0 ? 1 : 5;
    const MakeLayout make = [&](int number) {
        return reading.trip_ground(robot, call.trips, fmt::format("layout {}", number), call.drive.says_days());
    };
    const std::vector<PilotFigures> all = layouts > 0
                                              ? compare_layouts(cases, layouts, make, pilots, runs, run, call.jobs)
                                              : compare(cases, pilots, runs, run, call.jobs);
    if (!call.picture.empty()) {
        write_output(streams, call.picture, draw_comparison(cases, all, 0, format));
    }
    if (call.json) {
        streams.out << comparison_json(cases, all, layouts);
    } else {
        print_comparison(streams, cases, all, runs, layouts);
    }
    return passed;
}

} // namespace

void add_compare(Parser& parser, Streams& streams) {
    Command command = parser.command(
        "compare",
        "Plans side by side over the same trips and seeds: passed, time, speed, smoothness, how near the line");
    auto options = std::make_shared<CompareCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plans(options->plans, "plan files");
    command.writes("-o,--output", options->picture,
                   "draw the paths of the first trip over each other into this file (.png, .svg or .pdf)");
    const Option repeat =
        command
            .option("--repeat", options->repeats,
                    "runs of each trip, with --seed and the seeds after it; 5, or 1 on each layout, when not given")
            .within(1, 10000);
    command
        .option("--days", options->days, "days of each trip in place of repeats, from --day on; the same for all plans")
        .within(1, 10000)
        .excludes(repeat);
    add_trips_options(command, options->trips, options->jobs);
    add_only_variant_option(command, options->variant);
    command.prints_data("--json", options->json, "print JSON");
    add_drive_options(command, options->drive);
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn compare data/fern-house/aisle.course.toml data/fern-house/sprig-5.robot.toml "
        "data/fern-house/plans/five-pid.plan data/fern-house/plans/five-table.plan -o compare.png\n\n"
        "Numbers are mean +- one standard deviation over the runs of a trip; of a shuffled course over all its "
        "layouts.");
    command.does([options, &streams] { return compare_plans(streams, *options); });
}

} // namespace vturn
