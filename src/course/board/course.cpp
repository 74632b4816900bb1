#include "vast_turn/course/board/course.hpp"

#include <algorithm>
#include <cmath>
#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>

namespace vast_turn {

std::vector<Vec2> corners_of(const Thing& thing) {
    const Vec2 ahead = direction(thing.heading_deg);
    const Vec2 along = 0.5 * thing.size_mm.x * ahead;
    const Vec2 across = 0.5 * thing.size_mm.y * Vec2{-ahead.y, ahead.x};
    return {thing.at - along - across, thing.at + along - across, thing.at + along + across, thing.at - along + across};
}

double distance_to(const Marker& plate, Vec2 p) {
    const Vec2 off = p - plate.at;
    const Vec2 ahead = direction(plate.heading_deg);
    const double x = std::max(0.0, std::abs(dot(off, ahead)) - 0.5 * plate.length_mm);
    const double y = std::max(0.0, std::abs(cross(ahead, off)) - 0.5 * plate.across_mm);
    return std::hypot(x, y);
}

Vec2 seen_from(const Thing& thing, Vec2 p) {
    const Vec2 off = p - thing.at;
    if (thing.heading_deg == 0.0) {
        return off; // to the bit
    }
    const Vec2 ahead = direction(thing.heading_deg);
    return {dot(off, ahead), dot(off, Vec2{ahead.y, -ahead.x})};
}

std::string when_there(const Thing& thing) {
    const std::string stays = thing.stays_s ? fmt::format(" {:g} s", *thing.stays_s) : std::string{};
    std::string text;
    if (thing.appears_mm) {
        text = fmt::format("appears {:g} mm away", *thing.appears_mm);
    } else if (thing.from_s > 0.0) {
        text = fmt::format("from {:g} s", thing.from_s);
    }
    const std::string joint = text.empty() ? "" : ", ";
    if (thing.goes_mm) {
        text += joint + (thing.stays_s ? fmt::format("goes{} after {:g} mm away", stays, *thing.goes_mm)
                                       : fmt::format("goes {:g} mm away", *thing.goes_mm));
    } else if (thing.appears_mm && thing.stays_s) {
        text += fmt::format(", for{}", stays);
    } else if (thing.until_s) {
        text += joint + fmt::format("until {:g} s", *thing.until_s);
    }
    return text;
}

std::string describe(const Variant& variant) {
    std::vector<std::string> parts;
    if (!variant.without.empty()) {
        parts.push_back(fmt::format("without {}", fmt::join(variant.without, ", ")));
    }
    for (const auto& [plate, colour] : variant.plates) {
        parts.push_back(fmt::format("{} is {}", plate, colour));
    }
    return fmt::format("{}", fmt::join(parts, "; "));
}

const StartPose* Course::find_start(const std::string& start_name) const {
    if (start_name.empty()) {
        return starts.empty() ? nullptr : &starts.front();
    }
    const auto at =
        std::find_if(starts.begin(), starts.end(), [&](const StartPose& s) { return s.name == start_name; });
    return at == starts.end() ? nullptr : &*at;
}

const CoursePlace* Course::find_place(const std::string& place_name) const {
    const auto at =
        std::find_if(places.begin(), places.end(), [&](const CoursePlace& p) { return p.name == place_name; });
    return at == places.end() ? nullptr : &*at;
}

namespace {

/// The path with its first point again at the end when it is closed.
std::vector<Vec2> whole_path(const Tape& tape) {
    std::vector<Vec2> path = tape.path;
    if (tape.closed && !path.empty()) {
        path.push_back(path.front());
    }
    return path;
}

/// The part of a path between two lengths along it.
std::vector<Vec2> part_of(const std::vector<Vec2>& path, double from, double to) {
    std::vector<Vec2> part;
    double along = 0.0;
    for (std::size_t i = 0; i + 1 < path.size(); ++i) {
        const Vec2 step = path[i + 1] - path[i];
        const double size = length(step);
        const double begin = std::max(from, along);
        const double end = std::min(to, along + size);
        if (size > 0.0 && begin < end) {
            if (part.empty()) {
                part.push_back(path[i] + ((begin - along) / size) * step);
            }
            part.push_back(end < along + size ? path[i] + ((end - along) / size) * step : path[i + 1]);
        }
        along += size;
    }
    return part;
}

} // namespace

std::vector<std::string> LaidOut::rows() const {
    std::vector<std::string> list;
    std::istringstream text(layout);
    for (std::string row; std::getline(text, row);) {
        if (row.find_first_not_of(' ') != std::string::npos) {
            list.push_back(row);
        }
    }
    return list;
}

double length_of(const Tape& tape) {
    const std::vector<Vec2> path = whole_path(tape);
    double sum = 0.0;
    for (std::size_t i = 0; i + 1 < path.size(); ++i) {
        sum += length(path[i + 1] - path[i]);
    }
    return sum;
}

std::vector<std::vector<Vec2>> pieces_of(const Tape& tape) {
    std::vector<Gap> gaps = tape.gaps;
    std::sort(gaps.begin(), gaps.end(), [](const Gap& a, const Gap& b) { return a.from_mm < b.from_mm; });
    const std::vector<Vec2> path = whole_path(tape);
    const double total = length_of(tape);
    std::vector<std::vector<Vec2>> pieces;
    double from = 0.0;
    const auto keep = [&](double to) {
        std::vector<Vec2> piece = part_of(path, from, to);
        if (piece.size() > 1) {
            pieces.push_back(std::move(piece));
        }
    };
    for (const Gap& gap : gaps) {
        keep(std::min(gap.from_mm, total));
        from = std::max(from, gap.from_mm + gap.length_mm);
    }
    keep(total);
    return pieces;
}

} // namespace vast_turn
