/// The runtime against an independent evaluator: random plans are made as plain values, written out
/// as text for the compiler, and walked here by the words of the language page. Every look of every
/// plan must agree in powers, notes and halting.
#include <algorithm>
#include <cmath>
#include <random>

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <fmt/ranges.h>

#include "support/fixtures.hpp"
#include "vast_turn/plan/asker.hpp"

using namespace vast_turn;

namespace {

/// What a condition may be. Each knows how it is written and whether it holds.
struct Condition {
    enum Kind {
        pattern,
        seen,
        reading,
        elapsed,
        looks,
        travelled,
        clock,
        inverse,
        both,
        either,
        lasting_looks,
        lasting_ms
    };
    Kind kind = pattern;
    std::string marks;
    double number = 0.0;
    int sensor = 0;
    std::vector<Condition> parts;

    // What a `lasting` remembers.
    int held_looks = 0;
    double since_ms = 0.0;
};

struct Move {
    std::string word;
    double a = 0.0;
    double b = 0.0;
    bool left = false;
};

struct TestRule {
    Condition condition;
    bool is_else = false;
    bool has_move = true;
    Move move;
    int note = -1;
    int become = -1;
    bool halt = false;
};

struct TestPlan {
    int sensors = 0;
    std::vector<std::vector<TestRule>> habits;
};

class Maker {
public:
    explicit Maker(std::uint32_t seed) : random_(seed) {}

    TestPlan plan() {
        TestPlan made;
        made.sensors = pick(1, 5);
        sensors_ = made.sensors;
        const int habits = pick(1, 3);
        for (int h = 0; h < habits; ++h) {
            made.habits.emplace_back();
            const int rules = pick(1, 5);
            for (int r = 0; r < rules; ++r) {
                made.habits.back().push_back(rule(habits, r + 1 == rules && pick(0, 3) > 0));
            }
        }
        return made;
    }

    int pick(int low, int high) { return low + static_cast<int>(random_() % static_cast<unsigned>(high - low + 1)); }

private:
    TestRule rule(int habits, bool is_else) {
        TestRule made;
        made.is_else = is_else;
        made.condition = condition(3, true);
        made.has_move = pick(0, 5) > 0;
        made.move = move();
        made.note = pick(0, 4) == 0 ? pick(0, 3) : -1;
        made.become = pick(0, 4) == 0 ? pick(0, habits - 1) : -1;
        made.halt = made.become < 0 && pick(0, 60) == 0;
        if (!made.has_move && made.note < 0 && made.become < 0 && !made.halt) {
            made.note = 0;
        }
        return made;
    }

    Move move() {
        static const std::vector<std::string> words = {"wheels", "ahead", "bend", "pivot", "rotate", "still", "keep"};
        return {words[static_cast<std::size_t>(pick(0, 6))], static_cast<double>(pick(-130, 130)),
                static_cast<double>(pick(-130, 130)), pick(0, 1) == 0};
    }

    Condition condition(int depth, bool block_clocks) {
        Condition made;
        const int kind = pick(0, depth > 0 ? 12 : 6);
        switch (kind) {
        case 2:
            made.kind = Condition::seen;
            made.number = pick(0, sensors_);
            return made;
        case 3:
            made.kind = Condition::reading;
            made.sensor = pick(1, sensors_);
            made.number = pick(1, 9) / 10.0;
            return made;
        case 4:
            made.kind = Condition::clock;
            made.number = pick(0, 60) * 10;
            return made;
        case 5:
            made.kind = block_clocks ? Condition::elapsed : Condition::clock;
            made.number = pick(0, 9) * 10;
            return made;
        case 6:
            made.kind = block_clocks ? (pick(0, 1) == 0 ? Condition::looks : Condition::travelled) : Condition::seen;
            made.number = pick(0, 9);
            return made;
        case 7:
            made.kind = Condition::inverse;
            made.parts = {condition(depth - 1, block_clocks)};
            return made;
        case 8:
            made.kind = Condition::both;
            made.parts = {condition(depth - 1, block_clocks), condition(depth - 1, block_clocks)};
            return made;
        case 9:
            made.kind = Condition::either;
            made.parts = {condition(depth - 1, block_clocks), condition(depth - 1, block_clocks)};
            return made;
        case 10:
            made.kind = Condition::lasting_looks;
            made.number = pick(1, 4);
            made.parts = {condition(depth - 1, false)};
            return made;
        case 11:
            made.kind = Condition::lasting_ms;
            made.number = pick(0, 4) * 10;
            made.parts = {condition(depth - 1, false)};
            return made;
        default: break;
        }
        for (int i = 0; i < sensors_; ++i) {
            made.marks += "#.?"[pick(0, 2)];
        }
        return made;
    }

    std::mt19937 random_;
    int sensors_ = 1;
};

std::string written(const Condition& c) {
    switch (c.kind) {
    case Condition::pattern: return "[" + c.marks + "]";
    case Condition::seen: return fmt::format("seen >= {}", c.number);
    case Condition::reading: return fmt::format("sensor({}) > {}", c.sensor, c.number);
    case Condition::elapsed: return fmt::format("elapsed >= {}ms", c.number);
    case Condition::looks: return fmt::format("looks > {} looks", c.number);
    case Condition::travelled: return fmt::format("travelled > {}mm", c.number);
    case Condition::clock: return fmt::format("clock < {}ms", c.number);
    case Condition::inverse: return fmt::format("not ({})", written(c.parts[0]));
    case Condition::both: return fmt::format("({}) and ({})", written(c.parts[0]), written(c.parts[1]));
    case Condition::either: return fmt::format("({}) or ({})", written(c.parts[0]), written(c.parts[1]));
    case Condition::lasting_looks: return fmt::format("(({}) lasting {} looks)", written(c.parts[0]), c.number);
    case Condition::lasting_ms: return fmt::format("(({}) lasting {}ms)", written(c.parts[0]), c.number);
    }
    return "";
}

std::string written(const Move& m) {
    const char* side = m.left ? "left" : "right";
    if (m.word == "wheels" || m.word == "bend") {
        return fmt::format("{}({}, {})", m.word, m.a, m.b);
    }
    if (m.word == "ahead") {
        return fmt::format("ahead({})", m.a);
    }
    if (m.word == "pivot" || m.word == "rotate") {
        return fmt::format("{}({}, {})", m.word, side, m.a);
    }
    return m.word;
}

std::string written(const TestPlan& plan) {
    std::string text = fmt::format("plan \"random\"\nsensors {}\n", plan.sensors);
    for (std::size_t h = 0; h < plan.habits.size(); ++h) {
        text += fmt::format("habit h{} {{\n", h);
        for (const TestRule& rule : plan.habits[h]) {
            std::vector<std::string> acts;
            if (rule.has_move) {
                acts.push_back(written(rule.move));
            }
            if (rule.note >= 0) {
                acts.push_back(fmt::format("note(\"n{}\")", rule.note));
            }
            if (rule.become >= 0) {
                acts.push_back(fmt::format("become h{}", rule.become));
            }
            if (rule.halt) {
                acts.emplace_back("halt");
            }
            text +=
                fmt::format("    {} -> {}\n", rule.is_else ? "else" : written(rule.condition), fmt::join(acts, ", "));
        }
        text += "}\n";
    }
    return text;
}

/// Walks a plan as the language page says.
class Walker {
public:
    explicit Walker(TestPlan plan) : plan_(std::move(plan)) {}

    struct Said {
        double left = 0.0;
        double right = 0.0;
        bool halted = false;
        std::vector<std::string> notes;
        bool operator==(const Said&) const = default;
    };

    Said look(const Look& in) {
        Said said;
        if (!halted_) {
            ++looks_;
            if (looks_ == 1) {
                enter(0, in);
            }
            for (auto& habit : plan_.habits) {
                for (TestRule& rule : habit) {
                    if (!rule.is_else) {
                        follow(rule.condition, in);
                    }
                }
            }
            answer(in, said);
        }
        said.halted = halted_;
        said.left = halted_ ? 0.0 : left_;
        said.right = halted_ ? 0.0 : right_;
        return said;
    }

private:
    void answer(const Look& in, Said& said) {
        for (int transfers = 0;;) {
            const int number = first_that_holds(in);
            if (number < 0) {
                acting_ = -1;
                return;
            }
            const TestRule& rule = habit()[static_cast<std::size_t>(number)];
            const bool begins = acting_ != number;
            acting_ = number;
            if (rule.has_move) {
                give(rule.move);
            }
            if (!begins) {
                return;
            }
            if (rule.note >= 0) {
                said.notes.push_back(fmt::format("n{}", rule.note));
            }
            if (rule.halt) {
                halted_ = true;
                return;
            }
            if (rule.become < 0) {
                return;
            }
            if (transfers == 16) {
                acting_ = -1;
                return;
            }
            ++transfers;
            enter(rule.become, in);
        }
    }

    std::vector<TestRule>& habit() { return plan_.habits[static_cast<std::size_t>(habit_)]; }

    int first_that_holds(const Look& in) {
        for (std::size_t i = 0; i < habit().size(); ++i) {
            if (habit()[i].is_else || holds(habit()[i].condition, in)) {
                return static_cast<int>(i);
            }
        }
        return -1;
    }

    void enter(int habit, const Look& in) {
        habit_ = habit;
        acting_ = -1;
        began_ms_ = in.clock_ms;
        began_way_ = in.way_mm;
        began_looks_ = looks_;
    }

    /// Brings what lies in a condition up to date, the innermost first.
    void follow(Condition& c, const Look& in) {
        for (Condition& part : c.parts) {
            follow(part, in);
        }
        if (c.kind == Condition::lasting_looks || c.kind == Condition::lasting_ms) {
            if (!holds(c.parts[0], in)) {
                c.held_looks = 0;
            } else if (++c.held_looks == 1) {
                c.since_ms = in.clock_ms;
            }
        }
    }

    bool holds(const Condition& c, const Look& in) const {
        switch (c.kind) {
        case Condition::pattern:
            for (std::size_t i = 0; i < c.marks.size(); ++i) {
                const bool line = ((in.line_bits >> i) & 1) != 0;
                if (c.marks[i] != '?' && (c.marks[i] == '#') != line) {
                    return false;
                }
            }
            return true;
        case Condition::seen: return seen(Pattern{in.line_bits, plan_.sensors}) >= c.number;
        case Condition::reading: return in.sensor[c.sensor - 1] > c.number;
        case Condition::elapsed: return in.clock_ms - began_ms_ >= c.number;
        case Condition::looks: return looks_ - began_looks_ > c.number;
        case Condition::travelled: return std::abs(in.way_mm - began_way_) > c.number;
        case Condition::clock: return in.clock_ms < c.number;
        case Condition::inverse: return !holds(c.parts[0], in);
        case Condition::both: return holds(c.parts[0], in) && holds(c.parts[1], in);
        case Condition::either: return holds(c.parts[0], in) || holds(c.parts[1], in);
        case Condition::lasting_looks: return c.held_looks >= c.number;
        case Condition::lasting_ms: return c.held_looks > 0 && in.clock_ms - c.since_ms >= c.number;
        }
        return false;
    }

    void give(const Move& m) {
        if (m.word == "wheels") {
            set(m.a, m.b);
        }
        if (m.word == "ahead") {
            set(m.a, m.a);
        }
        if (m.word == "bend") {
            set(m.b - m.a, m.b + m.a);
        }
        if (m.word == "pivot") {
            set(m.left ? 0.0 : m.a, m.left ? m.a : 0.0);
        }
        if (m.word == "rotate") {
            set(m.left ? -m.a : m.a, m.left ? m.a : -m.a);
        }
        if (m.word == "still") {
            set(0.0, 0.0);
        }
    }

    void set(double left, double right) {
        left_ = std::min(100.0, std::max(-100.0, left));
        right_ = std::min(100.0, std::max(-100.0, right));
    }

    TestPlan plan_;
    int looks_ = 0;
    int habit_ = 0;
    int acting_ = -1;
    int began_looks_ = 0;
    double began_ms_ = 0.0;
    double began_way_ = 0.0;
    double left_ = 0.0;
    double right_ = 0.0;
    bool halted_ = false;
};

Walker::Said asked(Mind& mind, const Look& in) {
    Answer answer;
    mind(in, answer);
    Walker::Said said{answer.left_pct, answer.right_pct, answer.halted, {}};
    for (int i = 0; i < answer.events; ++i) {
        if (answer.event[i].kind == EventKind::note) {
            said.notes.push_back(mind.plan().texts()[answer.event[i].what]);
        }
    }
    return said;
}

/// A look that often stays as the one before, so that things last.
void next_look(Look& in, Maker& maker, int sensors) {
    in.clock_ms += 10.0;
    in.way_mm += maker.pick(-1, 3);
    for (int k = 0; k < sensors; ++k) {
        if (maker.pick(0, 3) == 0) {
            in.sensor[k] = maker.pick(0, 10) / 10.0;
        }
    }
    in.line_bits = 0;
    for (int k = 0; k < sensors; ++k) {
        in.line_bits = static_cast<std::uint8_t>(in.line_bits | (in.sensor[k] >= 0.5 ? 1U << k : 0U));
    }
}

} // namespace

TEST_CASE("the runtime and an independent evaluator agree on every look of 3000 random plans") {
    int agreed = 0;
    for (std::uint32_t seed = 1; seed <= 3000; ++seed) {
        Maker maker(seed);
        const TestPlan plan = maker.plan();
        const std::string text = written(plan);
        CAPTURE(seed);
        CAPTURE(text);
        Mind mind(fixtures::compiled(text));
        Walker walker(plan);
        Asker asker(mind.plan());
        const bool explain = seed <= 300; // every passed rule's explanation is held against the runtime too (an assert)
        Look in;
        in.sensors = static_cast<std::uint8_t>(plan.sensors);
        for (int i = 0; i < 60; ++i) {
            const Walker::Said expected = walker.look(in);
            const Walker::Said said = asked(mind, in);
            CAPTURE(i);
            REQUIRE(said.left == expected.left);
            REQUIRE(said.right == expected.right);
            REQUIRE(said.halted == expected.halted);
            REQUIRE(said.notes == expected.notes);
            if (explain) {
                const Reply reply = asker.ask(in);
                REQUIRE(reply.answer.left_pct == expected.left);
                REQUIRE(reply.answer.right_pct == expected.right);
                for (const BlockVisit& visit : reply.visits) {
                    for (const RuleCheck& check : visit.checks) {
                        REQUIRE(check.holds == check.because.empty());
                    }
                }
            }
            next_look(in, maker, plan.sensors);
            ++agreed;
        }
    }
    CHECK(agreed == 180'000);
}
