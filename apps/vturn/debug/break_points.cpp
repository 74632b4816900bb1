#include "debug/break_points.hpp"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

namespace vturn {

using namespace vast_turn;

HitRule::HitRule(const std::string& text) {
    std::string rest = text;
    rest.erase(std::remove(rest.begin(), rest.end(), ' '), rest.end());
    const std::vector<std::pair<std::string, Kind>> signs = {{">=", Kind::from}, {"==", Kind::only}, {">", Kind::above},
                                                             {"<", Kind::below}, {"=", Kind::only},  {"%", Kind::each}};
    for (const auto& [sign, kind] : signs) {
        if (rest.compare(0, sign.size(), sign) == 0) {
            kind_ = kind;
            rest.erase(0, sign.size());
            break;
        }
    }
    const auto [stopped, error] = std::from_chars(rest.data(), rest.data() + rest.size(), number_);
    if (error != std::errc{} || stopped != rest.data() + rest.size() || number_ == 0) {
        throw InputError("", fmt::format("`{}` is no count of hits", text), "write 5, >= 5, > 5, < 5, == 5 or % 5");
    }
}

bool HitRule::stops_at(unsigned hits) const {
    switch (kind_) {
    case Kind::from: return hits >= number_;
    case Kind::above: return hits > number_;
    case Kind::below: return hits < number_;
    case Kind::only: return hits == number_;
    case Kind::each: return hits % number_ == 0;
    }
    return true;
}

bool BreakPoint::stops(const SteppedRun& run) {
    const bool reached = stop.reached(run);
    const bool holds = !condition || (run.mind() != nullptr && condition->holds(*run.mind(), run.look()));
    if (!reached || !holds) {
        return false;
    }
    ++come;
    return !hits || hits->stops_at(come);
}

Stop stop_on_change(const Plan& plan, const std::string& var) {
    const std::vector<std::string>& names = plan.vars();
    const auto at = std::find(names.begin(), names.end(), var);
    if (at == names.end()) {
        throw InputError(plan.file(), fmt::format("the plan has no var `{}`{}", var, did_you_mean(var, names)),
                         names.empty() ? "it has none" : fmt::format("its vars are {}", one_of(names)));
    }
    const auto number = static_cast<std::size_t>(at - names.begin());
    return {"var " + var, [number, last = std::optional<double>(), changes = 0.0](const SteppedRun& run) mutable {
                const double now = run.mind()->machine().storage().cells[number];
                changes += last && (now < *last || now > *last) ? 1.0 : 0.0;
                last = now;
                return changes;
            }};
}

std::string words_of(const InputError& error) {
    const Problem& first = error.problems().front();
    std::string where = first.place.file;
    where += where.empty() ? "" : (first.place.line > 0 ? fmt::format(":{}: ", first.place.line) : std::string(": "));
    return where + first.message + (first.cure.empty() ? "" : "; " + first.cure);
}

std::string log_text(const std::string& text, const SteppedRun& run) {
    std::string out;
    for (std::size_t at = 0; at < text.size();) {
        const std::size_t open = text.find('{', at);
        const std::size_t close = open == std::string::npos ? open : text.find('}', open);
        if (close == std::string::npos) {
            return out + text.substr(at);
        }
        out += text.substr(at, open - at);
        ProbeResult made = make_probe(run.mind()->plan(), text.substr(open + 1, close - open - 1), "", true);
        out += made.probe ? made.probe->words(made.probe->value(*run.mind(), run.look()))
                          : text.substr(open, close - open + 1);
        at = close + 1;
    }
    return out;
}

} // namespace vturn
