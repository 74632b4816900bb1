#pragma once

/// Runs a flat program, one call a look.
///
/// Freestanding: no heap, no recursion, no exceptions, no library beyond `cstddef` and `cstdint`.
/// A look costs at most the rules and items of the blocks that it passes through (16 transfers at
/// the most) plus one pass over the watches; its memory is fixed before the first look.

#include <cstddef>
#include <cstdint>

#include "vast_turn/runtime/look.hpp"
#include "vast_turn/runtime/program.hpp"

namespace vast_turn::runtime {

/// What one `lasting` or `fresh` remembers.
struct WatchState {
    double since_ms = 0.0;   ///< clock of the look in which its condition became true
    std::uint32_t looks = 0; ///< looks in a row in which its condition was true
    bool holds = false;
    bool held = false; ///< whether it held in the look before; in the first look as now
    bool spent =
        false; ///< of `fresh`: its rule has acted on the news of this look, so no block that begins has it again
};

/// Where the robot stands: what clocks and distances are taken from.
struct Marks {
    double ms = 0.0; ///< clock
    double way_mm = 0.0;
    double heading_deg[4] = {}; ///< by Source
    double left_deg = 0.0;      ///< how far the wheels had turned
    double right_deg = 0.0;
    double looks = 0.0; ///< since the first
};

/// A block in hand.
struct Frame {
    Marks block_began;
    Marks item_began;
    double item_limit = 0.0;      ///< how much, read when the item began
    std::uint32_t acted_look = 0; ///< in which its rule acted last
    std::uint16_t block = 0;
    RuleId acting;                ///< the rule that acted last; no_rule when its block was left between
    std::uint16_t item = 0;       ///< in hand, counted within the block
    std::uint16_t cells = 0;      ///< where its memory begins
    std::uint16_t call = no_code; ///< whose arguments are evaluated at every look
    RuleId guard;                 ///< the guard that did it
    std::int16_t caller = -1;     ///< frame in which the call stands; -1 the plan
    bool item_begun = false;
};

/// Memory that a machine works in. Each part may be null when the program needs none of it.
struct Storage {
    WatchState* watches = nullptr; ///< Program::watch_count
    Frame* frames = nullptr;       ///< Program::frame_count
    double* cells = nullptr;       ///< Program::cell_count
};

/// Memory that a machine for this program needs, in bytes, besides the Machine itself.
constexpr std::size_t memory_bytes(const Program& program) {
    return program.watch_count * sizeof(WatchState) + program.frame_count * sizeof(Frame) +
           program.cell_count * sizeof(double);
}

class Machine;

/// What a look passes through, for whoever explains it.
enum class Stage : std::uint8_t {
    guard,  ///< a guard was asked; its rule number
    limit,  ///< the limit of an item in hand was asked; its number
    rule,   ///< a rule was asked
    item,   ///< an item acts
    branch, ///< an `if` was asked
    begun,  ///< a block began; its number
    ended,  ///< a block ended or was cut off
};

/// Is told of each stage, after the question and before its consequences.
struct Follower {
    void (*seen)(Follower& self, const Machine& machine, Stage stage, std::uint16_t number, bool holds) = nullptr;
    /// For whoever asks what would be if: which rule of the innermost habit acts in place of `rule` (no_rule for none),
    /// and whether the limit of an item is taken to hold. Null leaves all as it is.
    RuleId (*chosen)(Follower& self, const Machine& machine, RuleId rule) = nullptr;
    bool (*limited)(Follower& self, const Machine& machine, std::uint16_t item, bool holds) = nullptr;
};

/// The state of a plan that is being carried out.
///
/// The program's tables and the storage must outlive the machine. Copying a machine shares its
/// storage: copy that too and call `attach`.
class Machine {
public:
    /// Begins before the first look. Both are copied as views: their tables and memory must outlive the machine.
    Machine(const Program& program, const Storage& storage);

    /// Back to the state before the first look.
    void reset();

    /// Decides one look. Looks must come in the order of their clocks. After the plan has ended
    /// every answer is power 0 and `halted`.
    void look(const Look& in, Answer& out);

    /// Uses another copy of the storage.
    void attach(const Storage& storage) {
        storage_ = storage;
        plain_ = nullptr;
    }

    /// Tells of every stage from now on; null stops it. The follower must outlive that.
    void follow(Follower* follower) {
        follower_ = follower;
        plain_ = nullptr;
    }

    /// Divisions by zero and other results that had to be replaced, since the start.
    std::uint32_t faults() const { return faults_; }

    /// The views that it was made with.
    const Program& program() const { return program_; }
    const Storage& storage() const { return storage_; }

    /// The blocks in hand, the first one first; none before the first look.
    int depth() const { return depth_; }
    /// A block in hand, 0 <= i < depth(); good until the next look.
    const Frame& frame(int i) const { return storage_.frames[i]; }

    /// The innermost block; the first before the first look.
    std::uint16_t block() const { return depth_ == 0 ? std::uint16_t{0} : storage_.frames[depth_ - 1].block; }

    /// Whether the last look was taken by a `hold`.
    bool held() const { return was_held_; }

    /// How far the item in hand of a frame has come under its `over`, in the unit of its limit.
    double item_progress(int frame) const {
        const Frame& f = storage_.frames[frame];
        return measure(f, program_.items[program_.blocks[f.block].first_item + f.item]);
    }

    /// How far and how long a block in hand has come since it began, without what a `hold` took, at the look that was
    /// decided last.
    Marks come_in(int frame, const Look& look) const {
        return combined(combined(marks_of(look), held_, -1.0), storage_.frames[frame].block_began, -1.0);
    }

    /// The value of an expression of code that stands outside of the program, where the machine is now: for a
    /// follower. It must look up nothing that remembers (pid).
    double value_of(const Instruction* code, const double* constants) const;

    /// The same as a guard of the whole plan would find it at the look that was decided last, for whoever watches.
    double value_in_plan(const Look& look, const Instruction* code, const double* constants) const;

private:
    /// What came of asking a block: a rule or item acted, it handed over, or it is at its end.
    enum class Outcome : std::uint8_t { acted, moved_on, over };

    /// What expressions look things up in.
    struct Context {
        const Look* look = nullptr;
        const Marks* now = nullptr;
        const Marks* began = nullptr;
        double* cells = nullptr; ///< of the block
        int frame = -1;          ///< -1 for the plan
    };

    /// Powers in percent, positive forward.
    struct Wheels {
        double left = 0.0;
        double right = 0.0;
        bool moved = false; ///< by a motion since this was cleared
    };

    // evaluate.hpp, evaluate.cpp
    // Those with Numbers in front are compiled for each kind of numbers; the others ask the program.
    template <class Numbers>
    const Instruction* values(const Context& at, const Instruction* next, const double* constants, double*& top,
                              Wheels& wheels, std::uint32_t& faults) const;
    const Instruction* values_of_kind(const Context& at, const Instruction* next, const double* constants, double*& top,
                                      Wheels& wheels, std::uint32_t& faults) const;
    /// The value of an input, constant or memory.
    template <class Numbers>
    double looked_up(const Context& at, const Instruction& step, const double* constants, std::uint32_t& faults) const;
    /// A number negated, made positive, turned round as a truth, or a side as that wheel's degrees.
    template <class Numbers> static double changed(const Context& at, Op op, double x);
    /// Two numbers added, compared, joined as truths ...
    template <class Numbers> double joined(Op op, double a, double b, std::uint32_t& faults) const;
    /// The powers of a motion, and those kept within -100 to 100 percent.
    template <class Numbers> static Wheels asked(const Instruction& step, const double* constants, const double* top);
    static Wheels kept_within_power(const Wheels& asked);
    /// The value of a pid in this look; `cells` is its memory, `gains` are three.
    template <class Numbers>
    double pid(double clock_ms, double* cells, double error, const double* gains, std::uint32_t& faults) const;
    /// Between two values, as far as the item in hand has come.
    double ramp(double from, double to, std::uint32_t& faults) const;
    /// The result of one operation, as the program's kind of numbers holds it; and that settled.
    double kept(double x) const {
        return program_.numbers == NumberKind::binary64 ? Binary64::kept(x) : Binary32::kept(x);
    }
    double kept_settled(double x, std::uint32_t& faults) const {
        return program_.numbers == NumberKind::binary64 ? settled<Binary64>(x, faults) : settled<Binary32>(x, faults);
    }
    /// The value of an expression where the context is now; the code at `at`.
    double evaluate(std::uint16_t at);
    bool is_true_at(std::uint16_t at);
    /// Make the context that of plan-wide guards, of a block in hand, of its item.
    void use_plan();
    void use_block(int frame);
    void use_item(int frame);

    // machine.cpp
    /// Takes in what the robot tells, counts held time and ways out of it.
    void begin_look(const Look& in);
    /// Where blocks that begin now count from.
    void take_stand(const Marks& now);
    Marks marks_of(const Look& in) const;
    Marks combined(const Marks& a, const Marks& b, double sign) const;
    /// Arms and spends news, of all or of one.
    void update_freshes();
    void spend(const Fresh& fresh, double* cells);
    void spend(const Block& block, const Rule& rule, double* cells);
    void update_fresh(const Fresh& fresh, double* cells, bool hears, bool awake);
    /// Asks guards, limits and the innermost block until something acts.
    Outcome decide();
    /// A look that may need all of it, and what is left to do behind every look.
    void full_look(const Look& in);
    void finish() const;
    /// To the follower, when there is one.
    void tell(Stage stage, std::uint16_t number, bool holds) const;

    // guards.cpp
    /// Whether a guard waits for what it has done to come back.
    bool asleep(const Guard& guard) const;
    /// Asks all awake guards, or those of one block; whether one acted.
    bool guards_take_the_look();
    bool guards_of(const Block& block, int frame);
    /// Ends the outermost call whose limit holds.
    void cut_off_at_limits();

    // habit.hpp, habit.cpp
    /// Every `lasting` and `fresh` at this look.
    void update_watches(const Look& in, bool first);
    /// Conditions: of code, of a rule with its pattern, of a rule whose pattern is known to fit.
    bool plan_says(std::uint16_t condition);
    bool holds(const Rule& rule);
    bool holds_beyond_pattern(const Rule& rule);
    /// The first rule that holds; null when none does.
    const Rule* answering_rule(const Block& block, unsigned bits);
    /// Carries out a rule, or keeps the motion when none held.
    template <class Numbers> Outcome act(const Context& at, Frame& frame, const Rule& rule);
    Outcome unanswered(Frame& frame);
    /// Carries out acts; `begins` when they did not act in the look before.
    template <class Numbers> Outcome carry_out(const Context& at, std::uint16_t code, bool begins, RuleId guard);
    Outcome run(std::uint16_t code, bool begins, RuleId guard);
    /// Goes elsewhere: call, become, done, halt or hold.
    Outcome leave(const Instruction& instruction, RuleId guard);
    /// The innermost block asked as a habit.
    Outcome habit();
    /// A habit that alone is in hand with nothing above it, or null; and what then follows a look.
    const Block* plain_block() const;
    void leave_plain_look(Outcome outcome);

    // blocks.cpp
    /// Counts one more transfer; false when there were too many in this look.
    bool transfer();
    /// Arguments of a call into its block's memory, at the call or anew at each look.
    void give_arguments(std::uint16_t code, double* into);
    void refresh_arguments(bool with_pid);
    /// A block begins in a frame.
    void begin(int frame, std::uint16_t block, const double* arguments);
    /// Blocks entered, replaced, ended.
    Outcome enter(std::uint16_t call, RuleId guard);
    Outcome become(std::uint16_t call, int frame);
    Outcome end_block(int frame);
    /// After a block has ended: to its caller.
    void come_back(bool from_guard);

    // errand.cpp
    /// The innermost block asked as an errand: item after item until one lasts.
    Outcome errand();
    /// Items by their kind.
    Outcome item(Frame& frame, const Item& item);
    Outcome move_item(Frame& frame, const Item& item);
    Outcome call_item(Frame& frame, const Item& item);
    /// Where an item, or a loop, counts from.
    void begin_item(Frame& frame, const Item& item);
    void begin_loop(Frame& frame, const Item& item);
    /// A loop's next round, or its end.
    Outcome round(Frame& frame, const Item& item);
    /// Whether an item is at its end; how far it has come; its news.
    bool limit_holds(int frame, const Item& item);
    double measure(const Frame& frame, const Item& item) const;
    void arm(const Item& item, double* cells);
    /// Notes which item acted, for the answer.
    void acts_as(std::uint16_t number);

    Program program_;
    Storage storage_;
    Follower* follower_ = nullptr;
    const Block* plain_ = nullptr; ///< a habit that can take the next look without anything else being asked
    Context context_;
    Answer* out_ = nullptr;
    Marks raw_;        // as the robot tells
    Marks held_;       // what went by under `hold`
    Marks now_;        // raw without that: what blocks count in
    Marks plan_began_; // raw
    Wheels wheels_;
    double weighted_ = 0.0;
    std::uint32_t look_ = 0;   // number of this look, from 1
    double look_number_ = 0.0; // the same
    double free_look_ = 0.0;   // number of the last look before this one that no `hold` took
    std::uint32_t faults_ = 0;
    std::uint16_t depth_ = 0;
    std::uint8_t transfers_ = 0;
    bool was_held_ = false;
    bool was_ever_held_ = false;
    bool halted_ = false;
};

} // namespace vast_turn::runtime
