#pragma once

/// A simulated robot at the other end of a serial line: it tells its looks and obeys commands as an exported program
/// does.

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/sim/bench_hand.hpp"
#include "vast_turn/sim/run.hpp"
#include "vast_turn/sim/scene.hpp"

namespace vast_turn {

/// What a bad cable does to each byte, as shares 0..1.
struct CableFaults {
    double lost = 0.0;    ///< it does not come
    double doubled = 0.0; ///< it comes twice
    double garbled = 0.0; ///< one of its bits comes the other way round
    double cut = 0.0;     ///< it and the rest of what was sent with it do not come
};

/// Reads "lost=0.01", "doubled=0.002" ... Throws InputError that names the nearest known word.
CableFaults parse_cable_faults(const std::vector<std::string>& words);

/// A cable that is bad by chance; the same seed and bytes give the same. One for each direction.
class BadCable {
public:
    BadCable(const CableFaults& faults, std::uint64_t seed) : faults_(faults), seed_(seed) {}
    /// What comes out at its other end.
    std::string through(std::string_view bytes);

private:
    CableFaults faults_;
    std::uint64_t seed_;
    std::uint64_t draws_ = 0;
};

/// How a stand-in is made.
struct StandInOptions {
    RunOptions run{};           ///< seed, day, faults, calibration and, where it drives, start and limits
    std::optional<Plan> plan{}; ///< what its program decides by; it can do without where it does not drive
    bool drives = false;        ///< over the course by itself; else a hand holds it
    bool in_frames = false;     ///< begins with the short form, which needs a plan
};

/// The robot. Its clock goes on by its loop's period each time, or later where Robot::late_often has it; who calls
/// gives it the pace.
class StandIn {
public:
    /// The scene must outlive it. Throws InputError when plan and options do not fit the robot and the course, or
    /// nothing can be held over it.
    StandIn(const Scene& scene, const StandInOptions& options);
    StandIn(const StandIn&) = delete;
    StandIn& operator=(const StandIn&) = delete;
    ~StandIn();

    /// How it is held from now on, where it does not drive. Throws InputError for what cannot be.
    void hold(const HeldOver& held);

    /// One look, and what it tells of it: bytes for the line.
    std::string look();
    /// Bytes that came over the line; what it answers at once.
    std::string hears(std::string_view bytes);

    /// When its next look is due by its clock, ms since it was switched on.
    double due_ms() const;
    /// Whether its run is over; it goes on telling where it stands.
    bool is_over() const;

private:
    struct Self;
    std::unique_ptr<Self> self_;
};

} // namespace vast_turn
