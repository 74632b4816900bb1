#pragma once

/// One look: what the robot's decision logic is told, and what it answers.
///
/// Freestanding: only fixed-size data, so that the same types serve on a microcontroller. A plan is
/// one way to turn a Look into an Answer; any C++ callable of the form
/// `void(const Look&, Answer&)` is another.

#include <cstdint>

namespace vast_turn {

inline constexpr int look_sensors = 8; ///< room for the readings of this many line sensors
/// The range when nothing is ahead and no sensor says how far it would see.
inline constexpr double nothing_ahead_mm = 1e6;
inline constexpr int look_events = 32; ///< at most this many events in one look; more are counted

/// What is known at one look.
struct Look {
    double clock_ms = 0.0;              ///< since the first look
    double sensor[look_sensors] = {};   ///< readings from the left, 0 floor .. 1 line
    double raw[look_sensors] = {};      ///< the same as raw counts
    std::uint8_t line_bits = 0;         ///< bit k is set when sensor k+1 sees line
    std::uint8_t sensors = 0;           ///< how many sensors there are
    double offset = 0.0;                ///< weighted position of the line, positive to the left
    double last_side = 1.0;             ///< side where the line was last seen: +1 left, -1 right
    double way_mm = 0.0;                ///< net way of the point midway between the wheels
    double range_mm = nothing_ahead_mm; ///< to what is ahead; the range sensor's greatest when nothing is
    std::uint16_t markers = 0;          ///< bit k is set when marker k of the plan is in view
    double heading_deg = 0.0;           ///< since the first look, counter-clockwise, does not wrap
    double left_deg = 0.0;              ///< how far the left wheel has turned, net
    double right_deg = 0.0;
    double battery_pct = 100.0;
    bool button = false; ///< whether the start button is held
};

/// What an event is about; `Event::what` means something else for each.
enum class EventKind : std::uint8_t {
    note,       ///< a note of the plan; `what` is its number in the program's list of texts
    unanswered, ///< no rule held; `what` is the pattern's bits
    cut_short,  ///< more than 16 transfers in one look; `what` is the block reached
};

struct Event {
    EventKind kind = EventKind::note;
    std::uint16_t what = 0;
};

inline constexpr std::uint16_t no_rule = 0xFFFF;

/// What the logic answers. Wheel powers are percent, positive forward; whoever drives the motors
/// clips them to -100..100 (a plan's answer is clipped already).
struct Answer {
    double left_pct = 0.0;
    double right_pct = 0.0;
    bool halted = false;          ///< the run is over; powers are 0
    std::uint16_t block = 0;      ///< the block that acted last in this look
    std::uint16_t rule = no_rule; ///< the rule that acted last in this look, or no_rule
    std::uint8_t events = 0;      ///< how many of `event` are filled
    std::uint8_t events_lost = 0; ///< how many did not fit
    Event event[look_events] = {};

    /// Appends an event, or counts it as lost when there is no room.
    constexpr void add(EventKind kind, std::uint16_t what) {
        if (events < look_events) {
            event[events++] = {kind, what};
        } else if (events_lost < 255) {
            ++events_lost;
        }
    }
};

} // namespace vast_turn
