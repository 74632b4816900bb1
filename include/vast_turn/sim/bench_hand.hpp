#pragma once

/// The simulated robot in somebody's hand, look by look: held over tape, floor and plates, a card under its sensors.

#include <cstdint>
#include <memory>
#include <string>
#include <vector>

#include "vast_turn/robot/faults.hpp"
#include "vast_turn/runtime/look.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// How the array is held.
struct HeldOver {
    /// What lies under it.
    enum class What : std::uint8_t {
        floor, ///< bare floor under all sensors
        line,  ///< tape under each sensor
        plate, ///< a plate of the course under each sensor
        sweep, ///< the tape passes under the array, from its left end to its right end
        card,  ///< over bare floor, a card of tape under some sensors
    };
    What what = What::floor;
    std::string colour{};   ///< of a plate, by its name in the course's palette
    unsigned cards = 0;     ///< bit k: the card is under sensor k + 1
    double share = 0.0;     ///< of a sweep: how much of it is done, 0 to 1
    bool backwards = false; ///< of a sweep: from the right end to the left
};

/// Holds a robot over a course. Each look is a little elsewhere, as hands are.
class BenchHand {
public:
    /// The scene must outlive it. Throws InputError when the course has no straight tape longer than twice its width,
    /// or no free floor large enough.
    BenchHand(const Scene& scene, std::uint64_t seed, const Faults& faults = {});
    ~BenchHand();
    BenchHand(BenchHand&& other) noexcept;
    BenchHand& operator=(BenchHand&& other) noexcept;

    /// Refuses (InputError) what cannot be held so: a colour of which no plate lies there, a card under a sensor that
    /// there is not.
    void check(const HeldOver& held) const;

    /// Raw counts of the line sensors in the next look, into the first of max_sensors places. The same calls give the
    /// same counts.
    void look(const HeldOver& held, double* counts);

private:
    struct Held;
    std::unique_ptr<Held> held_;
};

} // namespace vast_turn
