#pragma once

/// Which blocks do or become which.

#include <vector>

#include "plan/check/checked.hpp"

namespace vast_turn::lang {

/// One way from a block (or from the plan-wide guards) into another.
struct Entry {
    int from = no_slot; ///< no_slot: a plan-wide guard
    int to = 0;
    bool comes_back = false; ///< by `do`
    bool by_guard = false;
    const Act* act = nullptr;
    const LaidItem* item = nullptr; ///< of an errand
};

class CallGraph {
public:
    explicit CallGraph(const CheckedPlan& plan);

    const std::vector<Entry>& entries() const { return entries_; }

    /// Whether a block can lead to another over any number of entries (or is it).
    bool leads_to(int from, int to) const {
        return reach_[static_cast<std::size_t>(from)][static_cast<std::size_t>(to)];
    }

private:
    void add(int from, const std::vector<Act>& acts, bool by_guard);
    void close(std::size_t blocks);

    const CheckedPlan& plan_;
    std::vector<Entry> entries_;
    std::vector<std::vector<bool>> reach_;
};

/// How much can be in hand at once.
struct Depth {
    int frames = 1;
    int cells = 0;
};
Depth deepest(const CallGraph& graph, const std::vector<int>& cells);

} // namespace vast_turn::lang
