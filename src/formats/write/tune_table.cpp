#include "vast_turn/formats/write/tune_table.hpp"

#include <fmt/format.h>

#include "formats/write/json_text.hpp"

namespace vast_turn {

namespace {

Json json_of(const TuneConfirmed& it) {
    return {{"days", it.days},
            {"failed", it.failed},
            {"share", {rounded(it.share.low, 1e6), rounded(it.share.high, 1e6)}},
            {"time_s", rounded(it.time_s, 1e4)}};
}

} // namespace

std::string tuned_json(const std::vector<Axis>& axes, const TuneAsk& ask, const Tuned& tuned, std::size_t layouts) {
    Json numbers = Json::array();
    for (std::size_t k = 0; k < axes.size(); ++k) {
        Json one = {{"name", ask.numbers[k].name},
                    {"unit", axes[k].unit},
                    {"may_be", {ask.numbers[k].least, ask.numbers[k].greatest}},
                    {"now", ask.start[k]}};
        one["tuned"] = tuned.winner ? Json(tuned.tried[*tuned.winner].at[k]) : Json();
        if (!tuned.margins.empty()) {
            one["holds"] = {tuned.margins[k].low, tuned.margins[k].high};
        }
        numbers.push_back(std::move(one));
    }
    Json tried = Json::array();
    for (const TuneTried& it : tuned.tried) {
        tried.push_back({{"at", it.at},
                         {"stage", name_of(it.stage)},
                         {"days", it.days},
                         {"failed", it.failed},
                         {"time_s", it.time_s > 0.0 ? Json(rounded(it.time_s, 1e4)) : Json()},
                         {"refuted", it.refuted}});
    }
    Json all = {{"sure", ask.sure},
                {"numbers", numbers},
                {"confirmed", tuned.winner ? json_of(tuned.confirmed) : Json()},
                {"now", tuned.start ? json_of(*tuned.start) : Json()},
                {"runs", tuned.runs},
                {"further_runs", tuned.further_runs},
                {"stopped", tuned.stopped},
                {"tried", tried}};
    if (layouts > 0) {
        all["layouts"] = layouts;
    }
    return written(all);
}

std::string tuned_csv(const std::vector<Axis>& axes, const Tuned& tuned) {
    std::string out;
    for (const Axis& axis : axes) {
        out += written_name(axis.number) + ",";
    }
    out += "stage,days,failed,time_s,refuted,winner\n";
    for (std::size_t i = 0; i < tuned.tried.size(); ++i) {
        const TuneTried& it = tuned.tried[i];
        for (const double value : it.at) {
            out += fmt::format("{:.10g},", value);
        }
        out += fmt::format("{},{},{},{},{},{}\n", name_of(it.stage), it.days, it.failed,
                           it.time_s > 0.0 ? fmt::format("{:.4f}", it.time_s) : "", it.refuted ? 1 : 0,
                           tuned.winner == i ? 1 : 0);
    }
    return out;
}

} // namespace vast_turn
