#pragma once

/// The bench in a terminal: drawn anew as looks come, moved by keys.

#include <string>

#include "bench/actions.hpp"
#include "bench/link.hpp"
#include "vast_turn/bench/bench_session.hpp"

namespace vturn {

/// Shows it until it is left. `saves_to` is written by a key; it may be empty.
void show_bench(vast_turn::BenchSession& session, RobotLink& link, BenchActions& actions, const std::string& port,
                const std::vector<std::string>& saves_to);

} // namespace vturn
