#pragma once

/// One look: what the robot's decision logic is told, and what it answers.
///
/// Freestanding: only fixed-size data, so that the same types serve on a microcontroller. A plan is
/// one way to turn a Look into an Answer; any C++ callable of the form
/// `void(const Look&, Answer&)` is another.

#include <cstddef>
#include <cstdint>

namespace vast_turn {

inline constexpr int max_sensors = 8; ///< the most line sensors that a robot may have
/// The range when nothing is ahead and no sensor says how far it would see.
inline constexpr double nothing_ahead_mm = 1e6;
inline constexpr int look_events = 32; ///< at most this many events in one look; more are counted
inline constexpr int look_places = 4;  ///< colour sensors that a plan may ask by name
inline constexpr int look_heard = 16;  ///< names that a plan may listen to

/// What is known at one look.
struct Look {
    double clock_ms = 0.0;                      ///< since the first look
    double sensor[max_sensors] = {};            ///< readings from the left, 0 floor .. 1 line
    double raw[max_sensors] = {};               ///< the same as raw counts
    std::uint8_t line_bits = 0;                 ///< bit k is set when sensor k+1 sees line
    std::uint8_t sensors = 0;                   ///< how many sensors there are
    double offset = 0.0;                        ///< weighted position of the line, positive to the left
    double last_side = 1.0;                     ///< side where the line was last seen: +1 left, -1 right
    double way_mm = 0.0;                        ///< net way of the point midway between the wheels
    double range_mm = nothing_ahead_mm;         ///< to what is ahead; the range sensor's greatest when nothing is
    std::uint16_t markers = 0;                  ///< bit k is set when any colour sensor sees marker k of the plan
    std::uint16_t markers_at[look_places] = {}; ///< the same of the colour sensors that the plan names, in its order
    std::uint16_t heard = 0;                    ///< bit k is set when name k of the plan is heard in this look
    /// Counter-clockwise, does not wrap, by the best source: gyro, compass, wheels. Since the first look; of a compass
    /// in the course's frame.
    double heading_deg = 0.0;
    double heading_by_wheels_deg = 0.0;  ///< the same by each source; 0 when the robot lacks it
    double heading_by_gyro_deg = 0.0;    ///< since the first look
    double heading_by_compass_deg = 0.0; ///< in the course's frame
    double left_deg = 0.0;               ///< how far the left wheel has turned, net
    double right_deg = 0.0;              ///< the right one
    double battery_pct = 100.0;          ///< what is left of it, 0 .. 100
    bool button = false;                 ///< whether the start button is held
};

/// What an event is about; `Event::what` means something else for each.
enum class EventKind : std::uint8_t {
    note,       ///< a note of the plan; `what` is its number in the program's list of texts
    light,      ///< show this light; `what` is the number of its name among the texts
    sound,      ///< make this sound; likewise
    tell,       ///< send `value` to a device; `what` is the number of its name among the texts
    unanswered, ///< no rule held; `what` is the pattern's bits
    cut_short,  ///< more than 16 transfers in one look; `what` is the block reached
};

/// "note", "light" ... "cut short".
constexpr const char* event_name(EventKind kind) {
    switch (kind) {
    case EventKind::note: return "note";
    case EventKind::light: return "light";
    case EventKind::sound: return "sound";
    case EventKind::tell: return "tell";
    case EventKind::unanswered: return "unanswered";
    case EventKind::cut_short: return "cut short";
    }
    return "";
}

/// One thing that the logic says in a look.
struct Event {
    EventKind kind = EventKind::note; ///< what it is about
    std::uint16_t what = 0;           ///< a number whose meaning stands at the kind
    double value = 0.0;               ///< of tell
};

/// The number of a rule, guard or item in its plan: Plan::rule(). One that was only declared is no_rule.
class RuleId {
public:
    constexpr RuleId() = default;
    /// The rule of this number, below 65,535.
    template <class Number> constexpr explicit RuleId(Number number) : number_(static_cast<std::uint16_t>(number)) {}

    /// The number, for lists that have an entry a rule. Of no_rule 65,535.
    constexpr std::size_t index() const { return number_; }

    friend constexpr bool operator==(RuleId a, RuleId b) { return a.number_ == b.number_; }
    friend constexpr bool operator<(RuleId a, RuleId b) { return a.number_ < b.number_; }

private:
    std::uint16_t number_ = 0xFFFF;
};

/// No rule: none acted, or none is meant.
inline constexpr RuleId no_rule{};

/// What the logic answers. Wheel powers are percent, positive forward; whoever drives the motors
/// clips them to -100..100 (a plan's answer is clipped already).
struct Answer {
    double left_pct = 0.0;        ///< -100 .. 100, positive forward
    double right_pct = 0.0;       ///< likewise
    bool halted = false;          ///< the run is over; powers are 0
    std::uint16_t block = 0;      ///< the block that acted last in this look
    RuleId rule;                  ///< the rule, guard or item that acted last in this look, or no_rule
    std::uint8_t events = 0;      ///< how many of `event` are filled
    std::uint8_t events_lost = 0; ///< how many did not fit
    Event event[look_events];     ///< in the order in which they were said

    /// Appends an event, or counts it as lost when there is no room.
    constexpr void add(EventKind kind, std::uint16_t what, double value = 0.0) {
        if (events < look_events) {
            event[events++] = {kind, what, value};
        } else if (events_lost < 255) {
            ++events_lost;
        }
    }
};

} // namespace vast_turn
