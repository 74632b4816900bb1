#pragma once

/// A sweep that can be gone on with: each point is written down as soon as it is done.

#include <cstddef>
#include <cstdint>
#include <map>
#include <optional>
#include <string>
#include <string_view>

#include "vast_turn/sweep/sweep.hpp"

namespace vast_turn {

/// A number by which two sweeps are told apart: of all that decides their results, one text behind the other (FNV-1a of
/// 64 bits: Fowler, Noll, Vo; draft-eastlake-fnv).
class SweepFingerprint {
public:
    /// Takes a text in; its length too, so that two texts are not one.
    void take(std::string_view text);
    std::uint64_t value() const { return value_; }

private:
    std::uint64_t value_ = 0xcbf29ce484222325U;
};

/// A file to which points are appended, a line each with a checksum. A line that was cut off by the end of its process,
/// or does not match its checksum, ends what is known; it is written over. While one lives no other process may open
/// the same file.
class SweepJournal {
public:
    /// Opens or begins it. Throws InputError when it cannot be opened, is in use, is no journal, or is one of another
    /// sweep.
    SweepJournal(const std::string& path, std::uint64_t fingerprint, std::size_t points);
    ~SweepJournal();
    SweepJournal(const SweepJournal&) = delete;
    SweepJournal& operator=(const SweepJournal&) = delete;

    /// A point that was done before, without its values; none when it is still to be driven.
    std::optional<SweepPoint> known(std::size_t index) const;
    /// How many are known.
    std::size_t size() const { return known_.size(); }
    /// Writes one down, at once. Throws InputError when that fails. One call at a time.
    void done(std::size_t index, const SweepPoint& point);

private:
    /// Takes in the lines that are whole; says where they end.
    std::size_t read(const std::string& text, const std::string& head);

    std::string path_;
    int file_ = -1;
    std::map<std::size_t, SweepPoint> known_;
};

} // namespace vast_turn
