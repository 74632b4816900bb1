#include "vast_turn/bench/robot_line.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/base/utf8.hpp"
#include "vast_turn/emit/frames.hpp"
#include "vast_turn/formats/read/looks_file.hpp"
#include "vast_turn/robot/array.hpp"
#include "wire/told_reader.hpp"

namespace vast_turn {

namespace {

constexpr std::size_t longest_line = 4096;
/// A clock that goes on by more, or back, is not believed until the next look agrees.
constexpr double longest_jump_ms = 5000.0;
/// None of them may end in its check sum, else the line of columns was garbled.
constexpr int rows_of_doubt = 8;

/// Whether a terminal may be shown it, and a reader given it.
bool is_plain_text(std::string_view text) {
    return first_not_utf8(text) == text.size() && std::none_of(text.begin(), text.end(), [](char c) {
               return (static_cast<unsigned char>(c) < 0x20U && c != '\t') || c == 0x7F;
           });
}

/// "note", "the fork" of "note,the fork".
RobotSays says_of(std::string_view words) {
    const std::size_t comma = words.find(',');
    return {std::string(words.substr(0, comma)),
            comma == std::string_view::npos ? "" : std::string(words.substr(comma + 1))};
}

} // namespace

struct RobotEar::Ear {
    Ear(const Robot& whose, const std::optional<Plan>& drives)
        : robot(whose), plan(drives), reader(array_reader(whose)),
          told(drives ? std::make_unique<ToldReader>(*plan, robot, reader) : nullptr) {
        for (const LineSensor& sensor : robot.sensors) {
            channels.push_back(sensor.channel);
        }
        if (plan) {
            names = asked_names(*plan);
        }
    }

    /// Takes what is whole from the front of `waiting`.
    void work() {
        std::size_t at = 0;
        while (at < waiting.size()) {
            const std::size_t taken = step(std::string_view(waiting).substr(at));
            if (taken == 0) {
                break;
            }
            at += taken;
        }
        waiting.erase(0, at);
    }

    /// Bytes that are done with; 0 when more must come first.
    std::size_t step(std::string_view rest) {
        if (static_cast<std::uint8_t>(rest.front()) == frames::mark) {
            return frame(rest);
        }
        std::size_t end = 0;
        while (end < rest.size() && rest[end] != '\n' && !may_begin_frame(rest, end)) {
            ++end;
        }
        if (end == rest.size()) {
            if (rest.size() < longest_line) {
                return 0;
            }
            garbled();
            return rest.size();
        }
        if (rest[end] != '\n') { // what stands before a frame is no line
            garbled();
            return end;
        }
        std::string_view text = rest.substr(0, end);
        text = text.ends_with('\r') ? text.substr(0, text.size() - 1) : text;
        line(text);
        return end + 1;
    }

    /// The byte is not part of a character of text.
    static bool may_begin_frame(std::string_view text, std::size_t at) {
        return static_cast<std::uint8_t>(text[at]) == frames::mark &&
               (at == 0 || static_cast<std::uint8_t>(text[at - 1]) < 0x80U);
    }

    std::size_t frame(std::string_view rest) {
        const auto* const bytes = reinterpret_cast<const std::uint8_t*>(rest.data());
        const std::size_t whole = frames::frame_here(bytes, rest.size());
        if (whole == 0) {
            const bool may_be_whole = rest.size() < 5 || rest.size() < bytes[2] + std::size_t{5};
            if (may_be_whole) {
                return 0;
            }
            garbled();
            return 1; // behind what only looked like one a whole one may begin
        }
        if (bytes[1] == frames::told) {
            const std::size_t own = told ? told->number_bytes(bytes[2]) : 0;
            own == 0 ? garbled() : look_in_frame(bytes, own);
        } else if (bytes[1] == frames::said) {
            said(bytes);
        }
        return whole;
    }

    void look_in_frame(const std::uint8_t* bytes, std::size_t own) {
        count.checked = true;
        counts_told = true;
        LoggedLook look = told->look(FrameReader(bytes + 3, own), own == 4);
        look.look.clock_ms += told->first_ms(); // the robot's own, also where its first looks were missed
        believe(look, true);
    }

    void said(const std::uint8_t* bytes) {
        const std::size_t numbers = bytes[2] == 7 ? 4 : 8;
        if (bytes[2] != 3 + numbers) {
            return garbled();
        }
        FrameReader reads(bytes + 3, numbers);
        const std::uint32_t kind = reads.whole(1);
        const std::uint32_t what = reads.whole(2);
        if (kind > static_cast<std::uint32_t>(EventKind::cut_short)) {
            return garbled();
        }
        ++count.says;
        const Event event{static_cast<EventKind>(kind), static_cast<std::uint16_t>(what), reads.number()};
        out.emplace_back(RobotSays{event_name(event.kind), words_of(event)});
    }

    std::string words_of(const Event& event) const {
        const bool has_text = plan && event.what < plan->texts().size();
        std::string text = has_text ? plan->texts()[event.what] : fmt::format("number {}", event.what);
        switch (event.kind) {
        case EventKind::tell: return fmt::format("{}, {:g}", text, event.value);
        case EventKind::unanswered: return to_marks({static_cast<std::uint8_t>(event.what), reader.sensors()});
        case EventKind::cut_short: return "";
        default: return text;
        }
    }

    void line(std::string_view text) {
        if (text.find_first_not_of(" \t") == std::string_view::npos) {
            return;
        }
        if (!is_plain_text(text)) {
            return garbled();
        }
        if (text.starts_with("time_")) {
            return named(text);
        }
        if (text.front() == '=' || text.front() == '?') {
            const auto words = words_of_checked(text);
            if (!words) {
                return garbled();
            }
            ++count.replies;
            out.emplace_back(RobotReply{text.front() == '=', std::string(words->substr(1))});
            return;
        }
        if (text.front() == '!') {
            const auto words = words_of_checked(text);
            if (count.checked && !words) {
                return garbled();
            }
            ++count.says;
            out.emplace_back(says_of((words ? *words : text).substr(1)));
            return;
        }
        row(text);
    }

    /// A line with the names of columns.
    void named(std::string_view text) {
        const std::size_t comma = text.rfind(',');
        const bool is_checked = comma != std::string_view::npos && text.substr(comma + 1).starts_with("check_");
        const auto columns = is_checked ? columns_of_checked(text) : std::optional(text);
        if (!columns || (count.checked && !is_checked)) {
            return garbled();
        }
        if (header == *columns) {
            return;
        }
        header = *columns;
        count.checked = is_checked;
        doubted_rows = is_checked || is_known(text.substr(comma + 1)) ? 0 : rows_of_doubt;
        first_row.clear();
        counts_told = header.find("raw_1") != std::string::npos ||
                      (!channels.front().empty() && header.find(channels.front()) != std::string::npos);
    }

    /// Whether a column is one of ours: else it may be a check sum whose name came garbled.
    bool is_known(std::string_view column) const {
        static const char* const names_of_columns[] = {
            "time_ms",       "time_s",      "clock_ms",       "pattern",  "way_mm",    "heading_deg",
            "by_wheels_deg", "by_gyro_deg", "by_compass_deg", "left_deg", "right_deg", "range_mm",
            "markers",       "heard",       "battery_pct",    "button",   "left_pct",  "right_pct"};
        const auto is = [&](const auto& known) { return column == known; };
        return column.starts_with("raw_") || column.starts_with("reading_") || column.starts_with("markers_") ||
               std::any_of(std::begin(names_of_columns), std::end(names_of_columns), is) ||
               std::any_of(channels.begin(), channels.end(), is);
    }

    void row(std::string_view text) {
        if (!count.checked && !header.empty() && words_of_checked(text)) { // so it was their name that came garbled
            header.clear();
            garbled();
        }
        if (header.empty() || doubted_rows > 0) {
            doubted_rows = std::max(0, doubted_rows - 1);
            ++count.unnamed;
            return;
        }
        const auto words = count.checked ? words_of_checked(text) : std::optional(text);
        if (!words) {
            return garbled();
        }
        if (const auto look = parsed(std::string(*words))) {
            believe(*look, count.checked);
        } else {
            garbled();
        }
    }

    /// Behind the first row, from which a heading counts.
    std::optional<LoggedLook> parsed(const std::string& words) {
        for (const bool behind_first : {true, false}) {
            if (behind_first && first_row.empty()) {
                continue;
            }
            try {
                const std::string log = behind_first ? fmt::format("{}\n{}\n{}\n", header, first_row, words)
                                                     : fmt::format("{}\n{}\n", header, words);
                const std::vector<LoggedLook> looks = parse_log(log, "the line", reader, channels, true, names);
                if (looks.size() != (behind_first ? 2U : 1U)) {
                    return std::nullopt;
                }
                if (!behind_first) { // the first, or its clock has begun anew
                    first_row = words;
                }
                return looks.back();
            } catch (const InputError&) {
                continue;
            }
        }
        return std::nullopt;
    }

    bool can_be(const LoggedLook& look) const {
        for (std::size_t k = 0; counts_told && k < robot.sensors.size(); ++k) {
            if (look.look.raw[k] < 0.0 || look.look.raw[k] > robot.sensors[k].adc_max) {
                return false;
            }
        }
        return std::abs(look.left_pct.value_or(0.0)) <= 100.5 && std::abs(look.right_pct.value_or(0.0)) <= 100.5;
    }

    void believe(const LoggedLook& look, bool surely) {
        const double now = look.look.clock_ms;
        const auto follows = [&](std::optional<double> before) {
            return before && now > *before && now - *before <= longest_jump_ms;
        };
        if (!can_be(look)) {
            return garbled();
        }
        if (last_ms && now == *last_ms) { // it came twice
            return garbled();
        }
        if (!surely && last_ms && !follows(last_ms) && !follows(doubtful_ms)) {
            doubtful_ms = now;
            return garbled();
        }
        if (follows(last_ms)) {
            const double periods = std::round((now - *last_ms) / robot.look_ms);
            count.missing += periods > 1.5 ? static_cast<std::uint64_t>(periods) - 1 : 0;
        }
        last_ms = now;
        doubtful_ms.reset();
        ++count.looks;
        out.emplace_back(look);
    }

    void garbled() { ++count.garbled; }

    Robot robot;
    std::optional<Plan> plan;
    ArrayReader reader;
    std::unique_ptr<ToldReader> told;
    std::vector<std::string> channels;
    AskedNames names;
    std::string waiting;
    std::string header;
    std::string first_row;
    int doubted_rows = 0; // to go until a line of columns is believed whose last name nobody knows
    bool counts_told = false;
    std::optional<double> last_ms;
    std::optional<double> doubtful_ms; // what a clock told that nobody believed
    LineCount count;
    std::vector<RobotHeard> out;
};

RobotEar::RobotEar(const Robot& robot, const std::optional<Plan>& plan) : ear_(std::make_unique<Ear>(robot, plan)) {}
RobotEar::~RobotEar() = default;

std::vector<RobotHeard> RobotEar::hears(std::string_view bytes) {
    ear_->waiting += bytes;
    ear_->work();
    return std::exchange(ear_->out, {});
}

const LineCount& RobotEar::count() const { return ear_->count; }

bool RobotEar::tells_counts() const { return ear_->counts_told; }

void RobotEar::cut() {
    if (!ear_->waiting.empty()) {
        ear_->garbled();
    }
    ear_->waiting.clear();
    ear_->last_ms.reset();
    ear_->doubtful_ms.reset();
}

} // namespace vast_turn
