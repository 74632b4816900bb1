#pragma once

/// What a written plan holds.

#include <mutex>

#include "assist/scan.hpp"
#include "vast_turn/plan/explain/pattern_table.hpp"

namespace vast_turn {

struct WrittenPlan::Body {
    std::string text;
    std::vector<Problem> problems;
    std::optional<Plan> plan;
    assist::Scan scan;
    std::vector<TextMark> marks;
    std::vector<std::size_t> lines; ///< where each begins

    /// The tables of a plan that compiles; made when they are asked for first.
    const std::vector<HabitTable>& tables() const {
        std::call_once(made_, [this] { tables_ = plan ? pattern_tables(*plan) : std::vector<HabitTable>{}; });
        return tables_;
    }

private:
    mutable std::once_flag made_;
    mutable std::vector<HabitTable> tables_;
};

} // namespace vast_turn
