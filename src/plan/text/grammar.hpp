#pragma once

/// The parts of the parser, each defined in the file of its name: parse_expression.cpp, parse_rule.cpp,
/// parse_errand.cpp.

#include <vector>

#include "plan/text/cursor.hpp"
#include "plan/text/syntax.hpp"

namespace vast_turn::lang {

/// Reads one expression (also a condition).
Expr parse_expression(Cursor& cursor);

/// Reads a sum: what may stand behind `over`.
Expr parse_quantity(Cursor& cursor);

/// Reads one value: what may stand behind `of`.
Expr parse_side(Cursor& cursor);

/// Reads a number with its sign and unit.
Expr parse_signed_number(Cursor& cursor);

/// Reads a rule up to the end of its line; a guard when `is_guard` (its word has been taken).
Rule parse_rule(Cursor& cursor, bool is_guard);

/// Reads one act of a rule, or the one of an errand's item.
Act parse_act(Cursor& cursor);

/// Reads the items of an errand up to its }, guards in it into `guards`.
std::vector<Item> parse_items(Cursor& cursor, std::vector<Rule>& guards);

} // namespace vast_turn::lang
