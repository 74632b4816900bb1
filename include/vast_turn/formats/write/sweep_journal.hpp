#pragma once

/// A sweep that can be gone on with: each point is written down as soon as it is done.

#include <cstddef>
#include <cstdint>
#include <map>
#include <optional>
#include <string>

#include "vast_turn/formats/write/checked_lines.hpp"
#include "vast_turn/sweep/sweep.hpp"

namespace vast_turn {

/// A file of points, see CheckedLines.
class SweepJournal {
public:
    /// Opens or begins it; `fingerprint` is of all that decides the results. Throws InputError as CheckedLines does,
    /// also for the journal of another sweep.
    SweepJournal(const std::string& path, std::uint64_t fingerprint, std::size_t points);

    /// One that only knows what another has read, by its text().
    explicit SweepJournal(std::string text);
    const std::string& text() const { return lines_.text(); }

    /// A point that was done before, without its values; none when it is still to be driven.
    std::optional<SweepPoint> known(std::size_t index) const;
    /// How many are known.
    std::size_t size() const { return known_.size(); }
    /// Writes one down, at once. Throws InputError when that fails. One call at a time.
    void done(std::size_t index, const SweepPoint& point);

private:
    bool take(std::string_view line);

    std::map<std::size_t, SweepPoint> known_; // before the lines, which fill it
    CheckedLines lines_;
};

} // namespace vast_turn
