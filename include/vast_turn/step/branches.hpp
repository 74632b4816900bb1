#pragma once

/// A run and what it might have been: branches that part from it at a look.

#include <cstddef>
#include <deque>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/sim/stepped_run.hpp"

namespace vast_turn {

/// A run under a name.
struct RunBranch {
    std::string name;
    std::string from;     ///< the branch from which it parts; empty for the first
    std::size_t look = 0; ///< at which it parts
    SteppedRun run;
};

/// Some branches, of which one is in hand.
class Branches {
public:
    /// The first, called "trunk". `most_bytes`: what all of them may take together.
    explicit Branches(SteppedRun trunk, std::size_t most_bytes = 1'500'000'000);

    /// The one in hand.
    RunBranch& here() { return list_[at_]; }
    const RunBranch& here() const { return list_[at_]; }
    const std::deque<RunBranch>& all() const { return list_; }

    /// A new one that parts from the one in hand at the look where that stands; it is in hand then. Throws InputError
    /// when the name is empty or taken, when there are 64 already, and when they would take too much.
    RunBranch& part(const std::string& name);
    /// Takes another one in hand. Throws InputError when there is none of that name.
    RunBranch& take(const std::string& name);
    /// One by its name; throws InputError likewise.
    const RunBranch& find(const std::string& name) const;

private:
    std::deque<RunBranch> list_; // so that what was handed out stays where it is
    std::size_t at_ = 0;
    std::size_t most_bytes_;
};

/// How two runs differ.
struct RunsApart {
    /// The first look at which they saw or answered otherwise, or one had ended; none when they are the same.
    std::optional<std::size_t> look;
    double t_s = 0.0; ///< of that look
    /// The first look at which the robots stood farther apart than asked; none when they never did.
    std::optional<std::size_t> way;
    double way_t_s = 0.0; ///< of that one
    double most_mm = 0.0; ///< how far apart they ever were at a look that both have
};

/// Compares what was recorded, look by look. `apart_mm`: when they count as apart on the floor.
RunsApart runs_apart(const Run& a, const Run& b, double apart_mm = 10.0);

} // namespace vast_turn
