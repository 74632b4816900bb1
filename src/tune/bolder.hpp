#pragma once

/// Places that may be faster than one that holds.

#include <optional>
#include <vector>

#include "tune/field.hpp"
#include "tune/surface.hpp"
#include "vast_turn/sweep/axis.hpp"

namespace vast_turn {

class BolderPlaces {
public:
    /// Keeps both; the seed decides which random ways are tried.
    BolderPlaces(const TuneField& field, std::vector<Axis> cube, std::uint64_t seed)
        : field_(field), cube_(std::move(cube)), seed_(seed) {}

    /// The n-th place to try beside one that holds; none where there is no such.
    std::optional<std::vector<double>> nth(CandidateNumber held, int n) const;

private:
    std::optional<std::vector<double>> half_way(CandidateNumber held, const std::vector<double>& middle, int n) const;
    std::optional<std::vector<double>> beyond(CandidateNumber held, const std::vector<double>& middle, int n) const;
    std::optional<std::vector<double>> promising(CandidateNumber held, const std::vector<double>& middle, int n) const;
    TuneSurface times_around(const std::vector<double>& middle, CandidateNumber reference) const;
    bool is_near(CandidateNumber one, const std::vector<double>& middle) const;

    const TuneField& field_;
    std::vector<Axis> cube_; ///< of unit length
    std::uint64_t seed_;
};

} // namespace vast_turn
