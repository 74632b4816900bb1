#include "vast_turn/bench/stand_in.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/bench/robot_line.hpp"
#include "vast_turn/emit/frames.hpp"
#include "vast_turn/robot/array.hpp"
#include "vast_turn/settings/setting.hpp"
#include "vast_turn/sim/stepped_run.hpp"
#include "wire/put_senses.hpp"
#include "wire/text_columns.hpp"

namespace vast_turn {

namespace {

constexpr std::size_t longest_command = 256;

TextNames names_of(const Scene& scene, const std::optional<Plan>& plan) {
    if (plan) {
        return {plan->markers(), plan->places(), plan->heard()};
    }
    TextNames names;
    for (const auto& [name, rgb] : scene.course().palette) {
        names.markers.push_back(name);
    }
    return names;
}

/// The bits of a name in a list.
std::uint16_t bit_of(const std::vector<std::string>& names, const std::string& name) {
    const auto at = std::find(names.begin(), names.end(), name) - names.begin();
    return static_cast<std::uint16_t>(at < static_cast<std::ptrdiff_t>(names.size()) && at < 16 ? 1U << at : 0U);
}

std::vector<std::string_view> cells_of(std::string_view words) {
    std::vector<std::string_view> cells;
    for (std::size_t from = 0; from <= words.size();) {
        const std::size_t end = std::min(words.find(',', from), words.size());
        cells.push_back(words.substr(from, end - from));
        from = end + 1;
    }
    return cells;
}

/// A number such as 44 or -0.25, with at most nine digits, as an exported program reads it.
std::optional<double> number_in(std::string_view text) {
    const std::string_view digits = text.substr(text.starts_with('-') ? 1 : 0);
    const auto is_part = [](char c) { return (c >= '0' && c <= '9') || c == '.'; };
    if (digits.empty() || digits.size() > 10 || !std::all_of(digits.begin(), digits.end(), is_part)) {
        return std::nullopt;
    }
    const std::optional<WrittenNumber> number = parse_number(text);
    return number && number->unit.empty() ? std::optional(number->value) : std::nullopt;
}

} // namespace

struct StandIn::Self {
    enum class Tells : std::uint8_t { nothing, text, frames };

    Self(const Scene& over, const StandInOptions& how)
        : scene(over), options(how), called(names_of(over, how.plan)), columns(text_columns(called, robot(), false)),
          calibration(how.run.calibration.value_or(over.own_calibration())),
          reader(array_reader(robot(), calibration, how.run.numbers)), levels(calibration),
          tells(how.in_frames ? Tells::frames : Tells::text) {
        if (options.plan) {
            check_fit(robot(), *options.plan);
            senses = asked_senses(*options.plan, robot());
        } else if (options.drives || options.in_frames) {
            throw InputError("", options.drives ? "a robot without a plan does not drive" : "frames need a plan",
                             "name it with --plan");
        }
        if (options.drives) {
            drive.emplace(scene, *options.plan, options.run);
        } else {
            hand.emplace(scene, options.run.seed, options.run.faults);
            if (options.plan) {
                mind.emplace(*options.plan, options.run.numbers);
            }
        }
    }

    const Robot& robot() const { return scene.robot(); }

    std::string look() {
        std::string out;
        if (tells == Tells::text && looks % repeat_header == 0) {
            out += header();
        }
        options.drives ? look_of_run(out) : look_by_hand(out);
        ++looks;
        return out + told();
    }

    /// The row or frame of the look in hand.
    std::string told() const {
        if (tells == Tells::text) {
            std::string row = row_of(columns, now);
            if (options.plan) {
                row += fmt::format(",{},{}", said.left_pct, said.right_pct);
            }
            return checked_line(row);
        }
        if (tells == Tells::nothing) {
            return "";
        }
        const bool is_short = options.run.numbers == runtime::NumberKind::binary32;
        FrameContent content(is_short ? 4 : 8);
        put_senses(content, senses, now);
        content.number(said.left_pct);
        content.number(said.right_pct);
        return content.framed(frames::told);
    }

    std::string header() const {
        return checked_header(vast_turn::names_of(columns) + (options.plan ? ",left_pct,right_pct" : ""));
    }

    static void say(std::string& out, std::string_view kind, std::string_view what) {
        std::string words = fmt::format("!{}{}{}", kind, what.empty() ? "" : ",", what);
        std::replace_if(
            words.begin(), words.end(), [](char c) { return static_cast<unsigned char>(c) < 0x20U; }, ' ');
        out += checked_line(words);
    }

    void say_event(std::string& out, const Event& event) const {
        const std::vector<std::string>& texts = options.plan->texts();
        const std::string text = event.what < texts.size() ? texts[event.what] : "";
        if (event.kind == EventKind::tell) {
            say(out, "tell", fmt::format("{}, {:g}", text, event.value));
        } else if (event.kind != EventKind::unanswered && event.kind != EventKind::cut_short) {
            say(out, event_name(event.kind), text);
        }
    }

    void look_by_hand(std::string& out) {
        now.clock_ms = due_ms;
        now.range_mm = robot().range_sensor ? robot().range_sensor->max_mm : nothing_ahead_mm;
        hand->look(held, now.raw);
        now.markers = 0;
        if (held.what == HeldOver::What::plate && !robot().colour_sensors.empty()) {
            now.markers = bit_of(called.markers, held.colour);
        }
        for (std::size_t k = 0; k < called.places.size() && k < look_places; ++k) {
            now.markers_at[k] = now.markers;
        }
        if (mind) {
            reader.from_counts(now);
            (*mind)(now, said);
            for (int i = 0; i < said.events; ++i) {
                say_event(out, said.event[i]);
            }
        }
        due_ms += robot().look_ms + (late() ? robot().late_ms : 0.0);
    }

    bool late() const {
        const Draw draw = random_draw(options.run.seed, Stream::late_loop, looks);
        return static_cast<double>(draw[0]) < robot().late_often * 65536.0;
    }

    void look_of_run(std::string& out) {
        if (motors_off && !drive->is_over()) {
            drive->instead(instead::OtherAnswer{0.0, 0.0});
        }
        if (!drive->is_over()) {
            now = drive->look();
            said = drive->answer();
            drive->next();
            tell_run(out);
            due_ms = drive->is_over() ? now.clock_ms + robot().look_ms : drive->look().clock_ms;
            return;
        }
        now.clock_ms = due_ms;
        said.left_pct = said.right_pct = 0.0;
        due_ms += robot().look_ms;
    }

    /// What came of the run since the last look.
    void tell_run(std::string& out) {
        const Run& run = drive->run();
        for (; events_told < run.events.size(); ++events_told) {
            say_event(out, run.events[events_told].event);
        }
        for (; visits_told < run.visits.size(); ++visits_told) {
            say(out, "place", scene.course().places[run.visits[visits_told].place].name);
        }
        if (drive->is_over()) {
            say(out, word_for(run.ending), run.ended_because);
        }
    }

    static const char* word_for(Ending ending) { return ending == Ending::halted ? "halted" : "ended"; }

    std::string hears(std::string_view bytes) {
        std::string out;
        for (const char c : bytes) {
            if (c != '\n') {
                command += command.size() < longest_command ? std::string(1, c) : "";
                continue;
            }
            if (!command.empty() && command.back() == '\r') {
                command.pop_back();
            }
            if (!command.empty()) {
                const auto words = words_of_checked(command);
                out += words ? obey(*words) : checked_line("?its check sum is wrong");
            }
            command.clear();
        }
        return out;
    }

    static std::string done(std::string_view words) { return checked_line(fmt::format("={}", words)); }
    static std::string cannot(std::string_view why) { return checked_line(fmt::format("?{}", why)); }

    std::string obey(std::string_view words) {
        const std::vector<std::string_view> cells = cells_of(words);
        if (cells[0] == "motors" && cells.size() == 2 && (cells[1] == "off" || cells[1] == "on")) {
            motors_off = cells[1] == "off";
            return done(words);
        }
        if (cells[0] == "tell" && cells.size() == 2) {
            return obey_tell(words, cells[1]);
        }
        if (cells[0] == "level" && cells.size() == 4) {
            return obey_level(words, cells);
        }
        if (words == "use") {
            reader = array_reader(robot(), levels, options.run.numbers);
            return done(words);
        }
        if (cells[0] == "set" && cells.size() == 3) {
            return obey_set(words, std::string(cells[1]), number_in(cells[2]));
        }
        return cannot(fmt::format("unknown: {}", cells[0]));
    }

    std::string obey_tell(std::string_view words, std::string_view what) {
        if (what == "short" && !options.plan) {
            return cannot("it has no plan");
        }
        if (what != "text" && what != "short" && what != "nothing") {
            return cannot("tell text, short or nothing");
        }
        tells = what == "text" ? Tells::text : (what == "short" ? Tells::frames : Tells::nothing);
        return done(words) + (tells == Tells::text ? header() : "");
    }

    std::string obey_level(std::string_view words, const std::vector<std::string_view>& cells) {
        const std::optional<double> sensor = number_in(cells[1]);
        const std::optional<double> floor = number_in(cells[2]);
        const std::optional<double> line = number_in(cells[3]);
        const auto most = static_cast<double>(levels.sensors.size());
        if (!sensor || !floor || !line || *sensor < 1.0 || *sensor > most || std::floor(*sensor) != *sensor) {
            return cannot("level,SENSOR,FLOOR,LINE");
        }
        SensorLevels& of = levels.sensors[static_cast<std::size_t>(*sensor) - 1];
        of.floor_counts = *floor; // threshold and band are parts of what lies between
        of.line_counts = *line;
        return done(words);
    }

    std::string obey_set(std::string_view words, const std::string& name, std::optional<double> value) {
        if (!options.plan || !value) {
            return cannot(options.plan ? "set,NAME,NUMBER" : "it has no plan");
        }
        const std::vector<std::string>& vars = options.plan->vars();
        const auto at = static_cast<std::size_t>(std::find(vars.begin(), vars.end(), name) - vars.begin());
        if (at == vars.size()) {
            return cannot(fmt::format("no number called {}", name));
        }
        if (mind) {
            mind->set_var(at, *value);
        } else if (!drive->is_over()) {
            drive->instead(instead::OtherVar{at, *value});
        }
        return done(words);
    }

    static constexpr std::uint64_t repeat_header = 100;

    const Scene& scene;
    StandInOptions options;
    TextNames called;
    std::vector<TextColumn> columns;
    std::vector<SenseField> senses;
    Calibration calibration;
    ArrayReader reader;
    Calibration levels; ///< as commands make them, until they are used
    Tells tells;
    std::optional<BenchHand> hand;
    std::optional<Mind> mind;
    std::optional<SteppedRun> drive;
    HeldOver held;
    Look now;
    Answer said;
    bool motors_off = false;
    double due_ms = 0.0;
    std::uint64_t looks = 0;
    std::size_t events_told = 0;
    std::size_t visits_told = 0;
    std::string command;
};

StandIn::StandIn(const Scene& scene, const StandInOptions& options) : self_(std::make_unique<Self>(scene, options)) {}
StandIn::~StandIn() = default;

void StandIn::hold(const HeldOver& held) {
    if (self_->hand) {
        self_->hand->check(held);
        self_->held = held;
    }
}

std::string StandIn::look() { return self_->look(); }

std::string StandIn::hears(std::string_view bytes) { return self_->hears(bytes); }

double StandIn::due_ms() const { return self_->due_ms; }

bool StandIn::is_over() const { return self_->drive && self_->drive->is_over(); }

} // namespace vast_turn
