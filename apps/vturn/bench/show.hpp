#pragma once

/// What there is to see at the bench, as lines of text.

#include <string>
#include <vector>

#include "bench/actions.hpp"
#include "bench/link.hpp"
#include "vast_turn/bench/bench_session.hpp"

namespace vturn {

/// A bar and a lamp for each sensor: "2 A1  843  0.02 [==|      ] .". Where there is no calibration the bar is that of
/// the counts.
std::vector<std::string> sensor_rows(const vast_turn::BenchSession& session, int width);

/// Pattern, offset, colours, range and so on: one row each, a name and what there is to say.
std::vector<std::vector<std::string>> sense_rows(const vast_turn::BenchSession& session);

/// What the plan would do and why; nothing without a plan or readings.
std::string plan_words(const vast_turn::BenchSession& session);

/// How the line is: looks, garbled, missing, how often the cable was out; `live` with how many come a second.
std::string line_words(const RobotLink& link, const std::string& port, bool live);

/// One look in a line, for where there is no terminal.
std::string look_words(const vast_turn::BenchSession& session);

/// How far a calibration has grown: looks over each surface, and what is the matter so far, a line each.
std::vector<std::string> learned_rows(const vast_turn::BenchSession& session);

/// The card check as far as it has come: what to do next, and how much each channel answered to which card.
std::string card_rows(const BenchActions& actions, const vast_turn::BenchSession& session);

/// The settings, the chosen one marked; none without.
std::vector<std::string> setting_rows(const BenchActions& actions, std::size_t chosen, int width);

} // namespace vturn
