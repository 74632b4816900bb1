#include "sweep/point_driver.hpp"

#include <algorithm>
#include <cassert>

#include "vast_turn/trial/trip_result.hpp"

namespace vast_turn {

namespace {

/// Whether one robot's sensors see what the other's do, so that a scene can be shared: one of other spots would be
/// exact to a quarter of a millimetre only.
bool same_array(const Robot& a, const Robot& b) {
    return std::equal(a.sensors.begin(), a.sensors.end(), b.sensors.begin(), b.sensors.end(),
                      [](const LineSensor& x, const LineSensor& y) {
                          return x.at_mm == y.at_mm && x.spot_mm == y.spot_mm && x.light == y.light;
                      });
}

} // namespace

PointDriver::PointDriver(const SweepAsk& ask, const SweepValues& at) : ask_(ask), run_(ask.run) {
    std::vector<Setting> settings;
    bool of_robot = false;
    for (std::size_t k = 0; k < ask.axes.size(); ++k) {
        settings.push_back(ask.axes[k].at(at[k]));
        of_robot = of_robot || settings.back().of == Setting::Of::robot;
        if (settings.back().of == Setting::Of::day) {
            run_.set.push_back(day_value_of(settings.back()));
        }
    }
    plan_ = std::make_unique<Plan>(ask.plan(settings));
    if (of_robot) {
        robot_ = std::make_unique<Robot>(ask.robot(settings));
        make_scenes(ask.cases);
        for (const std::vector<TripCase>& layout : ask.further_layouts) {
            make_scenes(layout);
        }
    }
    check_fit(robot_ ? *robot_ : ask.cases.front().scene->robot(), *plan_);
}

void PointDriver::make_scenes(const std::vector<TripCase>& cases) {
    for (const TripCase& one : cases) {
        if (!scenes_.contains(one.scene)) {
            scenes_.emplace(one.scene, same_array(*robot_, one.scene->robot()) ? one.scene->driven_by(*robot_)
                                                                               : Scene(one.scene->course(), *robot_));
        }
    }
}

const TripCase& PointDriver::case_of(std::size_t one, std::size_t n) const {
    const std::size_t layout = n % (1 + ask_.further_layouts.size());
    return layout == 0 ? ask_.cases[one] : ask_.further_layouts[layout - 1][one];
}

RunsOfPoint PointDriver::run(std::size_t one, std::size_t n, std::size_t count) const {
    assert(count <= lanes_at_most);
    RunsOfPoint runs{};
    const std::size_t at_once = ask_.further_layouts.empty() ? count : 1; // what goes side by side is on one layout
    for (std::size_t first = 0; first < count; first += at_once) {
        const TripCase& on = case_of(one, n + first);
        try_trips(scene(on), *plan_, on.trip, runs_from(run_, n + first, at_once),
                  [&runs, first](std::size_t number, const TripResult& result) {
                      runs[first + number] = {result.passed, result.run.time_s,
                                              result.passed ? steering_change_pct(result.run) : 0.0};
                  });
    }
    return runs;
}

} // namespace vast_turn
