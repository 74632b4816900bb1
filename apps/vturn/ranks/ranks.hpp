#pragma once

/// This process as one of several that mpirun started.

#include <memory>

#include "vast_turn/base/crew.hpp"

namespace vturn {

/// A crew of ranks, and how it parts.
class Ranks : public vast_turn::Crew {
public:
    /// At the end, in every rank: waits a moment for the others; when they do not come (one is lost, or ended by a
    /// fault of its own) ends them all with this status.
    virtual void part(int status) = 0;
};

/// Null where this process was started alone. Throws InputError when it is one of several and the part of vturn that
/// joins them is not installed.
std::unique_ptr<Ranks> join_ranks();

/// What the module defines, as `vturn_join_ranks`.
using JoinRanks = Ranks*();

} // namespace vturn
