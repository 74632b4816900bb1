#pragma once

/// The C around a plan: what lies between a robot's wires and the plan's looks and answers.

#include <optional>
#include <string>
#include <vector>

#include "emit/shape.hpp"
#include "emit/state.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sense/calibration.hpp"

namespace vast_turn::emit {

/// One thing that the robot's sensors tell.
struct Sense {
    CField field;
    int bytes = 0;   ///< of a whole number in a frame; 0 for a number of the plan
    bool from_start; ///< it is counted from the first look
};

/// Everything about a robot that the writers of its C ask.
struct Chassis {
    Chassis(const Shape& of_shape, const Robot& of_robot, std::optional<Calibration> with);

    const Shape& shape;
    const Robot& robot;
    std::optional<Calibration> calibration;
    std::vector<std::string> look; ///< fields of the plan's look
    std::vector<Sense> senses;     ///< in the order of a frame; the counts of the array are the first
    std::string heading;           ///< the look's field that is its best heading
    std::uint16_t mark = 0;        ///< by which it is known over its line
    bool talks = false;            ///< its header says so, unless who compiles it says otherwise

    std::size_t sensors() const { return robot.sensors.size(); }
    /// Whether the plan's look has a field.
    bool asks(const std::string& field) const;
    bool has(const std::string& sense) const;
    /// The type of a threshold in counts: one that no counts reach must be larger than all of them.
    std::string edge_type() const;
    /// What the plan makes of the turns of the wheels, as C computes it of these two words.
    std::string way_of(const std::string& left_deg, const std::string& right_deg) const;
    std::string turn_of(const std::string& left_deg, const std::string& right_deg) const;
    bool counts_from_start() const;
    /// The plan asks for how light it is, not only for which sensors see line.
    bool reads_light() const { return asks("sensor") || asks("offset"); }
};

CStruct senses_struct(const Chassis& chassis);
CStruct outputs_struct(const Chassis& chassis);
/// Macros that tell a robot's program what it is.
std::string robot_constants(const Chassis& chassis);
/// The table of functions that a robot gives.
std::string robot_table(const Chassis& chassis);
/// What the loop keeps of the sensing: since when, and where each quantity that counts from the first look began.
void add_sensing_memory(CStruct& made, const Chassis& chassis);

/// The structs, from the senses to the loop; their declarations with the functions.
std::vector<CStruct> chassis_structs(const Chassis& chassis);
std::vector<CStruct> lean_structs(const Chassis& chassis);
std::string chassis_header(const Chassis& chassis);
/// Of a lean program: the same, and the functions behind its sensing.
std::string lean_header(const Chassis& chassis);
std::string lean_loop_functions(const Chassis& chassis);

/// What a look asks of one sensor's levels: edges in counts from the floor's side, and numbers of C.
struct BuiltInLevels {
    bool falls = false; ///< it counts less over line
    long on_from = 0;
    long off_below = 0;
    std::string floor_counts{};
    std::string per_count{};
};
BuiltInLevels built_in_levels(const Chassis& chassis, std::size_t sensor);

/// Statements that have it read with the calibration that is built in; without one every sensor reads floor.
void add_built_in_levels(class Lines& lines, const Chassis& chassis);

/// A function from a sensor to a number of its own; one of all when they are alike.
std::string number_of_sensor(const CPieces& pieces, const char* name, const std::vector<std::string>& numbers);

/// Functions, in the order in which one uses another: bytes onto the serial line; from senses to a look; calibration on
/// the floor; looks told over the line; the loop; looks that come over the line.
std::string putting_functions(const Chassis& chassis);
std::string sensing_functions(const Chassis& chassis);
std::string clock_and_reading(const Chassis& chassis);
std::string looking_functions(const Chassis& chassis);
std::string learning_functions(const Chassis& chassis);
std::string telling_functions(const Chassis& chassis);
std::string wiring_function(const Chassis& chassis);
std::string loop_functions(const Chassis& chassis);
std::string serving_functions(const Chassis& chassis);
std::string command_functions(const Chassis& chassis);

/// Bytes that a command may take with its check sum, and one more.
int longest_command(const Chassis& chassis);

} // namespace vast_turn::emit
