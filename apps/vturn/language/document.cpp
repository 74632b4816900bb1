#include "language/document.hpp"

#include <algorithm>
#include <array>
#include <cctype>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/trips_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/vet/vet.hpp"

namespace vturn {

using namespace vast_turn;
using nlohmann::json;

namespace {

int hex_of(char c) {
    return c >= '0' && c <= '9'   ? c - '0'
           : c >= 'a' && c <= 'f' ? c - 'a' + 10
           : c >= 'A' && c <= 'F' ? c - 'A' + 10
                                  : -1;
}

/// What a problem's own words say should stand there: "(did you mean `x`?)".
std::string meant_by(const std::string& message) {
    constexpr std::string_view begins = "(did you mean `";
    const std::size_t at = message.find(begins);
    const std::size_t end = at == std::string::npos ? at : message.find('`', at + begins.size());
    return end == std::string::npos ? "" : message.substr(at + begins.size(), end - at - begins.size());
}

std::string with_cure(const std::string& message, const std::string& cure) {
    return cure.empty() ? message : fmt::format("{}\nto do: {}", message, cure);
}

} // namespace

DocumentKind kind_of(const std::string& path) {
    constexpr std::array<std::pair<std::string_view, DocumentKind>, 8> endings = {
        {{".plan", DocumentKind::plan},
         {".course.toml", DocumentKind::course},
         {".robot.toml", DocumentKind::robot},
         {".days.toml", DocumentKind::days},
         {".calibration.toml", DocumentKind::calibration},
         {".trips.toml", DocumentKind::trips},
         {".pieces.toml", DocumentKind::pieces},
         {"vturn.toml", DocumentKind::folder}}};
    const auto at =
        std::find_if(endings.begin(), endings.end(), [&](const auto& one) { return path.ends_with(one.first); });
    return at == endings.end() ? DocumentKind::other : at->second;
}

std::string path_of_uri(const std::string& uri) {
    constexpr std::string_view begins = "file://";
    if (!uri.starts_with(begins)) {
        return uri;
    }
    const std::size_t from = uri.find('/', begins.size()); // behind a host, if there is one
    std::string path;
    for (std::size_t i = std::min(from, uri.size()); i < uri.size(); ++i) {
        const bool coded = uri[i] == '%' && i + 2 < uri.size() && hex_of(uri[i + 1]) >= 0 && hex_of(uri[i + 2]) >= 0;
        path += coded ? static_cast<char>(16 * hex_of(uri[i + 1]) + hex_of(uri[i + 2])) : uri[i];
        i += coded ? 2 : 0;
    }
    return path;
}

std::vector<Remark> remarks_of(const LinedText& lined, const std::vector<Problem>& problems) {
    std::vector<Remark> remarks;
    for (const Problem& problem : problems) {
        Remark remark{lined.span_of(problem.place),
                      problem.severity == Severity::error ? 1 : 2,
                      "",
                      with_cure(problem.message, problem.cure),
                      {}};
        if (const std::string meant = meant_by(problem.message); !meant.empty() && problem.place.column > 0) {
            remark.changes.push_back({fmt::format("write `{}`", meant), remark.span, meant});
        }
        remarks.push_back(std::move(remark));
    }
    return remarks;
}

std::vector<Remark> found_in(const LinedText& lined, const Plan& plan, const Surroundings& around) {
    const bool fits = around.robot && around.robot->sensors.size() == static_cast<std::size_t>(plan.sensors());
    const VetReport report =
        vet(plan, {.robot = fits ? around.robot.get() : nullptr, .course = fits ? around.course.get() : nullptr});
    std::vector<Remark> remarks;
    for (const Finding& finding : report.findings) {
        Remark remark{lined.span_of(finding.place),
                      finding.grade == Grade::hint ? 3 : 2,
                      finding.kind->code,
                      with_cure(finding.message, finding.cure),
                      {}};
        const std::size_t number = finding.place.line > 0 ? static_cast<std::size_t>(finding.place.line - 1) : 0;
        const TextSpan line = lined.line(number);
        if (!finding.new_line.empty()) {
            remark.changes.push_back({fmt::format("change the line: {}", finding.new_line), line, finding.new_line});
        }
        const std::string_view text = lined.line_text(number);
        const std::string indent(text.substr(0, std::min(text.find_first_not_of(" \t"), text.size())));
        remark.changes.push_back({fmt::format("allow {} here", finding.kind->code),
                                  {line.from, line.from},
                                  fmt::format("{}// vet: allow {} because REASON\n", indent, finding.kind->code)});
        remarks.push_back(std::move(remark));
    }
    return remarks;
}

std::vector<Remark> check_toml(const LinedText& lined, const std::string& path, DocumentKind kind,
                               const Surroundings& around) {
    try {
        switch (kind) {
        case DocumentKind::robot: parse_robot(lined.text(), path); break;
        case DocumentKind::days: parse_days(lined.text(), path); break;
        case DocumentKind::calibration: parse_calibration(lined.text(), path); break;
        case DocumentKind::course: CourseReading(lined.text(), path, {}).read(); break;
        case DocumentKind::folder: parse_folder(lined.text(), path); break;
        case DocumentKind::pieces: check_pieces(lined.text(), path); break;
        case DocumentKind::trips:
            if (around.course) {
                parse_trip_sheet(lined.text(), path, *around.course);
            }
            break;
        default: break;
        }
    } catch (const InputError& error) {
        std::vector<Remark> remarks = remarks_of(lined, error.problems());
        for (std::size_t i = 0; i < remarks.size(); ++i) { // a fault of another file stands at the top, with its name
            const std::string& file = error.problems()[i].place.file;
            if (!file.empty() && file != path) {
                remarks[i].span = lined.line(0);
                remarks[i].message = fmt::format("{}: {}", file, remarks[i].message);
                remarks[i].changes.clear();
            }
        }
        return remarks;
    }
    return {};
}

json diagnostics_of(const Document& document) {
    json list = json::array();
    for (const std::vector<Remark>* remarks : {&document.remarks, &document.found}) {
        for (const Remark& remark : *remarks) {
            json one = {{"range", document.lined->range_of(remark.span)},
                        {"severity", remark.severity},
                        {"source", "vturn"},
                        {"message", remark.message}};
            if (!remark.code.empty()) {
                one["code"] = remark.code;
            }
            list.push_back(std::move(one));
        }
    }
    return {{"uri", document.uri}, {"version", document.version}, {"diagnostics", std::move(list)}};
}

} // namespace vturn
