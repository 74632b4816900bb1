#pragma once

/// The course on a page: where it lies, at which scale, and what is on it.

#include "vast_turn/course/course.hpp"
#include "view/canvas.hpp"

namespace vast_turn {

class Board {
public:
    /// Fits the course into a box of the page.
    Board(const Course& course, Vec2 at, Vec2 size);

    Vec2 on_page(Vec2 mm) const { return {origin_.x + scale_ * mm.x, origin_.y + scale_ * mm.y}; }
    double scale() const { return scale_; }

    void draw_surface(Canvas& canvas) const;
    void draw_places(Canvas& canvas, bool with_names) const;
    void draw_starts(Canvas& canvas) const;
    void draw_things(Canvas& canvas) const;
    void draw_scale(Canvas& canvas) const;

    /// A spot for a label of this width beside a point, within the board: to its right, or to its
    /// left when the board ends.
    Vec2 label_spot(Vec2 page_point, double gap, double width) const;

private:
    const Course& course_;
    Vec2 origin_;
    Vec2 size_;
    double scale_ = 1.0;
};

} // namespace vast_turn
