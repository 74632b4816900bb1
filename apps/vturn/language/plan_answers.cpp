#include "language/plan_answers.hpp"

#include <algorithm>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "vast_turn/plan/format.hpp"

namespace vturn {

using namespace vast_turn;
using nlohmann::json;

namespace {

json markdown(const std::string& text) { return {{"kind", "markdown"}, {"value", text}}; }

/// Kinds of things in outlines, and of proposals, as the protocol numbers them.
int symbol_kind(NameKind kind) {
    constexpr int constant = 14;
    constexpr int variable = 13;
    constexpr int enum_member = 22;
    constexpr int function = 12;
    constexpr int method = 6;
    switch (kind) {
    case NameKind::let: return constant;
    case NameKind::marker: return enum_member;
    case NameKind::habit: return function;
    case NameKind::errand: return method;
    default: return variable;
    }
}

int proposal_kind(MarkKind kind) {
    constexpr int keyword = 14;
    constexpr int function = 3;
    constexpr int constant = 21;
    constexpr int variable = 6;
    constexpr int enum_member = 20;
    switch (kind) {
    case MarkKind::block: return function;
    case MarkKind::constant: return constant;
    case MarkKind::variable:
    case MarkKind::parameter:
    case MarkKind::other_name: return variable;
    case MarkKind::marker: return enum_member;
    default: return keyword;
    }
}

json location(const Document& document, TextSpan span) {
    return {{"uri", document.uri}, {"range", document.lined->range_of(span)}};
}

int token_kind(MarkKind kind) {
    switch (kind) {
    case MarkKind::word: return 0;
    case MarkKind::number: return 1;
    case MarkKind::text: return 2;
    case MarkKind::comment: return 3;
    case MarkKind::pattern: return 4;
    case MarkKind::sign: return 5;
    case MarkKind::block: return 6;
    case MarkKind::constant:
    case MarkKind::variable:
    case MarkKind::other_name: return 7;
    case MarkKind::parameter: return 8;
    case MarkKind::marker: return 9;
    }
    return 0;
}

} // namespace

const std::vector<std::string>& token_kinds() {
    static const std::vector<std::string> kinds = {"keyword",  "number",   "string",   "comment",   "regexp",
                                                   "operator", "function", "variable", "parameter", "enumMember"};
    return kinds;
}

const std::vector<std::string>& token_modifiers() {
    static const std::vector<std::string> modifiers = {"declaration", "readonly"};
    return modifiers;
}

json plan_hover(const Document& document, std::size_t byte) {
    const std::string told = document.plan->about(byte, document.robot.get());
    if (told.empty()) {
        return nullptr;
    }
    json hover = {{"contents", markdown(told)}};
    if (const auto stretch = document.plan->stretch_at(byte)) {
        hover["range"] = document.lined->range_of(*stretch);
    }
    return hover;
}

json plan_proposals(const Document& document, std::size_t byte) {
    json list = json::array();
    for (const Proposal& one : document.plan->proposals(byte, document.robot.get())) {
        json item = {{"label", one.text}, {"kind", proposal_kind(one.kind)}, {"detail", one.about}};
        if (!one.detail.empty()) {
            item["documentation"] = markdown(one.detail);
        }
        list.push_back(std::move(item));
    }
    return list;
}

json plan_definition(const Document& document, std::size_t byte) {
    const NamedThing* thing = document.plan->name_at(byte);
    return thing != nullptr && thing->declared ? location(document, *thing->declared) : json(nullptr);
}

json plan_references(const Document& document, std::size_t byte, bool with_declaration) {
    json list = json::array();
    if (const NamedThing* thing = document.plan->name_at(byte)) {
        for (const TextSpan& use : thing->uses) {
            if (with_declaration || use != thing->declared) {
                list.push_back(location(document, use));
            }
        }
    }
    return list;
}

json plan_highlights(const Document& document, std::size_t byte) {
    json list = json::array();
    if (const NamedThing* thing = document.plan->name_at(byte)) {
        for (const TextSpan& use : thing->uses) {
            list.push_back({{"range", document.lined->range_of(use)}, {"kind", use == thing->declared ? 3 : 2}});
        }
    }
    return list;
}

json plan_rename_range(const Document& document, std::size_t byte) {
    const NamedThing* thing = document.plan->name_at(byte);
    if (thing != nullptr) {
        for (const TextSpan& use : thing->uses) {
            if (use.from <= byte && byte <= use.to) {
                return {{"range", document.lined->range_of(use)}, {"placeholder", thing->name}};
            }
        }
    }
    return nullptr;
}

json plan_rename(const Document& document, std::size_t byte, const std::string& wanted) {
    const NamedThing* thing = document.plan->name_at(byte);
    if (thing == nullptr) {
        throw InputError("", "there is no name of the plan here", "put the cursor on one");
    }
    if (const std::string fault = document.plan->fault_of_name(*thing, wanted); !fault.empty()) {
        throw InputError("", fault, "choose another name");
    }
    json edits = json::array();
    for (const TextSpan& use : thing->uses) {
        edits.push_back({{"range", document.lined->range_of(use)}, {"newText", wanted}});
    }
    return {{"changes", {{document.uri, std::move(edits)}}}};
}

json plan_outline(const Document& document) {
    const LinedText& lined = *document.lined;
    struct Entry {
        TextSpan whole;
        TextSpan name;
        std::string text;
        int kind;
        std::string detail;
    };
    std::vector<Entry> entries;
    for (const NamedThing& thing : document.plan->names()) {
        if (thing.declared && thing.kind <= NameKind::marker) {
            const TextSpan line = lined.line(lined.line_at(thing.declared->from));
            const bool own_line = thing.kind != NameKind::marker;
            entries.push_back({own_line ? line : *thing.declared, *thing.declared, thing.name, symbol_kind(thing.kind),
                               std::string(name_of(thing.kind))});
        }
    }
    for (const TextBlock& block : document.plan->blocks()) {
        if (!block.name.empty()) {
            entries.push_back({block.whole, block.name_span, block.name,
                               symbol_kind(block.is_errand ? NameKind::errand : NameKind::habit),
                               block.is_errand ? "errand" : "habit"});
        }
    }
    std::sort(entries.begin(), entries.end(),
              [](const Entry& a, const Entry& b) { return a.whole.from < b.whole.from; });
    json list = json::array();
    for (const Entry& entry : entries) {
        list.push_back({{"name", entry.text},
                        {"detail", entry.detail},
                        {"kind", entry.kind},
                        {"range", lined.range_of(entry.whole)},
                        {"selectionRange", lined.range_of(entry.name)}});
    }
    return list;
}

json plan_folds(const Document& document) {
    const LinedText& lined = *document.lined;
    json list = json::array();
    for (const TextBlock& block : document.plan->blocks()) {
        const std::size_t first = lined.line_at(block.whole.from);
        const std::size_t last = lined.line_at(block.whole.to > block.whole.from ? block.whole.to - 1 : block.whole.to);
        if (last > first) {
            list.push_back({{"startLine", first}, {"endLine", last}, {"kind", "region"}});
        }
    }
    // Comments on lines of their own, one below another.
    std::size_t first = 0;
    std::size_t count = 0;
    for (std::size_t i = 0; i <= lined.lines(); ++i) {
        const std::string_view text = i < lined.lines() ? lined.line_text(i) : std::string_view{};
        const std::size_t at = text.find_first_not_of(" \t");
        if (at != std::string_view::npos && text.substr(at).starts_with("//")) {
            first = count == 0 ? i : first;
            ++count;
            continue;
        }
        if (count > 1) {
            list.push_back({{"startLine", first}, {"endLine", first + count - 1}, {"kind", "comment"}});
        }
        count = 0;
    }
    return list;
}

json plan_tokens(const Document& document) {
    const LinedText& lined = *document.lined;
    json::array_t data;
    std::size_t line = 0;
    std::size_t line_before = 0;
    std::size_t column = 0; // of `at`
    std::size_t column_before = 0;
    std::size_t at = 0;
    for (const TextMark& mark : document.plan->marks()) {
        while (lined.line_from(line + 1) <= mark.span.from) {
            ++line;
            column = 0;
            at = lined.line_from(line);
        }
        column += lined.columns({at, mark.span.from});
        const std::size_t length = lined.columns(mark.span);
        const int modifiers =
            (mark.declares ? 1 : 0) + (mark.kind == MarkKind::constant || mark.kind == MarkKind::marker ? 2 : 0);
        for (const std::size_t number :
             {line - line_before, line == line_before ? column - column_before : column, length,
              static_cast<std::size_t>(token_kind(mark.kind)), static_cast<std::size_t>(modifiers)}) {
            data.emplace_back(number);
        }
        line_before = line;
        column_before = column;
        column += length;
        at = mark.span.to;
    }
    return {{"data", std::move(data)}};
}

json plan_signature(const Document& document, std::size_t byte) {
    const std::optional<CallHere> call = document.plan->call_at(byte);
    if (!call) {
        return nullptr;
    }
    json parameters = json::array();
    for (const TextSpan& argument : call->arguments) {
        parameters.push_back({{"label", {argument.from, argument.to}}});
    }
    return {{"signatures",
             {{{"label", call->usage}, {"documentation", call->meaning}, {"parameters", std::move(parameters)}}}},
            {"activeSignature", 0},
            {"activeParameter", call->active}};
}

json plan_layout(const Document& document) {
    const Formatted formatted = format_plan(document.lined->text(), document.path);
    if (formatted.text.empty()) {
        return nullptr;
    }
    if (formatted.text == document.lined->text()) {
        return json::array();
    }
    return json::array({{{"range", document.lined->range_of_all()}, {"newText", formatted.text}}});
}

} // namespace vturn
