// Any bytes are read as a drawing, SVG or PNG, and painted small.
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

#include <cairo.h>

#include "paint/drawing_kinds.hpp"

namespace {

constexpr std::string_view drawing_words[] = {"<svg",
                                              "xmlns=\"http://www.w3.org/2000/svg\"",
                                              "<path",
                                              "d=\"M",
                                              "</path>",
                                              "<rect",
                                              "<circle",
                                              "<g",
                                              "<use",
                                              "href=\"#",
                                              "<defs>",
                                              "</defs>",
                                              "<linearGradient",
                                              "<stop",
                                              "offset",
                                              "<pattern",
                                              "<mask",
                                              "<clipPath",
                                              "<filter",
                                              "<feGaussianBlur",
                                              "stdDeviation",
                                              "<feConvolveMatrix",
                                              "order",
                                              "<symbol",
                                              "<text",
                                              "<tspan",
                                              "<style>",
                                              "</style>",
                                              "<!ENTITY",
                                              "<!DOCTYPE",
                                              "viewBox",
                                              "width",
                                              "height",
                                              "transform",
                                              "matrix(",
                                              "rotate(",
                                              "scale(",
                                              "stroke-dasharray",
                                              "stroke-width",
                                              "fill",
                                              "stroke",
                                              "opacity",
                                              "class",
                                              "id",
                                              "style",
                                              "=",
                                              "\"",
                                              "/>",
                                              ">",
                                              "</g>",
                                              "</svg>",
                                              "M",
                                              "L",
                                              "C",
                                              "A",
                                              "Z",
                                              "h",
                                              "v",
                                              "\n",
                                              "%PDF-1.5",
                                              " 0 obj",
                                              "endobj",
                                              "/MediaBox [",
                                              "/UserUnit",
                                              "/Rotate",
                                              "stream",
                                              " re f",
                                              " cm"};

} // namespace

std::vector<std::string_view> fuzz_words() { return {std::begin(drawing_words), std::end(drawing_words)}; }

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string bytes(reinterpret_cast<const char*>(data), size);
    cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_RGB24, 64, 64);
    cairo_t* context = cairo_create(image);
    try {
        vast_turn::ReadDrawing* const reader = vast_turn::drawing_reader_for(bytes);
        if (reader == nullptr) {
            throw vast_turn::InputError("fuzz", "no drawing", "");
        }
        vast_turn::DrawingKeys keys;
        if (reader == vast_turn::read_png_drawing || reader == vast_turn::read_jpeg_drawing) {
            keys.mm_per_px = 1.3;
            keys.even_light = true;
        } else if (reader == vast_turn::read_pdf_drawing) {
            constexpr std::size_t boxes = 5;
            keys.page_box = static_cast<vast_turn::PageBox>(size % boxes);
        }
        const auto drawing = reader("fuzz", bytes, keys, vast_turn::Checked::no);
        const vast_turn::Vec2 board = drawing->facts().on_floor.board_mm;
        cairo_scale(context, 64.0 / board.x, 64.0 / board.y);
        drawing->paint(context);
    } catch (const vast_turn::InputError&) { // NOLINT(bugprone-empty-catch): refused with a reason
    }
    cairo_destroy(context);
    cairo_surface_destroy(image);
    return 0;
}
