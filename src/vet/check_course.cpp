/// A course's lines, plates and speeds.
#include "vet/course_checker.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <set>

#include <fmt/format.h>

#include "vet/motions.hpp"

namespace vast_turn::vetting {

void CourseChecker::run() {
    plates_known();
    if (scene_ == nullptr) {
        return;
    }
    speed_mm_s_ = fastest_mm_s(out_);
    edges();
    junctions();
    widths();
    if (out_.rehearsal() != nullptr) {
        drives(*out_.rehearsal());
    }
    // What no drive was tried at (a junction alone may bear far more) nobody knows.
    constexpr double most_tried = 3.5; // of its speed
    if (highest_mm_s_ <= most_tried * speed_mm_s_) {
        out_.fact("highest speed for this course", highest_mm_s_ > 0.0
                                                       ? fmt::format("{:.0f} mm/s ({})", highest_mm_s_, highest_for_)
                                                       : fmt::format("none found ({})", highest_for_));
    }
}

void CourseChecker::plates_known() {
    const std::vector<std::string>& known = out_.plan().markers();
    std::set<std::string> there;
    for (const Marker& marker : course_.markers) {
        there.insert(marker.colour);
    }
    std::vector<std::string> ignored;
    std::copy_if(there.begin(), there.end(), std::back_inserter(ignored), [&](const std::string& colour) {
        return std::find(known.begin(), known.end(), colour) == known.end();
    });
    if (!ignored.empty()) {
        out_.add_whole("plate-ignored",
                       fmt::format("the course has {} plates, the plan has no marker of {}", fmt::join(ignored, ", "),
                                   ignored.size() == 1 ? "that name" : "those names"),
                       fmt::format("write {} behind markers, and a rule for {}", fmt::join(ignored, ", "),
                                   ignored.size() == 1 ? "it" : "each"));
    }
    for (const std::string& marker : known) {
        if (!there.contains(marker)) {
            out_.add_whole("plate-absent", fmt::format("the plan waits for {}, the course has no such plate", marker),
                           "put the plate on the course, or use a plan without it");
        }
    }
}

void CourseChecker::limit_speed(double mm_s, std::string why) {
    if (mm_s < highest_mm_s_) {
        highest_mm_s_ = mm_s;
        highest_for_ = std::move(why);
    }
}

/// A crossing line lies under the array for its width: it must be looked at while it does.
void CourseChecker::junctions() {
    for (const Node& node : graph().nodes) {
        if (node.exits.size() < 3) {
            continue;
        }
        double narrowest = HUGE_VAL;
        for (const Exit& exit : node.exits) {
            narrowest = std::min(narrowest, graph().stretch(exit.stretch).width_mm);
        }
        limit_speed(narrowest / robot().look_ms * 1000.0, "the junction " + node.name);
    }
}

void CourseChecker::widths() {
    const std::vector<LineSensor>& sensors = robot().sensors;
    if (sensors.size() < 3) {
        return; // fewer straddle the line, or ride on it
    }
    double widest_step = 0.0;
    for (std::size_t i = 0; i + 1 < sensors.size(); ++i) {
        widest_step = std::max(widest_step, std::abs(sensors[i].at_mm.y - sensors[i + 1].at_mm.y));
    }
    const double span = std::abs(sensors.front().at_mm.y - sensors.back().at_mm.y);
    const Stretch* narrow = nullptr;
    const Stretch* wide = nullptr;
    for (const Stretch& stretch : graph().stretches) {
        constexpr double scrap_mm = 60.0; // what sticks out from under a plate
        if (stretch.length_mm >= scrap_mm) {
            narrow = narrow == nullptr || stretch.width_mm < narrow->width_mm ? &stretch : narrow;
            wide = wide == nullptr || stretch.width_mm > wide->width_mm ? &stretch : wide;
        }
    }
    if (narrow == nullptr) {
        return;
    }
    if (narrow->width_mm < widest_step) {
        out_.add_whole(
            "line-misfit",
            fmt::format("the line from {} to {} is {:.0f} mm wide and fits between two sensors, {:.1f} mm apart",
                        node(narrow->from), node(narrow->to), narrow->width_mm, widest_step),
            "set the sensors nearer to one another");
    }
    if (wide->width_mm > span) {
        out_.add_whole(
            "line-misfit",
            fmt::format("the line from {} to {} is {:.0f} mm wide, all sensors within {:.1f} mm see it at once",
                        node(wide->from), node(wide->to), wide->width_mm, span),
            "set the sensors wider apart");
    }
}

void check_course(Collector& out, const Scene* scene) { CourseChecker(out, scene).run(); }

} // namespace vast_turn::vetting
