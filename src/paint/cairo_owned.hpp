#pragma once

/// Cairo's objects, destroyed when their owner is.

#include <memory>

#include <cairo.h>

namespace vast_turn {

struct DestroyCairo {
    void operator()(cairo_surface_t* surface) const { cairo_surface_destroy(surface); }
    void operator()(cairo_t* context) const { cairo_destroy(context); }
};

using OwnedSurface = std::unique_ptr<cairo_surface_t, DestroyCairo>;
using OwnedContext = std::unique_ptr<cairo_t, DestroyCairo>;

} // namespace vast_turn
