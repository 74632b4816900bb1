#pragma once

/// Runs a flat program, one call a look.
///
/// Freestanding: no heap, no recursion, no exceptions, no library beyond <cstddef> and <cstdint>.
/// A look costs at most the rules of the blocks that it passes through (16 transfers at the most)
/// plus one pass over the watches; its memory is fixed before the first look.

#include <cstddef>
#include <cstdint>

#include "vast_turn/plan/runtime/look.hpp"
#include "vast_turn/plan/runtime/program.hpp"

namespace vast_turn::runtime {

/// What one `lasting` remembers.
struct WatchState {
    double since_ms = 0.0;   ///< clock of the look in which its condition became true
    std::uint32_t looks = 0; ///< looks in a row in which its condition was true
    bool holds = false;
};

/// The rules that acted in one look, in order: one, and one more for each transfer.
struct Trail {
    std::uint16_t rule[most_transfers + 2] = {};
    std::uint8_t count = 0;
};

/// Where the block in hand began, and other memory, for whoever explains a look.
struct Memory {
    double began_ms = 0.0;
    double began_way_mm = 0.0;
    double began_heading_deg = 0.0;
    double began_left_deg = 0.0;
    double began_right_deg = 0.0;
    double weighted = 0.0;   ///< offset by the plan's own weights
    std::uint32_t looks = 0; ///< since the block began
    std::uint16_t acting = no_rule;
    bool started = false;
};

/// Memory that a machine for this program needs, in bytes, besides the Machine itself.
constexpr std::size_t memory_bytes(const Program& program) { return program.watch_count * sizeof(WatchState); }

/// The state of a plan that is being carried out.
///
/// The program's tables and the watch memory must outlive the machine. Copying a machine shares its
/// watch memory: copy that too and call `attach`.
class Machine {
public:
    /// `watches` is room for program.watch_count states (may be null when there are none).
    Machine(const Program& program, WatchState* watches);

    /// Back to the state before the first look.
    void reset();

    /// Decides one look. Looks must come in the order of their clocks. After the plan has halted
    /// every answer is power 0 and `halted`.
    void look(const Look& in, Answer& out);

    /// Uses another copy of the watch memory.
    void attach(WatchState* watches) { watches_ = watches; }

    /// Writes down the rules that act from now on; null stops it. The trail must outlive that.
    void follow(Trail* trail) { trail_ = trail; }

    Memory memory() const {
        return {began_ms_, began_way_,           began_heading_, began_left_, began_right_,
                weighted_, look_ - began_looks_, acting_,        started_};
    }
    const WatchState* watches() const { return watches_; }

    /// Divisions by zero and other results that had to be replaced, since the start.
    std::uint32_t faults() const { return faults_; }

    /// The block in hand.
    std::uint16_t block() const { return block_; }

private:
    enum class Outcome : std::uint8_t { acted, moved_on, halted };

    void update_watches(const Look& in);
    bool holds(const Rule& rule, const Look& in);
    std::uint16_t first_rule_that_holds(const Block& block, const Look& in);
    double evaluate(std::uint16_t at, const Look& in);
    Outcome act(std::uint16_t rule, const Look& in, Answer& out);
    Outcome transfer(std::uint16_t block, const Look& in, Answer& out);
    bool step(const Instruction& instruction, const Look& in, double*& top);
    void move(Op motion, const double* top);
    void enter(std::uint16_t block, const Look& in);
    void finish(Answer& out) const;
    double input(const Instruction& instruction, const Look& in) const;

    Program program_;
    WatchState* watches_ = nullptr;
    Trail* trail_ = nullptr;
    double left_ = 0.0;
    double right_ = 0.0;
    double began_ms_ = 0.0;
    double began_way_ = 0.0;
    double began_heading_ = 0.0;
    double began_left_ = 0.0;
    double began_right_ = 0.0;
    double weighted_ = 0.0;
    std::uint32_t began_looks_ = 0;
    std::uint32_t look_ = 0;
    std::uint32_t faults_ = 0;
    std::uint16_t block_ = 0;
    std::uint16_t acting_ = no_rule;
    std::uint8_t transfers_ = 0;
    bool started_ = false;
    bool halted_ = false;
};

} // namespace vast_turn::runtime
