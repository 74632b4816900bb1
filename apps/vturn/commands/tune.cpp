#include <cmath>
#include <memory>
#include <optional>

#include <fmt/format.h>

#include "call_files.hpp"
#include "commands/commands.hpp"
#include "commands/interrupt.hpp"
#include "commands/run_options.hpp"
#include "commands/swept_trips.hpp"
#include "print/print_tuned.hpp"
#include "print/progress.hpp"
#include "ranks/crew_of_call.hpp"
#include "vast_turn/formats/read/plan_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/write/tune_journal.hpp"
#include "vast_turn/formats/write/tune_table.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/plan/format.hpp"
#include "vast_turn/tune/trips_drive.hpp"
#include "vast_turn/view/tuning_picture.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

struct TuneCall {
    std::string course;
    std::string robot;
    std::string plan;
    std::string trips;
    std::string filter;
    std::string tuned;
    std::string picture;
    std::string csv;
    std::string journal;
    std::string variant = as_drawn;
    std::vector<std::string> move;
    double sure_pct = 99.0;
    std::uint64_t runs = 0;
    std::uint64_t tries = 1;
    int jobs = 0;
    bool json = false;
    DriveOptions drive;
};

/// The texts of a call's files, each read once: it may be a pipe.
struct TuneTexts {
    std::string course;
    std::string robot;
    std::string plan; ///< with what --set says
};

/// From a least to a greatest value, evenly where it has steps.
bool is_range(const Axis& axis) {
    const std::vector<double>& values = axis.values;
    if (values.size() < 2 || !(values[0] < values[1])) {
        return false;
    }
    for (std::size_t i = 1; i < values.size(); ++i) {
        if (std::abs(values[i] - values[i - 1] - (values[1] - values[0])) > 1e-9 * std::abs(values.back())) {
            return false; // a list
        }
    }
    return true;
}

/// Which numbers may move: as the call says, else as the plan's comments do.
std::vector<Axis> moving(const TuneCall& call, const std::string& plan) {
    const std::vector<std::string> said = call.move.empty() ? movable_lets(plan, call.plan) : call.move;
    if (said.empty()) {
        throw InputError(call.plan, "nothing says which numbers may move",
                         "name them, as --move cruise=36..84, or write it behind them in the plan: let cruise = 47 // "
                         "may be 36..84");
    }
    std::vector<Axis> axes;
    for (const std::string& text : said) {
        Axis axis = parse_axis(text);
        if (!is_range(axis)) {
            throw InputError("", fmt::format("`{}`: a number that may move has a least and a greatest value", text),
                             "write it so: cruise=36..84, or with a step: robot.look_ms=4..18:1");
        }
        if (axis.number.of == Setting::Of::day) {
            throw InputError("", fmt::format("`{}`: days are as they come", text),
                             "name a number of the plan or the robot");
        }
        axes.push_back(std::move(axis));
    }
    return axes;
}

/// What a number is now, in the unit of its axis.
double value_now(const Axis& axis, const TuneCall& call, const TuneTexts& texts) {
    if (axis.number.of == Setting::Of::robot) {
        for (const Setting& setting : call.drive.set.all()) {
            if (setting.of == Setting::Of::robot && setting.name == axis.number.name) {
                return parse_number(setting.value)->value;
            }
        }
        const std::optional<double> value = robot_number(texts.robot, call.robot, axis.number);
        if (!value) {
            throw InputError(call.robot, fmt::format("does not say what {} is now", written_name(axis.number)),
                             "write it into the file");
        }
        return *value;
    }
    const WrittenNumber now = plan_number(texts.plan, call.plan, axis.number);
    if (!axis.unit.empty() && !now.unit.empty() && axis.unit != now.unit) {
        throw InputError(call.plan,
                         fmt::format("`{}` is in {}, and is to move in {}", axis.number.name, now.unit, axis.unit),
                         "write the range in the unit of the plan");
    }
    return now.value;
}

TuneAsk asked_by(const TuneCall& call, const TuneTexts& texts, SweepAsk& driven) {
    TuneAsk ask;
    for (Axis& axis : driven.axes) {
        ask.start.push_back(value_now(axis, call, texts));
        if (axis.unit.empty() && axis.number.of == Setting::Of::plan) {
            axis.unit = plan_number(texts.plan, call.plan, axis.number).unit;
        }
        const double step = axis.has_steps ? axis.values[1] - axis.values[0] : 0.0;
        ask.numbers.push_back({written_name(axis.number), axis.values.front(), axis.values.back(), step});
    }
    ask.trips = driven.cases.size();
    ask.sure = call.sure_pct / 100.0;
    ask.most_runs = call.runs > 0 ? call.runs : tune_runs(ask.sure, ask.trips);
    ask.seed = call.tries;
    return ask;
}

std::vector<Setting> settings_at(const std::vector<Axis>& axes, const TuneValues& values) {
    std::vector<Setting> settings;
    for (std::size_t k = 0; k < axes.size(); ++k) {
        settings.push_back(axes[k].at(values[k]));
    }
    return settings;
}

/// The plan with the winner's numbers, laid out.
std::string tuned_plan(const TuneCall& call, const std::string& text, const std::vector<Axis>& axes,
                       const TuneValues& values) {
    SettingsTaken taken;
    const Formatted laid_out =
        format_plan(plan_text_with(text, call.plan, settings_at(axes, values), taken), call.plan);
    if (laid_out.text.empty()) {
        throw InputError(laid_out.problems);
    }
    return laid_out.text;
}

void write_files(const Streams& streams, const TuneCall& call, const TuneTexts& texts, const SweepAsk& driven,
                 const TuneAsk& ask, const Tuned& tuned, const std::string& title) {
    if (!call.tuned.empty() && tuned.winner) {
        write_output(streams, call.tuned, tuned_plan(call, texts.plan, driven.axes, tuned.tried[*tuned.winner].at));
    }
    if (!call.picture.empty()) {
        write_output(streams, call.picture, draw_tuning(driven.axes, ask, tuned, title, format_for(call.picture)));
    }
    if (!call.csv.empty()) {
        write_output(streams, call.csv, tuned_csv(driven.axes, tuned));
    }
}

/// Opens the journal and lets the search go on with it.
void begin_journal(std::optional<TuneJournal>& journal, const Streams& streams, const TuneCall& call,
                   const TuneTexts& texts, const SweepAsk& driven, TuneAsk& ask) {
    Fingerprint all =
        fingerprint_of(call.drive, driven.cases.front().scene->course(), {texts.course, texts.robot, texts.plan});
    all.take(call.trips.empty() ? "" : read_file(call.trips));
    all.take(call.filter);
    all.take(call.variant);
    for (const Axis& axis : driven.axes) {
        all.take(written_name(axis.number) + " " + axis.unit);
    }
    if (is_first(streams)) {
        journal.emplace(call.journal, all.value(), ask.numbers.size(), ask.trips);
    }
    if (streams.crew != nullptr) {
        const std::string known = streams.crew->tell(journal ? journal->text() : "");
        if (!journal) {
            journal.emplace(known, ask.numbers.size(), ask.trips);
        }
    }
    if (journal->size() > 0 && !streams.quiet) {
        streams.err << fmt::format("vturn: {} days are known from {}\n", journal->size(), call.journal);
    }
    ask.drive = journal->over(ask.drive);
}

int tune_numbers(const Streams& streams, const TuneCall& call) {
    if (!call.picture.empty()) {
        format_for(call.picture); // refused before anything is driven
    }
    TuneTexts texts{read_file(call.course), read_file(call.robot), call.drive.set.text(call.plan)};
    const Robot robot = call.drive.read(texts.robot, call.robot);
    constexpr std::size_t any_number = 1'000'000;
    const SweptGround swept(streams, CourseReading(texts.course, call.course, drawings_of(streams)), call.course, robot,
                            {call.trips, call.filter, call.variant, any_number, call.drive.says_days(), call.jobs});
    const TripGround& ground = swept.first();
    also_reads(streams, ground.course().drawing);
    print_warnings(streams, ground.course().warnings);
    const Compiled own = compile_plan(texts.plan, call.plan); // its own faults come first
    if (!own.plan) {
        throw InputError(own.problems);
    }
    call.drive.set.check();
    print_warnings(streams, own.problems);
    SweepAsk driven;
    swept.say(driven);
    driven.axes = moving(call, texts.plan);
    driven.plan = [&](const std::vector<Setting>& settings) { return plan_with(texts.plan, call.plan, settings); };
    driven.robot = [&](const std::vector<Setting>& settings) {
        return robot_with(texts.robot, call.robot, call.drive.set, settings, driven.cases.front().scene->robot());
    };
    driven.run = call.drive.filled_for(robot);
    driven.run.day = std::max<std::uint64_t>(1, driven.run.day);
    driven.threads = call.jobs;
    driven.crew = streams.crew;
    warn_of_days_alike(streams, ground.scene().robot());
    TuneAsk ask = asked_by(call, texts, driven);
    static_cast<void>(driven.plan(settings_at(driven.axes, ask.start))); // refused here, not at each place
    ask.drive = trips_drive(driven);
    std::optional<TuneJournal> journal;
    if (!call.journal.empty()) {
        begin_journal(journal, streams, call, texts, driven, ask);
    }
    const Interrupt interrupt;
    Progress progress(streams);
    ask.progress = [&](std::uint64_t runs) { progress.tell("runs", runs, ask.most_runs); };
    ask.stop = stop_of(streams, interrupt);
    wait_no_longer_when(streams, interrupt, call.journal);
    const Tuned tuned = tune(ask);
    progress.clear();
    const std::string title = fmt::format("{}: {}, {}{}", ground.course().name, robot.name, own.plan->name(),
                                          swept.layouts() > 0 ? fmt::format(", on {} layouts", swept.layouts()) : "");
    write_files(streams, call, texts, driven, ask, tuned, title);
    if (call.json) {
        streams.out << tuned_json(driven.axes, ask, tuned, swept.layouts());
    } else {
        print_tuned(streams, title, driven.axes, ask, tuned);
    }
    if (!call.tuned.empty() && !tuned.winner) {
        streams.err << fmt::format("vturn: nothing was written to {}\n", call.tuned);
    }
    return tuned.winner ? passed : answer_no;
}

} // namespace

void add_tune(Parser& parser, Streams& streams) {
    Command command =
        parser.command("tune", "The fastest numbers of a plan or robot with which each trip still holds on "
                               "nearly all days, sought and confirmed");
    auto options = std::make_shared<TuneCall>();
    command.course(options->course);
    command.robot(options->robot);
    command.plan(options->plan);
    command
        .option("--move", options->move,
                "a number that may move and its range, named as by --set: cruise=36..84, with a step "
                "robot.look_ms=6..20:1; may be given again. Without any, what the plan says in comments: let cruise = "
                "47 // may be 36..84")
        .one_value_each();
    command.option("--sure", options->sure_pct, "percent of days on which each trip must pass")
        .shows_default()
        .within(50.0, 99.99);
    command.option("--runs", options->runs,
                   "at most so many runs, the confirmation included; 5000 for each trip when not given, more when so "
                   "many are too few for --sure");
    command.option("--tries", options->tries, "another number tries other places first").shows_default();
    command.option("--filter", options->filter, "only trips that have this in their name");
    command.writes("-o,--output", options->tuned, "write the plan with the tuned numbers into this file");
    command.writes("--picture", options->picture, "draw what was tried into this file (.png, .svg or .pdf)");
    command.writes("--csv", options->csv, "write a row for each place that was tried into this file (CSV)");
    command.option("--resume", options->journal,
                   "write each day that was driven into this file; the same call takes from it what was done before");
    command.prints_data("--json", options->json, "print JSON");
    add_only_variant_option(command, options->variant);
    add_trips_options(command, options->trips, options->jobs);
    add_drive_options(command, options->drive);
    add_drawings_option(command, streams);
    command.footer(
        "Example:\n  vturn tune data/fern-house/fern-house.course.toml data/fern-house/sprig-2.robot.toml \\\n"
        "      data/fern-house/left-first.plan --filter ferns --move cruise=36..84 --move inside=-40..16 \\\n"
        "      --variation data/fern-house/ordinary.days.toml -o tuned.plan --picture tuned.png\n\n"
        "All are driven on the same days, from --day on (1 when not given); the winner is confirmed on days behind "
        "those that the search saw.\n"
        "Of a shuffled course each day is on the next layout.\n"
        "Exit status: 0 when a winner was confirmed, 1 when none was, or when it was stopped, 2 for unusable input.");
    command.does([options, &streams] { return tune_numbers(streams, *options); });
}

} // namespace vturn
