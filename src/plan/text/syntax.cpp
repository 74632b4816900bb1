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

/// How tightly an operator binds; larger is tighter.
int rank(const Expr& e) {
    if (e.kind == ExprKind::binary) {
        switch (e.op) {
        case Op::either: return 1;
        case Op::both: return 2;
        case Op::add:
        case Op::subtract: return 6;
        case Op::multiply:
        case Op::divide: return 7;
        default: return 5; // comparisons
        }
    }
    if (e.kind == ExprKind::lasting) {
        return 4;
    }
    if (e.kind == ExprKind::unary || e.kind == ExprKind::fresh) {
        return e.op == Op::negate ? 8 : 3;
    }
    return 9;
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

std::string to_text(const Expr& e) {
    switch (e.kind) {
    case ExprKind::pattern: return fmt::format("[{}]", e.text);
    case ExprKind::call: return fmt::format("{}({})", e.text, list(e.args));
    case ExprKind::heard: return fmt::format("heard({})", e.text);
    case ExprKind::marker: return e.with.empty() ? e.text : fmt::format("{} at {}", e.text, e.with);
    case ExprKind::name: return e.with.empty() ? e.text : fmt::format("{} by {}", e.text, e.with);
    case ExprKind::unary: return fmt::format("{}{}", e.op == Op::invert ? "not " : "-", within(e.args[0], rank(e)));
    case ExprKind::fresh: return fmt::format("fresh {}", within(e.args[0], rank(e)));
    case ExprKind::binary: {
        const int mine = rank(e);
        const bool chains = mine != 5; // a comparison does not stand in a comparison
        return fmt::format("{} {} {}", within(e.args[0], chains ? mine : mine + 1), sign_of(e.op),
                           within(e.args[1], mine + 1));
    }
    case ExprKind::lasting: return fmt::format("{} lasting {}", within(e.args[0], 5), within(e.args[1], 6));
    default: return e.text;
    }
}

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
        return fmt::format("loop{}{}{}", item.has_count ? " " + to_text(item.count) : "", behind,
                           item.widens ? " widening " + to_text(item.widening) : "");
    case Item::Kind::choice: return "if " + to_text(item.branches[0].condition);
    case Item::Kind::act: break;
    }
    return to_text(item.act) + behind;
}

bool same(const Expr& a, const Expr& b) {
    return a.kind == b.kind && a.op == b.op && a.mask == b.mask && a.bits == b.bits && a.unit == b.unit &&
           !(a.value < b.value || a.value > b.value) && (a.kind == ExprKind::constant || a.text == b.text) &&
           a.with == b.with && all_same(a.args, b.args);
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
