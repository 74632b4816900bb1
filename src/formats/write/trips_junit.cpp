#include <sstream>

#include <fmt/format.h>
#include <fmt/ranges.h>
#include <pugixml.hpp>

#include "vast_turn/base/visible.hpp"
#include "vast_turn/formats/write/trips_junit.hpp"

namespace vast_turn {

namespace {

/// XML 1.0 has no way to write control characters, also not as references, and no bytes that are no UTF-8.
std::string for_xml(const std::string& text) { return visible(text); }

/// Why it failed, a line each.
std::string told(const Pilot& pilot, const CaseReport& report) {
    std::vector<std::string> lines;
    if (report.result.parting) {
        lines = explain(pilot, *report.result.parting);
    }
    for (const Cure& cure : report.cures) {
        if (cure.passes) {
            lines.push_back(describe(cure));
        }
    }
    return fmt::format("{}", fmt::join(lines, "\n"));
}

/// How surely it holds, and what breaks it, a line each.
std::string told_of_days(const CaseReport& report) {
    std::string text = fmt::format("holds on {:.3g} to {:.3g} % of days, {} of {}", 100.0 * report.days->share.low,
                                   100.0 * report.days->share.high, report.passed, report.runs);
    for (const Cause& cause : report.days->causes) {
        text += "\n" + describe(cause);
    }
    return text;
}

void add_case(pugi::xml_node suite, const Scene& scene, const Pilot& pilot, const CaseReport& report) {
    const TripResult& result = report.result;
    const std::string& file = result.trip.file.empty() ? scene.course().file : result.trip.file;
    pugi::xml_node test = suite.append_child("testcase");
    test.append_attribute("name") = for_xml(result.trip.name).c_str();
    test.append_attribute("classname") = for_xml(scene.course().name).c_str();
    test.append_attribute("file") = for_xml(file).c_str();
    test.append_attribute("line") = result.trip.line;
    test.append_attribute("time") = fmt::format("{:.3f}", result.run.time_s).c_str();
    if (report.days) {
        test.append_child("system-out").text() = for_xml(told_of_days(report)).c_str();
    }
    if (report.runs == 0 || report.holds()) {
        return;
    }
    pugi::xml_node failure = test.prepend_child("failure");
    failure.append_attribute("type") =
        report.days && report.days->sure && !report.days->decided ? "undecided" : "route";
    const std::string why = result.passed ? told_of_days(report) : fmt::format("{}", fmt::join(result.failures, "; "));
    failure.append_attribute("message") = for_xml(why).c_str();
    failure.text() = for_xml(told(pilot, report)).c_str();
}

} // namespace

std::string trips_junit(const LayoutsReport& report) {
    pugi::xml_document document;
    pugi::xml_node suites = document.append_child("testsuites");
    suites.append_attribute("name") = "vturn trips";
    for (const PilotLayouts& one : report.pilots) {
        double time_s = 0.0;
        for (const LayoutOutcome& outcome : one.outcomes) {
            time_s += outcome.time_s;
        }
        pugi::xml_node suite = suites.append_child("testsuite");
        suite.append_attribute("name") = for_xml(one.pilot.name()).c_str();
        suite.append_attribute("tests") = one.outcomes.size();
        suite.append_attribute("failures") = static_cast<long>(one.outcomes.size()) - one.passed();
        suite.append_attribute("errors") = 0;
        suite.append_attribute("time") = fmt::format("{:.3f}", time_s).c_str();
        for (const LayoutOutcome& outcome : one.outcomes) {
            pugi::xml_node test = suite.append_child("testcase");
            test.append_attribute("name") = for_xml(fmt::format("{}, layout {}", outcome.trip, outcome.layout)).c_str();
            test.append_attribute("classname") = for_xml(report.course).c_str();
            test.append_attribute("file") = for_xml(report.file).c_str();
            test.append_attribute("line") = outcome.line;
            test.append_attribute("time") = fmt::format("{:.3f}", outcome.time_s).c_str();
            if (!outcome.all_passed()) {
                pugi::xml_node failure = test.append_child("failure");
                failure.append_attribute("type") = "route";
                failure.append_attribute("message") =
                    for_xml(fmt::format("{}", fmt::join(outcome.failures, "; "))).c_str();
            }
        }
    }
    std::ostringstream out;
    document.save(out, "  ");
    return out.str();
}

std::string trips_junit(const TripReport& report) {
    pugi::xml_document document;
    pugi::xml_node suites = document.append_child("testsuites");
    suites.append_attribute("name") = "vturn trips";
    for (const PilotReport& one : report.pilots) {
        const auto failed = std::count_if(one.cases.begin(), one.cases.end(),
                                          [](const CaseReport& c) { return c.runs > 0 && !c.holds(); });
        double time_s = 0.0;
        for (const CaseReport& c : one.cases) {
            time_s += c.result.run.time_s;
        }
        pugi::xml_node suite = suites.append_child("testsuite");
        suite.append_attribute("name") = for_xml(one.pilot.name()).c_str();
        suite.append_attribute("tests") = one.cases.size();
        suite.append_attribute("failures") = static_cast<long>(failed);
        suite.append_attribute("errors") = 0;
        suite.append_attribute("time") = fmt::format("{:.3f}", time_s).c_str();
        for (std::size_t i = 0; i < one.cases.size(); ++i) {
            add_case(suite, *report.cases[i].scene, one.pilot, one.cases[i]);
        }
    }
    std::ostringstream out;
    document.save(out, "  ");
    return out.str();
}

} // namespace vast_turn
