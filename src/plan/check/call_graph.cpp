#include "plan/check/call_graph.hpp"

#include <algorithm>

namespace vast_turn::lang {

CallGraph::CallGraph(const CheckedPlan& plan) : plan_(plan) {
    for (const Rule& guard : plan.guards) {
        add(no_slot, guard.acts, true);
    }
    for (std::size_t i = 0; i < plan.blocks.size(); ++i) {
        const LaidBlock& block = plan.blocks[i];
        const int number = static_cast<int>(i);
        for (const Rule& guard : block.guards) {
            add(number, guard.acts, true);
        }
        for (const Rule& rule : block.rules) {
            add(number, rule.acts, false);
        }
        for (const LaidItem& item : block.items) {
            if (item.act.kind == ActKind::call || item.act.kind == ActKind::become) {
                entries_.push_back({number, static_cast<int>(plan.block_number(item.act.name)),
                                    item.act.kind == ActKind::call, false, &item.act, &item});
            }
        }
    }
    close(plan.blocks.size());
}

void CallGraph::add(int from, const std::vector<Act>& acts, bool by_guard) {
    for (const Act& act : acts) {
        if (act.kind == ActKind::call || act.kind == ActKind::become) {
            entries_.push_back({from, static_cast<int>(plan_.block_number(act.name)), act.kind == ActKind::call,
                                by_guard, &act, nullptr});
        }
    }
}

void CallGraph::close(std::size_t blocks) {
    std::vector<std::vector<std::size_t>> next(blocks);
    for (const Entry& entry : entries_) {
        if (entry.from != no_slot) {
            next[static_cast<std::size_t>(entry.from)].push_back(static_cast<std::size_t>(entry.to));
        }
    }
    reach_.assign(blocks, std::vector<bool>(blocks, false));
    for (std::size_t from = 0; from < blocks; ++from) {
        std::vector<std::size_t> open = {from};
        reach_[from][from] = true;
        while (!open.empty()) {
            const std::size_t at = open.back();
            open.pop_back();
            for (const std::size_t to : next[at]) {
                if (!reach_[from][to]) {
                    reach_[from][to] = true;
                    open.push_back(to);
                }
            }
        }
    }
}

Depth deepest(const CallGraph& graph, const std::vector<int>& cells) {
    // A block's need is its own memory and that of the deepest block that it does; one that it becomes
    // stands in its place. No block leads back to itself over a `do`, so this settles after as many rounds as
    // there are blocks.
    std::vector<Depth> need;
    for (const int own : cells) {
        need.push_back({1, own});
    }
    for (bool changed = true; changed;) {
        changed = false;
        for (const Entry& entry : graph.entries()) {
            if (entry.from == no_slot || (entry.by_guard && entry.comes_back)) {
                continue;
            }
            Depth& mine = need[static_cast<std::size_t>(entry.from)];
            const Depth& its = need[static_cast<std::size_t>(entry.to)];
            const int frames = its.frames + (entry.comes_back ? 1 : 0);
            const int memory = its.cells + (entry.comes_back ? cells[static_cast<std::size_t>(entry.from)] : 0);
            changed = changed || frames > mine.frames || memory > mine.cells;
            mine.frames = std::max(mine.frames, frames);
            mine.cells = std::max(mine.cells, memory);
        }
    }
    Depth all = need.front();
    for (const Entry& entry : graph.entries()) {
        if (entry.from == no_slot && !entry.comes_back) { // takes the place of everything
            all.frames = std::max(all.frames, need[static_cast<std::size_t>(entry.to)].frames);
            all.cells = std::max(all.cells, need[static_cast<std::size_t>(entry.to)].cells);
        }
    }
    for (const Entry& entry : graph.entries()) { // each guard's block can stand on top of all that is in hand
        if (entry.by_guard && entry.comes_back) {
            all.frames += need[static_cast<std::size_t>(entry.to)].frames;
            all.cells += need[static_cast<std::size_t>(entry.to)].cells;
        }
    }
    return all;
}

} // namespace vast_turn::lang
