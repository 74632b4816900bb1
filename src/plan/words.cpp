#include "plan/words.hpp"

#include <algorithm>
#include <array>

namespace vast_turn::lang {

namespace {

using runtime::Op;

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

const std::array<MotionWord, 7> motions = {{
    {"wheels", {Wants::plain, Wants::plain}, Op::wheels, "wheels(left power, right power)"},
    {"ahead", {Wants::plain}, Op::ahead, "ahead(power)"},
    {"bend", {Wants::plain, Wants::plain}, Op::bend, "bend(how much to the left, power)"},
    {"pivot", {Wants::side, Wants::plain}, Op::pivot, "pivot(side, power)"},
    {"rotate", {Wants::side, Wants::plain}, Op::rotate, "rotate(side, power)"},
    {"still", {}, Op::still, "still"},
    {"keep", {}, Op::keep, "keep"},
}};

constexpr std::array<FunctionWord, 7> functions = {{
    {"sensor", 1, Op::sensor},
    {"raw", 1, Op::raw},
    {"rolled", 1, Op::rolled},
    {"min", 2, Op::min},
    {"max", 2, Op::max},
    {"abs", 1, Op::abs},
    {"clamp", 3, Op::clamp},
}};

constexpr std::array<std::string_view, 25> grammar_words = {
    "plan",   "sensors", "weights", "let",   "habit",  "else", "as",    "mirrored", "lasting",
    "and",    "or",      "not",     "true",  "false",  "left", "right", "note",     "halt",
    "become", "markers", "var",     "guard", "errand", "do",   "done"};

/// The rest of the language as it is designed: kept free so that a plan of today reads tomorrow.
constexpr std::array<std::string_view, 26> later_words = {
    "var",   "guard", "errand", "do",   "done",  "hold", "fresh", "till", "over",    "loop", "widening", "if", "set",
    "track", "light", "sound",  "tell", "heard", "at",   "by",    "gyro", "compass", "pid",  "ramp",     "of", "wheel"};

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
const MotionWord* find_motion(std::string_view word) { return find_in(motions, word); }
const FunctionWord* find_function(std::string_view word) { return find_in(functions, word); }

std::vector<std::string> motion_words() {
    std::vector<std::string> list;
    append(list, motions);
    return list;
}

std::vector<std::string> value_words() {
    std::vector<std::string> list;
    append(list, inputs);
    append(list, functions);
    return list;
}

bool is_for_later(std::string_view word) {
    return std::find(later_words.begin(), later_words.end(), word) != later_words.end();
}

bool is_reserved(std::string_view word) {
    return std::find(grammar_words.begin(), grammar_words.end(), word) != grammar_words.end() || is_for_later(word) ||
           find_unit(word).has_value() || find_input(word) != nullptr || find_motion(word) != nullptr ||
           find_function(word) != nullptr;
}

} // namespace vast_turn::lang
