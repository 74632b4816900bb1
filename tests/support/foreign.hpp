#pragma once

/// Robots, courses and plans as others make them, and what happens when one drives: judged from how the course was
/// made, with nothing of what vet or trips use.

#include <random>
#include <string>
#include <vector>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/sim/run.hpp"

namespace foreign {

/// A line with things along it, by the way from its begin.
struct Line {
    struct Piece {
        double from_mm = 0.0;
        double to_mm = 0.0;
    };
    std::vector<vast_turn::Vec2> path; ///< points 2 mm apart or less
    std::vector<double> along;         ///< of each point
    std::vector<Piece> bends;
    std::vector<Piece> gaps;
    std::vector<Piece> plates;
};

struct World {
    vast_turn::Robot robot;
    vast_turn::Course course; ///< painted
    Line line;
    std::string plan_text;
    vast_turn::Plan plan;
};

/// The world of this number.
World make_world(unsigned number);

/// What happened in drives of it, with other noise and set down otherwise than any prediction's.
/// In how many of them.
struct Happened {
    int bends = 0;      ///< the line was lost at a bend
    int gaps = 0;       ///< it did not come over a gap, or began to search in it
    int plates = 0;     ///< a plate was driven over without its note
    int unanswered = 0; ///< a look found no rule
    int start = 0;      ///< the first look found none, and it stood
    // Whether it came to all of them in some drive; what it never comes to cannot happen.
    bool past_bends = false;
    bool past_gaps = false;
    bool past_plates = false;
};
Happened drive_world(const World& world, int drives);

/// How far it swings each way on a straight, mm: the mean of the peaks; infinite when it loses the line, negative when
/// it never followed it.
double swing_of(const World& world);

} // namespace foreign
