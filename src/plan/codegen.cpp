#include "plan/codegen.hpp"

#include <algorithm>
#include <array>
#include <utility>

#include <fmt/format.h>

#include "plan/check_types.hpp"
#include "plan/words.hpp"

namespace vast_turn::lang {

namespace {

using runtime::Op;

constexpr std::size_t largest_table = 0xFFF0;

Op binary_op(const std::string& text) {
    static constexpr std::array<std::pair<const char*, Op>, 12> table = {{{"+", Op::add},
                                                                          {"-", Op::subtract},
                                                                          {"*", Op::multiply},
                                                                          {"/", Op::divide},
                                                                          {"<", Op::less},
                                                                          {"<=", Op::less_equal},
                                                                          {">", Op::greater},
                                                                          {">=", Op::greater_equal},
                                                                          {"==", Op::equal},
                                                                          {"!=", Op::not_equal},
                                                                          {"and", Op::both},
                                                                          {"or", Op::either}}};
    const auto* const row = std::find_if(table.begin(), table.end(), [&](const auto& r) { return text == r.first; });
    return row->second;
}

class Generator {
public:
    Generator(const CheckedPlan& plan, CompiledTables& out, Problems& problems)
        : plan_(plan), out_(out), tables_(out.tables), problems_(problems) {}

    void run() {
        tables_.sensors = static_cast<std::uint8_t>(plan_.sensors);
        tables_.own_weights = !plan_.weights.empty();
        std::copy(plan_.weights.begin(), plan_.weights.end(), tables_.weights);
        for (const LaidBlock& block : plan_.blocks) {
            runtime::Block made;
            made.first_rule = static_cast<std::uint16_t>(tables_.rules.size());
            made.rules = static_cast<std::uint16_t>(block.rules.size());
            for (const lang::Rule& rule : block.rules) {
                add_rule(rule);
            }
            tables_.blocks.push_back(made);
        }
        if (tables_.code.size() > largest_table || tables_.constants.size() > largest_table ||
            out_.texts.size() > largest_table) {
            problems_.error({0, 0}, "the plan is too large to compile",
                            "use `become` instead of `as` for large habits");
        }
    }

private:
    std::uint16_t here() const { return static_cast<std::uint16_t>(tables_.code.size()); }

    void emit(Op op, std::uint16_t b = 0, std::uint8_t a = 0) { tables_.code.push_back({op, a, b}); }

    void add_rule(const lang::Rule& rule) {
        runtime::Rule made;
        if (!rule.is_else) {
            if (rule.condition.kind == ExprKind::pattern) {
                made.mask = rule.condition.mask;
                made.bits = rule.condition.bits;
            } else {
                made.condition = condition(rule.condition);
            }
        }
        made.acts = here();
        acts(rule);
        tables_.rules.push_back(made);
    }

    /// Compiles a condition; the watches in it come first, since their code stands on its own.
    std::uint16_t condition(Expr e) {
        fold(e);
        place_watches(e);
        const std::uint16_t at = here();
        depth_ = 0;
        value(e);
        emit(Op::end);
        return at;
    }

    /// Makes a watch of every `lasting`, innermost first, and leaves its number in its place.
    void place_watches(Expr& e) {
        for (Expr& arg : e.args) {
            place_watches(arg);
        }
        if (e.kind == ExprKind::lasting) {
            runtime::Watch watch;
            watch.in_looks = e.args[1].type.unit.looks != 0;
            watch.limit = e.args[1].value;
            watch.condition = here();
            depth_ = 0;
            value(e.args[0]);
            emit(Op::end);
            e.value = static_cast<double>(tables_.watches.size());
            e.args.clear();
            tables_.watches.push_back(watch);
        }
    }

    void acts(const lang::Rule& rule) {
        for (const Act& act : rule.acts) {
            if (act.kind == ActKind::motion) {
                motion(act);
            }
        }
        const bool once =
            std::any_of(rule.acts.begin(), rule.acts.end(), [](const Act& a) { return a.kind != ActKind::motion; });
        const std::uint16_t jump = here();
        if (once) {
            emit(Op::once);
        }
        for (const Act& act : rule.acts) {
            switch (act.kind) {
            case ActKind::note: emit(Op::note, text(act.name)); break;
            case ActKind::become: emit(Op::become, block(act.name)); break;
            case ActKind::halt: emit(Op::halt); break;
            case ActKind::motion: break;
            }
        }
        if (once) {
            tables_.code[jump].b = here();
        }
        emit(Op::end);
    }

    std::uint16_t text(const std::string& note) {
        const auto at = std::find(out_.texts.begin(), out_.texts.end(), note);
        if (at == out_.texts.end()) {
            out_.texts.push_back(note);
            return static_cast<std::uint16_t>(out_.texts.size() - 1);
        }
        return static_cast<std::uint16_t>(at - out_.texts.begin());
    }

    std::uint16_t block(const std::string& name) const {
        const auto at =
            std::find_if(plan_.blocks.begin(), plan_.blocks.end(), [&](const LaidBlock& b) { return b.name == name; });
        return static_cast<std::uint16_t>(at - plan_.blocks.begin());
    }

    void motion(const Act& act) {
        depth_ = 0;
        for (const Expr& arg : act.args) {
            Expr folded = arg;
            fold(folded);
            value(folded);
        }
        emit(find_motion(act.name)->op);
    }

    void push(const Expr& e) {
        if (++depth_ == runtime::stack_depth) {
            problems_.error(e.span, "this expression needs too much memory on the robot",
                            "part it: give pieces a name with let, or use fewer brackets");
        }
    }

    void value(const Expr& e) {
        const bool leaf = e.kind != ExprKind::unary && e.kind != ExprKind::binary && e.kind != ExprKind::call;
        if (leaf) {
            push(e);
            return leaf_value(e);
        }
        if (e.kind == ExprKind::call && (e.text == "sensor" || e.text == "raw")) {
            push(e);
            return emit(find_function(e.text)->op, 0, static_cast<std::uint8_t>(e.args[0].value - 1.0));
        }
        for (const Expr& arg : e.args) {
            value(arg);
        }
        depth_ -= static_cast<int>(e.args.size()) - 1;
        if (e.kind == ExprKind::unary) {
            return emit(e.text == "not" ? Op::invert : Op::negate);
        }
        emit(e.kind == ExprKind::binary ? binary_op(e.text) : find_function(e.text)->op);
    }

    void leaf_value(const Expr& e) {
        switch (e.kind) {
        case ExprKind::pattern: return emit(Op::pattern, e.bits, e.mask);
        case ExprKind::marker: return emit(Op::marker, static_cast<std::uint16_t>(e.value));
        case ExprKind::lasting: return emit(Op::watch, static_cast<std::uint16_t>(e.value));
        case ExprKind::name: {
            const Op op = find_input(e.text)->op;
            return emit(op == Op::offset && tables_.own_weights ? Op::weighted : op);
        }
        default: return emit(Op::constant, constant(e.value));
        }
    }

    std::uint16_t constant(double x) {
        const auto at = std::find_if(tables_.constants.begin(), tables_.constants.end(),
                                     [x](double c) { return !(c < x) && !(c > x); });
        if (at == tables_.constants.end()) {
            tables_.constants.push_back(x);
            return static_cast<std::uint16_t>(tables_.constants.size() - 1);
        }
        return static_cast<std::uint16_t>(at - tables_.constants.begin());
    }

    const CheckedPlan& plan_;
    CompiledTables& out_;
    ProgramTables& tables_;
    Problems& problems_;
    int depth_ = 0;
};

} // namespace

void generate(const CheckedPlan& plan, CompiledTables& out, Problems& problems) {
    Generator(plan, out, problems).run();
}

} // namespace vast_turn::lang
