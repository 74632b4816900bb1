/// The runtime against an independent evaluator: random plans are made as plain values, written out as
/// text for the compiler, and walked by the words of the language page. Every look of every plan must
/// agree in powers, events and halting.
#include <set>

#include <doctest/doctest.h>
#include <fmt/format.h>

#include "plan/reference/walker.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/plan/explain/asker.hpp"
#include "vast_turn/plan/text/language.hpp"

using namespace vast_turn;

namespace {

const std::uint32_t plans = static_cast<std::uint32_t>(fixtures::rounds(2400, 900, 100));
constexpr int looks = 200;

reference::Said said_by(const Plan& plan, const Answer& answer) {
    reference::Said said{answer.left_pct, answer.right_pct, answer.halted, {}};
    for (int i = 0; i < answer.events; ++i) {
        const Event& event = answer.event[i];
        std::string words = event_name(event.kind);
        if (event.kind == EventKind::tell) {
            words += fmt::format(" {} {}", plan.texts()[event.what], event.value);
        } else if (event.kind != EventKind::unanswered && event.kind != EventKind::cut_short) {
            words += " " + plan.texts()[event.what];
        }
        said.events.push_back(words);
    }
    return said;
}

/// The words of a plan's text, without those of its texts and comments.
void gather_words(const std::string& text, std::set<std::string>& words) {
    std::string word;
    for (const char c : text + " ") {
        if ((c >= 'a' && c <= 'z') || c == '_') {
            word += c;
        } else {
            words.insert(word);
            word.clear();
        }
    }
}

} // namespace

TEST_CASE("the runtime and an independent evaluator agree on every look of random plans over the whole language") {
    std::set<std::string> words;
    std::set<std::string> events;
    int held = 0;
    int deepest = 0;
    for (std::uint32_t seed = 1; seed <= plans; ++seed) {
        const reference::Plan made = reference::make(seed);
        const std::string text = reference::written(made);
        CAPTURE(seed);
        CAPTURE(text);
        gather_words(text, words);
        const Plan plan = fixtures::compiled(text);
        Mind mind(plan);
        Asker asker(plan);
        reference::Walker walker(made);
        reference::Looks script(seed, made.sensors);
        for (int i = 0; i < looks; ++i) {
            CAPTURE(i);
            const Look& in = script.next(plan.places(), plan.heard());
            const reference::Said expected = walker.look(in, plan.places(), plan.heard());
            Answer answer;
            mind(in, answer);
            const reference::Said said = said_by(plan, answer);
            REQUIRE(said.events == expected.events);
            REQUIRE(said.left == expected.left);
            REQUIRE(said.right == expected.right);
            REQUIRE(said.halted == expected.halted);
            if (seed <= 200 && i < 60) { // a reply explains; it must not decide otherwise
                const Reply reply = asker.ask(in);
                REQUIRE(reply.answer.left_pct == expected.left);
                REQUIRE(reply.answer.right_pct == expected.right);
                for (const AskedStep& step : reply.steps) {
                    REQUIRE(step.holds == step.because.empty());
                }
            }
            held += mind.machine().held() ? 1 : 0;
            deepest = std::max(deepest, mind.machine().depth());
            events.insert(expected.events.begin(), expected.events.end());
        }
    }
    for (const std::string& word : language_words()) {
        CHECK_MESSAGE(words.contains(word), "no random plan has the word ", word);
    }
    CHECK(events.contains("cut short"));
    CHECK(events.contains("unanswered"));
    CHECK(events.contains("light green"));
    CHECK(held > 1000);
    CHECK(deepest >= 4);
}
