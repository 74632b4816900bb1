#include "vast_turn/formats/read/chip_text.hpp"

#include <charconv>
#include <optional>
#include <sstream>
#include <string_view>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"

namespace vast_turn {

namespace {

[[noreturn]] void refuse(const std::string& text, const std::string& what) {
    throw InputError("", fmt::format("{} in the chip `{}`", what, text),
                     "write its kind, then its clock, flash and memory as far as they matter: 8-bit,16MHz,24kB,1.5kB");
}

/// A number of at most 1e9 with this unit behind it, more than 0.
std::optional<double> amount(std::string_view part, std::string_view unit) {
    if (!part.ends_with(unit)) {
        return std::nullopt;
    }
    part.remove_suffix(unit.size());
    double value = 0.0;
    const auto [end, error] = std::from_chars(part.data(), part.data() + part.size(), value, std::chars_format::fixed);
    const bool read = error == std::errc() && end == part.data() + part.size();
    return read && value > 0.0 && value <= 1e9 ? std::optional(value) : std::nullopt;
}

std::optional<double> bytes(std::string_view part) {
    const std::optional<double> thousands = amount(part, "kB");
    return thousands ? std::optional(1024.0 * *thousands) : amount(part, "B");
}

} // namespace

ChipRoom parse_chip(const std::string& text) {
    std::istringstream parts(text);
    std::string part;
    std::getline(parts, part, ',');
    ChipRoom chip;
    if (part != "8-bit" && part != "32-bit") {
        refuse(text, fmt::format("`{}` is no kind{}", part, did_you_mean(part, {"8-bit", "32-bit"})));
    }
    chip.kind = part == "8-bit" ? ChipKind::bits_8 : ChipKind::bits_32;
    while (std::getline(parts, part, ',')) {
        const std::optional<double> mhz = amount(part, "MHz");
        const std::optional<double> room = bytes(part);
        double* const told = mhz ? &chip.mhz : (chip.flash_bytes > 0.0 ? &chip.memory_bytes : &chip.flash_bytes);
        if (!mhz && !room) {
            refuse(text, fmt::format("`{}` is neither a clock nor a size", part));
        }
        if (*told > 0.0) {
            refuse(text, fmt::format("`{}` comes after {}", part, mhz ? "another clock" : "flash and memory"));
        }
        *told = mhz ? *mhz : *room;
    }
    if (text.ends_with(',')) {
        refuse(text, "nothing stands behind the last comma");
    }
    return chip;
}

} // namespace vast_turn
