#include "vast_turn/emit/c_source.hpp"

#include <string>
#include <vector>

#include <fmt/format.h>

#include "emit/blocks.hpp"
#include "emit/c_function.hpp"
#include "emit/header.hpp"
#include "emit/kernel.hpp"
#include "emit/shape.hpp"
#include "emit/state.hpp"

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

std::string source_text(const Shape& shape) {
    std::string text;
    const std::size_t reached = shape.transfers ? shape.tables.blocks.size() : 1; // others are never in hand
    for (std::size_t i = 0; i < reached; ++i) {
        text += shape.tables.blocks[i].is_errand ? errand_function(shape, i) : habit_function(shape, i);
    }
    text += decide_functions(shape) + before_functions(shape) + look_functions(shape) + text_function(shape);
    return shape.pieces(file_head(shape, "its decisions.")) +
           fmt::format("#include \"{}.h\"\n\n", shape.pieces.name()) + source_constants(shape) +
           with_helpers(shape, text);
}

} // namespace

} // namespace emit

CSource c_source(const Plan& plan, const CSourceOptions& options) {
    const emit::CPieces pieces(emit::c_name(options.name.empty() ? plan.name() : options.name), options.numbers);
    const emit::Shape shape(plan, pieces);
    CSource made;
    made.name = pieces.name();
    made.header = emit::bared(emit::header_text(shape));
    made.source = emit::bared(emit::source_text(shape));
    for (const ChipKind chip : {ChipKind::bits_8, ChipKind::bits_32, ChipKind::bits_64}) {
        made.state_bytes[static_cast<std::size_t>(chip)] = emit::state_bytes(shape, chip);
    }
    made.inputs = emit::look_fields(shape);
    while (made.source.ends_with("\n\n")) {
        made.source.pop_back();
    }
    return made;
}

} // namespace vast_turn
