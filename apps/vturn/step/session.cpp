#include "step/session.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "call_files.hpp"
#include "print/print.hpp"
#include "step/show.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/view/step_picture.hpp"

namespace vturn {

using namespace vast_turn;

Session::Session(const Streams& streams, SessionParts parts)
    : streams_(streams), parts_(std::move(parts)), branches_(SteppedRun(parts_.scene, parts_.plan, parts_.options)) {}

const Plan& Session::plan() const { return run().mind()->plan(); }

const std::map<std::string, Session::Action>& Session::actions() {
    static const std::map<std::string, Action> all = {
        {"on", &Session::on},         {"back", &Session::back},        {"to", &Session::to},
        {"stop", &Session::stop},     {"stops", &Session::list_stops}, {"drop", &Session::drop},
        {"go", &Session::go},         {"show", &Session::show},        {"draw", &Session::draw},
        {"branch", &Session::branch}, {"take", &Session::take},        {"branches", &Session::list_branches},
        {"beside", &Session::beside}, {"instead", &Session::what_if},  {"save", &Session::save},
        {"help", &Session::tell_help}};
    return all;
}

std::vector<std::vector<std::string>> Session::help() {
    return {{"on [N]", "N looks on, or one"},
            {"back [N]", "N looks back, or one"},
            {"back to stop", "back to where it was moved on from last"},
            {"to TIME | to look N", "to a time (4.2s, 350ms) or a look, forward or back"},
            {"to start | to end", "to the first look, or to the end of the run"},
            {"to WHAT",
             "on to where WHAT begins: line N, block NAME, place NAME, junction [NAME], unanswered, lost, a way "
             "(800mm), or any condition of the plan's language: [##], amber, laps > 2"},
            {"stop WHAT", "keeps a stop; `stops` lists them, `drop N` lets one go"},
            {"go", "on to the next stop that is kept, or to the end"},
            {"show", "the course around the robot, readings, why each rule acts or not, what the plan remembers"},
            {"draw FILE", "the same as a picture (.png, .svg, .pdf)"},
            {"instead answer L R", "the motors are given these powers at this look"},
            {"instead reading K V", "sensor K reads V at this look, 0 floor to 1 line"},
            {"instead range WAY | marker NAME | hears NAME | button", "the plan is told that at this look"},
            {"instead var NAME VALUE", "a var is so from here on"},
            {"instead plan FILE", "another plan goes on from here"},
            {"instead day N", "another day of the robot from here on"},
            {"instead thing NAME at X,Y size AxB", "something lies in the way from here on"},
            {"branch NAME", "a branch from here, and in hand"},
            {"take NAME", "another branch in hand; `branches` lists them"},
            {"beside NAME", "how this branch and that one end, and where they part"},
            {"save FILE", "the commands so far, for --script"},
            {"leave", "ends the session"}};
}

bool Session::carry_out(const std::string& line, const std::string& file, int number) {
    Words words(line, file, number);
    if (words.at_end() || words.peek().front() == '#') {
        return true;
    }
    constexpr std::size_t longest = 4096;
    constexpr std::size_t most_commands = 100'000;
    if (line.size() > longest) {
        words.fail_at_next("a command is at most 4096 characters", "write one command a line");
    }
    if (done_.size() >= most_commands) {
        words.fail_at_next("a session has at most 100,000 commands", "begin another one");
    }
    const std::string name = words.word("a command");
    if (name == "leave") {
        words.end("leave");
        return false;
    }
    const auto action = actions().find(name);
    if (action == actions().end()) {
        std::vector<std::string> names = {"leave"};
        for (const auto& [known, does] : actions()) {
            names.push_back(known);
        }
        words.fail_at_last(fmt::format("there is no command `{}`{}", name, did_you_mean(name, names)),
                           "`help` lists them all");
    }
    try {
        (this->*action->second)(words);
    } catch (const InputError& error) {
        const Problem& first = error.problems().front();
        if (first.place.file != file || first.place.line == 0) { // of something that the line names
            const std::string from =
                first.place.file.empty() || first.place.file == file ? "" : first.place.file + ": ";
            words.fail_at_last(from + first.message, first.cure);
        }
        throw;
    }
    if (name != "save" && name != "help") {
        done_.push_back(line);
    }
    return true;
}

std::string Session::where() const {
    const SteppedRun& here = run();
    const std::string name = branches_.all().size() > 1 ? fmt::format("{}: ", branches_.here().name) : std::string();
    const Run& so_far = here.run();
    if (here.is_over()) {
        return fmt::format("{}ended at {:.3f} s, {:.0f},{:.0f} mm: {}, {}", name, so_far.time_s, so_far.end_at.x,
                           so_far.end_at.y, name_of(so_far.ending), so_far.ended_because);
    }
    const LookRecord look = here.record();
    const Answer& answer = here.answer();
    return fmt::format("{}look {} at {:.3f} s, {:.0f},{:.0f} mm, {:.0f} deg, {:.0f} mm/s: [{}] {}; {:.4g}, {:.4g} %{}",
                       name, here.at() + 1, look.t_s, look.at.x, look.at.y, std::round(look.heading_deg) + 0.0F,
                       0.5 * (here.body().left_mm_s + here.body().right_mm_s),
                       to_marks({here.look().line_bits, here.look().sensors}),
                       answer.rule == no_rule ? "no rule" : describe_rule(plan(), answer.rule), answer.left_pct,
                       answer.right_pct, answer.halted ? ", halt" : "");
}

void Session::stood(std::size_t before) { stood_[branches_.here().name].push_back(before); }

void Session::tell_stopped(const std::string& why) {
    streams_.out << (why.empty() ? "" : why + "\n") << where() << "\n";
}

void Session::on(Words& words) {
    const std::size_t looks = words.at_end() ? 1 : words.whole("how many looks", 1);
    words.end("on N");
    const std::size_t from = run().at();
    if (run().is_over()) {
        words.fail_at_last("the run is over", "go back first: back, to TIME");
    }
    moved().to_look(from + looks);
    stood(from);
    tell_stopped("");
}

void Session::back(Words& words) {
    const std::size_t from = run().at();
    if (words.take("to")) {
        if (!words.take("stop")) {
            words.fail_at_next("expected `stop`", "write back to stop, back 3, or to 1.2s");
        }
        words.end("back to stop");
        std::vector<std::size_t>& stood_at = stood_[branches_.here().name];
        while (!stood_at.empty() && stood_at.back() >= from) {
            stood_at.pop_back();
        }
        const std::size_t last = stood_at.empty() ? 0 : stood_at.back();
        if (!stood_at.empty()) {
            stood_at.pop_back();
        }
        moved().to_look(last);
        return tell_stopped("");
    }
    const std::size_t looks = words.at_end() ? 1 : words.whole("how many looks", 1);
    words.end("back N");
    if (from == 0) {
        words.fail_at_last("it stands at the first look", "go on: on, to TIME, go");
    }
    moved().to_look(from - std::min(from, looks));
    tell_stopped("");
}

Stop Session::condition(Words& words) {
    words.take("when");
    const std::string text = words.rest();
    if (text.empty()) {
        words.fail_at_next(
            "expected what to stop at, found the end of the line",
            "write a time, a way, line N, block NAME, place NAME, junction, unanswered, lost or a condition");
    }
    const ProbeResult made = make_probe(plan(), text);
    if (!made.probe) {
        const Problem& first = made.problems.front();
        words.fail_in_rest(static_cast<std::size_t>(std::max(0, first.place.column - 1)), first.message, first.cure);
    }
    return stop_when(plan(), *made.probe);
}

/// Something that begins; none when the next word is a time or so.
std::optional<Stop> Session::target(Words& words, const std::string& what) {
    std::optional<Stop> made;
    if (words.take("line")) {
        made = stop_at_line(plan(), static_cast<int>(words.whole("the number of a line", 1)));
    } else if (words.take("block")) {
        made = stop_in_block(plan(), words.word("the name of a block"));
    } else if (words.take("place")) {
        made = stop_at_place(parts_.scene.course(), words.word("the name of a place"));
    } else if (words.take("junction")) {
        made = stop_at_junction(parts_.scene, words.at_end() ? std::string() : words.word("the name of a junction"));
    } else if (words.take("unanswered")) {
        made = stop_unanswered();
    } else if (words.take("lost")) {
        made = stop_at_loss();
    } else if (const auto way = words.way_mm()) {
        made = stop_after_way(*way);
    } else {
        made = condition(words);
    }
    words.end(what);
    return made;
}

void Session::to(Words& words) {
    const std::size_t from = run().at();
    if (words.take("start")) {
        words.end("to start");
        moved().to_look(0);
    } else if (words.take("end")) {
        words.end("to end");
        moved().to_end();
    } else if (words.take("look")) {
        const std::size_t look = words.whole("the number of a look", 1);
        words.end("to look N");
        moved().to_look(look - 1);
    } else if (const auto time = words.time_s()) {
        words.end("to TIME");
        moved().to_time(*time);
    } else {
        std::optional<Stop> stop = target(words, "to WHAT");
        if (run().is_over()) {
            words.fail_at_last("the run is over", "go back first: back, to TIME");
        }
        const bool there = go_on(moved(), *stop);
        stood(from);
        return tell_stopped(there ? "" : fmt::format("it never came to {}", stop->words()));
    }
    if (run().at() > from) {
        stood(from);
    }
    tell_stopped("");
}

void Session::stop(Words& words) {
    std::optional<Stop> made = target(words, "stop WHAT");
    stops_.push_back(std::move(*made));
    streams_.out << fmt::format("stop {}: {}\n", stops_.size(), stops_.back().words());
}

void Session::list_stops(Words& words) {
    words.end("stops");
    for (std::size_t i = 0; i < stops_.size(); ++i) {
        streams_.out << fmt::format("stop {}: {}\n", i + 1, stops_[i].words());
    }
    streams_.out << (stops_.empty() ? "no stop is kept\n" : "");
}

void Session::drop(Words& words) {
    const std::size_t number = words.whole("the number of a stop", 1);
    words.end("drop N");
    if (number > stops_.size()) {
        words.fail_at_last(fmt::format("there is no stop {}", number), "`stops` lists them");
    }
    stops_.erase(stops_.begin() + static_cast<std::ptrdiff_t>(number) - 1);
}

void Session::go(Words& words) {
    words.end("go");
    if (run().is_over()) {
        words.fail_at_last("the run is over", "go back first: back, to TIME");
    }
    const std::size_t from = run().at();
    const auto reached = go_on(moved(), stops_);
    stood(from);
    tell_stopped(reached ? fmt::format("stop {}: {}", *reached + 1, stops_[*reached].words()) : "");
}

void Session::show(Words& words) {
    words.end("show");
    print_step(streams_, parts_.scene, run(), where());
}

void Session::draw(Words& words) {
    const std::string path = words.word("the name of a file");
    words.end("draw FILE");
    const PictureFormat format = format_for(path);
    streams_.files->writes(path);
    streams_.files->check();
    write_output(streams_, path, picture(format));
}

std::string Session::picture(PictureFormat format) const {
    StepView view{parts_.scene.course().name, where(), run(), {}, branches_.here().name};
    for (const RunBranch& one : branches_.all()) {
        if (&one != &branches_.here()) {
            view.beside.push_back(&one);
        }
    }
    return draw_step(parts_.scene, view, format);
}

void Session::branch(Words& words) {
    const std::string name = words.word("a name");
    words.end("branch NAME");
    if (run().is_over()) {
        words.fail_at_last("the run is over, so nothing can part from it here", "go back first: back, to TIME");
    }
    const std::vector<std::size_t> stood_so_far = stood_[branches_.here().name];
    branches_.part(name);
    stood_[name] = stood_so_far;
    streams_.out << where() << "\n";
}

void Session::take(Words& words) {
    const std::string name = words.word("the name of a branch");
    words.end("take NAME");
    branches_.take(name);
    streams_.out << where() << "\n";
}

void Session::list_branches(Words& words) {
    words.end("branches");
    for (const RunBranch& one : branches_.all()) {
        const std::string from =
            one.from.empty() ? std::string() : fmt::format(", from {} at look {}", one.from, one.look + 1);
        const std::string stands =
            one.run.is_over()
                ? fmt::format("ended at {:.3f} s: {}", one.run.run().time_s, name_of(one.run.run().ending))
                : fmt::format("at look {}, {:.3f} s", one.run.at() + 1, one.run.time_s());
        streams_.out << fmt::format("{} {}{}: {}\n", &one == &branches_.here() ? "*" : " ", one.name, from, stands);
    }
}

void Session::beside(Words& words) {
    const std::string name = words.word("the name of a branch");
    words.end("beside NAME");
    const RunBranch& other = branches_.find(name);
    if (&other == &branches_.here()) {
        words.fail_at_last("that is the branch in hand", "name another one; `branches` lists them");
    }
    print_beside(streams_, parts_.scene, branches_.here(), other);
}

void Session::what_if(Words& words) {
    if (run().is_over()) {
        words.fail_at_last("the run is over", "go back first: back, to TIME");
    }
    moved().instead(change(words));
    streams_.out << where() << "\n";
}

void Session::save(Words& words) {
    const std::string path = words.word("the name of a file");
    words.end("save FILE");
    streams_.files->writes(path);
    streams_.files->check();
    std::string text = "# " + parts_.call + "\n";
    for (const std::string& line : done_) {
        text += line + "\n";
    }
    write_output(streams_, path, text);
}

void Session::tell_help(Words& words) {
    words.end("help");
    print_columns(streams_.out, help());
}

} // namespace vturn
