#include "vet/drive_reader.hpp"

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

#include "plan/check/checked.hpp"
#include "sim/marker_misreads.hpp"

namespace vast_turn::vetting {

namespace {

/// How far beside a bend's begin and end its losses may come: the array stands ahead of the wheels and runs out wide.
constexpr double before_bend_mm = 60.0;
constexpr double behind_bend_mm = 200.0;

} // namespace

DriveReader::DriveReader(const Scene& scene, const Plan& plan, Rehearsal& into)
    : scene_(scene), plan_(plan), into_(into), rules_(plan),
      looks_needed_(rules_.looks_needed(plan, scene.robot().look_ms)), bends_(scene.graph().stretches.size()) {
    for (std::size_t m = 0; m < into.marks.size(); ++m) {
        if (into.marks[m].kind == WayMark::Kind::bend) {
            bends_[into.marks[m].stretch.index()].push_back(m);
        }
    }
}

std::vector<LineSpot> DriveReader::read(const Drive& drive) {
    ++into_.drives;
    unanswered(drive);
    fastest(drive);
    Reading reading{drive, walk_lines(scene_, drive.run), {}, 0};
    reading.losses = losses_of(reading.spots);
    reading.end = end_of_way(reading);
    junctions(reading); // also on a plate over which it does not come: by taking it for one
    // Most drives come to few of a course's lines.
    std::vector<bool> on(scene_.graph().stretches.size(), false);
    for (const LineSpot& spot : reading.spots) {
        if (spot.stretch) {
            on[spot.stretch.index()] = true;
        }
    }
    std::vector<std::size_t> marks;
    for (std::size_t mark = 0; mark < into_.marks.size(); ++mark) {
        if (into_.marks[mark].kind != WayMark::Kind::bend && on[into_.marks[mark].stretch.index()]) {
            marks.push_back(mark);
        }
    }
    for (const std::size_t mark : marks) {
        if (into_.marks[mark].kind == WayMark::Kind::gap || into_.marks[mark].covers_line) {
            gap_passes(reading, mark);
        }
    }
    bend_passes(reading);
    losses(reading);
    halts(reading);
    misreads(reading);
    for (const std::size_t mark : marks) {
        if (into_.marks[mark].kind == WayMark::Kind::plate) {
            plate_passes(reading, mark);
        }
    }
    return std::move(reading.spots);
}

void DriveReader::misreads(const Reading& reading) {
    std::set<std::pair<std::size_t, std::optional<std::size_t>>> seen;
    for (const MarkerMisread& one :
         marker_misreads(scene_, plan_.markers(), reading.drive.run, std::max<std::size_t>(1, reading.end) - 1)) {
        // Only where it made a difference: a rule that asks for it acted, or another block came in hand.
        for (std::size_t i = one.first; i <= one.last; ++i) {
            const LookRecord& look = reading.drive.run.looks[i];
            const bool handed_over = i > 0 && look.block != reading.drive.run.looks[i - 1].block;
            if (handed_over || (look.rule != no_rule && rules_.asks_marker(look.rule, one.marker))) {
                seen.emplace(one.marker, one.plate);
            }
        }
    }
    for (const auto& which : seen) {
        ++into_.misreads[which];
    }
}

bool DriveReader::at_end_of_line(const LineSpot& spot) const {
    constexpr double at_end_mm = 25.0;
    const Stretch& line = scene_.graph().stretch(spot.stretch);
    const double to_end = spot.forward ? line.length_mm - spot.along_mm : spot.along_mm;
    return to_end < at_end_mm && scene_.graph().node(spot.forward ? line.to : line.from).kind == NodeKind::end;
}

/// A robot that has run off its line and meets a line again elsewhere, or runs off its end and happens to come back,
/// has left its way: what it does from there on says nothing of a robot that follows.
std::size_t DriveReader::end_of_way(const Reading& reading) const {
    for (const Loss& loss : reading.losses) {
        if (loss.back >= reading.spots.size() || at_end_of_line(reading.spots[loss.last_on]) ||
            !stays_on_way(reading, loss)) {
            return std::min(loss.last_on + 1, turned_round(reading));
        }
    }
    return turned_round(reading);
}

/// Whether it finds the line again near where it lost it, or straight ahead.
bool DriveReader::stays_on_way(const Reading& reading, const Loss& loss) const {
    constexpr double near_mm = 150.0;
    constexpr double ahead_mm = 700.0;
    constexpr double nearly = 0.85; // by air, as a part of the way along the line
    const LineSpot& from = reading.spots[loss.last_on];
    const LineSpot& to = reading.spots[loss.back];
    const double by_air =
        length(array_at(scene_, reading.look(loss.back)) - array_at(scene_, reading.look(loss.last_on)));
    const double along = to.forward ? to.along_mm - from.along_mm : from.along_mm - to.along_mm;
    return by_air <= near_mm || (to.stretch == from.stretch && to.forward == from.forward && along > 0.0 &&
                                 along < ahead_mm && by_air > nearly * along);
}

/// From where on the robot drives back along the line that it came by, though no errand turned it.
std::size_t DriveReader::turned_round(const Reading& reading) const {
    constexpr double back_mm = 60.0;
    std::size_t since = 0; // the last look in which it faced as it drives
    std::size_t errand = 0;
    LineSpot before;
    for (std::size_t i = 0; i < reading.spots.size(); ++i) {
        const LineSpot& spot = reading.spots[i];
        errand = plan_.checked().blocks[reading.look(i).block].is_errand ? i + 1 : errand;
        if (spot.off || !spot.stretch || spot.stretch != before.stretch || spot.forward == before.forward) {
            before = spot.off ? before : spot;
            since = i;
            continue;
        }
        const double back = spot.forward ? spot.along_mm - before.along_mm : before.along_mm - spot.along_mm;
        if (back > back_mm) {
            if (errand <= since) {
                return since;
            }
            before = spot;
            since = i;
        }
    }
    return reading.spots.size();
}

void DriveReader::unanswered(const Drive& drive) {
    std::map<std::pair<std::size_t, std::uint8_t>, bool> here;
    for (std::size_t i = 0; i < drive.run.looks.size(); ++i) {
        if (drive.unanswered[i] != 0) {
            const LookRecord& look = drive.run.looks[i];
            const std::pair key(static_cast<std::size_t>(look.block), look.line_bits);
            UnansweredLook& open = into_.unanswered[key];
            open.first_at = open.looks == 0 ? look.at : open.first_at;
            ++open.looks;
            open.drives += here.insert({key, true}).second ? 1 : 0;
        }
    }
}

/// How far a spot is past a mark's end, in the direction that it faces; negative before it.
double DriveReader::past(const WayMark& mark, const LineSpot& spot) const {
    if (spot.stretch == mark.stretch) {
        return spot.forward ? spot.along_mm - mark.to_mm : mark.from_mm - spot.along_mm;
    }
    // Behind a gap whose far side is another stretch: from the end of it that faces.
    const Stretch& line = scene_.graph().stretch(spot.stretch);
    const double from_begin = length(line.path.front() - mark.at);
    const double from_end = length(line.path.back() - mark.at);
    return from_begin < from_end ? spot.along_mm : line.length_mm - spot.along_mm;
}

void DriveReader::bend_passes(const Reading& reading) {
    constexpr double near_mm = 8.0;
    constexpr double gone_mm = 70.0; // so far off it a pass is over
    struct Near {
        std::size_t last = 0; // look in which it was near, and one more
        bool counted = false;
    };
    std::map<std::size_t, Near> near;
    std::size_t before = 0; // the last look on a line, and one more
    for (std::size_t i = 0; i < reading.looks(); ++i) {
        const LineSpot& spot = reading.spots[i];
        if (spot.off) {
            continue;
        }
        const std::vector<std::size_t>& list = bends_[spot.stretch.index()];
        auto at = std::upper_bound(list.begin(), list.end(), spot.along_mm + gone_mm,
                                   [&](double along, std::size_t m) { return along < into_.marks[m].from_mm; });
        while (at != list.begin() && into_.marks[*(at - 1)].to_mm > spot.along_mm - gone_mm) {
            --at;
            const WayMark& mark = into_.marks[*at];
            Near& here = near[*at];
            here.counted = here.counted && here.last == before;
            here.last = i + 1;
            if (!here.counted && spot.along_mm > mark.from_mm - near_mm && spot.along_mm < mark.to_mm + near_mm) {
                here.counted = true;
                ++into_.passes[*at][spot.forward ? 0 : 1].came;
            }
        }
        before = i + 1;
    }
}

/// The bend at which the line was lost here, or -1: where a gap explains it, or none is near.
int DriveReader::mark_of_loss(const LineSpot& spot) const {
    if (at_end_of_line(spot)) {
        return -1;
    }
    int best = -1;
    double latest = behind_bend_mm;
    for (std::size_t m = 0; m < into_.marks.size(); ++m) {
        const WayMark& mark = into_.marks[m];
        if (mark.stretch != spot.stretch) {
            continue;
        }
        const double behind = past(mark, spot);
        const double into = behind + (mark.to_mm - mark.from_mm);
        if ((mark.kind == WayMark::Kind::gap || mark.covers_line) && into > -40.0 && behind < 40.0) {
            return -1;
        }
        if (mark.kind == WayMark::Kind::bend && into >= -before_bend_mm && behind < latest) {
            latest = behind;
            best = static_cast<int>(m);
        }
    }
    return best;
}

bool DriveReader::unfinished(const Reading& reading, std::size_t look) const {
    constexpr double soon_s = 1.5;
    const Run& run = reading.drive.run;
    return run.ending == Ending::time_over && run.time_s - reading.look(look).t_s < soon_s;
}

/// Whether an errand took the robot off the line that it saw when it began: a turn that is meant.
bool DriveReader::deliberate(const Reading& reading, std::size_t look) const {
    const std::size_t first = look > 40 ? look - 40 : 0;
    for (std::size_t i = look + 1; i-- > first;) {
        if (reading.look(i).line_bits != 0) {
            return plan_.checked().blocks[reading.look(i).block].is_errand;
        }
    }
    return false;
}

bool DriveReader::goes_on(const Reading& reading, const WayMark& mark, bool forward, std::size_t from) const {
    const Stretch& line = scene_.graph().stretch(mark.stretch);
    const double room = forward ? line.length_mm - mark.to_mm : mark.from_mm;
    const double enough = std::clamp(room - 15.0, 0.0, 40.0);
    int elsewhere = 0;
    for (std::size_t i = from; i < reading.spots.size(); ++i) {
        const LineSpot& spot = reading.spots[i];
        if (spot.off) {
            continue;
        }
        if (spot.stretch != mark.stretch) {
            if (++elsewhere >= 10) {
                return true;
            }
        } else if (spot.forward == forward && past(mark, spot) >= enough) {
            return true;
        }
    }
    return false;
}

void DriveReader::losses(Reading& reading) {
    for (const Loss& loss : reading.losses) {
        if (loss.last_on >= reading.end) {
            break; // it has not come over a gap before
        }
        LineSpot spot = reading.spots[loss.last_on];
        if (!spot.stretch || deliberate(reading, loss.last_on)) {
            continue;
        }
        // The robot may have turned far already: the way that it came is the one that it is on.
        const std::size_t earlier = loss.last_on > 12 ? loss.last_on - 12 : 0;
        const LineSpot& came = reading.spots[earlier];
        if (came.stretch == spot.stretch && std::abs(came.along_mm - spot.along_mm) > 2.0) {
            spot.forward = spot.along_mm > came.along_mm;
        }
        const int number = mark_of_loss(spot);
        if (number < 0) {
            continue;
        }
        const auto m = static_cast<std::size_t>(number);
        Passes& passes = into_.passes[m][spot.forward ? 0 : 1];
        passes.came = std::max(passes.came, passes.failed + 1); // it may be lost before its begin
        const bool on = goes_on(reading, into_.marks[m], spot.forward, loss.back);
        if (!on && unfinished(reading, loss.last_on)) {
            continue;
        }
        ++passes.failed;
        if (!on) {
            ++passes.for_good;
            reading.end = loss.last_on + 1;
        }
    }
}

} // namespace vast_turn::vetting
