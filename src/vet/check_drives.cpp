/// What trial drives showed at a course's bends, gaps, plates and starts.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "plan/explain/junction_rules.hpp"
#include "vet/course_checker.hpp"

namespace vast_turn::vetting {

namespace {

const char* drives_word(int n) { return n == 1 ? "drive" : "drives"; }

/// Bends that a person would call by one name.
bool alike(const WayMark& a, const WayMark& b) {
    return std::abs(a.radius_mm - b.radius_mm) <= 0.08 * std::max(a.radius_mm, b.radius_mm) &&
           std::abs(a.turn_deg - b.turn_deg) <= 8.0;
}

} // namespace

void CourseChecker::drives(const Rehearsal& seen) {
    holds_at_.assign(seen.marks.size(), 1.0);
    find_speeds(seen);
    bends(seen);
    gaps(seen);
    halts(seen);
    junctions(seen);
    plates(seen);
    hidden_lines(seen);
    starts(seen);
    not_reached(seen);
}

std::vector<CourseChecker::Trouble> CourseChecker::troubles(const Rehearsal& seen, WayMark::Kind kind) const {
    std::vector<Trouble> list;
    for (std::size_t m = 0; m < seen.marks.size(); ++m) {
        if (seen.marks[m].kind != kind) {
            continue;
        }
        Trouble trouble;
        trouble.mark = m;
        int bad_ways = 0;
        bool ends_forward = true;
        for (std::size_t way = 0; way < 2; ++way) {
            const Passes& passes = seen.passes[m][way];
            const int bad = passes.failed + passes.searched;
            if (bad == 0) {
                continue;
            }
            trouble.came += passes.came;
            trouble.failed += bad;
            trouble.astray += passes.astray;
            trouble.certain = trouble.certain || passes.for_good >= passes.came;
            ++bad_ways;
            ends_forward = way == 0;
        }
        if (bad_ways == 0) {
            continue;
        }
        const Stretch& line = graph().stretch(seen.marks[m].stretch);
        if (bad_ways == 1 && line.from != line.to) {
            trouble.towards = node(ends_forward ? line.to : line.from);
        }
        list.push_back(trouble);
    }
    return list;
}

std::string CourseChecker::how_often(const Trouble& trouble) {
    const std::string towards = trouble.towards.empty() ? "" : fmt::format(" towards {}", trouble.towards);
    return trouble.failed >= trouble.came
               ? fmt::format("in each of {} {}{}", trouble.came, drives_word(trouble.came), towards)
               : fmt::format("in {} of {} {}{}", trouble.failed, trouble.came, drives_word(trouble.came), towards);
}

std::string CourseChecker::where(const WayMark& mark) const {
    switch (mark.kind) {
    case WayMark::Kind::bend:
        return mark.radius_mm < 12.0 && mark.turn_deg > 25.0
                   ? fmt::format("the corner of {:.0f} deg at {:.0f},{:.0f} mm", mark.turn_deg, mark.at.x, mark.at.y)
                   : fmt::format("the bend of {:.0f} mm over {:.0f} deg at {:.0f},{:.0f} mm", mark.radius_mm,
                                 mark.turn_deg, mark.at.x, mark.at.y);
    case WayMark::Kind::gap:
        return fmt::format("the gap of {:.0f} mm at {:.0f},{:.0f} mm", mark.to_mm - mark.from_mm, mark.at.x, mark.at.y);
    case WayMark::Kind::plate:
        return fmt::format("the {} plate at {:.0f},{:.0f} mm", mark.colour, mark.at.x, mark.at.y);
    }
    return "";
}

void CourseChecker::bends(const Rehearsal& seen) {
    const std::vector<Trouble> list = troubles(seen, WayMark::Kind::bend);
    std::vector<bool> told(list.size(), false);
    for (std::size_t i = 0; i < list.size(); ++i) {
        if (told[i]) {
            continue;
        }
        int more = 0;
        for (std::size_t k = i + 1; k < list.size(); ++k) {
            if (!told[k] && list[k].certain == list[i].certain &&
                alike(seen.marks[list[i].mark], seen.marks[list[k].mark])) {
                told[k] = true;
                ++more;
            }
        }
        const std::string others = more == 0 ? "" : fmt::format(", and {} more like it", more);
        const double factor = holds_at_[list[i].mark];
        out_.add_whole("bend-too-tight",
                       fmt::format("it does not hold {}{}: the line leaves its array {}{}",
                                   where(seen.marks[list[i].mark]), others, how_often(list[i]),
                                   list[i].certain ? " and is not found again" : ", though it may find it again"),
                       factor > 0.0
                           ? fmt::format("drive it at {:.0f} % of this speed, or turn harder on the outermost patterns",
                                         100.0 * factor)
                           : "turn harder on the outermost patterns: half the speed is not enough");
        if (!list[i].certain) {
            out_.at_most(Grade::risk);
        }
    }
}

void CourseChecker::gaps(const Rehearsal& seen) {
    for (const Trouble& trouble : troubles(seen, WayMark::Kind::gap)) {
        const WayMark& mark = seen.marks[trouble.mark];
        const double longest = mark.to_mm - mark.from_mm;
        const std::array<Passes, 2>& passes = seen.passes[trouble.mark];
        const bool stays = passes[0].failed + passes[1].failed > 0;
        const RuleId rule = passes[0].rule == no_rule ? passes[1].rule : passes[0].rule;
        const double speed = std::max(1.0, speed_mm_s_);
        if (trouble.astray == trouble.failed) {
            out_.add_whole("gap-missed",
                           fmt::format("behind {} it misses the line {}", where(mark), how_often(trouble)),
                           "go on as it did when it last saw the line, or search when it does not come back");
            if (!trouble.certain) {
                out_.at_most(Grade::risk);
            }
            continue;
        }
        out_.add("gap-too-long", out_.span_of(rule),
                 fmt::format("at {} it takes the line for lost {}{}", where(mark), how_often(trouble),
                             trouble.certain ? " and does not come over"
                             : stays         ? " and does not always come over"
                                             : ", though it comes over"),
                 fmt::format("let it go straight on for {:.0f} looks or more at {:.0f} mm/s",
                             std::ceil(longest / speed / robot().look_ms * 1000.0) + 1.0, speed));
        if (!trouble.certain) {
            out_.at_most(Grade::risk);
        }
    }
}

/// How far the outermost of some sensors stand apart.
double CourseChecker::apart_mm(std::uint8_t bits) const {
    double apart = 0.0;
    for (std::size_t i = 0; i < robot().sensors.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
            const bool both = (bits >> i & 1U) != 0 && (bits >> k & 1U) != 0;
            apart = both ? std::max(apart, length(robot().sensors[i].at_mm - robot().sensors[k].at_mm)) : apart;
        }
    }
    return apart;
}

void CourseChecker::halts(const Rehearsal& seen) {
    for (const auto& [rule, halt] : seen.halts) {
        const int sensors = static_cast<int>(robot().sensors.size());
        const double wide = graph().stretch(halt.line).width_mm;
        const double apart = apart_mm(halt.bits);
        out_.add("halts-on-line", out_.span_of(RuleId(rule)),
                 fmt::format("it halts on a plain line, at {:.0f},{:.0f} mm, where it sees [{}]: in {} of {} {}",
                             halt.at.x, halt.at.y, to_marks({halt.bits, sensors}), halt.drives, seen.drives,
                             drives_word(seen.drives)),
                 apart < wide ? fmt::format("the line is {:.0f} mm wide, those sensors stand {:.0f} mm apart: set them "
                                            "wider apart, or ask for more than the line",
                                            wide, apart)
                              : "let the rule last for longer than a bend takes, or ask for more than the line");
        if (halt.drives < seen.drives) {
            out_.at_most(Grade::risk);
        }
    }
}

void CourseChecker::junctions(const Rehearsal& seen) {
    const std::vector<JunctionRule> kinds = junction_rules(out_.plan());
    for (const auto& [key, misread] : seen.junctions) {
        const auto& [rule, kind] = key;
        if (seen.at_junctions.count(rule) == 0 && kinds[rule] == JunctionRule::errand) {
            continue; // it may be meant for something else
        }
        const Node& node = graph().node(misread.first.junction);
        const Vec2 at = misread.first.at;
        const std::string seeing =
            fmt::format("where it sees [{}] at {:.0f},{:.0f} mm",
                        to_marks({misread.bits, static_cast<int>(robot().sensors.size())}), at.x, at.y);
        const std::string often = fmt::format("in {} of {} {}", misread.drives, seen.drives, drives_word(seen.drives));
        switch (kind) {
        case JunctionMisread::Kind::again:
            out_.add("junction-misread", out_.span_of(RuleId(rule)),
                     fmt::format("it counts {} twice, {}: {}", node.name, seeing, often),
                     "drive on until the junction is behind the array before the plan looks for the next");
            break;
        case JunctionMisread::Kind::plate:
            out_.add("junction-misread", out_.span_of(RuleId(rule)),
                     fmt::format("it takes the {} plate for a junction, {}: {}",
                                 course_.markers[misread.first.plate].colour, seeing, often),
                     "drive off the plate before the plan looks for the junction");
            break;
        case JunctionMisread::Kind::line:
            out_.add("junction-misread", out_.span_of(RuleId(rule)),
                     fmt::format("it takes a plain line for a junction, {}, {:.0f} mm from {}: {}", seeing,
                                 length(node.at - at), node.name, often),
                     "ask for more than the line alone shows beside its middle, or let the rule last for longer");
            break;
        }
    }
}

void CourseChecker::plates(const Rehearsal& seen) {
    if (robot().colour_sensors.empty()) {
        return;
    }
    for (const Trouble& trouble : troubles(seen, WayMark::Kind::plate)) {
        const WayMark& mark = seen.marks[trouble.mark];
        const double way = mark.to_mm - mark.from_mm;
        double speed = 0.0;
        int looks = 1;
        for (const Passes& passes : seen.passes[trouble.mark]) {
            speed = std::max(speed, passes.fastest_mm_s);
            looks = std::max(looks, passes.looks_needed);
        }
        const double fastest = way / looks / robot().look_ms * 1000.0;
        out_.add_whole("plate-missed",
                       fmt::format("{} is {:.0f} mm long, the robot drives {:.1f} mm in the {} look{} that it takes: "
                                   "missed {}",
                                   where(mark), way, speed * robot().look_ms / 1000.0 * looks, looks,
                                   looks == 1 ? "" : "s", how_often(trouble)),
                       fmt::format("drive at most {:.0f} mm/s there", 0.95 * std::min(fastest, speed)));
        if (trouble.failed < trouble.came) {
            out_.at_most(Grade::risk);
        }
    }
}

/// Plates that the robot drives over as over a gap.
void CourseChecker::hidden_lines(const Rehearsal& seen) {
    for (std::size_t m = 0; m < seen.marks.size(); ++m) {
        int blocked = 0;
        for (const Passes& passes : seen.passes[m]) {
            blocked += passes.blocked;
        }
        if (blocked > 0) {
            const WayMark& mark = seen.marks[m];
            out_.add_whole("plate-as-gap",
                           fmt::format("{} hides the line for {:.0f} mm, and the plan takes it for lost there in {} {}",
                                       where(mark), mark.to_mm - mark.from_mm, blocked, drives_word(blocked)),
                           "give its marker a rule that goes straight on, or let the search wait longer");
        }
    }
}

void CourseChecker::starts(const Rehearsal& seen) {
    for (const StartPose& start : course_.starts) {
        const Vec2 middle = from_robot(start.pose.at, direction(start.pose.heading_deg), scene_->array_middle());
        const double off = scene_->tape().beyond_edge(middle);
        if (std::isfinite(off) && off > scene_->array_outermost_mm()) {
            out_.add_whole(
                "start-off-line",
                fmt::format("at the start `{}` the array stands {:.0f} mm beside the nearest line and sees none",
                            start.name, off),
                "move the start onto the line, unless the plan drives to it first");
        }
    }
    for (std::size_t s = 0; s < seen.starts.size(); ++s) {
        const StartDrives& start = seen.starts[s];
        if (start.unanswered == 0) {
            continue;
        }
        const lang::LaidBlock& block = out_.text().blocks[start.block];
        out_.add("start-unanswered", block.name_span,
                 fmt::format("at the start `{}` the array sees [{}], for which `{}` has no rule: it stands {}",
                             course_.starts[s].name,
                             to_marks({start.pattern.bits, static_cast<int>(robot().sensors.size())}), block.name,
                             start.stood == start.drives ? "there for ever" : "for a while"),
                 "move the start, or give the pattern a rule");
    }
}

void CourseChecker::not_reached(const Rehearsal& seen) {
    int bends = 0;
    int gaps = 0;
    for (std::size_t m = 0; m < seen.marks.size(); ++m) {
        if (seen.passes[m][0].came + seen.passes[m][1].came == 0) {
            bends += seen.marks[m].kind == WayMark::Kind::bend ? 1 : 0;
            gaps += seen.marks[m].kind == WayMark::Kind::gap ? 1 : 0;
        }
    }
    if (seen.cut_short) {
        out_.undecided("all of this course: it asks for more drives than may be spent on it");
    }
    if (bends + gaps > 0) {
        out_.undecided(
            fmt::format("what it does at {} of the course's bends and gaps: no drive came to them", bends + gaps));
    }
}

namespace {

bool is_bad(const std::array<Passes, 2>& passes) { return passes[0].failed + passes[1].failed > 0; }

bool is_reached(const std::array<Passes, 2>& passes) { return passes[0].came + passes[1].came > 0; }

} // namespace

void CourseChecker::find_speeds(const Rehearsal& seen) {
    RehearsalOptions options;
    options.calibration = out_.calibration() != nullptr ? std::optional(*out_.calibration()) : std::nullopt;
    options.numbers = out_.numbers();
    options.from_starts = 2;
    options.before_marks = 2;
    options.looks = 1e5; // of each speed
    const auto bad_now = [&](std::size_t m) { return is_bad(seen.passes[m]); };
    bool any_bad = false;
    std::size_t worst = 0; // a mark that it did not hold at the speed tried last
    for (std::size_t m = 0; m < seen.marks.size(); ++m) {
        any_bad = any_bad || bad_now(m);
        worst = bad_now(m) ? m : worst;
        holds_at_[m] = bad_now(m) ? 0.0 : 1.0;
    }
    Robot other = robot();
    const Scene scene = scene_->driven_by(other);
    constexpr double most = 3.0;
    constexpr double least = 0.5;
    double factor = 1.0;
    double all_hold = any_bad ? 0.0 : 1.0;
    while (any_bad ? factor * 0.9 > least * 0.95 && all_hold <= 0.0 : factor < most) {
        const double next = factor * (any_bad ? 0.9 : 1.15);
        other.top_speed_mm_s = next * robot().top_speed_mm_s;
        const Rehearsal then = rehearse(scene, out_.plan(), options);
        bool clean = true;
        for (std::size_t m = 0; m < seen.marks.size(); ++m) {
            const bool bad = is_bad(then.passes[m]);
            clean = clean && !bad;
            worst = bad ? m : worst;
            if (!bad && is_reached(then.passes[m]) && holds_at_[m] <= 0.0) {
                holds_at_[m] = next;
            }
        }
        if (!any_bad && !clean) {
            break;
        }
        factor = next;
        all_hold = clean ? next : all_hold;
    }
    const bool follows = std::none_of(seen.halts.begin(), seen.halts.end(),
                                      [&](const auto& halt) { return halt.second.drives >= seen.drives; });
    if (follows && std::any_of(seen.passes.begin(), seen.passes.end(), is_reached)) {
        limit_speed(all_hold * speed_mm_s_,
                    all_hold >= most ? "no more than three times its speed was tried" : where(seen.marks[worst]));
    }
}

} // namespace vast_turn::vetting
