#include "plan/text/syntax.hpp"

#include <algorithm>
#include <array>
#include <utility>

#include <fmt/format.h>

namespace vast_turn::lang {

namespace {

struct Sign {
    Op op;
    const char* text;
};

/// Those between two values, then those before one.
constexpr std::array<Sign, 14> signs = {{{Op::add, "+"},
                                         {Op::subtract, "-"},
                                         {Op::multiply, "*"},
                                         {Op::divide, "/"},
                                         {Op::less, "<"},
                                         {Op::less_equal, "<="},
                                         {Op::greater, ">"},
                                         {Op::greater_equal, ">="},
                                         {Op::equal, "=="},
                                         {Op::not_equal, "!="},
                                         {Op::both, "and"},
                                         {Op::either, "or"},
                                         {Op::negate, "-"},
                                         {Op::invert, "not"}}};
constexpr std::size_t between_two = 12;

constexpr int unary_rank = 8;
constexpr int prefix_rank = 3;
constexpr int lasting_rank = 4;
constexpr int comparison_rank = 5;

/// How tightly an operator binds; larger is tighter.
int rank(const Expr& e) {
    if (e.is<Binary>()) {
        switch (e.as<Binary>()->op) {
        case Op::either: return 1;
        case Op::both: return 2;
        case Op::add:
        case Op::subtract: return 6;
        case Op::multiply:
        case Op::divide: return 7;
        default: return comparison_rank;
        }
    }
    if (e.is<Lasting>()) {
        return lasting_rank;
    }
    if (e.is<Fresh>() || is_unary(e, Op::invert)) {
        return prefix_rank;
    }
    return e.is<Unary>() ? unary_rank : 9;
}

std::string within(const Expr& e, int least) { return rank(e) < least ? fmt::format("({})", to_text(e)) : to_text(e); }

std::string list(const std::vector<Expr>& args) {
    std::string text;
    for (const Expr& arg : args) {
        text += (text.empty() ? "" : ", ") + to_text(arg);
    }
    return text;
}

template <class List> bool all_same(const List& a, const List& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(), [](const auto& x, const auto& y) { return same(x, y); });
}

} // namespace

const char* sign_of(Op op) {
    const auto* const sign = std::find_if(signs.begin(), signs.end(), [op](const Sign& s) { return s.op == op; });
    return sign == signs.end() ? "" : sign->text;
}

Op operator_of(std::string_view text) {
    const auto* const end = signs.begin() + between_two;
    const auto* const sign = std::find_if(signs.begin(), end, [text](const Sign& s) { return text == s.text; });
    return sign == end ? Op::end : sign->op;
}

std::optional<double> written_value(const Expr& e) {
    if (const auto* constant = e.as<Constant>()) {
        return constant->value;
    }
    if (const auto* side = e.as<SideWord>()) {
        return side->value;
    }
    return std::nullopt;
}

bool reads_sensor(const Expr& e, int sensor) {
    return is_reading(e) && static_cast<int>(written_value(e.args[0]).value_or(0.0)) == sensor + 1;
}

Op op_of(const Expr& e) {
    return std::visit(
        [](const auto& node) {
            if constexpr (requires { node.op; }) {
                return node.op;
            } else {
                return Op::end;
            }
        },
        e.node);
}

namespace {

/// The text of each kind of expression, whose parts are those of `e`.
struct Speller {
    const Expr& e;

    std::string operator()(const Constant& n) const { return n.text; }
    std::string operator()(const Truth& n) const { return n.holds ? "true" : "false"; }
    std::string operator()(const SideWord& n) const { return n.value > 0.0 ? "left" : "right"; }
    std::string operator()(const PatternMarks& n) const { return fmt::format("[{}]", n.marks); }
    std::string operator()(const Name& n) const { return with("by", n.text, n.with); }
    std::string operator()(const Input& n) const { return with("by", n.text, n.by); }
    std::string operator()(const MarkerSeen& n) const { return with("at", n.text, n.at); }
    std::string operator()(const Heard& n) const { return fmt::format("heard({})", n.text); }
    std::string operator()(const Variable& n) const { return n.text; }
    std::string operator()(const Argument& n) const { return n.text; }
    std::string operator()(const Call& n) const { return fmt::format("{}({})", n.text, list(e.args)); }
    std::string operator()(const Unary& n) const {
        return fmt::format("{}{}", n.op == Op::invert ? "not " : "-", within(e.args[0], rank(e)));
    }
    std::string operator()(const Binary& n) const {
        const int mine = rank(e);
        const int first = mine == comparison_rank ? mine + 1 : mine; // a comparison does not stand in a comparison
        return fmt::format("{} {} {}", within(e.args[0], first), sign_of(n.op), within(e.args[1], mine + 1));
    }
    std::string operator()(const Lasting& /*n*/) const {
        return fmt::format("{} lasting {}", within(e.args[0], comparison_rank), within(e.args[1], comparison_rank + 1));
    }
    std::string operator()(const Fresh& /*n*/) const { return fmt::format("fresh {}", within(e.args[0], prefix_rank)); }

    static std::string with(const char* word, const std::string& text, const std::string& behind) {
        return behind.empty() ? text : fmt::format("{} {} {}", text, word, behind);
    }
};

bool equal(double a, double b) { return !(a < b || a > b); }

/// Whether two nodes of one kind say the same, whatever their parts. A constant is its value, not its spelling.
bool same_node(const Constant& a, const Constant& b) { return equal(a.value, b.value) && a.unit == b.unit; }
bool same_node(const Truth& a, const Truth& b) { return a.holds == b.holds; }
bool same_node(const SideWord& a, const SideWord& b) { return equal(a.value, b.value); }
bool same_node(const PatternMarks& a, const PatternMarks& b) { return a.marks == b.marks; }
bool same_node(const Name& a, const Name& b) { return a.text == b.text && a.with == b.with; }
bool same_node(const Input& a, const Input& b) { return a.op == b.op && a.by == b.by; }
bool same_node(const MarkerSeen& a, const MarkerSeen& b) { return a.number == b.number && a.at == b.at; }
bool same_node(const Heard& a, const Heard& b) { return a.text == b.text; }
bool same_node(const Variable& a, const Variable& b) { return a.number == b.number; }
bool same_node(const Argument& a, const Argument& b) { return a.number == b.number && a.text == b.text; }
bool same_node(const Call& a, const Call& b) { return a.op == b.op && a.text == b.text; }
bool same_node(const Unary& a, const Unary& b) { return a.op == b.op; }
bool same_node(const Binary& a, const Binary& b) { return a.op == b.op; }
bool same_node(const Lasting& /*a*/, const Lasting& /*b*/) { return true; }
bool same_node(const Fresh& /*a*/, const Fresh& /*b*/) { return true; }

} // namespace

std::string to_text(const Expr& e) { return std::visit(Speller{e}, e.node); }

std::string to_text(const Act& act) {
    std::string called = act.args.empty() ? act.name : fmt::format("{}({})", act.name, list(act.args));
    switch (act.kind) {
    case ActKind::note: return fmt::format("note(\"{}\")", act.name);
    case ActKind::light: return fmt::format("light({})", act.name);
    case ActKind::sound: return fmt::format("sound({})", act.name);
    case ActKind::tell: return fmt::format("tell({}, {})", act.name, list(act.args));
    case ActKind::set: return fmt::format("set {} = {}", act.name, list(act.args));
    case ActKind::track: return fmt::format("track {} = {}", act.name, list(act.args));
    case ActKind::call: return "do " + called;
    case ActKind::become: return "become " + called;
    case ActKind::done: return "done";
    case ActKind::halt: return "halt";
    case ActKind::hold: return "hold";
    case ActKind::motion: break;
    }
    return called;
}

std::string to_text(const std::vector<Act>& acts) {
    std::string text;
    for (const Act& act : acts) {
        text += (text.empty() ? "" : ", ") + to_text(act);
    }
    return text;
}

std::string to_text(const Limit& limit) {
    if (limit.kind == Limit::Kind::none) {
        return "";
    }
    if (limit.kind == Limit::Kind::till) {
        return "till " + to_text(limit.value);
    }
    return fmt::format("over {}{}{}", within(limit.value, 6),
                       limit.of_wheel ? fmt::format(" of {} wheel", to_text(limit.wheel)) : "",
                       limit.by.empty() ? "" : " by " + limit.by);
}

std::string to_text(const Item& item) {
    const std::string limit = to_text(item.limit);
    const std::string behind = limit.empty() ? "" : " " + limit;
    switch (item.kind) {
    case Item::Kind::loop:
        return fmt::format("loop{}{}{}", item.count ? " " + to_text(*item.count) : "", behind,
                           item.widening ? " widening " + to_text(*item.widening) : "");
    case Item::Kind::choice: return "if " + to_text(item.branches[0].condition);
    case Item::Kind::act: break;
    }
    return to_text(item.act) + behind;
}

bool same(const Expr& a, const Expr& b) {
    const bool nodes = std::visit(
        [&b](const auto& node) {
            const auto* other = b.as<std::decay_t<decltype(node)>>();
            return other != nullptr && same_node(node, *other);
        },
        a.node);
    return nodes && all_same(a.args, b.args);
}

bool same(const Act& a, const Act& b) { return a.kind == b.kind && a.name == b.name && all_same(a.args, b.args); }

std::string to_text(const Unit& unit) {
    const std::array<std::pair<const char*, int>, 4> parts = {
        {{"mm", unit.mm}, {"ms", unit.ms}, {"deg", unit.deg}, {"looks", unit.looks}}};
    std::string above;
    std::string below;
    for (const auto& [name, power] : parts) {
        for (int i = 0; i < power; ++i) {
            above += above.empty() ? name : fmt::format("*{}", name);
        }
        for (int i = 0; i > power; --i) {
            below += fmt::format("/{}", name);
        }
    }
    if (above.empty() && below.empty()) {
        return "no unit";
    }
    return (above.empty() ? "1" : above) + below;
}

std::string to_text(const Type& type) {
    switch (type.base) {
    case Base::truth: return "a condition";
    case Base::side: return "a side";
    default: return type.unit == Unit{} ? "a plain number" : fmt::format("a number in {}", to_text(type.unit));
    }
}

} // namespace vast_turn::lang
