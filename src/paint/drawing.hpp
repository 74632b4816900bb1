#pragma once

/// A drawing of a course as something that can be painted: SVG, PDF, PNG or JPEG.

#include <memory>
#include <string>
#include <vector>

#include <cairo.h>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

/// How a drawing lies on the floor.
struct OnFloor {
    Vec2 size_mm;               ///< of all of it
    Vec2 from_mm;               ///< where on it the board begins
    Vec2 board_mm;              ///< how large the board is
    Vec2 mm_per_unit{1.0, 1.0}; ///< of its own units: pixels, user units, points
    double pixel_mm = 0.0;      ///< of a picture: the side of its pixels; nothing smaller shows its colour
};

/// What is known of a drawing before it is painted.
struct DrawingFacts {
    OnFloor on_floor;
    std::vector<Problem> warnings;  ///< what of the file is not drawn, or not as its author may think
    std::vector<std::string> notes; ///< what was found out, for whoever asks
};

class Drawing {
public:
    virtual ~Drawing() = default;
    Drawing() = default;
    Drawing(const Drawing&) = delete;
    Drawing& operator=(const Drawing&) = delete;

    const DrawingFacts& facts() const { return facts_; }

    /// Paints the board from the origin on, in a context whose unit is a millimetre. Throws InputError.
    void paint(cairo_t* context) const {
        cairo_save(context);
        cairo_translate(context, -facts_.on_floor.from_mm.x, -facts_.on_floor.from_mm.y);
        draw(context);
        cairo_restore(context);
    }

    /// Whether it is painted in a process of its own.
    virtual bool is_apart() const { return false; }

protected:
    /// Draws all of it from the origin on.
    virtual void draw(cairo_t* context) const = 0;

    DrawingFacts facts_;
};

/// Reads a drawing by what is in it, not by its name; in a process of its own when `caged`. Throws InputError.
std::unique_ptr<Drawing> read_drawing(const std::string& path, const DrawingKeys& keys, bool caged);

} // namespace vast_turn
