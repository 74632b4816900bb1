#include "vast_turn/view/block_drawing.hpp"

#include <optional>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/explain/block_graph.hpp"
#include "view/filter_program.hpp"

namespace vast_turn {

namespace {

const char* option_for(PictureFormat format) {
    switch (format) {
    case PictureFormat::png: return "-Tpng";
    case PictureFormat::svg: return "-Tsvg";
    case PictureFormat::pdf: return "-Tpdf";
    }
    return "";
}

} // namespace

// A program of its own, since the library version 2.43 reads freed memory when it lays out a second graph.
std::string draw_blocks(const Plan& plan, PictureFormat format) {
    std::optional<std::string> picture = filtered({"dot", option_for(format)}, block_graph(plan));
    if (!picture || picture->empty()) {
        throw InputError(plan.file(), "the blocks could not be laid out: Graphviz' program dot is not here or failed",
                         "install the package graphviz, or write the graph as .dot");
    }
    return std::move(*picture);
}

} // namespace vast_turn
