#pragma once

/// The words of the plan language, each in one table.

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "plan/text/syntax.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn::lang {

/// A unit as written, and what one of it is in base units.
struct UnitWord {
    const char* word;
    double factor;
    Unit unit;
};
std::optional<UnitWord> find_unit(std::string_view word);
std::vector<std::string> unit_words();

/// An input that is written as a bare name.
struct InputWord {
    const char* word;
    Type type;
    runtime::Op op;
    bool since_block; ///< counts from the start of the block, so means another thing in each
    bool to_the_left; ///< changes its sign in a mirror
};
const InputWord* find_input(std::string_view word);

/// What kind of argument a motion or function takes.
enum class Wants : std::uint8_t { plain, side, any };

struct MotionWord {
    const char* word;
    std::vector<Wants> args;
    runtime::Op op;
    const char* usage;
};
const MotionWord* find_motion(std::string_view word);
std::vector<std::string> motion_words();

/// Functions over numbers of one unit.
struct FunctionWord {
    const char* word;
    int args;
    runtime::Op op;
};
const FunctionWord* find_function(std::string_view word);

/// All names that may stand in an expression: inputs and functions.
std::vector<std::string> value_words();

/// Whether a name of the plan may not be this word.
bool is_reserved(std::string_view word);

/// Where a turn may be taken from: `wheels`, `gyro` or `compass`; the best that the robot has for no word.
std::optional<runtime::Source> find_source(std::string_view word);
std::vector<std::string> source_words();

/// Every word of the language, sorted.
std::vector<std::string> all_words();

} // namespace vast_turn::lang
