#include "arrays.hpp"

#include <cstddef>
#include <cstdint>
#include <string>

namespace py = pybind11;

namespace vast_turn::python {

namespace {

/// What nobody may write through: the library's own memory.
py::array read_only(py::array view) {
    view.attr("flags").attr("writeable") = false;
    return view;
}

/// The fields of a record, told to numpy by where they lie in it.
class Fields {
public:
    template <class Number> void add(const char* name, std::size_t offset) {
        add(name, offset, py::dtype::of<Number>());
    }
    void add(const char* name, std::size_t offset, py::object form) {
        names_.append(name);
        forms_.append(std::move(form));
        offsets_.append(offset);
    }
    py::dtype take(std::size_t bytes) const { return {names_, forms_, offsets_, static_cast<py::ssize_t>(bytes)}; }

private:
    py::list names_;
    py::list forms_;
    py::list offsets_;
};

py::dtype look_fields() {
    Fields fields;
    fields.add<double>("t_s", offsetof(LookRecord, t_s));
    fields.add<double>("x_mm", offsetof(LookRecord, at) + offsetof(Vec2, x));
    fields.add<double>("y_mm", offsetof(LookRecord, at) + offsetof(Vec2, y));
    fields.add<float>("heading_deg", offsetof(LookRecord, heading_deg));
    fields.add<float>("way_mm", offsetof(LookRecord, way_mm));
    fields.add<float>("left_pct", offsetof(LookRecord, left_pct));
    fields.add<float>("right_pct", offsetof(LookRecord, right_pct));
    const py::tuple raw = py::make_tuple(py::dtype::of<std::uint16_t>(), max_sensors);
    fields.add("raw", offsetof(LookRecord, raw), py::module_::import("numpy").attr("dtype")(raw));
    fields.add<std::uint8_t>("line_bits", offsetof(LookRecord, line_bits));
    fields.add<std::uint16_t>("block", offsetof(LookRecord, block));
    static_assert(sizeof(RuleId) == sizeof(std::uint16_t));
    fields.add<std::uint16_t>("rule", offsetof(LookRecord, rule));
    fields.add<std::uint16_t>("markers", offsetof(LookRecord, markers));
    fields.add<float>("range_mm", offsetof(LookRecord, range_mm));
    return fields.take(sizeof(LookRecord));
}

} // namespace

py::array view_of(const std::vector<LookRecord>& looks, const py::handle& owner) {
    return read_only(py::array(look_fields(), {looks.size()}, {sizeof(LookRecord)}, looks.data(), owner));
}

py::array view_of(const std::vector<Vec2>& points, const py::handle& owner) {
    static_assert(sizeof(Vec2) == 2 * sizeof(double));
    const std::size_t columns = 2;
    return read_only(py::array(py::dtype::of<double>(), {points.size(), columns}, {sizeof(Vec2), sizeof(double)},
                               points.data(), owner));
}

py::array view_of(const Surface& surface, const py::handle& owner) {
    const auto rows = static_cast<std::size_t>(surface.rows);
    const auto columns = static_cast<std::size_t>(surface.columns);
    return read_only(py::array(py::dtype::of<std::uint32_t>(), {rows, columns},
                               {columns * sizeof(std::uint32_t), sizeof(std::uint32_t)}, surface.cells.data(), owner));
}

} // namespace vast_turn::python
