// Courses, and their lines as a graph.
#include <pybind11/stl.h>

#include <memory>
#include <string>
#include <vector>

#include "arrays.hpp"
#include "bindings.hpp"
#include "vast_turn/course/graph/route_graph.hpp"
#include "vast_turn/paint/course_file.hpp"

namespace py = pybind11;

namespace vast_turn::python {

namespace {

py::tuple pair_of(Vec2 p) { return py::make_tuple(p.x, p.y); }

py::dict starts_of(const Course& course) {
    py::dict out;
    for (const StartPose& start : course.starts) {
        out[py::str(start.name)] = py::make_tuple(start.pose.at.x, start.pose.at.y, start.pose.heading_deg);
    }
    return out;
}

py::dict places_of(const Course& course) {
    py::dict out;
    for (const CoursePlace& place : course.places) {
        out[py::str(place.name)] = py::make_tuple(place.at.x, place.at.y, place.radius_mm);
    }
    return out;
}

py::dict palette_of(const Course& course) {
    py::dict out;
    for (const auto& [name, rgb] : course.palette) {
        out[py::str(name)] = py::make_tuple(rgb.r, rgb.g, rgb.b);
    }
    return out;
}

std::vector<std::string> variants_of(const Course& course) {
    std::vector<std::string> out{as_drawn};
    for (const Variant& variant : course.variants) {
        out.push_back(variant.name);
    }
    return out;
}

/// A node or stretch as an object that keeps its graph alive.
template <class Of> struct PartOf {
    std::shared_ptr<const RouteGraph> graph;
    const Of* part = nullptr;
};
using HeldNode = PartOf<Node>;
using HeldStretch = PartOf<Stretch>;

template <class Of>
std::vector<PartOf<Of>> parts_of(const std::shared_ptr<const RouteGraph>& graph, const std::vector<Of>& list) {
    std::vector<PartOf<Of>> out;
    for (const Of& one : list) {
        out.push_back({graph, &one});
    }
    return out;
}

py::list bridges_of(const HeldStretch& it) {
    py::list out;
    for (const Bridge& bridge : it.part->bridges) {
        out.append(py::make_tuple(bridge.from_mm, bridge.length_mm, bridge.marker));
    }
    return out;
}

py::list exits_of(const HeldNode& it) {
    py::list out;
    for (const Exit& exit : it.part->exits) {
        out.append(py::make_tuple(exit.heading_deg, HeldStretch{it.graph, &it.graph->stretch(exit.stretch)},
                                  HeldNode{it.graph, &it.graph->node(it.graph->end_of(exit))}));
    }
    return out;
}

void add_lines(py::module_& module) {
    py::class_<HeldNode>(module, "Node", "Where stretches of line meet or end.")
        .def_property_readonly("name", [](const HeldNode& it) { return it.part->name; })
        .def_property_readonly(
            "kind", [](const HeldNode& it) { return name_of(it.part->kind); },
            "'end', 'seam', 'fork', 'crossing' or 'star'")
        .def_property_readonly(
            "at_mm", [](const HeldNode& it) { return pair_of(it.part->at); }, "(x, y)")
        .def_property_readonly("exits", &exits_of,
                               "counter-clockwise: (heading in degrees, Stretch, Node at its other end)")
        .def("__repr__", [](const HeldNode& it) { return "<Node '" + it.part->name + "'>"; });
    py::class_<HeldStretch>(module, "Stretch", "A line between two nodes.")
        .def_property_readonly(
            "path_mm", [](const py::object& it) { return view_of(it.cast<const HeldStretch&>().part->path, it); },
            "array of two columns, x and y: its middle, points about 2 mm apart; a view, not a copy")
        .def_property_readonly("length_mm", [](const HeldStretch& it) { return it.part->length_mm; })
        .def_property_readonly("width_mm", [](const HeldStretch& it) { return it.part->width_mm; })
        .def_property_readonly(
            "tightest_mm", [](const HeldStretch& it) { return it.part->tightest_mm; },
            "smallest radius of a bend; infinite when straight")
        .def_property_readonly("bridges", &bridges_of,
                               "what is missing and can be driven over: (from_mm along it, length_mm, marker or '')")
        .def_property_readonly("begin",
                               [](const HeldStretch& it) {
                                   return HeldNode{it.graph, &it.graph->node(it.part->from)};
                               })
        .def_property_readonly("end", [](const HeldStretch& it) {
            return HeldNode{it.graph, &it.graph->node(it.part->to)};
        });
    py::class_<RouteGraph, std::shared_ptr<RouteGraph>>(module, "Lines", "The lines of a course as a graph.")
        .def_property_readonly("nodes", [](const std::shared_ptr<RouteGraph>& g) { return parts_of(g, g->nodes); })
        .def_property_readonly("stretches",
                               [](const std::shared_ptr<RouteGraph>& g) { return parts_of(g, g->stretches); });
}

} // namespace

void add_course(py::module_& module) {
    add_lines(module);
    py::class_<Course, std::shared_ptr<Course>>(module, "Course", "A course in one of its variants, painted.")
        .def_readonly("name", &Course::name)
        .def_readonly("file", &Course::file)
        .def_readonly("variant", &Course::variant)
        .def_property_readonly("variants", &python::variants_of, "names of all its variants, 'as drawn' first")
        .def_property_readonly(
            "size_mm", [](const Course& c) { return py::make_tuple(c.width_mm, c.height_mm); }, "of the board")
        .def_property_readonly("starts", &python::starts_of, "by name: (x, y, heading)")
        .def_property_readonly("places", &places_of, "by name: (x, y, radius)")
        .def_property_readonly("palette", &palette_of, "by name: (red, green, blue)")
        .def_readonly("warnings", &Course::warnings, "what of its drawing is not as its author may think")
        .def_property_readonly(
            "cell_mm", [](const Course& c) { return c.surface.cell_mm; }, "side of a cell of `cells`")
        .def_property_readonly(
            "cells", [](const py::object& it) { return view_of(it.cast<const Course&>().surface, it); },
            "what lies on the floor, array of rows and columns of 0x00RRGGBB; a view, not a copy")
        .def(
            "lines", [](const Course& c) { return std::make_shared<RouteGraph>(find_route_graph(c)); },
            py::call_guard<py::gil_scoped_release>(), "Finds its lines, junctions and gaps from the picture alone.")
        .def("__repr__", [](const Course& c) { return "<Course '" + c.name + "', " + c.variant + ">"; });
    module.def(
        "load_course",
        [](const std::string& path, const std::string& variant, bool drawings_anywhere) {
            DrawingRules rules;
            rules.anywhere = drawings_anywhere;
            return std::make_shared<Course>(load_course(path, variant, rules));
        },
        py::arg("path"), py::arg("variant") = as_drawn, py::kw_only(), py::arg("drawings_anywhere") = false,
        py::call_guard<py::gil_scoped_release>(),
        "Reads a course file in one of its variants. `drawings_anywhere`: what it names may lie outside its folder.");
}

} // namespace vast_turn::python
