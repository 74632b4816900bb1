#pragma once

/// Wheel powers on their way to the motors.

#include <algorithm>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace vast_turn {

/// One answer of the logic, as speeds that the wheels would settle at.
struct Command {
    std::int64_t at_step = 0; ///< of the simulation, in which it reaches the motors
    double left_mm_s = 0.0;
    double right_mm_s = 0.0;
};

/// Commands in the order in which they were given. A ring with room for all that can be on the way.
class CommandQueue {
public:
    /// Room for `most`.
    explicit CommandQueue(std::int64_t most) : ring_(static_cast<std::size_t>(most)) {}
    std::size_t size() const { return waiting_; }
    std::size_t room() const { return ring_.size(); }
    bool empty() const { return waiting_ == 0; }
    const Command& next() const { return ring_[first_]; }
    /// The i-th that waits, below size().
    const Command& operator[](std::size_t i) const { return ring_[wrapped(first_ + i)]; }
    void put(const Command& command) {
        ring_[wrapped(first_ + waiting_)] = command;
        ++waiting_;
    }
    /// This one, with the room of another where that is more.
    CommandQueue with_room_of(const CommandQueue& other) const {
        CommandQueue roomy(static_cast<std::int64_t>(std::max(ring_.size(), other.ring_.size())));
        for (std::size_t i = 0; i < waiting_; ++i) {
            roomy.put((*this)[i]);
        }
        return roomy;
    }
    Command take() {
        const Command command = ring_[first_];
        first_ = wrapped(first_ + 1);
        --waiting_;
        return command;
    }

private:
    std::size_t wrapped(std::size_t at) const { return at < ring_.size() ? at : at - ring_.size(); }

    std::vector<Command> ring_;
    std::size_t first_ = 0;
    std::size_t waiting_ = 0;
};

} // namespace vast_turn
