#pragma once

/// The line to a robot: what comes goes into a session, and commands go out until they are answered.

#include <chrono>
#include <deque>
#include <string>
#include <vector>

#include "bench/serial_port.hpp"
#include "vast_turn/bench/bench_session.hpp"
#include "vast_turn/bench/robot_line.hpp"

namespace vturn {

/// Something that happened, for people.
struct Told {
    std::string kind; ///< of RobotSays, or "cable", "answer", "no answer"
    std::string what;
};

class RobotLink {
public:
    /// What it begins with each time the line is there: that the robot's motors are off, unless they may stay as they
    /// are, and in which form it should tell.
    struct Manner {
        bool motors_off = true;
        bool in_frames = false;
    };

    /// Both outlive it.
    RobotLink(SerialPort& port, vast_turn::BenchSession& session, const Manner& manner);

    /// Waits up to so many milliseconds for what comes, and takes it as far as one look, so that a command which waits
    /// for its time is not late. What there is to say comes back.
    std::vector<Told> go_on(int wait_ms);

    /// Sends a command, behind those that wait for their answers.
    void ask(const std::string& words) { waiting_.push_back({words, 0, {}}); }
    bool is_quiet() const { return waiting_.empty(); }

    bool is_open() const { return open_; }
    const std::string& why_closed() const { return port_.why(); }
    /// How often the cable was out.
    int cuts() const { return cuts_; }
    const vast_turn::LineCount& count() const { return ear_.count(); }
    /// Looks that were taken.
    std::uint64_t taken() const { return taken_; }
    /// What the robot said of its motors: they are off, as far as is known.
    bool motors_are_off() const { return motors_off_; }
    bool answers() const { return answered_; }
    /// All looks that came, in order; up to a million.
    const std::vector<vast_turn::LoggedLook>& looks() const { return looks_; }
    /// Looks in the last second by our clock.
    double looks_a_second() const;

private:
    using Clock = std::chrono::steady_clock;
    struct Sent {
        std::string words;
        int tries = 0;
        Clock::time_point last;
    };

    void greet();
    void send_waiting(std::vector<Told>& told);
    void take(const vast_turn::LoggedLook& look);
    void note_line(std::vector<Told>& told);
    void note_set(const vast_turn::RobotReply& reply);
    void take(const vast_turn::RobotReply& reply, std::vector<Told>& told);

    SerialPort& port_;
    vast_turn::BenchSession& session_;
    Manner manner_;
    vast_turn::RobotEar ear_;
    std::deque<Sent> waiting_;
    std::deque<vast_turn::RobotHeard> heard_; // and not taken yet
    std::uint64_t taken_ = 0;                 // looks
    std::vector<vast_turn::LoggedLook> looks_;
    std::deque<Clock::time_point> lately_;
    std::uint64_t unnamed_ = 0; // rows without names, when their names were asked for
    bool open_ = false;
    bool was_open_ = false;
    bool motors_off_ = false;
    bool answered_ = false;
    int cuts_ = 0;
    double lost_for_ms_ = 0.0; // once that was told; 0 while it sees line
};

} // namespace vturn
