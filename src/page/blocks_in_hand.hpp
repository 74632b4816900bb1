#pragma once

/// Which blocks a plan had in hand at each look of a run, and since when.

#include <map>
#include <string>
#include <utility>
#include <vector>

#include "formats/write/json_text.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

/// Told look by look what a mind has in hand.
class BlocksInHand {
public:
    explicit BlocksInHand(Plan plan) : plan_(std::move(plan)) {}
    /// Behind each look of a run, in order.
    void look(const Mind& mind, const Look& look);

    /// The number of what is in hand, look by look.
    const std::vector<double>& numbers() const { return numbers_; }
    /// What the numbers stand for: each a list of [block, since when in s], the first block first.
    Json json() const;

private:
    struct InHand {
        std::size_t block = 0;
        double ms = 0.0; ///< since it began, when it was looked at last
        double begun_s = 0.0;
    };
    using Key = std::vector<std::pair<std::size_t, double>>;

    Plan plan_;
    std::vector<InHand> now_;
    std::map<Key, std::size_t> known_;
    std::vector<Key> list_;
    std::vector<double> numbers_;
};

} // namespace vast_turn
