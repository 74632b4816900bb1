#pragma once

/// What the parts of the checker share.

#include <map>
#include <string>
#include <vector>

#include "plan/check/check_types.hpp"
#include "plan/text/syntax.hpp"

namespace vast_turn::lang {

/// A place where a block is entered (or its rules are brought in) with arguments.
struct CallSite {
    const Block* caller = nullptr; // none for a plan-wide guard
    Block* callee = nullptr;
    const std::vector<Expr>* args = nullptr; // typed
};

struct CheckContext {
    const Source& source;
    Problems& problems;
    Names names;
    std::map<std::string, Block*> blocks;
    std::vector<CallSite> calls;
    bool clipping_told = false; ///< that some power is more than a motor can give
};

/// Checks the rules and guards of a block (or the plan-wide guards, without a block).
void check_rules(std::vector<Rule>& rules, const Block* block, CheckContext& context);

/// Checks the items of an errand.
void check_items(std::vector<Item>& items, const Block& block, CheckContext& context);

/// Checks one act; `where` says where its values stand.
void check_act(Act& act, Where where, const Block* block, CheckContext& context);

/// Reports acts behind one that leaves.
template <class List, class ActOf> void nothing_behind(const List& list, ActOf act_of, Problems& problems) {
    for (std::size_t i = 0; i + 1 < list.size(); ++i) {
        const Act* act = act_of(list[i]);
        if (act != nullptr) {
            problems.error(act->span, "nothing is done after `" + to_text(*act) + "`", "put it last");
            return;
        }
    }
}

} // namespace vast_turn::lang
