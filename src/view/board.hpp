#pragma once

/// The course on a page: where it lies, at which scale, and what is on it.

#include "vast_turn/course/board/course.hpp"
#include "view/canvas.hpp"

namespace vast_turn {

class Board {
public:
    /// Fits the course into a box of the page.
    Board(const Course& course, Vec2 at, Vec2 size);

    /// Shows only what lies round a point of the course, `width_mm` across, and fills the box with it.
    Board(const Course& course, Vec2 at, Vec2 size, Vec2 round, double width_mm);

    Vec2 on_page(Vec2 mm) const { return {origin_.x + scale_ * mm.x, origin_.y + scale_ * mm.y}; }
    double scale() const { return scale_; }

    void draw_surface(Canvas& canvas) const;
    /// Where light from outside is weaker than where it is strongest the board is darker; lamps are circles.
    void draw_light(Canvas& canvas);
    void draw_places(Canvas& canvas, bool with_names);
    void draw_starts(Canvas& canvas);
    void draw_things(Canvas& canvas);
    /// These in place of those of the course.
    void draw_things(Canvas& canvas, const std::vector<Thing>& things);
    void draw_scale(Canvas& canvas) const;

    /// Labels keep off these points of the page as they do off tape.
    void keep_clear(const std::vector<Vec2>& points) { clear_.insert(clear_.end(), points.begin(), points.end()); }

    /// Writes a label beside a point of the page, `gap` away: on the side where it covers the least
    /// tape and no other label, and stays on the board.
    void label(Canvas& canvas, Vec2 page_point, double gap, const std::string& words, const TextStyle& style);
    /// The same, unless it would print over another label; whether it did.
    bool label_if_room(Canvas& canvas, Vec2 page_point, double gap, const std::string& words, const TextStyle& style);

private:
    struct Box {
        Vec2 at;
        Vec2 size;
    };
    Box best_box(Canvas& canvas, Vec2 page_point, double gap, const std::string& words, const TextStyle& style) const;
    void write(Canvas& canvas, const Box& box, const std::string& words, const TextStyle& style);
    double cost(const Box& box) const;
    bool bare_floor(Vec2 page_point) const;

    const Course& course_;
    std::vector<Box> labels_;
    std::vector<Vec2> clear_;
    Vec2 origin_; ///< of the course's frame, on the page
    Vec2 window_; ///< what is shown of it
    Vec2 size_;   ///< of the window
    double scale_ = 1.0;
};

} // namespace vast_turn
