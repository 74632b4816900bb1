#include "vast_turn/step/quantity.hpp"

#include <array>
#include <cassert>
#include <utility>

#include "vast_turn/plan/explain/probe.hpp"
#include "vast_turn/plan/mind.hpp"

namespace vast_turn {

namespace {

/// What is recorded, and not a word of the language.
struct RecordedQuantity {
    const char* name;
    const char* unit;
    double (*of)(const LookRecord& look);
};

constexpr std::array<RecordedQuantity, 5> recorded_quantities = {
    {{"left", "%", [](const LookRecord& look) { return static_cast<double>(look.left_pct); }},
     {"right", "%", [](const LookRecord& look) { return static_cast<double>(look.right_pct); }},
     {"x", "mm", [](const LookRecord& look) { return look.at.x; }},
     {"y", "mm", [](const LookRecord& look) { return look.at.y; }},
     {"facing", "deg", [](const LookRecord& look) { return static_cast<double>(look.heading_deg); }}}};

} // namespace

Quantities quantities_of(const Plan& plan, const Run& run, const std::string& quantity, runtime::NumberKind numbers) {
    assert(run.told.size() == run.looks.size());
    Quantities out;
    out.name = quantity;
    for (const RecordedQuantity& one : recorded_quantities) {
        if (quantity == one.name) {
            out.unit = one.unit;
            for (const LookRecord& look : run.looks) {
                out.values.push_back(one.of(look));
            }
            return out;
        }
    }
    ProbeResult made = make_probe(plan, quantity, "quantity", true);
    if (!made.probe) {
        throw InputError(made.problems);
    }
    out.name = made.probe->text();
    out.is_condition = made.probe->is_condition();
    out.unit = made.probe->unit();
    Mind mind(plan, numbers);
    Answer answer;
    for (const Look& look : run.told) {
        answer.events = 0;
        mind(look, answer);
        out.values.push_back(made.probe->value(mind, look));
    }
    return out;
}

} // namespace vast_turn
