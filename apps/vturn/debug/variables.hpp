#pragma once

/// What an editor shows of a debugged run: the blocks in hand, and values by groups.

#include <string>
#include <vector>

#include "vast_turn/sim/stepped_run.hpp"

namespace vturn {

/// Groups of values; of a block in hand blocks_from and its number.
enum ValueGroup : int { readings = 1, inputs = 2, vars = 3, pids = 4, robot_state = 5, blocks_from = 100 };

/// A name and what stands behind it.
struct ShownValue {
    std::string name;
    std::string value;
    bool can_be_set = false;
};

/// A block in hand, the innermost first.
struct ShownBlock {
    std::string name;
    int number = 0; ///< counted from the outermost, 0
    int line = 0;   ///< of the plan: what acts or waits in it
};

std::vector<ShownBlock> shown_blocks(const vast_turn::SteppedRun& run);

/// The values of a group; none of one that there is not.
std::vector<ShownValue> shown_values(const vast_turn::SteppedRun& run, int group);

/// The change that gives a value of a group another; `text` as one types it. Throws InputError when it cannot be.
vast_turn::Instead change_of(const vast_turn::SteppedRun& run, int group, const std::string& name,
                             const std::string& text);

} // namespace vturn
