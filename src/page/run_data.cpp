#include "page/run_data.hpp"

#include <algorithm>
#include <cassert>
#include <cmath>

#include "page/blocks_in_hand.hpp"
#include "page/columns.hpp"
#include "page/moments.hpp"
#include "vast_turn/step/quantity.hpp"

namespace vast_turn {

namespace {

template <class Of> std::vector<double> of_looks(const Run& run, Of of) {
    std::vector<double> values;
    values.reserve(run.looks.size());
    for (const LookRecord& look : run.looks) {
        values.push_back(static_cast<double>(of(look)));
    }
    return values;
}

/// A step with which numbers of this size keep five digits.
double step_for(const std::vector<double>& values) {
    double most = 0.0;
    for (const double value : values) {
        most = std::isfinite(value) ? std::max(most, std::abs(value)) : most;
    }
    return most > 0.0 ? std::pow(10.0, std::ceil(std::log10(most)) - 5.0) : 1.0;
}

/// What is drawn unless somebody says otherwise, of those that the plan can be asked.
std::vector<std::string> usual_quantities(const Plan& plan) {
    std::vector<std::string> names = {"offset"};
    names.insert(names.end(), plan.vars().begin(), plan.vars().end());
    return names;
}

/// Quantities of the plan's language, each a column of its own.
Json add_quantities(const PageRun& one, const PageOptions& options, Columns& columns) {
    Json list = Json::array();
    std::vector<std::string> names = options.quantities;
    const std::size_t asked = names.size();
    for (const std::string& name : usual_quantities(one.plan)) {
        if (std::find(names.begin(), names.end(), name) == names.end()) {
            names.push_back(name);
        }
    }
    for (std::size_t i = 0; i < names.size(); ++i) {
        Quantities values;
        try {
            values = quantities_of(one.plan, one.run, names[i], options.numbers);
        } catch (const InputError&) {
            if (i < asked) {
                throw;
            }
            continue; // a var named like a word of its own, an array without an offset
        }
        const std::string column = "quantity " + std::to_string(list.size());
        columns.add(column, values.is_condition ? 1.0 : step_for(values.values), values.values);
        list.push_back({{"name", values.name},
                        {"unit", values.unit},
                        {"condition", values.is_condition},
                        {"asked", i < asked},
                        {"column", column}});
    }
    return list;
}

void add_looks(const Run& run, std::size_t sensors, Columns& columns) {
    columns.add("t", 1e-5, of_looks(run, [](const LookRecord& look) { return look.t_s; }));
    columns.add("x", 0.1, of_looks(run, [](const LookRecord& look) { return look.at.x; }));
    columns.add("y", 0.1, of_looks(run, [](const LookRecord& look) { return look.at.y; }));
    columns.add("facing", 0.1, of_looks(run, [](const LookRecord& look) { return look.heading_deg; }));
    columns.add("way", 0.1, of_looks(run, [](const LookRecord& look) { return look.way_mm; }));
    columns.add("left", 0.1, of_looks(run, [](const LookRecord& look) { return look.left_pct; }));
    columns.add("right", 0.1, of_looks(run, [](const LookRecord& look) { return look.right_pct; }));
    columns.add("line", 1.0, of_looks(run, [](const LookRecord& look) { return look.line_bits; }));
    columns.add("markers", 1.0, of_looks(run, [](const LookRecord& look) { return look.markers; }));
    columns.add("range", 1.0, of_looks(run, [](const LookRecord& look) { return look.range_mm; }));
    columns.add("rule", 1.0, of_looks(run, [](const LookRecord& look) {
                    return look.rule == no_rule ? -1.0 : static_cast<double>(look.rule.index());
                }));
    std::vector<std::vector<double>> readings(sensors);
    for (const LookRecord& look : run.looks) {
        const std::vector<double> of_look = readings_of(run, look);
        for (std::size_t i = 0; i < sensors; ++i) {
            readings[i].push_back(of_look[i]);
        }
    }
    for (std::size_t i = 0; i < sensors; ++i) {
        columns.add("sensor " + std::to_string(i + 1), 0.001, readings[i]);
    }
}

Json rules_json(const Plan& plan) {
    Json rules = Json::array();
    for (const RuleInfo& rule : plan.rules()) {
        rules.push_back(
            {{"line", rule.line}, {"condition", rule.condition}, {"acts", rule.acts}, {"mirrored", rule.is_twin}});
    }
    return rules;
}

} // namespace

Json run_data(const Scene& scene, const PageRun& one, const PageOptions& options) {
    const Run& run = one.run;
    assert(run.told.size() == run.looks.size());
    Columns columns;
    add_looks(run, scene.robot().sensors.size(), columns);
    BlocksInHand blocks(one.plan);
    Mind mind(one.plan, options.numbers);
    Answer answer;
    for (const Look& look : run.told) {
        answer.events = 0;
        mind(look, answer);
        blocks.look(mind, look);
    }
    columns.add("blocks", 1.0, blocks.numbers());
    const Json quantities = add_quantities(one, options, columns);
    Json moments = Json::array();
    for (const Moment& moment : moments_of(scene, one.plan, run)) {
        moments.push_back({{"t", rounded(moment.t_s, 1e4)}, {"kind", name_of(moment.kind)}, {"text", moment.text}});
    }
    Json thresholds = Json::array();
    for (const SensorLevels& sensor : run.calibration.sensors) {
        thresholds.push_back(thousandths(sensor.threshold));
    }
    return {{"name", one.name},
            {"file", one.plan.file()},
            {"start", run.start},
            {"seed", run.seed},
            {"day", run.day},
            {"ended", name_of(run.ending)},
            {"because", run.ended_because},
            {"time_s", rounded(run.time_s, 1e4)},
            {"way_mm", rounded(run.way_mm, 10.0)},
            {"unanswered", run.unanswered},
            {"end_at", point_json(run.end_at)},
            {"text", one.plan_text},
            {"rules", rules_json(one.plan)},
            {"markers", one.plan.markers()},
            {"thresholds", thresholds},
            {"hands", blocks.json()},
            {"quantities", quantities},
            {"moments", moments},
            {"looks", columns.json()}};
}

} // namespace vast_turn
