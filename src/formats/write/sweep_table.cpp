#include "vast_turn/formats/write/sweep_table.hpp"

#include <fmt/format.h>

#include "formats/write/csv_text.hpp"
#include "formats/write/json_text.hpp"

namespace vast_turn {

std::string sweep_json(const std::vector<Axis>& axes, const std::vector<SweepPoint>& points, double sure,
                       std::size_t layouts) {
    Json over = Json::array();
    for (const Axis& axis : axes) {
        over.push_back({{"name", written_name(axis.number)}, {"unit", axis.unit}});
    }
    Json list = Json::array();
    for (const SweepPoint& point : points) {
        Json one = {{"at", point.at}, {"runs", point.runs}, {"passed", point.passed}};
        if (point.refused.empty()) {
            one["share"] = {rounded(point.share.low, 1e6), rounded(point.share.high, 1e6)};
            one["time_s"] = point.passed > 0 ? Json{{"mean", rounded(point.time_s.mean, 1e4)},
                                                    {"deviation", rounded(point.time_s.deviation, 1e4)}}
                                             : Json();
            one["steering_change_pct"] = point.passed > 0 ? Json(rounded(point.steering_pct.mean, 1e4)) : Json();
        } else {
            one["refused"] = point.refused;
        }
        list.push_back(std::move(one));
    }
    const std::size_t best = fastest_sure(points, sure);
    Json all = {{"axes", over},
                {"sure", sure},
                {"fastest_sure", best < points.size() ? Json(points[best].at) : Json()},
                {"points", list}};
    if (layouts > 0) {
        all["layouts"] = layouts;
    }
    return written(all);
}

std::string sweep_csv(const std::vector<Axis>& axes, const std::vector<SweepPoint>& points) {
    std::string out;
    for (const Axis& axis : axes) {
        out += written_name(axis.number) + ",";
    }
    out += "runs,passed,share_low,share_high,time_s,time_deviation_s,steering_pct,refused\n";
    for (const SweepPoint& point : points) {
        for (const double value : point.at) {
            out += fmt::format("{:.10g},", value);
        }
        out += fmt::format("{},{},{:.6f},{:.6f},{:.4f},{:.4f},{:.4f},{}\n", point.runs, point.passed, point.share.low,
                           point.share.high, point.time_s.mean, point.time_s.deviation, point.steering_pct.mean,
                           csv_cell(point.refused));
    }
    return out;
}

} // namespace vast_turn
