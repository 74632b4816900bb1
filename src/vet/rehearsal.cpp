#include "vet/rehearsal.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "base/parallel.hpp"
#include "plan/check/checked.hpp"
#include "vet/choice_follower.hpp"
#include "vet/drive_reader.hpp"

namespace vast_turn::vetting {

namespace {

/// A mind that has begun to follow the line, and what it was told in its last look.
struct Settled {
    Mind mind;
    Look told;
};

/// Decides one drive: notes looks that no rule answered, and keeps a copy of the mind once it has followed the line for
/// a while in a habit.
class Driver {
public:
    Driver(const Plan& plan, const RuleKnowledge& rules, const Settled* from, double look_ms,
           runtime::NumberKind numbers)
        : plan_(plan), mind_(from != nullptr ? from->mind : Mind(plan, numbers)), look_ms_(look_ms), follower_(rules) {
        mind_.follow(&follower_);
        if (from != nullptr) {
            before_ = from->told;
            before_.clock_ms += look_ms;
            resumed_ = true;
        }
    }

    void operator()(const Look& in, Answer& out) {
        if (resumed_) {
            Look later = in;
            later.clock_ms += before_.clock_ms;
            later.way_mm += before_.way_mm;
            later.heading_deg += before_.heading_deg;
            later.heading_by_wheels_deg += before_.heading_by_wheels_deg;
            later.heading_by_gyro_deg += before_.heading_by_gyro_deg;
            later.left_deg += before_.left_deg;
            later.right_deg += before_.right_deg;
            mind_(later, out);
        } else {
            mind_(in, out);
        }
        bool open = false;
        for (int i = 0; i < out.events; ++i) {
            open = open || out.event[i].kind == EventKind::unanswered;
        }
        unanswered.push_back(open ? 1 : 0);
        chose_by_marker.push_back(follower_.chose ? 1 : 0);
        follower_.chose = false;
        at_junction.push_back(std::exchange(follower_.at_junction, no_rule));
        settle(in, out);
    }

    std::vector<std::uint8_t> unanswered;
    std::vector<std::uint8_t> chose_by_marker;
    std::vector<RuleId> at_junction;
    std::optional<Settled> settled;

private:
    void settle(const Look& in, const Answer& out) {
        constexpr double settled_ms = 400.0;
        const bool follows = in.line_bits != 0 && !plan_.checked().blocks[out.block].is_errand && out.rule != no_rule &&
                             out.left_pct + out.right_pct > 0.0;
        on_line_ms_ = follows ? on_line_ms_ + look_ms_ : 0.0;
        if (!settled && !resumed_ && on_line_ms_ >= settled_ms) {
            settled = Settled{mind_, in};
        }
    }

    const Plan& plan_;
    Mind mind_;
    double look_ms_;
    double on_line_ms_ = 0.0;
    Look before_;
    bool resumed_ = false;
    ChoiceFollower follower_;
};

class Rehearser {
public:
    Rehearser(const Scene& scene, const Plan& plan, const RehearsalOptions& options)
        : scene_(scene), plan_(plan), rules_(plan), options_(options), graph_(scene.graph()),
          looks_left_(options.looks) {
        out_.marks = find_way_marks(scene.course(), graph_);
        out_.passes.resize(out_.marks.size());
        reader_.emplace(scene, plan, out_);
        reached_.resize(graph_.stretches.size());
        base_.calibration = options.calibration;
        base_.numbers = options.numbers;
        base_.step_ms = step_for(scene.robot());
        base_.with_things = false;
        base_.lost_after_s = 8.0; // a search may take longer than a trip would wait for it
        if (plan.reads(runtime::Op::button)) {
            base_.button_s = {{0.0, 0.4}};
        }
    }

    Rehearsal run() {
        from_starts();
        spread();
        before_marks();
        return std::move(out_);
    }

private:
    struct Place {
        RunOptions options;
        bool settled = false; ///< by a mind that follows already
    };

    /// Drives as many of the places as may still be spent, at least the first.
    std::vector<Drive> drive_all(std::vector<Place> places) {
        for (std::size_t i = 0; i < places.size(); ++i) {
            looks_left_ -= places[i].options.time_limit_s * 1000.0 / scene_.robot().look_ms;
            if (i > 0 && looks_left_ < 0.0) {
                places.resize(i);
                out_.cut_short = true;
            }
        }
        if (places.empty()) {
            return {};
        }
        std::vector<Drive> drives(places.size());
        std::vector<std::optional<Settled>> settled(places.size());
        for_each_index(places.size(), 0, [&](std::size_t i) {
            Driver driver(plan_, rules_, places[i].settled && settled_ ? &*settled_ : nullptr, scene_.robot().look_ms,
                          options_.numbers);
            drives[i].run = drive(scene_, plan_, Decide(std::ref(driver)), places[i].options);
            drives[i].unanswered = std::move(driver.unanswered);
            drives[i].chose_by_marker = std::move(driver.chose_by_marker);
            drives[i].at_junction = std::move(driver.at_junction);
            settled[i] = std::move(driver.settled);
        });
        for (std::size_t i = 0; !settled_ && i < settled.size(); ++i) {
            settled_ = std::move(settled[i]);
        }
        return drives;
    }

    void from_starts() {
        const Course& course = scene_.course();
        out_.starts.resize(course.starts.size());
        if (course.starts.empty()) {
            return;
        }
        double lines_mm = 0.0;
        for (const Stretch& stretch : graph_.stretches) {
            lines_mm += stretch.length_mm;
        }
        base_.time_limit_s =
            std::clamp(1.5 * lines_mm / (0.15 * std::max(1.0, scene_.robot().top_speed_mm_s)), 12.0, 90.0);
        const int tries = std::max(1, options_.from_starts);
        for (std::size_t s = 0; s < course.starts.size(); ++s) {
            std::vector<Drive> first = drive_all({at_start(course.starts[s], 0, 0.0)});
            const double speed = first.front().run.mean_speed_mm_s();
            const double stride = std::min(20.0, speed * scene_.robot().look_ms / 1000.0);
            std::vector<Place> places;
            for (int i = 1; i < tries; ++i) {
                places.push_back(at_start(course.starts[s], i, stride * i / tries));
            }
            read(first, s);
            read(drive_all(places), s);
            first_looks(course.starts[s], tries, s);
        }
    }

    /// More drives of the first moments alone: whether the first pattern is answered may hang on the noise.
    void first_looks(const StartPose& start, int tries, std::size_t number) {
        constexpr double moment_s = 0.6;
        std::vector<Place> places;
        for (int i = 0; i < 3 * tries; ++i) {
            places.push_back(at_start(start, tries + i, 0.0));
            places.back().options.time_limit_s = moment_s;
        }
        for (const Drive& drive : drive_all(places)) {
            read_start(drive, out_.starts[number]);
        }
    }

    Place at_start(const StartPose& start, int number, double back_mm) const {
        Place place{base_, false};
        place.options.seed = 1 + static_cast<std::uint64_t>(number);
        place.options.start = start.name;
        place.options.pose = start.pose;
        place.options.pose->at = start.pose.at - back_mm * direction(start.pose.heading_deg);
        return place;
    }

    void read(const std::vector<Drive>& drives, std::size_t start) {
        for (const Drive& drive : drives) {
            note_reached(reader_->read(drive));
            read_start(drive, out_.starts[start]);
        }
    }

    /// Whether the first looks of a start found no rule, and the robot stood for it.
    static void read_start(const Drive& drive, StartDrives& start) {
        ++start.drives;
        const std::vector<LookRecord>& looks = drive.run.looks;
        for (std::size_t i = 0; i < looks.size(); ++i) {
            if (std::abs(looks[i].left_pct) + std::abs(looks[i].right_pct) > 0.0F) {
                return;
            }
            if (drive.unanswered[i] != 0) {
                if (start.unanswered == 0) {
                    start.pattern.bits = looks[i].line_bits;
                    start.block = looks[i].block;
                }
                ++start.unanswered;
                start.stood += drive.run.way_mm < 2.0 && std::abs(drive.run.turned_deg) < 2.0 ? 1 : 0;
                return;
            }
        }
    }

    void note_reached(const std::vector<LineSpot>& spots) {
        for (std::size_t i = 12; i < spots.size(); ++i) {
            const LineSpot& spot = spots[i];
            if (!spot.off && !spots[i - 12].off && spot.stretch == spots[i - 12].stretch &&
                spot.forward == spots[i - 12].forward) {
                reached_[spot.stretch.index()][spot.forward ? 0 : 1] = true;
            }
        }
    }

    /// From where drives came to, on over every junction that was not passed, by every way but back.
    void spread() {
        std::vector<Exit> open;
        for (std::size_t s = 0; s < reached_.size(); ++s) {
            for (const bool forward : {true, false}) {
                if (reached_[s][forward ? 0 : 1]) {
                    open.push_back({StretchId(s), forward, 0.0});
                }
            }
        }
        any_reached_ = !open.empty();
        const auto reach = [&](StretchId stretch, bool forward) {
            bool& there = reached_[stretch.index()][forward ? 0 : 1];
            if (!there) {
                there = true;
                open.push_back({stretch, forward, 0.0});
            }
        };
        while (!open.empty()) {
            const Exit at = open.back();
            open.pop_back();
            for (const Exit& exit : graph_.node(graph_.end_of(at)).exits) {
                if (exit.stretch != at.stretch || exit.forward == at.forward) {
                    reach(exit.stretch, exit.forward);
                }
            }
            for (const WayMark& mark : out_.marks) {
                if (mark.stretch == at.stretch && mark.beyond != mark.stretch && mark.only_forward == at.forward) {
                    const Stretch& far = graph_.stretch(mark.beyond);
                    reach(mark.beyond, length(far.path.front() - mark.at) < length(far.path.back() - mark.at));
                }
            }
        }
    }

    void before_marks() {
        const bool begins_with_errand = !plan_.blocks().empty() && plan_.checked().blocks[0].is_errand;
        const bool resume = begins_with_errand || plan_.reads(runtime::Op::button);
        if (resume && !settled_) {
            return; // nobody knows what it does once it follows a line
        }
        constexpr std::size_t most_places = 20000; // more than the looks are enough for
        std::vector<Place> places;
        for (std::size_t m = 0; m < out_.marks.size(); ++m) {
            const std::array<Passes, 2>& passes = out_.passes[m];
            if (passes[0].came + passes[1].came > 0) {
                continue;
            }
            if (places.size() > most_places) {
                out_.cut_short = true;
                break;
            }
            for (const bool forward : {true, false}) {
                const WayMark& mark = out_.marks[m];
                const bool leads = !any_reached_ || reached_[mark.stretch.index()][forward ? 0 : 1];
                if (!leads || (forward ? mark.only_backward : mark.only_forward)) {
                    continue;
                }
                for (int i = 0; i < options_.before_marks; ++i) {
                    places.push_back({before(mark, forward, i), resume});
                }
            }
        }
        constexpr std::size_t at_once = 64; // drives whose looks are held in memory
        for (std::size_t i = 0; i < places.size() && looks_left_ > 0.0; i += at_once) {
            const std::size_t end = std::min(places.size(), i + at_once);
            for (const Drive& drive : drive_all({places.begin() + static_cast<std::ptrdiff_t>(i),
                                                 places.begin() + static_cast<std::ptrdiff_t>(end)})) {
                reader_->read(drive);
            }
            out_.cut_short = out_.cut_short || (looks_left_ <= 0.0 && end < places.size());
        }
    }

    /// So far before a mark that the robot has settled when it comes there, on the line and not in another gap.
    RunOptions before(const WayMark& mark, bool forward, int number) const {
        constexpr double settles_in_mm = 240.0;
        const Stretch& line = graph_.stretch(mark.stretch);
        const double begin = forward ? mark.from_mm : line.length_mm - mark.to_mm; // from where the robot comes from
        double along = std::max(std::min(begin, 25.0), begin - settles_in_mm);
        for (const Bridge& bridge : line.bridges) {
            const double from = forward ? bridge.from_mm : line.length_mm - bridge.from_mm - bridge.length_mm;
            if (along > from - 15.0 && along < from + bridge.length_mm + 15.0) {
                along = std::min(begin, from + bridge.length_mm + 20.0);
            }
        }
        const std::vector<Vec2>& path = line.path;
        std::size_t i = forward ? 0 : path.size() - 1;
        double way = 0.0;
        const auto next = [&](std::size_t k) { return forward ? k + 1 : k - 1; };
        const auto more = [&](std::size_t k) { return forward ? k + 1 < path.size() : k > 0; };
        while (more(i) && way < along) {
            way += length(path[next(i)] - path[i]);
            i = next(i);
        }
        std::size_t ahead = i;
        for (int k = 0; k < 6 && more(ahead); ++k) {
            ahead = next(ahead);
        }
        const Vec2 d = path[ahead] - path[i];
        const double heading = to_degrees(std::atan2(-d.y, d.x));
        RunOptions options = base_;
        options.seed = 101 + static_cast<std::uint64_t>(number);
        options.start = "before";
        const double shift = 3.0 * number / std::max(1, options_.before_marks);
        options.pose = Pose{path[i] - (scene_.array_middle().x + shift) * direction(heading), heading};
        const double slow_mm_s = 0.12 * std::max(1.0, scene_.robot().top_speed_mm_s);
        options.time_limit_s = std::clamp((settles_in_mm + (mark.to_mm - mark.from_mm) + 350.0) / slow_mm_s, 6.0, 45.0);
        return options;
    }

    const Scene& scene_;
    const Plan& plan_;
    RuleKnowledge rules_;
    const RehearsalOptions& options_;
    const RouteGraph& graph_;
    RunOptions base_;
    double looks_left_;
    Rehearsal out_;
    std::optional<DriveReader> reader_;        ///< once the marks are known
    std::vector<std::array<bool, 2>> reached_; ///< by stretch: along it, against it
    bool any_reached_ = false;
    std::optional<Settled> settled_;
};

} // namespace

double step_for(const Robot& robot) {
    for (const double step : {1.0, 0.5, 0.25, 0.2, 0.1, 0.05, 0.02}) {
        const auto whole = [&](double ms) {
            const double steps = ms / step;
            return std::abs(steps - std::round(steps)) <= 1e-9 * std::max(1.0, steps);
        };
        if (whole(robot.look_ms) && whole(robot.delay_ms)) {
            return step;
        }
    }
    return 0.01;
}

Rehearsal rehearse(const Scene& scene, const Plan& plan, const RehearsalOptions& options) {
    return Rehearser(scene, plan, options).run();
}

} // namespace vast_turn::vetting
