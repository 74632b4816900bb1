#pragma once

/// A page to draw on, in pixels from the top left.

#include <functional>
#include <string>
#include <vector>

#include "paint/cairo_owned.hpp"
#include "vast_turn/base/colour.hpp"
#include "vast_turn/base/geometry.hpp"
#include "vast_turn/view/picture.hpp"

namespace vast_turn {

struct Ink {
    Rgb colour;
    double alpha = 1.0;
};

namespace ink {
inline constexpr Ink text{{38, 44, 40}, 1.0};
inline constexpr Ink faint{{122, 130, 124}, 1.0};
inline constexpr Ink paper{{250, 250, 246}, 1.0};
inline constexpr Ink fern{{38, 112, 72}, 1.0};
inline constexpr Ink alarm{{186, 40, 52}, 1.0};
} // namespace ink

/// Left free at the edges of every page.
inline constexpr double page_margin = 28.0;

/// Gives a drawing library's object back.
enum class Align { left, middle, right };

struct TextStyle {
    double size = 14.0;
    Ink colour = ink::text;
    Align align = Align::left;
    bool bold = false;
    bool mono = false;
    bool halo = false; ///< a light rim, to be readable on anything
};

class Canvas {
public:
    explicit Canvas(cairo_t* context) : c_(context) {}

    void fill_rect(Vec2 at, Vec2 size, Ink colour);
    void frame(Vec2 at, Vec2 size, Ink colour, double width);
    void line(const std::vector<Vec2>& points, Ink colour, double width, bool dashed = false);
    void polygon(const std::vector<Vec2>& points, Ink colour);
    void circle(Vec2 at, double radius, Ink colour, double width, bool dashed = false);
    void dot(Vec2 at, double radius, Ink colour);
    void text(Vec2 at, const std::string& words, const TextStyle& style = {});
    double text_width(const std::string& words, const TextStyle& style);
    /// The words cut to fit a width, ending in "..." when cut.
    std::string fitted(const std::string& words, double width, const TextStyle& style);
    /// The words in lines that fit a width; a word that is wider stands alone.
    std::vector<std::string> wrapped(const std::string& words, double width, const TextStyle& style);
    /// An arrow from a to b with a head.
    void arrow(Vec2 a, Vec2 b, Ink colour, double width);

    cairo_t* context() { return c_; }

private:
    void use(Ink colour);
    void font(const TextStyle& style);

    cairo_t* c_;
};

/// Of one of several curves or ways: colours that stay apart for colour-blind eyes as well; then again from the start.
Ink series_ink(std::size_t number);

/// The two lines at the top of a page, cut to its width.
void draw_heading(Canvas& canvas, const std::string& title, const std::string& about);

/// The largest of 1, 2 and 5 times a power of ten that is at most x (above 0): steps of a scale.
double round_step(double x);

inline constexpr double page_width = 1280.0;
inline constexpr double page_height = 800.0;

/// Draws a page and returns the bytes of its file.
std::string draw_page(PictureFormat format, const std::function<void(Canvas&)>& draw);

} // namespace vast_turn
