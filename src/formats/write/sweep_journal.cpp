#include "vast_turn/formats/write/sweep_journal.hpp"

#include <utility>

#include <fmt/format.h>

namespace vast_turn {

namespace {

/// Numbers to the last bit; the reason of a refusal last, since it may have blanks.
std::string line_of(std::size_t index, const SweepPoint& point) {
    return fmt::format("{} {} {} {:a} {:a} {:a} {:a} {:a} {:a} {}", index, point.runs, point.passed, point.share.low,
                       point.share.high, point.time_s.mean, point.time_s.deviation, point.steering_pct.mean,
                       point.steering_pct.deviation, point.refused);
}

std::optional<std::pair<std::size_t, SweepPoint>> point_in(std::string_view text) {
    std::size_t index = 0;
    SweepPoint point;
    const bool whole = take_word(text, index) && take_word(text, point.runs) && take_word(text, point.passed) &&
                       take_word(text, point.share.low) && take_word(text, point.share.high) &&
                       take_word(text, point.time_s.mean) && take_word(text, point.time_s.deviation) &&
                       take_word(text, point.steering_pct.mean) && take_word(text, point.steering_pct.deviation);
    point.refused = text;
    return whole ? std::optional(std::pair{index, std::move(point)}) : std::nullopt;
}

} // namespace

SweepJournal::SweepJournal(const std::string& path, std::uint64_t fingerprint, std::size_t points)
    : lines_(path, {"sweep", "vast-turn sweep ", fmt::format("vast-turn sweep 1 {:016x} {}", fingerprint, points)},
             [this](std::string_view line) { return take(line); }) {}

SweepJournal::SweepJournal(std::string text)
    : lines_(std::move(text), [this](std::string_view line) { return take(line); }) {}

bool SweepJournal::take(std::string_view line) {
    auto point = point_in(line);
    if (point) {
        known_.insert(std::move(*point));
    }
    return point.has_value();
}

std::optional<SweepPoint> SweepJournal::known(std::size_t index) const {
    const auto at = known_.find(index);
    return at == known_.end() ? std::nullopt : std::optional(at->second);
}

void SweepJournal::done(std::size_t index, const SweepPoint& point) { lines_.append(line_of(index, point)); }

} // namespace vast_turn
