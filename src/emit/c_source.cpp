#include "vast_turn/emit/c_source.hpp"

#include <algorithm>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "emit/blocks.hpp"
#include "emit/c_function.hpp"
#include "emit/chassis.hpp"
#include "emit/header.hpp"
#include "emit/kernel.hpp"
#include "emit/shape.hpp"
#include "emit/state.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/frames.hpp"
#include "vast_turn/robot/array.hpp"

namespace vast_turn {

namespace emit {

namespace {

std::string text_function(const Shape& shape) {
    Lines lines;
    lines.add("switch (number) {");
    for (std::size_t i = 0; i < shape.plan.texts().size(); ++i) {
        lines.add(fmt::format("case {}:", i));
        lines.add(fmt::format("return {};", veiled(c_string(shape.plan.texts()[i]))));
    }
    lines.add_all("default:\nreturn \"\";\n}");
    return c_function(shape.pieces, "const char *@text", {"uint16_t number"}, {}, lines.text());
}

/// The helpers that `text` names, and those that they name.
std::string with_helpers(const Shape& shape, std::string text) {
    std::vector<Helper> helpers;
    for (auto part : {arithmetic_helpers, memory_helpers, block_helpers}) {
        for (Helper& helper : part(shape)) {
            helpers.push_back(std::move(helper));
        }
    }
    for (auto helper = helpers.rbegin(); helper != helpers.rend(); ++helper) {
        if (stands_in(shape.pieces(helper->name), text)) {
            text.insert(0, shape.pieces(helper->text));
        }
    }
    return text;
}

std::string full_chassis(const Chassis& chassis) {
    return putting_functions(chassis) + sensing_functions(chassis) + learning_functions(chassis) +
           telling_functions(chassis) + loop_functions(chassis) + serving_functions(chassis) +
           command_functions(chassis);
}

std::string source_text(const Shape& shape, const Chassis* chassis) {
    std::string text;
    const std::size_t reached = shape.transfers ? shape.tables.blocks.size() : 1; // others are never in hand
    for (std::size_t i = 0; i < reached; ++i) {
        text += shape.tables.blocks[i].is_errand ? errand_function(shape, i) : habit_function(shape, i);
    }
    text += decide_functions(shape) + before_functions(shape) + look_functions(shape) + text_function(shape);
    text = with_helpers(shape, text);
    if (chassis != nullptr) {
        text += shape.form.lean ? sensing_functions(*chassis) + lean_loop_functions(*chassis) : full_chassis(*chassis);
    }
    return shape.pieces(file_head(shape, "its decisions.")) +
           fmt::format("#include \"{}.h\"\n\n", shape.pieces.name()) + source_constants(shape) + text;
}

void check_fit(const Plan& plan, const Robot& robot, const CSourceOptions& options) {
    if (static_cast<std::size_t>(plan.sensors()) != robot.sensors.size()) {
        throw InputError(
            plan.file(),
            fmt::format("the plan is for {} sensors, {} has {}", plan.sensors(), robot.name, robot.sensors.size()),
            "export it for a robot with as many sensors");
    }
    if (options.lean && (!options.calibration || options.talks)) {
        throw InputError("",
                         options.talks ? "a lean program has no serial line over which it could talk"
                                       : "a lean program has its sensors' levels built in, and there are none",
                         options.talks ? "leave out what is asked of the line, or export it in full"
                                       : "calibrate first, or export it in full");
    }
    if (options.calibration && options.calibration->sensors.size() != robot.sensors.size()) {
        throw InputError("",
                         fmt::format("the calibration is for {} sensors, {} has {}",
                                     options.calibration->sensors.size(), robot.name, robot.sensors.size()),
                         "calibrate with this robot");
    }
}

std::vector<SenseField> sense_fields(const Chassis& chassis) {
    std::vector<SenseField> fields;
    for (const Sense& sense : chassis.senses) {
        fields.push_back({sense.field.name, sense.field.count, sense.bytes});
    }
    return fields;
}

} // namespace

} // namespace emit

std::uint16_t program_mark(const Plan& plan, const Robot& robot) {
    std::uint16_t sum = frames::no_sum;
    const auto add = [&](const std::string& text) {
        for (const char c : text) {
            sum = frames::summed(sum, static_cast<std::uint8_t>(c));
        }
        sum = frames::summed(sum, 0);
    };
    const auto add_number = [&](double x) { add(fmt::format("{}", x)); };
    add(plan.name());
    for (const auto* names : {&plan.blocks(), &plan.markers(), &plan.places(), &plan.heard(), &plan.texts()}) {
        std::for_each(names->begin(), names->end(), add);
    }
    for (const RuleInfo& rule : plan.rules()) {
        add(rule.condition);
        add(rule.acts);
    }
    const ProgramTables& tables = plan.tables(); // what the names in rules stand for
    std::for_each(tables.constants.begin(), tables.constants.end(), add_number);
    std::for_each(tables.first_vars.begin(), tables.first_vars.end(), add_number);
    std::for_each(std::begin(tables.weights), std::end(tables.weights), add_number);
    for (const runtime::Watch& watch : tables.watches) {
        add_number(watch.limit);
    }
    for (const LineSensor& sensor : robot.sensors) {
        add_number(sensor.at_mm.y);
    }
    for (const double fact : {robot.wheel_mm, robot.track_mm, robot.look_ms, robot.gyro.fitted ? 1.0 : 0.0,
                              robot.compass.fitted ? 1.0 : 0.0}) {
        add_number(fact);
    }
    return sum;
}

std::vector<SenseField> asked_senses(const Plan& plan, const Robot& robot) {
    const emit::CPieces pieces("plan", runtime::NumberKind::binary32);
    const emit::Shape shape(plan, pieces);
    return emit::sense_fields(emit::Chassis(shape, robot, std::nullopt));
}

CSource c_source(const Plan& plan, const CSourceOptions& options) {
    const emit::CPieces pieces(emit::c_name(options.name.empty() ? plan.name() : options.name), options.numbers);
    emit::Shape shape(plan, pieces);
    if (options.lean) {
        shape.make_lean(options.robot ? position_weights(*options.robot) : std::vector<double>{});
    }
    std::optional<emit::Chassis> chassis;
    CSource made;
    made.name = pieces.name();
    std::vector<emit::CStruct> structs = emit::state_structs(shape);
    if (options.robot) {
        emit::check_fit(plan, *options.robot, options);
        chassis.emplace(shape, *options.robot, options.calibration);
        chassis->talks = options.talks;
        chassis->mark = options.mark.value_or(program_mark(plan, *options.robot));
        structs.push_back(emit::answer_struct(shape));
        for (emit::CStruct& one : options.lean ? emit::lean_structs(*chassis) : emit::chassis_structs(*chassis)) {
            structs.push_back(std::move(one));
        }
        made.senses = emit::sense_fields(*chassis);
    }
    const std::string around = !chassis       ? ""
                               : options.lean ? emit::lean_header(*chassis)
                                              : emit::chassis_header(*chassis);
    made.header = emit::bared(emit::header_text(shape) + around + "#endif\n");
    made.source = emit::bared(emit::source_text(shape, chassis ? &*chassis : nullptr));
    for (const ChipKind chip : {ChipKind::bits_8, ChipKind::bits_32, ChipKind::bits_64}) {
        made.state_bytes[static_cast<std::size_t>(chip)] = emit::bytes_of(structs, pieces.numbers(), chip);
    }
    made.inputs = emit::look_fields(shape);
    while (made.source.ends_with("\n\n")) {
        made.source.pop_back();
    }
    return made;
}

} // namespace vast_turn
