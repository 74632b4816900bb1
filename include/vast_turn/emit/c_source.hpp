#pragma once

/// A plan as plain C, to be compiled into a robot's own program.
///
/// What comes out is C99 that needs nothing but `stdbool.h` and `stdint.h`: no heap, no recursion, no library. One
/// function decides one look. Its answers are those of runtime::Machine, look for look: it takes the same steps in the
/// same order with the same arithmetic.

#include <cstddef>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/arithmetic.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn {

/// What is wished of the C that comes out.
struct CSourceOptions {
    runtime::NumberKind numbers = runtime::NumberKind::binary64; ///< of all quantities
    std::string name{}; ///< what every name in it begins with, and its files' name; empty: made from the plan's name
    /// With a robot the pair also holds what lies between its wires and the plan: from counts to looks, from powers to
    /// what stands at its motors, calibration on the floor, the loop, and what goes over its serial line.
    std::optional<Robot> robot = std::nullopt;
    std::optional<Calibration> calibration = std::nullopt; ///< built in; without, the robot must take one on the floor
    /// Of a robot: it hears commands over its line and tells there what the plan says (docs/serial-line.md), unless it
    /// is compiled with NAME_TALKS=0; else only when it is compiled with NAME_TALKS=1.
    bool talks = false;
    /// The number by which a robot's program is known over its line; of none program_mark() of the plan. A plan whose
    /// numbers can be changed (settings/adjustable.hpp) decides as the plan that was written, and may be known as it.
    std::optional<std::uint16_t> mark = std::nullopt;
    /// Least flash and memory: the answer does not tell which rule and block acted, what the plan says goes to a
    /// function named when it is compiled, and whatever this plan can do without is left out. With a robot the levels
    /// of its sensors are built in for good (so there must be a calibration), and it has no serial line.
    bool lean = false;
};

/// How wide a chip's words are, which decides how much memory a struct takes.
enum class ChipKind : std::uint8_t {
    bits_8,  ///< nothing is aligned, `int` and pointers have 2 bytes, `double` has 4
    bits_32, ///< `int` and pointers have 4 bytes
    bits_64, ///< pointers have 8: a computer
};

/// One thing that a robot's sensors tell, as it stands in a frame (emit/frames.hpp) behind the clock.
struct SenseField {
    std::string name; ///< "counts", "left_deg", "right_deg", "gyro_deg" ...
    int count = 0;    ///< of an array; 0 for a single one
    int bytes = 0;    ///< of a whole number; 0 for a number of the plan
};

/// A pair of files, and what their program needs.
struct CSource {
    std::string name;                ///< a C identifier; the files are meant to be called so
    std::string header;              ///< text of NAME.h
    std::string source;              ///< text of NAME.c, which includes it
    std::vector<std::string> inputs; ///< fields of the look that the plan asks for, in their order
    std::size_t state_bytes[3] = {}; ///< of the struct with all that it remembers, by ChipKind
    std::vector<SenseField> senses;  ///< of a robot: what its functions give, in the order of a frame
};

/// A number that tells programs apart: of all that a plan says, and of where a robot's sensors and wheels are.
std::uint16_t program_mark(const Plan& plan, const Robot& robot);

/// What a plan asks of the sensors of a robot with as many line sensors, in the order of a frame.
std::vector<SenseField> asked_senses(const Plan& plan, const Robot& robot);

/// Writes a plan as C. Without a robot it never fails: what can be compiled can be written. Throws InputError when the
/// robot has another number of line sensors than the plan, or the calibration than the robot, and when a lean program
/// of a robot has no calibration or should talk. What an identifier cannot hold of the name becomes `_`; a name that
/// begins with a digit gets `plan_` in front.
CSource c_source(const Plan& plan, const CSourceOptions& options = {});

} // namespace vast_turn
