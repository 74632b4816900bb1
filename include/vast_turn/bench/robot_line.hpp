#pragma once

/// What a robot and a computer say to each other over a serial line (docs/serial-line.md).
///
/// The robot tells each look as a row of our log, or as a frame of the short form; what its plan says as a line that
/// begins with `!`; and answers each command with a line that begins with `=` or `?`. Every line may end in its check
/// sum, and a line whose check sum is wrong is never believed.

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "vast_turn/emit/checked_line.hpp"
#include "vast_turn/plan/explain/log_check.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// What the plan said, or what came of the run: "note", and "the fork".
struct RobotSays {
    std::string kind; ///< note, light, sound, tell, place, lost, halted ...
    std::string what; ///< may be empty
};

/// The answer to a command.
struct RobotReply {
    bool done = false; ///< false: it could not, and says why
    std::string words; ///< what it did, or why not
};

/// One thing that came.
using RobotHeard = std::variant<LoggedLook, RobotSays, RobotReply>;

/// How well what came could be understood.
struct LineCount {
    std::uint64_t looks = 0;   ///< believed
    std::uint64_t says = 0;    ///< what its plan said
    std::uint64_t replies = 0; ///< answers to commands
    std::uint64_t garbled = 0; ///< lines and stretches of bytes that were not believed
    std::uint64_t missing = 0; ///< looks that should have come by the robot's clock, and did not
    std::uint64_t unnamed = 0; ///< rows whose columns were not named, or not surely
    bool checked = false;      ///< whether looks come with check sums; else some garbled ones may look whole
};

/// Listens to a robot: bytes in as they come, what they say out. The looks have what the robot told, and raw counts;
/// readings are for an ArrayReader. Never throws for what comes, however wrong.
class RobotEar {
public:
    /// `plan` is that of the robot, for the short form and for the names of markers and notes; without one markers are
    /// not known, and looks must come as text. `robot` tells how many sensors there are, their channels and ranges.
    RobotEar(const Robot& robot, const std::optional<Plan>& plan);
    RobotEar(const RobotEar&) = delete;
    RobotEar& operator=(const RobotEar&) = delete;
    ~RobotEar();

    /// So many bytes more; what was whole with them, in its order. Of a line that never ends the first 4,096 bytes are
    /// kept.
    std::vector<RobotHeard> hears(std::string_view bytes);

    /// So far.
    const LineCount& count() const;

    /// Whether looks come with raw counts, from which readings can be made; else with readings or a pattern.
    bool tells_counts() const;

    /// The cable was out: what was half heard is forgotten, and the clock may have begun anew.
    void cut();

private:
    struct Ear;
    std::unique_ptr<Ear> ear_;
};

} // namespace vast_turn
