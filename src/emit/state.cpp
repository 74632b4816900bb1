#include "emit/state.hpp"

#include <algorithm>
#include <map>

#include <fmt/format.h>

namespace vast_turn::emit {

namespace {

struct Extent {
    std::size_t bytes = 0;
    std::size_t align = 1;
};

/// How long a chip's compiler makes the types that are used here, and how it aligns them.
std::map<std::string, Extent> types_of(ChipKind chip, NumberKind numbers) {
    const bool is_small = chip == ChipKind::bits_8;
    const std::size_t word = is_small ? 2 : (chip == ChipKind::bits_32 ? 4 : 8);
    const std::size_t number = numbers == NumberKind::binary32 || is_small ? 4 : 8; // `double` is short on small chips
    std::map<std::string, Extent> types = {{"@number", {number, number}},
                                           {"@say_function", {word, word}},
                                           {"void *", {word, word}},
                                           {"const struct @robot *", {word, word}},
                                           {"int8_t", {1, 1}},
                                           {"uint32_t", {4, 4}},
                                           {"uint16_t", {2, 2}},
                                           {"uint8_t", {1, 1}},
                                           {"bool", {1, 1}},
                                           {"int", {is_small ? std::size_t{2} : 4, 4}}};
    for (auto& [name, extent] : types) {
        extent.align = is_small ? 1 : extent.align;
    }
    return types;
}

std::size_t rounded_up(std::size_t bytes, std::size_t align) { return (bytes + align - 1) / align * align; }

CStruct frame_struct(const Shape& shape) {
    CStruct frame{"@frame", {}};
    if (!shape.marks.empty()) {
        frame.fields.push_back({"struct @marks", "block_began", 0, "what its inputs count from"});
    }
    if (shape.lone) {
        if (shape.form.asks_begin) {
            frame.fields.push_back({"uint16_t", "acting", 0, "the rule that acted last"});
        }
        return frame;
    }
    if (!shape.marks.empty()) {
        frame.fields.push_back({"struct @marks", "item_began", 0, "likewise"});
    }
    if (shape.errands) {
        frame.fields.push_back({"@number", "item_limit", 0, "how much, read when the item began"});
    }
    const std::vector<CField> others = {{"uint32_t", "acted_look", 0, "in which its rule acted last"},
                                        {"int", "caller", 0, "frame in which the call stands, -1 the plan"},
                                        {"uint16_t", "block", 0, "its number"},
                                        {"uint16_t", "acting", 0, "the rule that acted last"},
                                        {"uint16_t", "item", 0, "in hand"},
                                        {"uint16_t", "cells", 0, "where its memory begins"},
                                        {"uint16_t", "call", 0, "whose arguments are read at every look"},
                                        {"uint16_t", "guard", 0, "that did it"},
                                        {"bool", "item_begun", 0, "whether the item in hand has begun"}};
    frame.fields.insert(frame.fields.end(), others.begin(), others.end());
    return frame;
}

CStruct whole_state(const Shape& shape) {
    const ProgramTables& t = shape.tables;
    const LeanForm& form = shape.form;
    CStruct state{"@state", {}};
    const auto add = [&](bool needed, CField field) {
        if (needed) {
            state.fields.push_back(std::move(field));
        }
    };
    add(!form.lean, {"@say_function", "say", 0, "is told what the plan says"});
    add(!form.lean, {"void *", "whom", 0, "given to it"});
    add(form.keeps_powers, {"@number", "left", 0, "powers"});
    add(form.keeps_powers, {"@number", "right", 0, "likewise"});
    add(shape.reads(runtime::Op::weighted), {"@number", "weighted", 0, "offset by the plan's own weights"});
    const bool counts = !shape.marks.empty();
    add(counts && shape.holds, {"struct @marks", "raw", 0, "where the robot stands"});
    add(counts && shape.holds, {"struct @marks", "held", 0, "what went by under `hold`"});
    add(counts, {"struct @marks", "now", 0, shape.holds ? "raw without that" : "where the robot stands"});
    add(counts, {"struct @marks", "plan_began", 0, "at the first look"});
    const int watches = static_cast<int>(t.watches.size());
    add(watches != 0 && form.watch_type.empty(), {"struct @watch", "watch", watches, "each `lasting` and `fresh`"});
    add(form.own_pids(), {"struct @pid_memory", "pid", static_cast<int>(form.pids.size()), "of each PID"});
    add(shape.keeps_frames(), {"struct @frame", "frame", t.frames, "blocks in hand, the first one first"});
    const int cells = form.own_pids() ? static_cast<int>(t.first_vars.size()) : static_cast<int>(t.cells);
    add(!form.lean || !shape.lone || cells > 0,
        {"@number", "cell", std::max(cells, 1), "vars, then the memory of each block in hand"});
    add(shape.counts_looks, {"uint32_t", "look", 0, "its number, from 1"});
    add(!shape.lone, {"uint32_t", "free_look", 0, "the last before it that no `hold` took"});
    add(!shape.lone, {"int", "depth", 0, "how many blocks are in hand"});
    add(!shape.lone, {"uint8_t", "transfers", 0, "in this look"});
    add(watches != 0 && !form.watch_type.empty(),
        {form.watch_type, "watch", watches, "each `lasting`: looks in a row in which it was true"});
    add(form.counts_said, {"uint8_t", "said", 0, "in this look"});
    add(true, {"bool", "halted", 0, "the run is over"});
    add(shape.guards, {"bool", "moved", 0, "a guard has set powers"});
    add(shape.holds, {"bool", "was_held", 0, "by the last look"});
    add(shape.holds, {"bool", "was_ever_held", 0, "by any"});
    return state;
}

} // namespace

std::vector<CStruct> state_structs(const Shape& shape) {
    std::vector<CStruct> structs;
    if (!shape.marks.empty()) {
        structs.push_back({"@marks", {}});
        for (const MarkField& mark : shape.marks) {
            structs.back().fields.push_back({"@number", mark.name, 0, {}});
        }
    }
    const std::vector<runtime::Watch>& watches = shape.tables.watches;
    if (!watches.empty() && shape.form.watch_type.empty()) {
        structs.push_back({"@watch", {}});
        if (std::any_of(watches.begin(), watches.end(),
                        [](const auto& w) { return w.kind == runtime::WatchKind::time; })) {
            structs.back().fields.push_back({"@number", "since_ms", 0, "when its condition became true"});
        }
        std::vector<CField>& fields = structs.back().fields;
        fields.push_back({"uint32_t", "looks", 0, "in a row in which it was true"});
        fields.push_back({"bool", "holds", 0, "for long enough"});
        if (shape.freshes) {
            fields.push_back({"bool", "held", 0, "whether it held in the look before"});
            fields.push_back({"bool", "spent", 0, "acted upon in this look"});
        }
    }
    if (shape.form.own_pids()) {
        structs.push_back({"@pid_memory",
                           {{"@number", "integral", 0, {}},
                            {"@number", "error", 0, "when it was asked for last"},
                            {"@number", "ms", 0, "then"},
                            {"uint8_t", "asked", 0, "0 never, 1 once, 2 in the look before"}}});
    }
    if (shape.keeps_frames()) {
        structs.push_back(frame_struct(shape));
    }
    structs.push_back(whole_state(shape));
    return structs;
}

std::string struct_text(const Shape& shape, const CStruct& one) {
    std::string text = fmt::format("struct {} {{\n", one.name);
    for (const CField& field : one.fields) {
        const std::string declared =
            shape.pieces(fmt::format("{}{}{}{};", field.type, field.type.back() == '*' ? "" : " ", field.name,
                                     field.count == 0 ? "" : fmt::format("[{}]", field.count)));
        text += field.about.empty() ? fmt::format("    {}\n", declared)
                                    : fmt::format("    {:<34} /* {} */\n", declared, field.about);
    }
    return shape.pieces(text + "};\n\n");
}

std::string state_text(const Shape& shape) {
    std::string text;
    for (const CStruct& one : state_structs(shape)) {
        text += one.name == "@state"
                    ? shape.pieces("/* All that the plan remembers. Set by @begin; nothing of it need be touched. */\n")
                    : "";
        text += struct_text(shape, one);
    }
    return text;
}

std::size_t bytes_of(const std::vector<CStruct>& structs, NumberKind numbers, ChipKind chip) {
    std::map<std::string, Extent> types = types_of(chip, numbers);
    Extent last;
    for (const CStruct& one : structs) {
        last = Extent{};
        for (const CField& field : one.fields) {
            const Extent& extent = types.at(field.type);
            last.bytes = rounded_up(last.bytes, extent.align) +
                         extent.bytes * static_cast<std::size_t>(std::max(field.count, 1));
            last.align = std::max(last.align, extent.align);
        }
        last.bytes = rounded_up(last.bytes, last.align);
        types["struct " + one.name] = last;
    }
    return last.bytes;
}

} // namespace vast_turn::emit
