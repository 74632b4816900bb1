#pragma once

/// Random plans as plain values: written out as text for the compiler, and walked by the words of the
/// language page. Nothing here knows the library's own syntax tree or runtime.

#include <cstdint>
#include <map>
#include <random>
#include <string>
#include <vector>

#include "vast_turn/runtime/look.hpp"

namespace reference {

enum class Type { plain, mm, ms, deg, looks, side, truth };

/// An expression. `op` is the word or sign of the language, or number, side, let, var, param, pattern.
struct Ex {
    std::string op;
    std::string text; ///< marks, a name, the word behind `at` or `by`
    double number = 0.0;
    Type type = Type::plain;
    std::vector<Ex> args;
};

/// `op` is the motion or act word.
struct Act {
    std::string op;
    std::string text;
    int number = 0; ///< of the var or block
    std::vector<Ex> args;
};

struct Rule {
    bool is_else = false;
    bool is_mirrored = false;
    int as_block = -1;
    std::vector<Ex> as_args;
    Ex condition;
    std::vector<Act> acts;
};

struct Limit {
    std::string word; ///< "", till, over
    Ex value;
    std::string by;
    std::vector<Ex> wheel; ///< a side, or none
};

struct Item;

struct Branch {
    bool is_else = false;
    Ex condition;
    std::vector<Item> items;
};

struct Item {
    enum class Kind { act, loop, choice };
    Kind kind = Kind::act;
    Act act;
    Limit limit;
    std::vector<Ex> count;    ///< of a loop, or none
    std::vector<Ex> widening; ///< likewise
    std::vector<Item> body;
    std::vector<Branch> branches;
};

struct Param {
    std::string name;
    Type type = Type::plain;
    bool pid = false; ///< calls may give a pid, so no condition uses it
};

struct Block {
    bool is_errand = false;
    std::string name;
    int group = 0; ///< blocks do blocks of later groups, and become those of their own or later ones
    bool leaves = false;
    std::vector<Param> params;
    std::vector<Rule> guards;
    std::vector<Rule> rules;
    std::vector<Item> items;
};

struct Value {
    std::string name;
    Type type = Type::plain;
    double number = 0.0;
};

struct Plan {
    int sensors = 1;
    std::vector<double> weights;
    std::vector<Value> lets;
    std::vector<Value> vars;
    std::vector<Rule> guards;
    std::vector<Block> blocks;
};

inline const std::vector<std::string> markers = {"amber", "teal", "magenta"};
inline const std::vector<std::string> sounds = {"bell", "whistle"};

/// Makes a plan that is valid by its construction; the same seed gives the same.
Plan make(std::uint32_t seed);

/// Its text.
std::string written(const Plan& plan);

/// Looks that often stay as they were, so that things last.
class Looks {
public:
    Looks(std::uint32_t seed, int sensors) : random_(seed), sensors_(sensors) {}
    /// The next one; the first is as a robot at rest sees it. `places` are the plan's colour sensors in the
    /// compiler's order, `heard` its names.
    const vast_turn::Look& next(const std::vector<std::string>& places, const std::vector<std::string>& heard);

private:
    int pick(int low, int high) { return low + static_cast<int>(random_() % static_cast<unsigned>(high - low + 1)); }

    std::mt19937 random_;
    int sensors_;
    bool first_ = true;
    std::map<std::string, std::uint16_t> seen_by_; ///< marker bits by colour sensor
    vast_turn::Look look_;
};

} // namespace reference
