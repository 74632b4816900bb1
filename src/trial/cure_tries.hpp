#pragma once

/// What a search for cures finds out of trips, kept for the next.

#include <cstddef>
#include <cstdint>
#include <map>
#include <mutex>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "vast_turn/trial/cures.hpp"
#include "vast_turn/trial/trip_case.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

/// Runs of changed plans over the trips, each made once.
class CureFinder::Tries {
public:
    Tries(const Plan& plan, const std::vector<TripCase>& others, int threads)
        : plan_(plan), others_(others), threads_(threads) {}

    const Plan& plan() const { return plan_; }
    const std::vector<TripCase>& others() const { return others_; }
    int threads() const { return threads_; }

    /// Whether trip number `i` passes with a plan of this text.
    bool passes(const Plan& changed, const std::string& text, std::size_t i, const RunOptions& options) {
        std::optional<bool>* known = nullptr;
        {
            const std::lock_guard<std::mutex> guard(lock_);
            std::vector<std::optional<bool>>& of_text = known_[{text, {options.seed, options.day}}];
            of_text.resize(others_.size());
            known = &of_text[i];
            if (*known) {
                return **known;
            }
        }
        const bool passed = try_trip(*others_[i].scene, changed, others_[i].trip, options).passed;
        const std::lock_guard<std::mutex> guard(lock_); // another thread may have found the same
        *known = passed;
        return passed;
    }

private:
    Plan plan_;
    const std::vector<TripCase> others_;
    int threads_;
    std::mutex lock_;
    std::map<std::pair<std::string, std::pair<std::uint64_t, std::uint64_t>>, std::vector<std::optional<bool>>> known_;
};

} // namespace vast_turn
