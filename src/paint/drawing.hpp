#pragma once

/// A drawing of a course, SVG or PNG, as something that can be painted.

#include <memory>
#include <string>
#include <vector>

#include <cairo.h>

#include "vast_turn/base/geometry.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/formats/read/course_sheet.hpp"

namespace vast_turn {

class Drawing {
public:
    virtual ~Drawing() = default;
    Drawing() = default;
    Drawing(const Drawing&) = delete;
    Drawing& operator=(const Drawing&) = delete;

    virtual Vec2 size_mm() const = 0;

    /// Paints it from the origin on, in a context whose unit is a millimetre. Throws InputError.
    virtual void paint(cairo_t* context) const = 0;

    /// Whether it is painted in a process of its own.
    virtual bool is_apart() const { return false; }

    /// What of the file is not drawn, or not as its author may think.
    const std::vector<Problem>& warnings() const { return warnings_; }

protected:
    std::vector<Problem> warnings_;
};

/// Reads a drawing by what is in it, not by its name: an SVG in a process of its own when `caged`. Throws InputError.
std::unique_ptr<Drawing> read_drawing(const std::string& path, const DrawingKeys& keys, bool caged);

} // namespace vast_turn
