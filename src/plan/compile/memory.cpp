#include "plan/compile/memory.hpp"

#include <algorithm>

#include "plan/check/call_graph.hpp"

namespace vast_turn::lang {

namespace {

constexpr int most_cells = 0x4000; // 128 KiB

class Giver {
public:
    Giver(CheckedPlan& plan, MemoryMap& map) : plan_(plan), map_(map) {}

    void run() {
        map_.watch_of.assign(static_cast<std::size_t>(plan_.parts), no_slot);
        map_.cell_of = map_.watch_of;
        const int vars = static_cast<int>(plan_.vars.size());
        begin(map_.plan, vars + static_cast<int>(plan_.guards.size()));
        guards(plan_.guards);
        map_.plan.cells -= vars;
        map_.blocks.resize(plan_.blocks.size());
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            block(plan_.blocks[i], map_.blocks[i]);
        }
    }

private:
    void begin(BlockMemory& memory, int cells) {
        memory_ = &memory;
        memory.cells = cells;
    }

    int take(int count) {
        const int first = memory_->cells;
        memory_->cells += count;
        return first;
    }

    void guards(const std::vector<Rule>& list) {
        for (std::size_t i = 0; i < list.size(); ++i) {
            guard_ = static_cast<std::uint16_t>(i);
            rule(list[i]);
        }
        guard_ = runtime::no_code;
    }

    void block(LaidBlock& block, BlockMemory& memory) {
        begin(memory, guard_cell(block.params.size(), block.guards.size()));
        guards(block.guards);
        for (const Rule& r : block.rules) {
            rule(r);
        }
        for (LaidLoop& loop : block.loops) {
            loop.cell = take(runtime::loop_marks + (loop.keeps_marks ? runtime::marks_cells : 0));
        }
        for (const LaidItem& item : block.items) {
            in_limit_ = item.limit.kind == Limit::Kind::till;
            part(item.limit.value);
            in_limit_ = false;
            part(item.limit.wheel);
            part(item.condition);
            for (const auto* value : {&item.count, &item.widening}) {
                if (*value) {
                    part(**value);
                }
            }
            acts(item.act);
        }
    }

    void rule(const Rule& rule) {
        part(rule.condition);
        for (const Act& act : rule.acts) {
            acts(act);
        }
    }

    void acts(const Act& act) {
        for (const Expr& arg : act.args) {
            part(arg);
        }
    }

    void part(const Expr& e) {
        for (const Expr& arg : e.args) {
            part(arg);
        }
        if (e.number == no_slot) {
            return;
        }
        const auto number = static_cast<std::size_t>(e.number);
        int& watch = map_.watch_of[number];
        int& cell = map_.cell_of[number];
        if (e.is<Lasting>() || e.is<Fresh>()) {
            watch = static_cast<int>(map_.watches.size());
            map_.watches.push_back(&e);
        }
        if (e.is<Fresh>()) {
            cell = take(1);
            memory_->freshes.push_back(
                {static_cast<std::uint16_t>(watch), static_cast<std::uint16_t>(cell), guard_, in_limit_});
        } else if (e.is<Call>() && cell == no_slot) { // a pid; one that several places share has its memory already
            cell = take(runtime::pid_cells);
        }
    }

    CheckedPlan& plan_;
    MemoryMap& map_;
    BlockMemory* memory_ = nullptr;
    std::uint16_t guard_ = runtime::no_code;
    bool in_limit_ = false;
};

} // namespace

MemoryMap give_out_memory(CheckedPlan& plan, Problems& problems) {
    MemoryMap map;
    Giver(plan, map).run();
    std::vector<int> cells;
    for (const BlockMemory& memory : map.blocks) {
        cells.push_back(memory.cells);
    }
    const Depth depth = deepest(CallGraph(plan), cells);
    map.frames = depth.frames;
    map.cells = static_cast<int>(plan.vars.size()) + map.plan.cells + depth.cells;
    if (map.cells > most_cells || map.watches.size() > 0xFFF0) {
        problems.error({0, 0}, "the plan needs too much memory on the robot",
                       "use fewer loops, pids and `lasting` in blocks that call each other");
    }
    return map;
}

} // namespace vast_turn::lang
