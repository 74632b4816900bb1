#pragma once

/// Where guesses were in the looks before, and which of those are settled.

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <utility>
#include <vector>

namespace vast_turn {

/// x, y and heading (radians) of a guess.
using GuessPlace = std::array<float, 3>;

/// The places of all guesses look by look, as long as they may matter: once all guesses have one past in common, only
/// that is kept.
class GuessPasts {
public:
    /// A look: where each guess is, and which guess of the look before each comes from (empty: the one of its own
    /// number).
    void add(std::vector<GuessPlace> places, std::vector<std::uint32_t> parents) {
        if (parents.empty()) {
            parents = numbers(places.size());
        }
        from_.push_back(std::move(parents));
        places_.push_back(std::move(places));
    }

    std::size_t open_looks() const { return places_.size(); }

    /// Follows the guesses that live on (their parents in the last look; empty: all of them) back to where they have
    /// one past. `best` is that of the last look whose past is taken when they have none, as of a robot that stands.
    void settle(std::vector<std::uint32_t> alive, std::uint32_t best) {
        if (alive.empty()) {
            alive = numbers(places_.back().size());
        }
        for (std::size_t i = places_.size(); i-- > 0;) {
            std::sort(alive.begin(), alive.end());
            alive.erase(std::unique(alive.begin(), alive.end()), alive.end());
            if (alive.size() == 1) {
                settle_to(i, alive.front());
                return;
            }
            for (std::uint32_t& one : alive) {
                one = from_[i][one];
            }
        }
        const std::size_t half = places_.size() / 2;
        for (std::size_t i = places_.size() - 1; i > half; --i) {
            best = from_[i][best];
        }
        settle_to(half, best);
    }

    /// The whole past of a guess of the last look.
    std::vector<GuessPlace> of(std::uint32_t guess) {
        if (!places_.empty()) {
            settle_to(places_.size() - 1, guess);
        }
        return std::exchange(settled_, {});
    }

private:
    static std::vector<std::uint32_t> numbers(std::size_t count) {
        std::vector<std::uint32_t> all(count);
        for (std::size_t n = 0; n < count; ++n) {
            all[n] = static_cast<std::uint32_t>(n);
        }
        return all;
    }

    void settle_to(std::size_t last, std::uint32_t at) {
        std::vector<GuessPlace> past(last + 1);
        for (std::size_t i = last + 1; i-- > 0;) {
            past[i] = places_[i][at];
            at = from_[i][at];
        }
        settled_.insert(settled_.end(), past.begin(), past.end());
        const auto done = static_cast<std::ptrdiff_t>(last + 1);
        places_.erase(places_.begin(), places_.begin() + done);
        from_.erase(from_.begin(), from_.begin() + done);
    }

    std::vector<std::vector<std::uint32_t>> from_;
    std::vector<std::vector<GuessPlace>> places_;
    std::vector<GuessPlace> settled_; ///< of the looks before those that are open
};

} // namespace vast_turn
