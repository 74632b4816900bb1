#pragma once

/// A plan held against a course.

#include <cmath>
#include <string>
#include <vector>

#include "vast_turn/sim/scene.hpp"
#include "vet/collector.hpp"
#include "vet/rehearsal.hpp"

namespace vast_turn::vetting {

/// Finds what a course asks that a plan, or its robot, cannot give. check_course.cpp has its lines and speeds,
/// check_edges.cpp what colour sensors take the edges of its plates for, check_drives.cpp what trial drives showed at
/// its bends, gaps, plates and starts.
class CourseChecker {
public:
    /// Without a robot `scene` is null, and nothing was driven.
    CourseChecker(Collector& out, const Scene* scene) : out_(out), course_(*out.course()), scene_(scene) {}
    void run();

private:
    const Robot& robot() const { return *out_.robot(); }
    const RouteGraph& graph() const { return scene_->graph(); }
    const std::string& node(NodeId id) const { return graph().node(id).name; }
    void plates_known();
    void edges();
    /// What at the edges of plates looks like a colour, or was taken for a marker in trial drives. Nothing where
    /// nothing does.
    std::string certain_misread(Rgb third, const std::string& marker) const;
    std::string seen_misread(std::size_t marker) const;
    void limit_speed(double mm_s, std::string why);
    void junctions();
    void widths();

    void drives(const Rehearsal& seen);
    /// What went wrong at a mark in one direction or both.
    struct Trouble {
        std::size_t mark = 0;
        int came = 0;
        int failed = 0;
        int astray = 0;        ///< of those that failed, see Passes
        bool certain = false;  ///< in one direction it always failed for good
        std::string towards{}; ///< the node that it drove to, when only one direction is bad
    };
    std::vector<Trouble> troubles(const Rehearsal& seen, WayMark::Kind kind) const;
    std::string where(const WayMark& mark) const;
    static std::string how_often(const Trouble& trouble);
    void bends(const Rehearsal& seen);
    void gaps(const Rehearsal& seen);
    void halts(const Rehearsal& seen);
    void junctions(const Rehearsal& seen);
    double apart_mm(std::uint8_t bits) const;
    void plates(const Rehearsal& seen);
    void hidden_lines(const Rehearsal& seen);
    void starts(const Rehearsal& seen);
    void not_reached(const Rehearsal& seen);
    /// Drives it faster, or slower, until it holds all; notes for each mark of `seen` the greatest part of its speed
    /// at which it holds there, 0 when none was found.
    void find_speeds(const Rehearsal& seen);

    Collector& out_;
    const Course& course_;
    const Scene* scene_;
    double speed_mm_s_ = 0.0;
    double highest_mm_s_ = HUGE_VAL;
    std::string highest_for_;
    std::vector<double> holds_at_; ///< by mark
};

} // namespace vast_turn::vetting
