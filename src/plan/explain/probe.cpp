#include "vast_turn/plan/explain/probe.hpp"

#include <utility>

#include <fmt/format.h>

#include "plan/check/check_types.hpp"
#include "plan/check/checked.hpp"
#include "plan/compile/expression_code.hpp"
#include "plan/explain/explain_condition.hpp"
#include "plan/text/grammar.hpp"
#include "plan/text/parser.hpp"

namespace vast_turn {

namespace lang {

/// A part of the question that remembers, or joins such; or a whole part that does not.
struct ProbePart {
    enum class Kind : std::uint8_t { code, both, either, invert, lasting, fresh };
    Kind kind = Kind::code;
    std::vector<ProbePart> of;
    std::vector<runtime::Instruction> code;
    std::vector<double> constants;
    double limit = 0.0; // of lasting
    bool in_looks = false;
    // What it has seen.
    double looks = 0.0; // in a row in which it was true
    double since_ms = 0.0;
    bool was_true = true; // so that nothing is fresh in the first look
};

namespace {

bool remembers(const Expr& e) {
    return any_part(e, [](const Expr& part) { return part.is<Lasting>() || part.is<Fresh>(); });
}

double value_of(ProbePart& part, const runtime::Machine& machine, const Look& look) {
    const auto asked = [&](std::size_t i) { return value_of(part.of[i], machine, look); };
    const auto is_true = [](double value) { return value > 0.5; };
    switch (part.kind) {
    case ProbePart::Kind::code: return machine.value_in_plan(look, part.code.data(), part.constants.data());
    case ProbePart::Kind::invert: return is_true(asked(0)) ? 0.0 : 1.0;
    case ProbePart::Kind::both:
    case ProbePart::Kind::either: {
        const bool a = is_true(asked(0));
        const bool b = is_true(asked(1)); // also when `a` has said it all: it remembers
        return (part.kind == ProbePart::Kind::both ? a && b : a || b) ? 1.0 : 0.0;
    }
    case ProbePart::Kind::lasting:
        if (!is_true(asked(0))) {
            part.looks = 0.0;
            return 0.0;
        }
        part.since_ms = part.looks > 0.0 ? part.since_ms : look.clock_ms;
        part.looks += 1.0;
        return (part.in_looks ? part.looks : look.clock_ms - part.since_ms) >= part.limit ? 1.0 : 0.0;
    case ProbePart::Kind::fresh: {
        const bool now = is_true(asked(0));
        const bool before = std::exchange(part.was_true, now);
        return now && !before ? 1.0 : 0.0;
    }
    }
    return 0.0;
}

void forget(ProbePart& part) {
    part.looks = 0.0;
    part.was_true = true;
    for (ProbePart& one : part.of) {
        forget(one);
    }
}

} // namespace

} // namespace lang

struct Probe::Body {
    Plan plan; // whose memory map the code was made for
    std::string text;
    lang::Type type;
    lang::ProbePart whole;
};

namespace lang {

/// Makes probes; the only friend that may.
struct ProbeMaker {
    const Plan& plan;
    Problems& problems;

    /// All that a guard of the whole plan may name.
    Names names() const {
        const CheckedPlan& checked = plan.checked();
        Names out;
        out.sensors = checked.sensors;
        out.markers = checked.markers;
        out.heard = checked.heard;
        out.places = checked.places;
        for (std::size_t i = 0; i < checked.vars.size(); ++i) {
            out.vars.emplace(checked.vars[i].name, Var{static_cast<int>(i), checked.vars[i].type});
        }
        Problems none(checked.source); // it has been compiled
        for (Let& let : parse(checked.source, none).lets) {
            check_types(let.value, out, Where::constant, checked.source, none);
            fold(let.value);
            out.lets.emplace(let.name, let.value);
        }
        return out;
    }

    ProbePart part_of(const Expr& e) const {
        ProbePart part;
        if (!remembers(e)) {
            ExpressionCode code(part.code, part.constants, plan.memory(), !plan.checked().weights.empty());
            if (code.append(e) >= runtime::stack_depth) {
                problems.error(e.span, "this expression is too deep", "take it apart");
            }
            part.code.push_back({});
            return part;
        }
        part.kind = e.is<Lasting>()            ? ProbePart::Kind::lasting
                    : e.is<Fresh>()            ? ProbePart::Kind::fresh
                    : is_unary(e, Op::invert)  ? ProbePart::Kind::invert
                    : is_binary(e, Op::either) ? ProbePart::Kind::either
                                               : ProbePart::Kind::both;
        part.of.push_back(part_of(e.args[0]));
        if (e.is<Lasting>()) {
            part.limit = written_value(e.args[1]).value_or(0.0);
            part.in_looks = e.args[1].type.unit.looks != 0;
        } else if (e.args.size() > 1) {
            part.of.push_back(part_of(e.args[1]));
        }
        return part;
    }

    /// What it asks for must be what the robot tells this plan.
    void check_heard(const Expr& e) const {
        const std::vector<std::string>& known = plan.heard();
        any_part(e, [&](const Expr& part) {
            const auto* heard = part.as<Heard>();
            if (heard != nullptr && static_cast<std::size_t>(heard->number) >= known.size()) {
                problems.error(part.span, fmt::format("the plan does not listen to `{}`", heard->text),
                               known.empty() ? "it listens to nothing" : fmt::format("it hears {}", one_of(known)));
            }
            return false;
        });
        if (plan.places().size() < places) {
            problems.error(e.span, "the plan asks no colour sensor of that name",
                           plan.places().empty() ? "ask for the marker alone: it asks no sensor by name"
                                                 : fmt::format("it asks {}", one_of(plan.places())));
        }
    }

    std::optional<Probe> make(const Source& source, bool any_value, const LaidVar* like) {
        std::optional<Expr> read;
        Cursor cursor(tokenize(source, problems), problems);
        guarded(cursor, [&] {
            cursor.skip_line_ends();
            read = parse_expression(cursor);
            cursor.skip_line_ends();
            if (!cursor.is(TokenKind::text_end)) {
                cursor.fail(fmt::format("expected the end of the condition, found {}", describe(cursor.peek())),
                            "write one condition, joined with `and` and `or`");
            }
        });
        if (!read || problems.any_error()) {
            return std::nullopt;
        }
        Names known = names();
        if (any_value) {
            check_types(*read, known, Where::condition, source, problems);
        } else {
            check_condition(*read, known, source, problems);
        }
        if (problems.any_error() || read->type.base == Base::broken) {
            return std::nullopt;
        }
        if (like != nullptr && (read->type.base != like->type.base || read->type.unit != like->type.unit)) {
            problems.error(read->span,
                           fmt::format("`{}` is {}, `{}` is {}", like->name, to_text(like->type), to_text(*read),
                                       to_text(read->type)),
                           "give it a value of its own unit");
            return std::nullopt;
        }
        places = known.places.size();
        check_heard(*read);
        auto body = std::make_unique<Probe::Body>(Probe::Body{plan, to_text(*read), read->type, part_of(*read)});
        return problems.any_error() ? std::nullopt : std::optional(Probe(std::move(body)));
    }

    std::size_t places = 0; // of colour sensors that plan and question name
};

} // namespace lang

Probe::Probe(std::unique_ptr<Body> body) : body_(std::move(body)) {}
Probe::Probe(const Probe& other) : body_(std::make_unique<Body>(*other.body_)) {}
Probe::Probe(Probe&& other) noexcept = default;
Probe& Probe::operator=(Probe&& other) noexcept = default;
Probe::~Probe() = default;

Probe& Probe::operator=(const Probe& other) {
    if (this != &other) {
        body_ = std::make_unique<Body>(*other.body_);
    }
    return *this;
}

const std::string& Probe::text() const { return body_->text; }
bool Probe::is_condition() const { return body_->type.base == lang::Base::truth; }
std::string Probe::unit() const {
    const std::string unit = lang::to_text(body_->type.unit);
    return body_->type.base == lang::Base::number && unit != "no unit" ? unit : std::string();
}
double Probe::value(const Mind& mind, const Look& look) { return lang::value_of(body_->whole, mind.machine(), look); }
std::string Probe::words(double value) const { return lang::with_unit(value, body_->type); }
void Probe::reset() { lang::forget(body_->whole); }

namespace {

template <class Make>
ProbeResult read_question(std::string_view text, std::string_view file, const Plan& plan, Make make) {
    constexpr std::size_t longest = 4096;
    ProbeResult out;
    if (text.size() > longest) {
        out.problems.push_back({Severity::error,
                                {std::string(file), 0, 0, 1, {}},
                                "the condition is longer than 4096 characters",
                                "a condition is a short text"});
        return out;
    }
    const lang::Source source(text, file);
    lang::Problems problems(source);
    lang::ProbeMaker maker{plan, problems};
    out.probe = make(maker, source);
    out.problems = problems.take();
    return out;
}

} // namespace

ProbeResult make_probe(const Plan& plan, std::string_view text, std::string_view file, bool any_value) {
    return read_question(text, file, plan, [any_value](lang::ProbeMaker& maker, const lang::Source& source) {
        return maker.make(source, any_value, nullptr);
    });
}

ProbeResult make_value_for(const Plan& plan, std::size_t var, std::string_view text, std::string_view file) {
    return read_question(text, file, plan, [&](lang::ProbeMaker& maker, const lang::Source& source) {
        return maker.make(source, true, &plan.checked().vars.at(var));
    });
}

} // namespace vast_turn
