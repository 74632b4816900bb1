#include "plan/text/words.hpp"

#include <algorithm>
#include <array>

#include "vast_turn/plan/text/language.hpp"

namespace vast_turn::lang {

namespace {

constexpr Unit none{};
constexpr Unit mm{1, 0, 0, 0};
constexpr Unit ms{0, 1, 0, 0};
constexpr Unit deg{0, 0, 1, 0};
constexpr Unit look_unit{0, 0, 0, 1};

constexpr std::array<UnitWord, 9> units = {{
    {"mm", 1.0, mm},
    {"cm", 10.0, mm},
    {"m", 1000.0, mm},
    {"ms", 1.0, ms},
    {"s", 1000.0, ms},
    {"deg", 1.0, deg},
    {"looks", 1.0, look_unit},
    {"look", 1.0, look_unit},
    {"percent", 1.0, none},
}};

constexpr std::array<InputWord, 12> inputs = {{
    {"offset", {Base::number, none}, Op::offset, false, true},
    {"seen", {Base::number, none}, Op::seen, false, false},
    {"last_side", {Base::side, none}, Op::last_side, false, true},
    {"clock", {Base::number, ms}, Op::clock, false, false},
    {"elapsed", {Base::number, ms}, Op::elapsed, true, false},
    {"looks", {Base::number, look_unit}, Op::looks, true, false},
    {"travelled", {Base::number, mm}, Op::travelled, true, false},
    {"turned", {Base::number, deg}, Op::turned, true, false},
    {"range", {Base::number, mm}, Op::range, false, false},
    {"heading", {Base::number, deg}, Op::heading, false, true},
    {"battery", {Base::number, none}, Op::battery, false, false},
    {"button", {Base::truth, none}, Op::button, false, false},
}};

const std::array<MotionWord, 7> motion_table = {{
    {"wheels", {Wants::plain, Wants::plain}, Op::wheels, "wheels(left power, right power)"},
    {"ahead", {Wants::plain}, Op::ahead, "ahead(power)"},
    {"bend", {Wants::plain, Wants::plain}, Op::bend, "bend(how much to the left, power)"},
    {"pivot", {Wants::side, Wants::plain}, Op::pivot, "pivot(side, power)"},
    {"rotate", {Wants::side, Wants::plain}, Op::rotate, "rotate(side, power)"},
    {"still", {}, Op::still, "still"},
    {"keep", {}, Op::keep, "keep"},
}};

constexpr std::array<FunctionWord, 9> functions = {{
    {"sensor", 1, Op::sensor},
    {"raw", 1, Op::raw},
    {"rolled", 1, Op::rolled},
    {"min", 2, Op::min},
    {"max", 2, Op::max},
    {"abs", 1, Op::abs},
    {"clamp", 3, Op::clamp},
    {"pid", 4, Op::pid},
    {"ramp", 2, Op::ramp},
}};

constexpr std::array<std::string_view, 47> grammar_words = {
    "plan",  "sensors",  "markers", "weights", "let",     "var",   "guard", "habit", "errand", "else",
    "as",    "mirrored", "fresh",   "lasting", "and",     "or",    "not",   "true",  "false",  "left",
    "right", "heard",    "at",      "by",      "note",    "light", "sound", "tell",  "set",    "track",
    "do",    "become",   "done",    "halt",    "hold",    "over",  "till",  "of",    "wheel",  "loop",
    "if",    "widening", "wheels",  "gyro",    "compass", "pid",   "ramp"};

/// In the order of runtime::Source.
constexpr std::array<std::string_view, 4> sources = {"", "wheels", "gyro", "compass"};

template <class Table> auto find_in(const Table& table, std::string_view word) -> decltype(table.data()) {
    const auto at = std::find_if(table.begin(), table.end(), [&](const auto& row) { return word == row.word; });
    return at == table.end() ? nullptr : &*at;
}

template <class Table> void append(std::vector<std::string>& list, const Table& table) {
    for (const auto& row : table) {
        list.emplace_back(row.word);
    }
}

} // namespace

std::optional<UnitWord> find_unit(std::string_view word) {
    const UnitWord* found = find_in(units, word);
    return found == nullptr ? std::nullopt : std::optional{*found};
}

std::vector<std::string> unit_words() {
    std::vector<std::string> list;
    append(list, units);
    return list;
}

const InputWord* find_input(std::string_view word) { return find_in(inputs, word); }
const MotionWord* find_motion(std::string_view word) { return find_in(motion_table, word); }
const FunctionWord* find_function(std::string_view word) { return find_in(functions, word); }

std::vector<std::string> motion_words() {
    std::vector<std::string> list;
    append(list, motion_table);
    return list;
}

std::vector<std::string> value_words() {
    std::vector<std::string> list;
    append(list, inputs);
    append(list, functions);
    return list;
}

std::optional<runtime::Source> find_source(std::string_view word) {
    const auto at = std::find(sources.begin(), sources.end(), word);
    return at == sources.end() ? std::nullopt : std::optional{static_cast<runtime::Source>(at - sources.begin())};
}

std::vector<std::string> source_words() { return {sources.begin() + 1, sources.end()}; }

std::vector<std::string> all_words() {
    std::vector<std::string> list(grammar_words.begin(), grammar_words.end());
    append(list, units);
    append(list, inputs);
    append(list, motion_table);
    append(list, functions);
    std::sort(list.begin(), list.end());
    list.erase(std::unique(list.begin(), list.end()), list.end());
    return list;
}

bool is_reserved(std::string_view word) {
    return std::find(grammar_words.begin(), grammar_words.end(), word) != grammar_words.end() ||
           find_unit(word).has_value() || find_input(word) != nullptr || find_motion(word) != nullptr ||
           find_function(word) != nullptr;
}

} // namespace vast_turn::lang

std::vector<std::string> vast_turn::language_words() { return lang::all_words(); }
