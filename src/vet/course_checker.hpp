#pragma once

/// A plan held against a course.

#include <cmath>
#include <string>
#include <vector>

#include "vast_turn/course/graph/route_graph.hpp"
#include "vet/bend_model.hpp"
#include "vet/block_logic.hpp"
#include "vet/collector.hpp"

namespace vast_turn::vetting {

/// Finds what a course asks that a plan, or its robot, cannot give. check_course.cpp has its lines and bends,
/// check_course_marks.cpp its plates, gaps and starts.
class CourseChecker {
public:
    explicit CourseChecker(Collector& out) : out_(out), course_(*out.course()), graph_(find_route_graph(course_)) {}
    void run();

private:
    const Robot& robot() const { return *out_.robot(); }
    void plates_known();
    void limit_speed(double mm_s, std::string why);
    static double turn_about(const Stretch& stretch);
    void bends();
    double fastest_factor(const Bend& bend, bool holds) const;
    BendEnd driven(const Robot& by, Bend bend) const;
    void junctions();
    void widths();
    const std::string& node(NodeId id) const { return graph_.node(id).name; }
    double along_line(std::size_t number) const;
    int looks_needed(const std::string& name) const;
    void plates_seen();
    /// Looks until a rule that stands for "nothing is seen" turns or does something else; with its line.
    struct Patience {
        double ms = HUGE_VAL;
        double then_mm = 0.0; ///< that the errand behind it first goes on
        lang::Span span;
    };
    Patience patience() const;
    static bool gives_up(const lang::Rule& rule);
    double goes_on(const lang::Rule& rule) const;
    void gaps();
    Pattern pattern_at(const Pose& pose) const;
    void starts();
    Collector& out_;
    const Course& course_;
    RouteGraph graph_;
    double speed_mm_s_ = 0.0;
    double highest_mm_s_ = HUGE_VAL;
    std::string highest_for_;
};

} // namespace vast_turn::vetting
