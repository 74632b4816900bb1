#include "trial/farther.hpp"

#include <algorithm>
#include <set>
#include <tuple>
#include <utility>

namespace vast_turn {

std::vector<Farther> worth_another(std::vector<Farther> all) {
    const auto likelier = [](const Farther& a, const Farther& b) {
        return std::tuple(a.change->unlikely, a.change->kind, a.change->size) <
               std::tuple(b.change->unlikely, b.change->kind, b.change->size);
    };
    const auto farther = [&](const Farther& a, const Farther& b) {
        return a.as_expected != b.as_expected ? a.as_expected > b.as_expected : likelier(a, b);
    };
    std::set<std::pair<int, CureKind>> taken;
    std::vector<Farther> chosen;
    const auto choose = [&](const auto& before) {
        constexpr std::size_t most = 2;
        std::stable_sort(all.begin(), all.end(), before);
        std::size_t count = 0;
        for (const Farther& one : all) {
            if (count < most && taken.insert({one.change->line, one.change->kind}).second) {
                chosen.push_back(one);
                ++count;
            }
        }
    };
    choose(farther);
    choose(likelier);
    return chosen;
}

} // namespace vast_turn
