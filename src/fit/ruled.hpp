#pragma once

/// What a course told of all logs together.

#include <optional>
#include <vector>

#include "vast_turn/recorded/course_ruler.hpp"

namespace vast_turn {

/// Of the logs that were reckoned as the first one was, each by how well it tells. Nothing when there is none.
std::optional<CourseRuler> put_together(const std::vector<CourseRuler>& rulers);

/// One over it.
RuledFactor inverse(const RuledFactor& factor);

} // namespace vast_turn
