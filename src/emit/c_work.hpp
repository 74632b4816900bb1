#pragma once

/// How much work a plan's C is, counted in its text: what a look passes through and what the whole of it holds.

#include <array>
#include <cstddef>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace vast_turn::emit {

/// One kind of thing that C does. What a kind costs on a chip is known by measuring many plans (chip_prices.hpp).
enum class WorkKind : std::uint8_t {
    look,     ///< once a look
    several,  ///< the same, where several blocks can be in hand
    sensor,   ///< which of two thresholds a sensor is held against
    reading,  ///< counts made a reading
    side,     ///< a sensor's part in the side of the line
    clock,    ///< microseconds added up
    question, ///< a rule, guard or item is asked
    branch,   ///< if, switch, &&, || and ?
    bits,     ///< bits of a pattern or a set under a mask
    whole,    ///< a sum of whole numbers
    access,   ///< a field or element
    store,    ///< an assignment
    constant, ///< a number as it is written
    convert,  ///< a whole number made a number
    raw,      ///< counts made a number
    mark,     ///< a quantity that blocks count from where they began
    add,      ///< a sum or difference
    multiply,
    divide,
    compare,
    settled, ///< @settled and the like: a number held against bounds
    small,   ///< @size, @smaller, @larger, @rolled
    pid,
    say,
    watch,     ///< @lasts_looks
    timed,     ///< @lasts_time
    news,      ///< something fresh is brought up to date
    takes,     ///< a rule takes the look
    transfer,  ///< a block begins or ends
    arguments, ///< of a block in hand, brought up to date
    call,      ///< any other function
    kinds
};

constexpr std::size_t work_kinds = static_cast<std::size_t>(WorkKind::kinds);

/// How often each kind of work is done.
struct Work {
    std::array<double, work_kinds> counts{};

    double& operator[](WorkKind kind) { return counts[static_cast<std::size_t>(kind)]; }
    double operator[](WorkKind kind) const { return counts[static_cast<std::size_t>(kind)]; }
    Work& add(const Work& other, double times = 1.0);
};

/// What statements of C do when they are carried out once; the bodies of loops over `i < N` are done N times. Bodies of
/// conditions in `left_out` are not counted.
Work work_of(std::string_view statements, const std::string& prefix,
             const std::vector<std::string_view>& left_out = {});

/// One rule, guard or item: asking it, doing it, and what is done besides in the first look of several.
struct WorkPart {
    Work asked;
    Work done;
    Work begun;
};

/// A plan's C, taken apart.
class SourceWork {
public:
    /// `source` is the text of the pair's .c file, `name` what its names begin with.
    SourceWork(std::string_view source, const std::string& name);

    /// The statements of a function, without what its name begins with; empty when there is none.
    std::string_view body(const std::string& function) const;
    bool has(const std::string& function) const { return bodies_.count(function) != 0; }
    Work work(const std::string& function, const std::vector<std::string_view>& left_out = {}) const {
        return work_of(body(function), prefix_, left_out);
    }
    /// The rules of a habit, the guards of a block or of the plan, the items of an errand, in their order.
    std::vector<WorkPart> parts(const std::string& function) const;
    /// The text of these functions and of all that they call, each once.
    Work reached_from(std::vector<std::string> functions) const;

private:
    std::string prefix_;
    std::map<std::string, std::string> bodies_;
};

} // namespace vast_turn::emit
