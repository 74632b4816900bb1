#include "sim/junction_misreads.hpp"

#include <algorithm>
#include <bit>

#include "sim/line_places.hpp"

namespace vast_turn {

namespace {

/// Junctions under the array with no take of a rule that counts while they were, or shortly before or after.
std::vector<UncountedPass> uncounted_passes(const Scene& scene, const Run& run, const std::vector<JunctionRule>& kinds,
                                            const std::vector<JunctionTake>& takes, std::size_t until) {
    constexpr double near_mm = 60.0;  // of way, from a take that is meant for it
    constexpr double same_mm = 250.0; // of way, within which it is the same pass
    struct Pass {
        UncountedPass told;
        std::size_t first = 0;
        std::size_t last = 0;
    };
    std::vector<Pass> passes;
    for (std::size_t i = 0; i < std::min(until, run.looks.size()); ++i) {
        const LookRecord& look = run.looks[i];
        const Vec2 array = array_at(scene, look);
        const NodeId node = nearest_junction(scene.graph(), array);
        if (!node || length(scene.graph().node(node).at - array) > scene.array_outermost_mm()) {
            continue;
        }
        const bool is_same = !passes.empty() && passes.back().told.junction == node &&
                             look.way_mm - run.looks[passes.back().last].way_mm < same_mm;
        if (!is_same) {
            passes.push_back({{node, i, look.line_bits}, i, i});
        }
        Pass& pass = passes.back();
        pass.last = i;
        if (std::popcount(look.line_bits) > std::popcount(pass.told.bits)) {
            pass.told.look = i;
            pass.told.bits = look.line_bits;
        }
    }
    std::vector<UncountedPass> list;
    for (const Pass& pass : passes) {
        const double from = run.looks[pass.first].way_mm - near_mm;
        const double to = run.looks[pass.last].way_mm + near_mm;
        const bool is_counted = std::any_of(takes.begin(), takes.end(), [&](const JunctionTake& take) {
            const double way = take.look < run.looks.size() ? run.looks[take.look].way_mm : -1e9;
            return kinds[take.rule.index()] == JunctionRule::counts && way >= from && way <= to;
        });
        if (!is_counted && pass.told.bits != 0) {
            list.push_back(pass.told);
        }
    }
    return list;
}

} // namespace

JunctionTakes read_takes(const Scene& scene, const Run& run, const std::vector<JunctionRule>& kinds,
                         const std::vector<JunctionTake>& takes, std::size_t until) {
    constexpr double again_mm = 250.0; // of way: about a robot's length and a turn
    JunctionTakes out;
    out.at_junctions.resize(kinds.size(), false);
    if (std::find(kinds.begin(), kinds.end(), JunctionRule::counts) != kinds.end()) {
        out.uncounted = uncounted_passes(scene, run, kinds, takes, until);
    }
    const JunctionTake* before = nullptr;  // the take before this one, of any rule
    const JunctionTake* counted = nullptr; // the last that counted a junction
    NodeId at;                             // which
    std::size_t places = 0;                // that were looked at
    for (const JunctionTake& take : takes) {
        constexpr std::size_t most = 500; // more than any run meets junctions
        if (take.look >= until || take.look >= run.looks.size() || places >= most) {
            break;
        }
        const bool goes_on = before != nullptr && before->rule == take.rule && before->look + 1 == take.look;
        before = &take;
        if (goes_on) {
            continue;
        }
        ++places;
        const LookRecord& look = run.looks[take.look];
        const Vec2 array = array_at(scene, look);
        const LinePlace place = line_place(scene, array);
        const NodeId junction = nearest_junction(scene.graph(), array);
        if (place == LinePlace::other || !junction) {
            continue;
        }
        const bool counts = kinds[take.rule.index()] == JunctionRule::counts;
        if (place == LinePlace::plain) {
            out.misreads.push_back({take, JunctionMisread::Kind::line, junction, {}, 0, array});
            continue;
        }
        if (place == LinePlace::plate) {
            const std::size_t plate = plate_under(scene, array).value_or(0);
            out.misreads.push_back({take, JunctionMisread::Kind::plate, junction, {}, plate, array});
            continue;
        }
        out.at_junctions[take.rule.index()] = true;
        if (counts && counted != nullptr && at == junction) {
            const double way = static_cast<double>(look.way_mm - run.looks[counted->look].way_mm);
            if (way < again_mm) {
                out.misreads.push_back({take, JunctionMisread::Kind::again, junction, *counted, 0, array});
            }
        }
        if (counts) {
            counted = &take;
            at = junction;
        }
    }
    return out;
}

} // namespace vast_turn
