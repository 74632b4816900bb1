#pragma once

/// A program of its own in the place of a plan: looks go to it, powers come back.
///
/// It may be a plan's C on a computer or on a simulated chip, or code that somebody wrote in any language. Two forms
/// are spoken over its standard input and output; which of them, its first byte says.
///
/// Text: it writes a line with the names of the columns that it will answer (`left_pct,right_pct`, and if it likes
/// `halted` and `took_ms`). It is then given a line with the names of the columns of a log (docs/files.md), and one row
/// a look, each of which it answers with one row.
///
/// Short: frames, see emit/frames.hpp. It says hello and is then given the senses of each look, which it answers.

#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/look.hpp"

namespace vast_turn {

/// How a program is started, and how long it may think.
struct OtherProgram {
    std::vector<std::string> words; ///< its name, found in PATH or a path, and its arguments; no shell takes part
    double patience_s = 20.0;       ///< by the wall clock, for its first byte and for each answer
};

/// The words of a command line: parted by blanks, those within '...' or "..." held together. Throws InputError when
/// there is none or a quote is not closed.
std::vector<std::string> words_of_call(std::string_view call);

/// How a program kept pace with the loop.
struct Pace {
    std::uint32_t looks = 0; ///< that it was asked
    std::uint32_t late = 0;  ///< that passed while it was still busy with one before: what it had said went on
    double slowest_ms = 0.0; ///< of an answer, by the program's own clock
};

/// Drives as decision logic: a Decide. Copies share one program, which ends with the last of them.
class OtherMind {
public:
    /// Starts it and waits for its first words. `plan` names markers, colour sensors and what is heard; `robot` says
    /// what there is to be told. Throws InputError when it cannot be started, says nothing in time, or was exported
    /// from another plan or robot.
    OtherMind(const OtherProgram& program, const Plan& plan, const Robot& robot);

    /// One look. An answer that takes longer than the loop's period comes when it is there, and looks meanwhile are
    /// late. Throws InputError when the program ends or says what is no answer.
    void operator()(const Look& look, Answer& answer);

    /// So far.
    const Pace& pace() const;

private:
    struct Talk;
    std::shared_ptr<Talk> talk_;
};

} // namespace vast_turn
