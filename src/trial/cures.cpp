#include "vast_turn/trial/cures.hpp"

#include <algorithm>
#include <cmath>
#include <optional>
#include <set>

#include <fmt/format.h>
#include <tbb/parallel_for.h>
#include <tbb/task_arena.h>

#include "plan/checked.hpp"
#include "plan/parser.hpp"
#include "plan/token.hpp"

namespace vast_turn {

namespace {

struct Change {
    std::string what;
    std::string text;
};

/// Changes of a text line by line and number by number.
class ChangeMaker {
public:
    ChangeMaker(const Plan& plan, const TripResult& failed)
        : plan_(plan), text_(plan.checked().source.text()), rule_(failed.parting ? failed.parting->rule : -1) {}

    std::vector<Change> run() {
        if (rule_ >= 0) {
            moves();
        }
        numbers();
        return std::move(list_);
    }

private:
    struct LineSpan {
        std::size_t from;
        std::size_t to; ///< behind the line's end
    };

    LineSpan line_span(int line) const {
        std::size_t from = 0;
        for (int i = 1; i < line; ++i) {
            from = text_.find('\n', from) + 1;
        }
        const std::size_t end = text_.find('\n', from);
        return {from, end == std::string::npos ? text_.size() : end + 1};
    }

    const RuleInfo& info(int rule) const { return plan_.rules()[static_cast<std::size_t>(rule)]; }

    void moves() {
        const RuleInfo& deciding = info(rule_);
        if (deciding.kind != RuleKind::rule) {
            return;
        }
        std::set<int> told;
        const LineSpan to = line_span(deciding.line);
        for (const RuleInfo& other : plan_.rules()) {
            // The rules that stand below in the same block of the text.
            if (other.kind != RuleKind::rule || other.written_in != deciding.written_in ||
                other.line <= deciding.line || other.condition == "else" || !told.insert(other.line).second) {
                continue;
            }
            const LineSpan from = line_span(other.line);
            std::string line = text_.substr(from.from, from.to - from.from);
            if (line.empty() || line.back() != '\n') {
                line += '\n';
            }
            std::string changed = text_;
            changed.erase(from.from, from.to - from.from);
            changed.insert(to.from, line);
            list_.push_back(
                {fmt::format("line {} moved above line {}", other.line, deciding.line), std::move(changed)});
        }
        std::string without = text_;
        without.erase(to.from, to.to - to.from);
        list_.push_back({fmt::format("line {} taken out", deciding.line), std::move(without)});
    }

    /// The number of the let that a position lies in, when it does.
    std::string let_at(std::size_t at) const {
        for (const lang::Let& let : tree_.lets) {
            if (at >= let.value.span.from && at < let.value.span.to) {
                return let.name;
            }
        }
        return {};
    }

    void numbers() {
        const lang::Source& source = plan_.checked().source;
        lang::Problems unheard(source);
        tree_ = lang::parse(source, unheard);
        for (const lang::Token& token : lang::tokenize(source, unheard)) {
            const int line = source.line_of(token.span.from);
            const std::string let = let_at(token.span.from);
            const bool of_rule = rule_ >= 0 && line == info(rule_).line;
            if (token.kind == lang::TokenKind::number && (of_rule || !let.empty()) && std::abs(token.value) > 0.0) {
                change_number(token, line, let);
            }
        }
    }

    void change_number(const lang::Token& token, int line, const std::string& let) {
        const std::string before(text_.substr(token.span.from, token.span.to - token.span.from));
        for (const double factor : {0.6, 0.8, 1.25, 1.6, -1.0}) {
            const bool whole = token.unit == "look" || token.unit == "looks";
            const double value = whole ? std::round(factor * token.value) : factor * token.value;
            if (whole && (value < 1.0 || std::abs(value - token.value) < 0.5)) {
                continue;
            }
            const bool minus = token.span.from > 0 && text_[token.span.from - 1] == '-';
            const std::string number =
                fmt::format("{:.4g}", std::abs(value)) +
                (token.unit.empty() ? "" : (before.find(' ') != std::string::npos ? " " : "") + token.unit);
            std::string changed = text_;
            std::size_t from = token.span.from;
            std::size_t size = token.span.to - token.span.from;
            std::string after = number;
            if (factor < 0.0 && minus) {
                --from;
                ++size;
            } else if (factor < 0.0) {
                after = "-" + number;
            }
            changed.replace(from, size, after);
            const std::string was = text_.substr(from, size);
            list_.push_back({fmt::format("line {}: {}{} becomes {}", line, let.empty() ? "" : let + " = ", was, after),
                             std::move(changed)});
        }
    }

    const Plan& plan_;
    std::string text_;
    int rule_;
    lang::PlanTree tree_;
    std::vector<Change> list_;
};

/// What comes of a change; nothing when the trip fails with it too.
std::optional<Cure> tried(const Scene& scene, const Plan& plan, const Change& change, const Trip& trip,
                          const std::vector<bool>& passed, const RunOptions& options) {
    const Compiled compiled = compile_plan(change.text, plan.file());
    if (!compiled.plan || !take_trip(scene, *compiled.plan, trip, options).passed) {
        return std::nullopt;
    }
    Cure cure{change.what, change.text, {}, {}};
    for (std::size_t i = 0; i < passed.size(); ++i) {
        const Trip& other = scene.course().trips[i];
        const bool passes = take_trip(scene, *compiled.plan, other, options).passed;
        if (passes != passed[i] && other.name != trip.name) {
            (passes ? cure.mends : cure.breaks).push_back(other.name);
        }
    }
    return cure;
}

} // namespace

std::vector<Cure> find_cures(const Scene& scene, const Plan& plan, const TripResult& failed, const RunOptions& options,
                             int threads) {
    const std::vector<Change> changes = ChangeMaker(plan, failed).run();
    std::vector<bool> passed;
    for (const Trip& trip : scene.course().trips) {
        passed.push_back(take_trip(scene, plan, trip, options).passed);
    }
    std::vector<std::optional<Cure>> found(changes.size());
    tbb::task_arena arena(threads > 0 ? threads : tbb::task_arena::automatic);
    arena.execute([&] {
        tbb::parallel_for(std::size_t{0}, changes.size(), [&](std::size_t i) {
            found[i] = tried(scene, plan, changes[i], failed.trip, passed, options);
        });
    });
    std::vector<Cure> cures;
    for (std::optional<Cure>& cure : found) {
        if (cure) {
            cures.push_back(std::move(*cure));
        }
    }
    std::stable_sort(cures.begin(), cures.end(),
                     [](const Cure& a, const Cure& b) { return a.breaks.size() < b.breaks.size(); });
    return cures;
}

} // namespace vast_turn
