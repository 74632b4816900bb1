#include "pilots.hpp"

#include <memory>
#include <string>

namespace py = pybind11;

namespace vast_turn::python {

namespace {

/// An object that any thread may let go of.
std::shared_ptr<py::function> shared(const py::function& it) {
    return {new py::function(it), [](py::function* gone) {
                const py::gil_scoped_acquire lock;
                delete gone;
            }};
}

} // namespace

Decide decide_by(const py::function& decide) {
    return [kept = shared(decide)](const Look& look, Answer& answer) {
        const py::gil_scoped_acquire lock;
        // A copy of the look, so that what is kept of it stays good; the answer is filled through an object of its own.
        const py::object filled = py::cast(answer);
        (*kept)(look, filled);
        answer = filled.cast<Answer>();
    };
}

Pilot pilot_from(const py::handle& given) {
    if (py::isinstance<Plan>(given)) {
        return given.cast<Plan>();
    }
    if (py::isinstance<py::tuple>(given) && py::len(given) == 2) {
        const auto pair = given.cast<py::tuple>();
        if (py::isinstance<py::str>(pair[0]) && PyCallable_Check(py::object(pair[1]).ptr()) != 0) {
            const auto make = shared(pair[1].cast<py::function>());
            return {pair[0].cast<std::string>(), [make] {
                        const py::gil_scoped_acquire lock;
                        return decide_by((*make)().cast<py::function>());
                    }};
        }
    }
    throw py::type_error(
        "who drives is a Plan, or (name, make) where make() gives a decide(look, answer) for each run");
}

} // namespace vast_turn::python
