#include "vast_turn/course/board/tape_pen.hpp"

#include <algorithm>
#include <cmath>
#include <stdexcept>

namespace vast_turn {

TapePen::TapePen(Vec2 at, double heading_deg, double width_mm) : at_(at), heading_deg_(heading_deg) {
    tape_.path.push_back(at);
    tape_.width_mm = width_mm;
}

TapePen& TapePen::ahead(double mm) {
    if (mm > 0.0) {
        at_ = at_ + mm * direction(heading_deg_);
        tape_.path.push_back(at_);
        way_mm_ += mm;
    }
    return *this;
}

TapePen& TapePen::bend(double radius_mm, double deg, double side) {
    if (!(radius_mm > 0.0) || !(deg > 0.0)) {
        return *this;
    }
    const Vec2 centre = at_ + radius_mm * direction(heading_deg_ + side * 90.0);
    // Chords that lie within 0.02 mm of the arc, as those of paths do.
    constexpr double near_mm = 0.02;
    const double step = 2.0 * std::acos(1.0 - std::min(1.0, near_mm / radius_mm));
    const int chords = std::max(2, static_cast<int>(std::ceil(to_radians(deg) / step)));
    for (int i = 1; i <= chords; ++i) {
        const double heading = heading_deg_ + side * deg * i / chords;
        at_ = centre - radius_mm * direction(heading + side * 90.0);
        way_mm_ += length(at_ - tape_.path.back());
        tape_.path.push_back(at_);
    }
    heading_deg_ += side * deg;
    return *this;
}

TapePen& TapePen::left(double radius_mm, double deg) { return bend(radius_mm, deg, 1.0); }

TapePen& TapePen::right(double radius_mm, double deg) { return bend(radius_mm, deg, -1.0); }

TapePen& TapePen::gap(double mm) {
    if (mm > 0.0) {
        tape_.gaps.push_back({way_mm_, mm});
        ahead(mm);
    }
    return *this;
}

TapePen& TapePen::close() {
    tape_.closed = true;
    return *this;
}

Tape TapePen::tape() const {
    if (tape_.path.size() < 2) {
        throw std::logic_error("TapePen: nothing was laid");
    }
    return tape_;
}

} // namespace vast_turn
