// What is wrong with an input, as an exception.
#include <pybind11/stl.h>

#include "bindings.hpp"
#include "vast_turn/base/problem.hpp"

namespace py = pybind11;

namespace vast_turn::python {

void add_problems(py::module_& module) {
    py::class_<Problem>(module, "Problem", "One fault of an input.")
        .def_property_readonly(
            "is_error", [](const Problem& p) { return p.severity == Severity::error; },
            "whether it keeps the input from being used; a warning does not")
        .def_property_readonly("file", [](const Problem& p) { return p.place.file; })
        .def_property_readonly(
            "line", [](const Problem& p) { return p.place.line; }, "from 1; 0 for the whole file")
        .def_property_readonly(
            "column", [](const Problem& p) { return p.place.column; }, "from 1, in characters")
        .def_readonly("message", &Problem::message, "what was seen and what was expected")
        .def_readonly("cure", &Problem::cure, "what to do; may be empty")
        .def("__str__", [](const Problem& p) { return to_text(p); })
        .def("__repr__", [](const Problem& p) { return "<Problem: " + p.message + ">"; });

    // A ValueError, since that is what whoever calls is used to; its problems are in its attribute.
    py::exception<InputError> made(module, "InputError", PyExc_ValueError);
    made.doc() = "Input that cannot be used. `problems` has every fault found, str() tells them as the command does.";
    static py::handle error; // for as long as the process: the interpreter may be gone before statics are
    error = made.release();
    py::register_exception_translator([](std::exception_ptr thrown) {
        try {
            if (thrown) {
                std::rethrow_exception(thrown);
            }
        } catch (const InputError& e) {
            const py::object raised = error(e.what());
            raised.attr("problems") = py::cast(e.problems());
            PyErr_SetObject(error.ptr(), raised.ptr());
        }
    });
}

} // namespace vast_turn::python
