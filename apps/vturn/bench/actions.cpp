#include "bench/actions.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "call_files.hpp"
#include "print/print.hpp"
#include "print/print_calibration.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/write/bench_csv.hpp"
#include "vast_turn/formats/write/calibration_toml.hpp"
#include "vast_turn/formats/write/text_file.hpp"
#include "vast_turn/wire/told_log.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

/// Over one surface; a hand holds still so long.
constexpr int looks_at_once = 80;

std::vector<std::string> words_in(const std::string& line) {
    std::istringstream in(line);
    std::vector<std::string> words;
    for (std::string word; in >> word;) {
        words.push_back(word);
    }
    return words;
}

[[noreturn]] void refuse(const std::string& what, const std::string& cure) { throw InputError("", what, cure); }

void expect_words(const std::vector<std::string>& words, std::size_t count, const char* form) {
    if (words.size() != count) {
        refuse(fmt::format("`{}` wants other words", words[0]), fmt::format("write it so: {}", form));
    }
}

/// A number as a person writes it, no longer than it must be, and without an exponent, which no plan and no robot
/// reads.
std::string number_words(double value) {
    std::string words = fmt::format("{:.4f}", value);
    words.erase(words.find_last_not_of('0') + 1);
    return words.ends_with('.') ? words.substr(0, words.size() - 1) : words;
}

/// With all digits that robots read: nine, of which nine may stand behind the point.
std::string in_full(double value) {
    constexpr double most = 4e8;
    const int decimals =
        std::clamp(static_cast<int>(std::floor(std::log10(most / std::max(1e-9, std::abs(value))))), 0, 9);
    return fmt::format("{:.{}f}", value, decimals);
}

std::string from_words(const BenchSession& session) { return session.robot().name + " on the bench"; }

} // namespace

BenchActions::BenchActions(const Streams& streams, BenchSession& session, RobotLink& link, BenchSettings* settings)
    : streams_(streams), session_(session), link_(link), settings_(settings) {}

std::vector<std::vector<std::string>> BenchActions::help() {
    return {{"learn floor|line", "remember 80 looks over that; again for 80 more"},
            {"learn plate COLOUR", "the same over a plate"},
            {"learn sweep|sweep-back", "remember the tape passing under the array, until `stop`"},
            {"stop", "remember no more"},
            {"forget floor|line|...", "as if that had not been learned"},
            {"verdicts", "the calibration of what was learned, and what is the matter"},
            {"use", "read with that calibration from now on"},
            {"send", "give the robot those levels"},
            {"anew", "the plan begins anew"},
            {"card", "begin the check with a card of tape"},
            {"hold", "the card lies where it should"},
            {"again", "the last step of that check once more"},
            {"set NAME NUMBER", "a number of the plan on the running robot (--settings)"},
            {"write", "those numbers back into the plan's file"},
            {"motors off|on", "of the robot; on only with --settings"},
            {"save FILE", "calibration (.toml), readings (.csv) or every look (.log.csv)"},
            {"at 2.4s COMMAND", "by the robot's clock"},
            {"leave", "ends the bench"}};
}

std::string BenchActions::carry_out(const std::string& line) {
    const std::vector<std::string> words = words_in(line);
    if (words.empty() || words[0].front() == '#') {
        return "";
    }
    using Action = std::string (BenchActions::*)(const std::vector<std::string>&);
    static const std::map<std::string, Action> actions = {
        {"learn", &BenchActions::learn},      {"stop", &BenchActions::stop},
        {"forget", &BenchActions::forget},    {"use", &BenchActions::use},
        {"send", &BenchActions::send},        {"anew", &BenchActions::anew},
        {"card", &BenchActions::card},        {"hold", &BenchActions::hold},
        {"again", &BenchActions::again},      {"set", &BenchActions::set_by_name},
        {"motors", &BenchActions::motors},    {"save", &BenchActions::save_named},
        {"leave", &BenchActions::leave},      {"verdicts", &BenchActions::tell_verdicts},
        {"write", &BenchActions::write_named}};
    const auto found = actions.find(words[0]);
    if (found != actions.end()) {
        return (this->*found->second)(words);
    }
    std::vector<std::string> known = {"at"};
    for (const auto& [name, action] : actions) {
        known.push_back(name);
    }
    const std::string near = nearest(words[0], known);
    refuse(fmt::format("the bench does not know `{}`", words[0]),
           near.empty() ? "vturn bench --help lists its commands" : fmt::format("did you mean {}?", near));
}

std::string BenchActions::stop(const std::vector<std::string>& /*words*/) {
    session_.lies_over("");
    return "remembers no more";
}

std::string BenchActions::forget(const std::vector<std::string>& words) {
    expect_words(words, 2, "forget floor");
    session_.forget(words[1]);
    return fmt::format("{} is forgotten", words[1]);
}

std::string BenchActions::anew(const std::vector<std::string>& /*words*/) {
    session_.begin_plan();
    return "the plan begins anew";
}

std::string BenchActions::card(const std::vector<std::string>& /*words*/) {
    session_.begin_card_walk();
    walks_ = true;
    return card_words();
}

CardWalk& BenchActions::walk() {
    if (!walks_) {
        refuse("no card is being walked", "begin with `card`");
    }
    return session_.card_walk();
}

std::string BenchActions::hold(const std::vector<std::string>& /*words*/) {
    walk().hold();
    return "";
}

std::string BenchActions::again(const std::vector<std::string>& /*words*/) {
    walk().back();
    return card_words();
}

std::string BenchActions::motors(const std::vector<std::string>& words) {
    expect_words(words, 2, "motors off");
    if (words[1] != "off" && (words[1] != "on" || settings_ == nullptr)) {
        refuse("on the bench the motors stay off", "start with --settings PLAN to change a running robot");
    }
    link_.ask("motors," + words[1]);
    return "";
}

std::string BenchActions::save_named(const std::vector<std::string>& words) {
    expect_words(words, 2, "save sprig.calibration.toml");
    return save(words[1]);
}

std::string BenchActions::tell_verdicts(const std::vector<std::string>& /*words*/) { return verdicts(); }

std::string BenchActions::write_named(const std::vector<std::string>& /*words*/) { return write_back(); }

std::string BenchActions::leave(const std::vector<std::string>& /*words*/) {
    left_ = true;
    return "";
}

std::string BenchActions::learn(const std::vector<std::string>& words) {
    if (words.size() == 3 && words[1] == "plate") {
        if (session_.plan() && !session_.plan()->markers().empty()) {
            const std::vector<std::string>& markers = session_.plan()->markers();
            if (std::find(markers.begin(), markers.end(), words[2]) == markers.end()) {
                refuse(fmt::format("the plan knows no marker `{}`", words[2]),
                       fmt::format("its markers are {}", fmt::join(markers, ", ")));
            }
        }
        if (words[2] == under::floor || words[2] == under::line || words[2].starts_with(under::sweep)) {
            refuse(fmt::format("no plate can be called {}", words[2]), "name the plate's colour");
        }
        session_.lies_over(words[2], looks_at_once);
        return fmt::format("learns {}: {} looks", words[2], looks_at_once);
    }
    for (const char* known : {under::floor, under::line, under::sweep, under::sweep_back}) {
        if (words.size() == 2 && words[1] == known) {
            const bool is_sweep = words[1].starts_with(under::sweep);
            session_.lies_over(known, is_sweep ? 0 : looks_at_once);
            return is_sweep ? fmt::format("learns {} until `stop`", known)
                            : fmt::format("learns {}: {} looks", known, looks_at_once);
        }
    }
    refuse("that cannot be learned", "write learn floor, line, sweep, sweep-back or plate COLOUR");
}

std::string BenchActions::verdicts() const {
    const std::optional<CalibrationReport> report = session_.report();
    if (!report) {
        return fmt::format("no calibration yet: {} looks over the line, {} over the floor, ten of each are wanted",
                           session_.looks_over(under::line), session_.looks_over(under::floor));
    }
    std::ostringstream out;
    std::istringstream nothing;
    print_calibration({nothing, out, out}, *report, from_words(session_));
    return out.str();
}

std::string BenchActions::use(const std::vector<std::string>& /*words*/) {
    if (!session_.use_report()) {
        refuse(session_.report() ? "not every sensor can be used" : "there is no calibration yet",
               session_.report() ? "see `verdicts`" : "learn floor and line first");
    }
    return "reads with what was learned";
}

std::string BenchActions::send(const std::vector<std::string>& /*words*/) {
    const std::optional<CalibrationReport> report = session_.report();
    if (!report || report->any_serious()) {
        refuse(report ? "the calibration has serious faults" : "there is no calibration yet",
               report ? "see `verdicts`; the robot is not given it" : "learn floor and line first");
    }
    const Calibration levels = report->calibration();
    for (std::size_t k = 0; k < levels.sensors.size(); ++k) {
        link_.ask(fmt::format("level,{},{:.2f},{:.2f}", k + 1, levels.sensors[k].floor_counts,
                              levels.sensors[k].line_counts));
    }
    link_.ask("use");
    return "";
}

std::string BenchActions::card_words() const {
    const CardWalk& walk = session_.card_walk();
    if (walk.is_holding()) {
        return "hold it still ...";
    }
    if (!walk.is_done()) {
        return walk.card() == 0 ? "take every card away, then hold"
                                : fmt::format("card under sensor {}, then hold", walk.card());
    }
    const std::vector<WireFinding> found = walk.findings();
    std::string all = found.empty() ? "every channel answers to its own sensor" : "";
    for (const WireFinding& finding : found) {
        all += fmt::format("{}{}: {}\n  to do: {}", all.empty() ? "" : "\n", name_of(finding.kind), finding.says,
                           finding.to_do);
    }
    return all;
}

std::string BenchActions::set_by_name(const std::vector<std::string>& words) {
    if (settings_ == nullptr) {
        refuse("there are no settings", "name the plan whose numbers may be changed: --settings PLAN");
    }
    const std::vector<AdjustableLet>& lets = settings_->plan.lets;
    std::vector<std::string> names;
    for (const AdjustableLet& let : lets) {
        names.push_back(let.name);
    }
    const auto number = words.size() == 3 ? parse_number(words[2]) : std::nullopt;
    const auto at = words.size() == 3
                        ? static_cast<std::size_t>(std::find(names.begin(), names.end(), words[1]) - names.begin())
                        : names.size();
    if (!number || at == names.size() || (!number->unit.empty() && number->unit != lets[at].now.unit)) {
        refuse(fmt::format("`{}` sets nothing", fmt::join(words, " ")),
               fmt::format("write set NAME NUMBER, of {}", fmt::join(names, ", ")));
    }
    if (number->value < lets[at].least || number->value > lets[at].most) {
        refuse(
            fmt::format("{} may be {:g} to {:g} {}", lets[at].name, lets[at].least, lets[at].most, lets[at].now.unit),
            "its comment in the plan says so");
    }
    set(at, number->value);
    return "";
}

void BenchActions::set(std::size_t which, double value) {
    const AdjustableLet& let = settings_->plan.lets[which];
    const double kept = std::clamp(value, let.least, let.most);
    std::vector<double> values = settings_->values;
    values[which] = kept;
    std::vector<ReckonedLet> reckoned;
    if (!settings_->plan.reckoned.empty()) {
        reckoned = reckoned_with(settings_->text, settings_->path, changed_by(values));
    }
    settings_->values = std::move(values);
    link_.ask(fmt::format("set,{},{}", let.name, number_words(kept * let.factor)));
    for (std::size_t i = 0; i < reckoned.size(); ++i) {
        ReckonedLet& known = settings_->plan.reckoned[i];
        if (known.value != reckoned[i].value) {
            link_.ask(fmt::format("set,{},{}", known.name, in_full(reckoned[i].value)));
            known.value = reckoned[i].value;
        }
    }
}

/// The settings of which these values are other than the plan's.
std::vector<Setting> BenchActions::changed_by(const std::vector<double>& values) const {
    std::vector<Setting> changed;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const AdjustableLet& let = settings_->plan.lets[i];
        const std::string value = number_words(values[i]);
        if (value != number_words(let.now.value)) {
            changed.push_back({Setting::Of::plan, let.name, value});
        }
    }
    return changed;
}

std::string BenchActions::write_back() {
    if (settings_ == nullptr) {
        refuse("there are no settings to write", "name the plan whose numbers may be changed: --settings PLAN");
    }
    const std::vector<Setting> changed = changed_by(settings_->values);
    if (changed.empty()) {
        return "nothing was changed";
    }
    std::vector<std::string> words;
    for (const Setting& setting : changed) {
        const AdjustableLet& let = *std::find_if(settings_->plan.lets.begin(), settings_->plan.lets.end(),
                                                 [&](const AdjustableLet& l) { return l.name == setting.name; });
        words.push_back(fmt::format("{} {} (was {})", let.name, setting.value, number_words(let.now.value)));
    }
    SettingsTaken taken;
    const std::string text = plan_text_with(settings_->text, settings_->path, changed, taken);
    if (!compile_plan(text, settings_->path).plan) {
        refuse("the plan would not compile with these numbers", "write other numbers");
    }
    write_file(settings_->path, text);
    settings_->text = text;
    for (std::size_t i = 0; i < settings_->values.size(); ++i) {
        settings_->plan.lets[i].now.value = settings_->values[i];
    }
    return fmt::format("{}: {}", settings_->path, fmt::join(words, ", "));
}

void BenchActions::check_saves(const std::string& path) {
    if (!path.ends_with(".csv") && !path.ends_with(".toml")) {
        refuse(fmt::format("the ending of {} does not say what to write", path),
               "end it with .calibration.toml, .csv (readings) or .log.csv (every look)");
    }
}

std::string BenchActions::save(const std::string& path) const {
    check_saves(path);
    if (path.ends_with(".log.csv")) {
        write_output(streams_, path, told_log_csv(link_.looks(), session_.robot(), session_.plan()));
        return fmt::format("{}: {} looks", path, link_.looks().size());
    }
    if (path.ends_with(".csv")) {
        write_output(streams_, path, bench_csv(session_.readings()));
        return fmt::format("{}: {} looks on the bench", path, session_.readings().looks.size());
    }
    const std::optional<CalibrationReport> report = session_.report();
    if (!report) {
        refuse("there is no calibration yet", "learn floor and line first");
    }
    write_output(streams_, path, calibration_toml(*report, from_words(session_)));
    return fmt::format("{}: the calibration", path);
}

} // namespace vturn
