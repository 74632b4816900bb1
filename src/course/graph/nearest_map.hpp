#pragma once

/// How far cells are from those that were set.

#include <cstddef>
#include <utility>
#include <vector>

namespace vast_turn {

/// How far each cell of a box is from the nearest one that was set: by what its neighbours found, in two sweeps
/// (P.-E. Danielsson: Euclidean distance mapping, 1980).
class NearestMap {
public:
    NearestMap(int wide, int high)
        : wide_(wide), high_(high), off_(static_cast<std::size_t>(wide) * static_cast<std::size_t>(high)) {}

    void set(int x, int y) { at(x, y) = {0, 0}; }

    void sweep() {
        for (const int sign : {1, -1}) {
            for (int y = sign > 0 ? 0 : high_ - 1; y >= 0 && y < high_; y += sign) {
                for (int x = 0; x < wide_; ++x) {
                    for (const auto& [dx, dy] : {std::pair{-1, 0}, {-1, -sign}, {0, -sign}, {1, -sign}}) {
                        ask(x, y, dx, dy);
                    }
                }
                for (int x = wide_; x-- > 0;) {
                    ask(x, y, 1, 0);
                }
            }
        }
    }

    double squared(int x, int y) const { return squared(index(x, y)); }
    /// By rows.
    double squared(std::size_t cell) const { return squared(off_[cell]); }

private:
    static constexpr int far = 1 << 14;
    struct Off {
        int x = far;
        int y = far;
    };

    static double squared(Off off) { return static_cast<double>(off.x) * off.x + static_cast<double>(off.y) * off.y; }

    std::size_t index(int x, int y) const {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(wide_) + static_cast<std::size_t>(x);
    }

    Off& at(int x, int y) { return off_[index(x, y)]; }

    void ask(int x, int y, int dx, int dy) {
        if (x + dx >= 0 && x + dx < wide_ && y + dy >= 0 && y + dy < high_) {
            const Off there = at(x + dx, y + dy);
            const Off here{there.x + dx, there.y + dy};
            if (there.x < far && squared(here) < squared(at(x, y))) {
                at(x, y) = here;
            }
        }
    }

    int wide_;
    int high_;
    std::vector<Off> off_;
};

} // namespace vast_turn
