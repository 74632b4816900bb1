#include <memory>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/interrupt.hpp"
#include "commands/run_options.hpp"
#include "commands/swept_trips.hpp"
#include "print/print.hpp"
#include "print/progress.hpp"
#include "ranks/crew_of_call.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/sweep_journal.hpp"
#include "vast_turn/formats/write/sweep_table.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/sweep/sweep.hpp"
#include "vast_turn/version.hpp"
#include "vast_turn/view/sweep_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct SweepCall {
    std::string course;
    std::string robot;
    std::string plan;
    std::string trips;
    std::string filter;
    std::string picture;
    std::string csv;
    std::string journal;
    std::string variant = as_drawn;
    std::vector<std::string> over;
    std::uint64_t fill = 0;
    double sure_pct = 90.0;
    int repeats = 40;
    int days = 0;
    int jobs = 0;
    bool json = false;
    DriveOptions drive;
};

std::string number_text(double value, const std::string& unit) { return fmt::format("{:.6g}{}", value, unit); }

void print_sweep(const Streams& streams, const SweepAsk& ask, const std::string& layouts,
                 const std::vector<SweepPoint>& points, double sure) {
    const Scene& scene = *ask.cases.front().scene;
    const Paint paint(streams.colour);
    streams.out << paint.strong(fmt::format(
                       "{}: {}, {} {}, {} runs at each of {} points{}", scene.course().name, scene.robot().name,
                       ask.cases.size(), ask.cases.size() == 1 ? "trip" : "trips",
                       ask.cases.size() * static_cast<std::size_t>(ask.repeats), ask.points.size(), layouts))
                << "\n";
    std::vector<std::vector<std::string>> rows(1);
    for (const Axis& axis : ask.axes) {
        rows[0].push_back(written_name(axis.number));
    }
    rows[0].insert(rows[0].end(), {"pass", "share, %", "time, s", "steering, % a look", ""});
    const std::size_t best = fastest_sure(points, sure);
    for (std::size_t i = 0; i < points.size(); ++i) {
        const SweepPoint& point = points[i];
        std::vector<std::string> row;
        for (std::size_t k = 0; k < ask.axes.size(); ++k) {
            row.push_back(number_text(point.at[k], ask.axes[k].unit));
        }
        if (!point.refused.empty()) {
            row.insert(row.end(), {"", "", "", "", "cannot be: " + point.refused});
        } else {
            const bool some = point.passed > 0;
            row.insert(row.end(),
                       {fmt::format("{} of {}", point.passed, point.runs),
                        fmt::format("{:.0f} to {:.0f}", 100.0 * point.share.low, 100.0 * point.share.high),
                        some ? fmt::format("{:.2f} +- {:.2f}", point.time_s.mean, point.time_s.deviation) : "",
                        some ? fmt::format("{:.2f}", point.steering_pct.mean) : "",
                        i == best                 ? "fastest that is sure"
                        : point.share.low >= sure ? "sure"
                                                  : ""});
        }
        rows.push_back(std::move(row));
    }
    print_columns(streams.out, rows);
    streams.out << fmt::format(
        "\nsure: as surely as 95 of 100 it holds in {:g} % of runs or more; time and steering are "
        "those of the runs that pass\n",
        100.0 * sure);
    if (best == points.size()) {
        streams.out << "no point is sure\n";
    }
}

/// What is swept, over all that the call itself says.
SweepAsk asked_by(const Streams& streams, const SweepCall& call) {
    SweepAsk ask;
    for (const std::string& text : call.over) {
        ask.axes.push_back(parse_axis(text));
    }
    ask.points = call.fill > 0 ? fill_of(ask.axes, call.fill, call.drive.run.seed) : grid_of(ask.axes);
    ask.repeats = call.days > 0 ? call.days : call.repeats;
    ask.threads = call.jobs;
    ask.crew = streams.crew;
    return ask;
}

/// Opens the journal and lets the sweep go on with it.
void begin_journal(std::optional<SweepJournal>& journal, const Streams& streams, const SweepCall& call, SweepAsk& ask,
                   const std::vector<std::string>& texts) {
    Fingerprint all = fingerprint_of(call.drive, ask.cases.front().scene->course(), texts);
    for (const std::string& text : {call.trips.empty() ? "" : read_file(call.trips), call.filter, call.variant,
                                    fmt::format("{} {}", ask.repeats, ask.run.day)}) {
        all.take(text);
    }
    for (const Axis& axis : ask.axes) {
        all.take(written_name(axis.number) + " " + axis.unit);
    }
    for (const SweepValues& at : ask.points) {
        all.take(fmt::format("{:a}", fmt::join(at, " ")));
    }
    if (is_first(streams)) {
        journal.emplace(call.journal, all.value(), ask.points.size());
    }
    if (streams.crew != nullptr) {
        const std::string known = streams.crew->tell(journal ? journal->text() : "");
        if (!journal) {
            journal.emplace(known);
        }
    }
    if (journal->size() > 0 && !streams.quiet) {
        streams.err << fmt::format("vturn: {} of {} points are known from {}\n", journal->size(), ask.points.size(),
                                   call.journal);
    }
    ask.known = [&journal](std::size_t i) { return journal->known(i); };
    ask.point_done = [&journal](std::size_t i, const SweepPoint& point) { journal->done(i, point); };
}

int sweep_numbers(const Streams& streams, const SweepCall& call) {
    const auto format = call.picture.empty() ? PictureFormat::png : format_for(call.picture);
    SweepAsk ask = asked_by(streams, call);
    // Each file once: it may be a pipe.
    const std::string course_text = read_file(call.course);
    const std::string robot_text = read_file(call.robot);
    const std::string text = call.drive.set.text(call.plan);
    const Robot robot = call.drive.read(robot_text, call.robot);
    const SweptGround swept(streams, CourseReading(course_text, call.course, drawings_of(streams)), call.course, robot,
                            {call.trips, call.filter, call.variant, static_cast<std::size_t>(ask.repeats),
                             call.drive.says_days(), call.jobs});
    const TripGround& ground = swept.first();
    also_reads(streams, ground.course().drawing);
    print_warnings(streams, ground.course().warnings);
    swept.say(ask);
    const Compiled own = compile_plan(text, call.plan); // its own faults come before those of points
    if (!own.plan) {
        throw InputError(own.problems);
    }
    call.drive.set.check();
    print_warnings(streams, own.problems);
    ask.plan = [&](const std::vector<Setting>& settings) { return plan_with(text, call.plan, settings); };
    ask.robot = [&](const std::vector<Setting>& settings) {
        return robot_with(robot_text, call.robot, call.drive.set, settings, ask.cases.front().scene->robot());
    };
    ask.run = call.drive.filled_for(robot);
    ask.run.day = call.days > 0 ? std::max<std::uint64_t>(1, ask.run.day) : ask.run.day;
    if (ask.run.day > 0) {
        warn_of_days_alike(streams, ground.scene().robot());
    }
    std::optional<SweepJournal> journal;
    if (!call.journal.empty()) {
        begin_journal(journal, streams, call, ask, {course_text, robot_text, text});
    }
    const Interrupt interrupt;
    Progress progress(streams);
    ask.progress = [&progress](std::size_t done, std::size_t all) { progress.tell("runs", done, all); };
    ask.stop = stop_of(streams, interrupt);
    wait_no_longer_when(streams, interrupt, call.journal);
    const std::vector<SweepPoint> points = sweep(ask);
    progress.clear();
    const double sure = call.sure_pct / 100.0;
    if (!call.picture.empty()) {
        const std::string title = fmt::format("{}: {}, {}", ground.course().name, robot.name, own.plan->name());
        write_output(streams, call.picture, draw_sweep(ask.axes, points, {title, sure}, format));
    }
    if (!call.csv.empty()) {
        write_output(streams, call.csv, sweep_csv(ask.axes, points));
    }
    if (call.json) {
        streams.out << sweep_json(ask.axes, points, sure, swept.layouts());
    } else {
        print_sweep(streams, ask, swept.told(), points, sure);
    }
    if (points.size() < ask.points.size()) {
        streams.err << fmt::format("vturn: stopped after {} of {} points\n", points.size(), ask.points.size());
        return answer_no;
    }
    return fastest_sure(points, sure) < points.size() ? passed : answer_no;
}

} // namespace

void add_sweep(Parser& parser, Streams& streams) {
    Command command =
        parser.command("sweep", "The same trips with other numbers of the plan, the robot or the day: where "
                                "they hold, and how fast");
    auto options = std::make_shared<SweepCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plan(options->plan);
    command
        .option("--over", options->over,
                "a number and its values, named as by --set: cruise=36..60:4 (from, to, step), cruise=38,44,52, or "
                "cruise=36..60 with --fill; may be given again")
        .one_value_each()
        .required();
    command
        .option("--fill", options->fill,
                "so many points spread evenly over the ranges, in place of every value with every other")
        .within(1, most_sweep_points);
    const Option repeat =
        command
            .option("--repeat", options->repeats, "runs of each trip at each point, with --seed and the seeds after it")
            .shows_default()
            .within(1, 10000);
    command
        .option("--days", options->days, "days of each trip in place of repeats, from --day on; the same at all points")
        .within(1, 10000)
        .excludes(repeat);
    command.option("--sure", options->sure_pct, "percent of runs in which a point must hold to be called sure")
        .shows_default()
        .within(1.0, 99.99);
    command.option("--filter", options->filter, "only trips that have this in their name");
    command.writes(
        "-o,--output", options->picture,
        "draw where they hold into this file (.png, .svg or .pdf): shares and times over one number, a map over two");
    command.writes("--csv", options->csv, "write a row a point into this file (CSV)");
    command.option(
        "--resume", options->journal,
        "write each point into this file as soon as it is done; the same call takes from it what was done before");
    command.prints_data("--json", options->json, "print JSON");
    add_only_variant_option(command, options->variant);
    add_trips_options(command, options->trips, options->jobs);
    add_drive_options(command, options->drive);
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn sweep data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan --filter ferns --over cruise=36..84:8 --over inside=-40..16:8 -o "
        "sweep.png\n\n"
        "Seeds and days are the same at all points, so that they differ by their numbers alone.\n"
        "Of a shuffled course each run of a trip is on the next layout.\n"
        "Exit status: 0 when some point is sure, 1 when none is, or when it was stopped, 2 for unusable input.");
    command.does([options, &streams] { return sweep_numbers(streams, *options); });
}

} // namespace vturn
