/// What a drive did at gaps and plates.
#include "vet/drive_reader.hpp"

#include <algorithm>
#include <cmath>

namespace vast_turn::vetting {

namespace {

/// How far behind a gap or a plate the line must be followed for the robot to have come over.
constexpr double behind_mm = 25.0;

} // namespace

/// Whether the plan turned for a marker between two looks.
bool DriveReader::by_marker(const Reading& reading, std::size_t from, std::size_t to) const {
    constexpr std::size_t earlier = 100;
    for (std::size_t i = from > earlier ? from - earlier : 0; i <= to && i < reading.spots.size(); ++i) {
        const RuleId rule = reading.look(i).rule;
        const bool handed_over = i < reading.drive.chose_by_marker.size() && reading.drive.chose_by_marker[i] != 0;
        if (handed_over || (rule != no_rule && rules_.turns_by_marker[rule.index()])) {
            return true;
        }
    }
    return false;
}

/// The first rule that acted with the line out of sight and not with it in sight; else the one that acted there.
RuleId DriveReader::acting_in_gap(const Reading& reading, std::size_t from, std::size_t to) const {
    const RuleId before = reading.look(from).rule;
    for (std::size_t i = from; i <= to; ++i) {
        if (reading.look(i).line_bits == 0 && reading.look(i).rule != before) {
            return reading.look(i).rule;
        }
    }
    return before;
}

/// Whether the robot, with the line out of sight, does something else than to go on as it did when it saw it last.
bool DriveReader::turns_off(const LookRecord& lit, const LookRecord& look, double heading_deg) const {
    const bool rides_edge = scene_.robot().sensors.size() == 1; // it swings out of sight of the line all the time
    const double search_deg = rides_edge ? 70.0 : 35.0;
    constexpr double least_ahead_pct = 10.0; // both wheels together
    constexpr double hard = 0.5;             // the wheels' difference as a part of their sum
    if (look.line_bits != 0) {
        return false;
    }
    const auto turn = [](const LookRecord& l) { return static_cast<double>(l.right_pct - l.left_pct); };
    const double ahead = static_cast<double>(look.left_pct + look.right_pct);
    const bool other = !rides_edge && look.rule != lit.rule && std::abs(turn(look) - turn(lit)) > least_ahead_pct;
    return std::abs(static_cast<double>(look.heading_deg) - heading_deg) > search_deg || ahead < least_ahead_pct ||
           (other && std::abs(turn(look)) > hard * ahead);
}

/// Whether the plan ended here by a rule that does not ask whether the line is seen.
bool DriveReader::halts_for_another_reason(const Reading& reading, const WayMark& mark, std::size_t entry,
                                           std::size_t look) const {
    const RuleId rule = reading.look(look).rule;
    const double way = static_cast<double>(reading.look(look).way_mm - reading.look(entry).way_mm);
    constexpr double soon_mm = 150.0; // after more than that it has circled there
    return look + 1 == reading.spots.size() && reading.drive.run.ending == Ending::halted && rule != no_rule &&
           way < mark.to_mm - mark.from_mm + soon_mm && plan_.rule(rule).kind != RuleKind::item &&
           !rules_.asks_line[rule.index()];
}

/// Whether a robot that meets its line again behind a gap has cut off a part of it: by a way that is shorter than the
/// line.
bool DriveReader::cuts_off(const Reading& reading, std::size_t entry, std::size_t look) const {
    constexpr double part = 0.8;
    constexpr double little_mm = 60.0;
    const double along = std::abs(reading.spots[look].along_mm - reading.spots[entry].along_mm);
    const double way = static_cast<double>(reading.look(look).way_mm - reading.look(entry).way_mm);
    return reading.spots[look].stretch == reading.spots[entry].stretch && way < part * along && along - way > little_mm;
}

/// What becomes of a robot that comes to a gap, or to a plate that covers the line, in this look.
DriveReader::Crossing DriveReader::follow_over(const Reading& reading, const WayMark& mark, std::size_t entry) const {
    constexpr double turned_mm = 40.0; // back behind where it came from
    constexpr double before_mm = 60.0; // facing it, but far before it again
    const double size = mark.to_mm - mark.from_mm;
    const bool forward = reading.spots[entry].forward;
    const double heading = static_cast<double>(reading.look(entry).heading_deg);
    Crossing out;
    std::size_t lit = entry; // the last look that saw line
    std::size_t k = entry + 1;
    for (bool left = false; k < reading.spots.size() && !out.crossed && !left; ++k) {
        const LineSpot& spot = reading.spots[k];
        lit = reading.look(k).line_bits != 0 ? k : lit;
        // Who comes to it out of sight of the line, still turning, does not turn off from there.
        out.searched = out.searched ||
                       (reading.look(lit).line_bits != 0 && turns_off(reading.look(lit), reading.look(k), heading));
        if (spot.off || !spot.stretch || reading.look(k).line_bits == 0) {
            continue;
        }
        const bool on_far_side =
            spot.stretch == mark.beyond && (mark.beyond != mark.stretch || spot.forward == forward);
        if (on_far_side && past(mark, spot) >= behind_mm) {
            left = cuts_off(reading, entry, k);
            out.crossed = !left;
        } else if (spot.stretch == mark.stretch) {
            left = spot.forward != forward ? past(mark, spot) > turned_mm : past(mark, spot) + size < -before_mm;
        } else {
            left = spot.stretch != mark.beyond;
        }
    }
    out.end = std::min(k, reading.spots.size()) - 1;
    out.astray = !out.crossed && !out.searched;
    return out;
}

void DriveReader::gap_passes(Reading& reading, std::size_t number) {
    const WayMark& mark = into_.marks[number];
    constexpr double before_mm = 30.0;
    std::size_t stays_at = reading.spots.size(); // from where on it is on its way no more
    for (std::size_t i = 0; i < reading.looks(); ++i) {
        const LineSpot& entry = reading.spots[i];
        if (entry.off || entry.stretch != mark.stretch || (entry.forward ? mark.only_backward : mark.only_forward)) {
            continue;
        }
        const double into = past(mark, entry) + mark.to_mm - mark.from_mm;
        if (into < -before_mm || into > 0.0) {
            continue;
        }
        const Crossing crossing = follow_over(reading, mark, i);
        count_crossing(reading, number, i, crossing);
        stays_at = !crossing.crossed ? std::min(stays_at, i + 1) : stays_at;
        i = crossing.end;
    }
    reading.end = std::min(reading.end, stays_at);
}

void DriveReader::count_crossing(const Reading& reading, std::size_t number, std::size_t entry,
                                 const Crossing& crossing) {
    const bool meant = by_marker(reading, entry, crossing.end) || deliberate(reading, entry) ||
                       halts_for_another_reason(reading, into_.marks[number], entry, crossing.end);
    if (!crossing.crossed && (meant || unfinished(reading, entry))) {
        return;
    }
    Passes& passes = into_.passes[number][reading.spots[entry].forward ? 0 : 1];
    if (into_.marks[number].covers_line) {
        passes.blocked += !crossing.crossed || (crossing.searched && !meant) ? 1 : 0;
        return;
    }
    ++passes.came;
    passes.failed += crossing.crossed ? 0 : 1;
    passes.for_good += crossing.crossed ? 0 : 1;
    passes.searched += crossing.crossed && crossing.searched ? 1 : 0;
    passes.astray += crossing.astray ? 1 : 0;
    if ((!crossing.crossed || crossing.searched) && passes.rule == no_rule) {
        passes.rule = acting_in_gap(reading, entry, crossing.end);
    }
}

/// How wide a plate lies across the way of whoever drives over its middle.
double DriveReader::across_way(const Marker& marker, Vec2 ahead) {
    const Vec2 along = direction(marker.heading_deg);
    const double cos = std::max(1e-9, std::abs(dot(along, ahead)));
    const double sin = std::max(1e-9, std::abs(cross(along, ahead)));
    return std::min(marker.length_mm / sin, marker.across_mm / cos);
}

void DriveReader::plate_passes(const Reading& reading, std::size_t number) {
    const WayMark& mark = into_.marks[number];
    const auto known = std::find(plan_.markers().begin(), plan_.markers().end(), mark.colour);
    if (known == plan_.markers().end()) {
        return;
    }
    const auto bit = static_cast<unsigned>(known - plan_.markers().begin());
    const Marker& marker = scene_.course().markers[mark.plate];
    const double near_mm = 0.5 * std::hypot(marker.length_mm, marker.across_mm) + 12.0;
    for (const ColourSensor& sensor : scene_.robot().colour_sensors) {
        const auto at = [&](std::size_t i) {
            const LookRecord& look = reading.look(i);
            return from_robot(look.at, direction(static_cast<double>(look.heading_deg)), sensor.at_mm) - marker.at;
        };
        for (std::size_t i = 0; i < reading.looks(); ++i) {
            if (length(at(i)) > near_mm) {
                continue;
            }
            const std::size_t first = i > 0 ? i - 1 : 0;
            bool over = false;
            int longest = 0;
            int in_row = 0;
            for (i = first; i < reading.spots.size() && (i == first || length(at(i)) <= near_mm); ++i) {
                in_row = (reading.look(i).markers >> bit & 1U) != 0 ? in_row + 1 : 0;
                longest = std::max(longest, in_row);
                if (i + 1 < reading.spots.size()) {
                    const Vec2 ahead = direction(static_cast<double>(reading.look(i).heading_deg));
                    const bool passes = dot(at(i), ahead) <= 0.0 && dot(at(i + 1), ahead) > 0.0;
                    const bool middle = std::abs(cross(at(i), ahead)) < 0.3 * across_way(marker, ahead);
                    over = over || (passes && middle);
                }
            }
            const std::size_t last = std::min(i, reading.spots.size() - 1);
            const bool forward = reading.spots[first].forward;
            Passes& passes = into_.passes[number][forward ? 0 : 1];
            const bool ended_here = last + 1 >= reading.spots.size() && reading.drive.run.ending != Ending::time_over;
            if (!over && longest < looks_needed_[bit] && !(ended_here && longest > 0)) {
                continue; // it left the plate before its middle, or met only its edge
            }
            const double span = std::max(1e-3, reading.look(last).t_s - reading.look(first).t_s);
            const double way = static_cast<double>(reading.look(last).way_mm - reading.look(first).way_mm);
            const double speed = std::abs(way) / span;
            passes.looks_needed = looks_needed_[bit];
            passes.fastest_mm_s = std::max(passes.fastest_mm_s, speed);
            ++passes.came;
            passes.failed += longest < looks_needed_[bit] ? 1 : 0;
        }
    }
}

} // namespace vast_turn::vetting
