#pragma once

/// Slips that people make when they write a plan.

#include <optional>
#include <random>
#include <string>
#include <vector>

namespace fixtures {

struct Slip {
    std::string kind;
    std::string what;
    std::string before; ///< the right text
    std::string after;
    std::vector<int> lines; ///< that are spoilt, of the text after
    std::size_t from = 0;   ///< the spoilt word in the text after
    std::size_t size = 0;
};

/// Spoils a right plan in one way; nothing when the chosen way does not fit the plan.
std::optional<Slip> plant_slip(const std::string& text, std::mt19937& random);

/// The same of other hands, which leave lines out, take `and` for `or`, one comparison, sensor or block for another,
/// count one too many, forget `fresh`, type numbers with a digit too few, and do all that plant_slip() does.
std::optional<Slip> plant_other_slip(const std::string& text, std::mt19937& random);

/// Whether a changed text differs from the slip's only in the spoilt word (a number has many right values), or has one
/// line more where one was left out.
bool same_word(const std::string& changed, const Slip& slip);

} // namespace fixtures
