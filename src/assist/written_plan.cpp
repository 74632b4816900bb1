#include "vast_turn/assist/written_plan.hpp"

#include <algorithm>
#include <array>
#include <utility>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "assist/body.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/assist/word_help.hpp"

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

MarkKind mark_of(NameKind kind) {
    switch (kind) {
    case NameKind::let: return MarkKind::constant;
    case NameKind::var: return MarkKind::variable;
    case NameKind::marker: return MarkKind::marker;
    case NameKind::habit:
    case NameKind::errand: return MarkKind::block;
    case NameKind::parameter: return MarkKind::parameter;
    default: return MarkKind::other_name;
    }
}

std::optional<MarkKind> mark_of(TokenKind kind) {
    switch (kind) {
    case TokenKind::word: return MarkKind::word;
    case TokenKind::number: return MarkKind::number;
    case TokenKind::string: return MarkKind::text;
    case TokenKind::pattern: return MarkKind::pattern;
    case TokenKind::symbol: return MarkKind::sign;
    default: return std::nullopt;
    }
}

std::vector<TextMark> marks_of(const assist::Scan& scan) {
    std::vector<TextMark> marks;
    for (std::size_t i = 0; i < scan.tokens.size(); ++i) {
        const Token& token = scan.token(i);
        const std::optional<MarkKind> kind = mark_of(token.kind);
        if (!kind) {
            continue;
        }
        TextMark mark{{token.span.from, token.span.to}, *kind, false};
        if (const int number = scan.name_of_token[i]; number >= 0) {
            const NamedThing& thing = scan.names[static_cast<std::size_t>(number)];
            mark.kind = mark_of(thing.kind);
            mark.declares = thing.declared == mark.span;
        } else if (token.kind == TokenKind::word && !lang::is_reserved(token.text)) {
            mark.kind = MarkKind::other_name; // meant for nothing
        }
        marks.push_back(mark);
    }
    for (const TextSpan& comment : scan.comments) {
        marks.push_back({comment, MarkKind::comment, false});
    }
    std::sort(marks.begin(), marks.end(),
              [](const TextMark& a, const TextMark& b) { return a.span.from < b.span.from; });
    return marks;
}

bool is_name_text(std::string_view text) {
    const auto is_letter = [](char c) { return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'; };
    const auto is_good = [&](char c) { return is_letter(c) || (c >= '0' && c <= '9'); };
    return !text.empty() && is_letter(text.front()) && std::all_of(text.begin(), text.end(), is_good);
}

} // namespace

std::string_view name_of(NameKind kind) {
    constexpr std::array<std::string_view, 11> names = {"let",    "var",       "marker",        "habit",
                                                        "errand", "parameter", "colour sensor", "heard name",
                                                        "light",  "sound",     "device"};
    return names[static_cast<std::size_t>(kind)];
}

WrittenPlan::WrittenPlan(std::string text, const std::string& file) {
    auto body = std::make_shared<Body>();
    body->text = std::move(text);
    Compiled compiled = compile_plan(body->text, file);
    body->problems = std::move(compiled.problems);
    body->plan = std::move(compiled.plan);
    body->scan = assist::scan(body->text);
    body->marks = marks_of(body->scan);
    body->lines.push_back(0);
    for (std::size_t at = body->text.find('\n'); at != std::string::npos; at = body->text.find('\n', at + 1)) {
        body->lines.push_back(at + 1);
    }
    body_ = std::move(body);
}

const std::string& WrittenPlan::text() const { return body_->text; }
const std::vector<Problem>& WrittenPlan::problems() const { return body_->problems; }
const std::optional<Plan>& WrittenPlan::plan() const { return body_->plan; }
const std::vector<NamedThing>& WrittenPlan::names() const { return body_->scan.names; }
const std::vector<TextBlock>& WrittenPlan::blocks() const { return body_->scan.blocks; }
const std::vector<TextMark>& WrittenPlan::marks() const { return body_->marks; }

const NamedThing* WrittenPlan::name_at(std::size_t byte) const {
    const assist::Scan& scan = body_->scan;
    for (const bool touching : {false, true}) {
        const std::size_t i = scan.token_at(touching && byte > 0 ? byte - 1 : byte, touching);
        if (i != assist::no_token && scan.name_of_token[i] >= 0 && scan.token(i).span.to >= byte) {
            return &scan.names[static_cast<std::size_t>(scan.name_of_token[i])];
        }
    }
    return nullptr;
}

std::string WrittenPlan::fault_of_name(const NamedThing& thing, const std::string& wanted) const {
    constexpr std::size_t longest = 48;
    if (!is_name_text(wanted)) {
        return fmt::format("`{}` is no name: a name is letters, digits and _, and begins with a letter", wanted);
    }
    if (wanted.size() > longest) {
        return fmt::format("a name has up to {} letters", longest);
    }
    if (lang::is_reserved(wanted) && thing.kind != NameKind::place) {
        return fmt::format("`{}` is a word of the language", wanted);
    }
    const bool is_given = thing.kind > NameKind::parameter;
    for (const NamedThing& other : body_->scan.names) {
        const bool other_given = other.kind > NameKind::parameter;
        const bool meet = is_given || other_given ? other.kind == thing.kind
                          : other.kind == NameKind::parameter && thing.kind == NameKind::parameter
                              ? other.block == thing.block
                              : true;
        if (&other != &thing && other.name == wanted && meet) {
            return fmt::format("`{}` is a {} of this plan already", wanted, name_of(other.kind));
        }
    }
    return "";
}

std::optional<CallHere> WrittenPlan::call_at(std::size_t byte) const {
    const assist::Scan& scan = body_->scan;
    // Back to the bracket that is open here; a line of its own cannot lie within one that is closed.
    int closed = 0;
    std::size_t commas = 0;
    std::size_t i = scan.token_before(byte);
    for (; i != assist::no_token; i = i == 0 ? assist::no_token : i - 1) {
        if (scan.is(i, ")")) {
            ++closed;
        } else if (scan.is(i, "(")) {
            if (closed == 0) {
                break;
            }
            --closed;
        } else if (scan.is(i, ",") && closed == 0) {
            ++commas;
        } else if (scan.is(i, "{") || scan.is(i, "}") || scan.is(i, "->")) {
            return std::nullopt;
        }
    }
    if (i == assist::no_token || i == 0 || scan.token(i - 1).kind != TokenKind::word) {
        return std::nullopt;
    }
    const std::string& word = scan.token(i - 1).text;
    CallHere call;
    if (const WordHelp* help = find_word_help(word)) {
        call.usage = std::string(help->usage.substr(
            0, help->usage.find(") ") == std::string_view::npos ? help->usage.size() : help->usage.find(") ") + 1));
        call.meaning = help->meaning;
    } else {
        const auto block = std::find_if(scan.blocks.begin(), scan.blocks.end(),
                                        [&](const TextBlock& one) { return one.name == word; });
        if (block == scan.blocks.end() || block->parameters.empty()) {
            return std::nullopt;
        }
        call.usage = fmt::format("{}({})", word, fmt::join(block->parameters, ", "));
        call.meaning = fmt::format("{} of this plan.", block->is_errand ? "An errand" : "A habit");
    }
    const std::size_t open = call.usage.find('(');
    if (open == std::string::npos || call.usage.compare(0, open, word) != 0) {
        return std::nullopt;
    }
    for (std::size_t at = open + 1; at < call.usage.size() && call.usage[at - 1] != ')';) {
        const std::size_t end = std::min(call.usage.find_first_of(",)", at), call.usage.size());
        call.arguments.push_back({at, end});
        at = call.usage.find_first_not_of(", ", end);
        at = call.usage[end] == ')' || at == std::string::npos ? call.usage.size() : at;
    }
    call.active = std::min(commas, call.arguments.empty() ? 0 : call.arguments.size() - 1);
    return call;
}

} // namespace vast_turn
