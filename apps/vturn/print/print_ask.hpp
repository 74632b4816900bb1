#pragma once

#include <vector>

#include "cli.hpp"
#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/card_check.hpp"

namespace vturn {

/// One look in full. `number` counts from 1; `robot` may be null.
void print_reply(const Streams& streams, const vast_turn::Plan& plan, const vast_turn::Reply& reply, std::size_t number,
                 const vast_turn::Robot* robot);

/// What came of a log, the first difference in full.
void print_log_check(const Streams& streams, const vast_turn::Plan& plan, const vast_turn::LogCheck& check,
                     const std::vector<vast_turn::LoggedLook>& log, const vast_turn::Robot* robot);

/// The check with a card of tape.
void print_card_check(const Streams& streams, const vast_turn::Plan& plan, const vast_turn::Robot& robot,
                      const std::vector<vast_turn::CardStep>& steps);

} // namespace vturn
