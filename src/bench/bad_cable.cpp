#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/base/noise.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/bench/stand_in.hpp"
#include "vast_turn/settings/setting.hpp"

namespace vast_turn {

namespace {

/// A share as draws of 32 bits have it.
bool is_below(std::uint32_t bits, double share) { return static_cast<double>(bits) < share * 4294967296.0; }

std::uint32_t bits_of(const Draw& draw, std::size_t at) {
    return static_cast<std::uint32_t>(draw[at]) | static_cast<std::uint32_t>(draw[at + 1]) << 16U;
}

} // namespace

CableFaults parse_cable_faults(const std::vector<std::string>& words) {
    CableFaults faults;
    const std::pair<const char*, double*> known[] = {
        {"lost", &faults.lost}, {"doubled", &faults.doubled}, {"garbled", &faults.garbled}, {"cut", &faults.cut}};
    for (const std::string& word : words) {
        const std::size_t equals = word.find('=');
        const std::string name = word.substr(0, equals);
        const auto* const found =
            std::find_if(std::begin(known), std::end(known), [&](const auto& fault) { return name == fault.first; });
        if (found == std::end(known)) {
            const std::string near = nearest(name, {"lost", "doubled", "garbled", "cut"});
            throw InputError("", fmt::format("a cable has no fault `{}`", name),
                             near.empty() ? "it has lost, doubled, garbled and cut: lost=0.01"
                                          : fmt::format("did you mean {}=0.01?", near));
        }
        const auto share = equals == std::string::npos ? std::nullopt : parse_number(word.substr(equals + 1));
        if (!share || !share->unit.empty() || share->value < 0.0 || share->value > 1.0) {
            throw InputError("", fmt::format("`{}` is no share of the bytes", word),
                             fmt::format("give a number from 0 to 1: {}=0.01", name));
        }
        *found->second = share->value;
    }
    return faults;
}

std::string BadCable::through(std::string_view bytes) {
    std::string out;
    for (const char byte : bytes) {
        const std::uint64_t at = draws_++;
        const Draw draw = random_draw(seed_, Stream::cable, 2 * at);
        const Draw other = random_draw(seed_, Stream::cable, 2 * at + 1);
        if (is_below(bits_of(draw, 0), faults_.cut)) {
            return out;
        }
        if (is_below(bits_of(draw, 2), faults_.lost)) {
            continue;
        }
        const bool is_garbled = is_below(bits_of(draw, 4), faults_.garbled);
        const char comes =
            is_garbled ? static_cast<char>(static_cast<unsigned char>(byte) ^ (1U << (other[0] & 7U))) : byte;
        out.append(is_below(bits_of(draw, 6), faults_.doubled) ? 2 : 1, comes);
    }
    return out;
}

} // namespace vast_turn
