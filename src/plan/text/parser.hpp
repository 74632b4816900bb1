#pragma once

#include "plan/text/syntax.hpp"

namespace vast_turn::lang {

/// Reads a text into a tree. After a fault it goes on at the next line, so that several are
/// reported; the tree then lacks what could not be read. Grammar: docs/plan-language.md.
PlanTree parse(const Source& source, Problems& problems);

} // namespace vast_turn::lang
