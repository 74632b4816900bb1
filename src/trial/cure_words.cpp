/// A cure in words.

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "vast_turn/trial/cures.hpp"

namespace vast_turn {

const char* name_of(CureKind kind) {
    switch (kind) {
    case CureKind::side: return "side";
    case CureKind::marker: return "marker";
    case CureKind::mirrored: return "mirrored";
    case CureKind::word: return "word";
    case CureKind::count: return "count";
    case CureKind::pattern: return "pattern";
    case CureKind::order: return "order";
    case CureKind::limit: return "limit";
    case CureKind::lasting: return "lasting";
    case CureKind::threshold: return "threshold";
    case CureKind::taken_out: return "taken out";
    case CureKind::added: return "added";
    case CureKind::power: return "power";
    }
    return "";
}

const char* promise_of(const Cure& cure) {
    return cure.passes ? "would pass with" : "goes right from there, but not from the start, with";
}

std::string reserve_of(const Cure& cure) {
    std::vector<std::string> parts;
    if (cure.passes) {
        parts.push_back(fmt::format("{} of {} {}", cure.held, cure.repeats, cure.over_days ? "days" : "repeats"));
    }
    if (cure.slower) {
        parts.emplace_back("only slower");
    }
    if (!cure.breaks.empty()) {
        parts.push_back(fmt::format("but then \"{}\" fails", fmt::join(cure.breaks, "\", \"")));
    }
    if (!cure.mends.empty()) {
        parts.push_back(fmt::format("\"{}\" passes too", fmt::join(cure.mends, "\", \"")));
    }
    if (cure.layouts.taken > 0) {
        parts.push_back(fmt::format("holds on {} of {} layouts, without it on {}", cure.layouts.held,
                                    cure.layouts.taken, cure.layouts.before));
    }
    return parts.empty() ? std::string{} : fmt::format(" ({})", fmt::join(parts, "; "));
}

std::string describe(const Cure& cure) {
    return fmt::format("{} {}{}", promise_of(cure), cure.change, reserve_of(cure));
}

} // namespace vast_turn
