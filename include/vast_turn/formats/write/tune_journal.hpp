#pragma once

/// A tuning that can be gone on with: each day that was driven is written down.

#include <cstddef>
#include <cstdint>
#include <map>
#include <string>
#include <utility>
#include <vector>

#include "vast_turn/formats/write/checked_lines.hpp"
#include "vast_turn/tune/tune.hpp"

namespace vast_turn {

/// A file of days by their values, see CheckedLines. A search asks for the same days again, so what is known needs not
/// be driven and the search goes the same way.
class TuneJournal {
public:
    /// Opens or begins it, for values and trips of so many; `fingerprint` is of all that decides the results. Throws
    /// InputError as CheckedLines does.
    TuneJournal(const std::string& path, std::uint64_t fingerprint, std::size_t numbers, std::size_t trips);

    /// One that only knows what another has read, by its text(). Writes nothing.
    TuneJournal(std::string text, std::size_t numbers, std::size_t trips);
    const std::string& text() const { return lines_.text(); }

    /// How many days are known.
    std::size_t size() const { return known_.size(); }

    /// Drives what is not known, and writes that down. The journal must outlive it.
    TuneDrive over(TuneDrive drive);

private:
    using Key = std::pair<TuneValues, std::uint64_t>;
    bool take(std::string_view line);

    std::size_t numbers_;
    std::size_t trips_;
    std::map<Key, std::vector<TuneRun>> known_; ///< no runs where nothing can be driven
    CheckedLines lines_;
};

} // namespace vast_turn
