#pragma once

/// Answers of the bench as texts for other programs (docs/files.md).

#include <string>
#include <vector>

#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/recorded/log_comparison.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/card_check.hpp"

namespace vast_turn {

/// Looks and answers, in order. With a robot each says what it does and what stands at its outputs.
std::string replies_json(const Plan& plan, const std::vector<Reply>& replies, const Robot* robot);

/// What came of a log; the first difference in full, the others by their numbers.
std::string log_check_json(const Plan& plan, const std::vector<LoggedLook>& log, const LogCheck& check,
                           const Robot* robot, const LogComparison* on_course = nullptr);

/// What the plan decides at each look of a log, as CSV, beside what was logged.
std::string decisions_csv(const Plan& plan, const std::vector<LoggedLook>& log, const LogCheck& check);

/// The check with a card of tape.
std::string card_check_json(const Plan& plan, const Robot& robot, const std::vector<CardStep>& steps);

} // namespace vast_turn
