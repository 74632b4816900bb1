#pragma once

/// What was too bold, and what is too much like it.

#include <vector>

#include "tune/field.hpp"

namespace vast_turn {

class TuneCaution {
public:
    /// Keeps a reference.
    explicit TuneCaution(const TuneField& field) : field_(field) {}

    /// This one was too bold: what is near it and hardly slower will be so too. Each time it steps back farther.
    void back_off(CandidateNumber one);
    bool is_careful(CandidateNumber one) const;
    /// Of a list, the fastest first, those that are; the slowest where none is.
    std::vector<CandidateNumber> careful(const std::vector<CandidateNumber>& ranked) const;

private:
    const TuneField& field_;
    std::vector<CandidateNumber> too_bold_;
    double back_ = 0.0; ///< what is slower by no more than this part is left alone
};

} // namespace vast_turn
