#pragma once

/// The functions of a plan's blocks, guards and watches.

#include <string>
#include <vector>

#include "emit/shape.hpp"

namespace vast_turn::emit {

/// What most of the functions take: the state, the look, the answer.
std::vector<std::string> look_parameters();

/// Rules of a habit, asked in their order.
std::string habit_function(const Shape& shape, std::size_t block);

/// Items of an errand, one after another.
std::string errand_function(const Shape& shape, std::size_t block);

/// Guards of one block, or of the plan when `block` is no_block; each guard's acts have a function of their own.
std::string guards_function(const Shape& shape, std::uint16_t block);

/// Every `lasting` and `fresh` at a look.
std::string watches_function(const Shape& shape);

/// The words of a block in which a ramp goes along with this item; `f` is its frame.
Where words_of_item(const Shape& shape, const runtime::Item& item);

/// How far an item's limit has come, as a truth, in the item's words; `f` is its frame.
std::string limit_truth(const Shape& shape, const runtime::Item& item);

/// Marks what is fresh in a rule's condition as acted upon.
void spend_rule(class Lines& lines, const Shape& shape, const runtime::Block& block, const runtime::Rule& rule,
                const std::string& cells);

/// What must hold for a rule to act; "true" when it always does.
std::string rule_truth(const Shape& shape, const runtime::Rule& rule, const Where& where);

} // namespace vast_turn::emit
