#pragma once

/// Numbers that say of what they are.

#include <cstddef>
#include <cstdint>

namespace vast_turn {

/// The number of an entry in a list of `Of`, so that a node's number is not taken for a stretch's. One that was only
/// declared is of none. Small and plain: pass it by value.
template <class Of> class Id {
public:
    constexpr Id() = default;
    /// The entry with this index, below 4,294,967,295.
    template <class Index> constexpr explicit Id(Index index) : number_(static_cast<std::uint32_t>(index)) {}

    /// Whether it is of any.
    constexpr explicit operator bool() const { return number_ != of_none; }
    /// Where the entry stands in its list; never asked of none.
    constexpr std::size_t index() const { return number_; }

    friend constexpr bool operator==(Id, Id) = default;
    friend constexpr bool operator<(Id a, Id b) { return a.number_ < b.number_; }

private:
    static constexpr std::uint32_t of_none = 0xFFFFFFFF;
    std::uint32_t number_ = of_none;
};

} // namespace vast_turn
