#include "course/graph/thinning.hpp"

#include <algorithm>
#include <array>

namespace vast_turn {

namespace {

unsigned around(const std::vector<std::uint8_t>& on, std::size_t at, const Around& next) {
    unsigned bits = 0;
    for (unsigned i = 0; i < 8; ++i) {
        bits |= static_cast<unsigned>(on[at + static_cast<std::size_t>(next.step[i])]) << i;
    }
    return bits;
}

constexpr bool is_on(unsigned bits, unsigned i) { return ((bits >> (i % 8)) & 1U) != 0; }

/// Which neighbourhoods let a cell go, in the first and in the second half of a round.
std::array<std::array<bool, 256>, 2> rules_of_going() {
    std::array<std::array<bool, 256>, 2> goes{};
    for (unsigned bits = 0; bits < 256; ++bits) {
        int pieces = 0; // that its neighbours hang together in
        int one = 0;    // pairs of neighbours with a cell, counted from a side and from a corner
        int other = 0;
        for (unsigned i = 0; i < 8; i += 2) {
            pieces += !is_on(bits, i) && (is_on(bits, i + 1) || is_on(bits, i + 2)) ? 1 : 0;
            one += is_on(bits, i + 7) || is_on(bits, i) ? 1 : 0;
            other += is_on(bits, i) || is_on(bits, i + 1) ? 1 : 0;
        }
        const int pairs = std::min(one, other);
        const bool goes_at_all = pieces == 1 && (pairs == 2 || pairs == 3);
        goes[0][bits] = goes_at_all && !((is_on(bits, 0) || is_on(bits, 1) || !is_on(bits, 3)) && is_on(bits, 2));
        goes[1][bits] = goes_at_all && !((is_on(bits, 4) || is_on(bits, 5) || !is_on(bits, 7)) && is_on(bits, 6));
    }
    return goes;
}

/// A cell in the corner of a step: its neighbours hold together without it.
bool only_thickens(unsigned bits) {
    for (unsigned i = 0; i < 8; i += 2) {
        if (is_on(bits, i) && is_on(bits, i + 2) && !is_on(bits, i + 5) &&
            !((is_on(bits, i + 4) || is_on(bits, i + 6)))) {
            return true;
        }
    }
    return false;
}

} // namespace

// By chamfers of 3 and 4 (G. Borgefors: Distance transformations in digital images, 1986).
std::vector<std::uint8_t> depths(const LineMask& mask) {
    const Around next(mask.columns);
    std::vector<std::uint8_t> deep(mask.line.size());
    const auto lower = [&](std::size_t at, std::initializer_list<int> before) {
        unsigned least = 255;
        for (const int i : before) {
            const unsigned there = deep[at + static_cast<std::size_t>(next.step[i])];
            least = std::min(least, there + (i % 2 == 0 ? 3U : 4U));
        }
        return least;
    };
    for (std::size_t at = 0; at < deep.size(); ++at) {
        if (mask.line[at] >= half_covered) {
            deep[at] = static_cast<std::uint8_t>(lower(at, {7, 0, 1, 6}));
        }
    }
    for (std::size_t at = deep.size(); at-- > 0;) {
        if (mask.line[at] >= half_covered) {
            deep[at] = static_cast<std::uint8_t>(std::min<unsigned>(deep[at], lower(at, {2, 3, 4, 5})));
        }
    }
    return deep;
}

Skeleton thinned(const LineMask& mask, std::vector<std::uint8_t> deep) {
    static const std::array<std::array<bool, 256>, 2> goes = rules_of_going();
    const Around next(mask.columns);
    Skeleton skeleton;
    skeleton.on.resize(mask.line.size());
    for (std::size_t at = 0; at < mask.line.size(); ++at) {
        if (deep[at] != 0) {
            skeleton.on[at] = 1;
            skeleton.cells.push_back(at);
        }
    }
    skeleton.deep = std::move(deep);
    std::vector<std::uint8_t>& on = skeleton.on;
    std::vector<std::size_t> gone;
    for (bool changed = true; changed;) {
        changed = false;
        for (const std::array<bool, 256>& rule : goes) {
            gone.clear();
            for (const std::size_t at : skeleton.cells) {
                if (rule[around(on, at, next)]) {
                    gone.push_back(at);
                }
            }
            for (const std::size_t at : gone) {
                on[at] = 0;
            }
            changed = changed || !gone.empty();
            skeleton.cells.erase(std::remove_if(skeleton.cells.begin(), skeleton.cells.end(),
                                                [&](std::size_t at) { return on[at] == 0; }),
                                 skeleton.cells.end());
        }
    }
    for (const std::size_t at : skeleton.cells) {
        if (only_thickens(around(on, at, next))) {
            on[at] = 0;
        }
    }
    skeleton.cells.erase(
        std::remove_if(skeleton.cells.begin(), skeleton.cells.end(), [&](std::size_t at) { return on[at] == 0; }),
        skeleton.cells.end());
    return skeleton;
}

} // namespace vast_turn
