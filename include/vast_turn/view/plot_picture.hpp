#pragma once

/// Quantities of runs as curves.

#include <string>
#include <vector>

#include "vast_turn/view/picture.hpp"

namespace vast_turn {

/// One run's curve. `x` does not fall; as many as there are of `y`.
struct PlotCurve {
    std::string name; ///< of the run
    std::vector<double> x;
    std::vector<double> y;
};

/// One quantity, of several runs.
struct PlotPanel {
    std::string name;
    std::string unit;          ///< empty for a plain number
    bool is_condition = false; ///< drawn as what holds and what does not
    std::vector<PlotCurve> curves;
};

/// A page of panels below each other, over one axis.
struct PlotPage {
    std::string title;
    std::string about;             ///< a line below it
    std::string axis;              ///< "time, s"
    std::vector<PlotPanel> panels; ///< at least one (asserted); more than eight are too low to read
};

/// Draws it. Runs differ by colour and by their dashes. Curves of many looks are thinned to what a pixel shows: the
/// least and the greatest value of each.
std::string draw_plot(const PlotPage& page, PictureFormat format);

} // namespace vast_turn
