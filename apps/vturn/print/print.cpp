#include "print/print.hpp"

#include "call_files.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"
#include "vast_turn/emit/checked_line.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/plan/explain/describe.hpp"
#include "vast_turn/trial/matched_route.hpp"
#include "vast_turn/trial/trip_result.hpp"

namespace vturn {

using namespace vast_turn;

void print_columns(std::ostream& out, const std::vector<std::vector<std::string>>& rows,
                   const std::vector<std::size_t>& right) {
    std::vector<std::size_t> widths;
    for (const auto& row : rows) {
        widths.resize(std::max(widths.size(), row.size()), 0);
        for (std::size_t i = 0; i < row.size(); ++i) {
            widths[i] = std::max(widths[i], characters_in(row[i]));
        }
    }
    for (const auto& row : rows) {
        std::string line;
        for (std::size_t i = 0; i < row.size(); ++i) {
            const std::string pad(widths[i] - characters_in(row[i]), ' ');
            const bool to_right = std::find(right.begin(), right.end(), i) != right.end();
            line += "  " + (to_right ? pad + row[i] : row[i] + pad);
        }
        line.erase(line.find_last_not_of(' ') + 1);
        out << line << '\n';
    }
}

bool ends_with(const std::string& text, const std::string& end) {
    return text.size() >= end.size() && text.compare(text.size() - end.size(), end.size(), end) == 0;
}

PictureFormat format_for(const std::string& path) {
    if (path == "-") {
        return PictureFormat::svg;
    }
    if (const auto format = picture_format(path)) {
        return *format;
    }
    throw InputError(path, "this is no name of a picture",
                     "end it with .png, .svg or .pdf; - is standard output, as SVG, and -.png as PNG");
}

namespace {

/// "fork left (4.31 s), crossing 1 straight (7.02 s)"; why it cannot be told; nothing on a course without junctions.
std::string choices_of(const Scene& scene, const Run& run) {
    try {
        const MatchedRoute route = match_run(scene, run);
        if (!route.told) {
            return fmt::format("cannot be told: {}", route.why_not);
        }
        std::string text;
        for (const Choice& choice : route.choices) {
            const Node& node = scene.graph().node(choice.node);
            text += fmt::format("{}{} {} ({:.2f} s)", text.empty() ? "" : ", ", node.name,
                                way_name(node, choice.from, choice.to), choice.t_s);
        }
        return text;
    } catch (const InputError&) {
        return {}; // a floor that is noise has no junctions
    }
}

} // namespace

void print_run(const Streams& streams, const Scene& scene, const Plan& plan, const Run& run) {
    const Paint paint(streams.colour);
    std::ostream& out = streams.out;
    out << paint.strong(fmt::format("{}: {} on plan \"{}\", seed {}{}", scene.course().name, scene.robot().name,
                                    plan.name(), run.seed, run.day > 0 ? fmt::format(", day {}", run.day) : ""))
        << "\n";
    std::string route = run.start;
    for (const Visit& visit : run.visits) {
        route += fmt::format(" -> {} ({:.2f} s)", scene.course().places[visit.place].name, visit.t_s);
    }
    const bool halted = run.ending == Ending::halted;
    const std::string end = name_of(run.ending);
    out << fmt::format("  route   {}\n", route);
    if (const std::string choices = choices_of(scene, run); !choices.empty()) {
        out << fmt::format("  choices {}\n", choices);
    }
    out << fmt::format("  ended   {} at {:.2f} s, {:.0f},{:.0f} mm: {}\n", halted ? paint.good(end) : paint.bad(end),
                       run.time_s, run.end_at.x, run.end_at.y, run.ended_because);
    if (!run.looks.empty()) {
        const LookRecord& last = run.looks.back();
        const std::string by =
            last.rule == no_rule ? std::string("no rule; the last motion was kept") : describe_rule(plan, last.rule);
        out << fmt::format("  acting  {} (saw [{}])\n", by, to_marks({last.line_bits, plan.sensors()}));
    }
    out << fmt::format("  way     {:.0f} mm, {:.0f} mm/s in the mean\n", run.way_mm, run.mean_speed_mm_s());
    for (const Touch& touch : run.touches) {
        out << fmt::format("  touch   {:.2f} s, {:.0f},{:.0f} mm: {}\n", touch.t_s, touch.at.x, touch.at.y,
                           touch.what.empty() ? "a wall" : touch.what);
    }
    if (run.slid_s >= 0.005) { // as told
        out << fmt::format("  slid    {:.2f} s: a tyre gave way\n", run.slid_s);
    }
    const std::string unanswered = fmt::format("{} unanswered", run.unanswered);
    out << fmt::format("  looks   {}, {}\n", run.looks_done, run.unanswered > 0 ? paint.bad(unanswered) : unanswered);
    for (const RunEvent& event : run.events) {
        out << fmt::format("  {:<7} {:.2f} s, {:.0f},{:.0f} mm: {}\n",
                           event.event.kind == EventKind::cut_short ? "cut" : event_name(event.event.kind), event.t_s,
                           event.at.x, event.at.y, describe_event(plan, event.event));
    }
}

DrawingRules drawings_of(const Streams& streams) {
    return {.anywhere = streams.files != nullptr && streams.files->drawings_anywhere};
}

Course read_course(const Streams& streams, const std::string& path, const std::string& variant) {
    Course course = load_course(path, variant, drawings_of(streams));
    also_reads(streams, course.drawing);
    print_warnings(streams, course.warnings);
    return course;
}

void warn_of_garbled(const Streams& streams, const std::string& log, const std::string& path) {
    std::size_t garbled = 0;
    whole_rows(log, &garbled);
    if (garbled > 0) {
        streams.err << fmt::format("{}: {} {} garbled, by their check sums, and passed over\n", path, garbled,
                                   garbled == 1 ? "row is" : "rows are");
    }
}

void print_warnings(const Streams& streams, const std::vector<Problem>& warnings) { streams.err << to_text(warnings); }

std::vector<std::string> names_apart(const std::vector<std::pair<std::string, std::string>>& names_and_files) {
    std::vector<std::string> apart;
    for (const auto& [name, file] : names_and_files) {
        const auto same = std::count_if(names_and_files.begin(), names_and_files.end(),
                                        [&own = name](const auto& other) { return other.first == own; });
        apart.push_back(same > 1 && !file.empty() ? fmt::format("{} ({})", name, file) : name);
    }
    return apart;
}

} // namespace vturn
