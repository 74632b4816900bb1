#include "vast_turn/vet/vet.hpp"

#include <algorithm>
#include <optional>
#include <string_view>
#include <tuple>

#include <fmt/format.h>

#include "vet/allowed.hpp"
#include "vet/collector.hpp"

namespace vast_turn {

namespace {

bool is_one_of(const FindingKind& kind, std::initializer_list<std::string_view> codes) {
    return std::find(codes.begin(), codes.end(), kind.code) != codes.end();
}

/// Whether what was given is enough to look for this kind.
bool is_looked_for(const FindingKind& kind, const VetAgainst& against) {
    if (is_one_of(kind, {"one-device", "step-too-long", "dead-band", "oscillates", "margin-negative"})) {
        return against.robot != nullptr;
    }
    if (is_one_of(kind, {"chip-too-slow", "chip-too-small"})) {
        return against.robot != nullptr && against.chip.has_value();
    }
    if (is_one_of(kind, {"plate-ignored", "plate-absent"})) {
        return against.course != nullptr;
    }
    if (is_one_of(kind, {"bend-too-tight", "line-misfit", "plate-missed", "plate-as-gap", "gap-too-long", "gap-missed",
                         "halts-on-line", "junction-misread", "edge-misread", "start-off-line", "start-unanswered",
                         "unanswered-unmet"})) {
        return against.course != nullptr && against.robot != nullptr;
    }
    if (is_one_of(kind, {"level-in-noise", "sensor-dead"})) {
        return against.calibration != nullptr;
    }
    return true;
}

/// Trial drives, or nothing and why where the robot cannot be driven.
std::optional<vetting::Rehearsal> rehearsed(const Scene& scene, const Plan& plan, const VetAgainst& against,
                                            vetting::Collector& out) {
    vetting::RehearsalOptions options;
    options.numbers = against.numbers;
    if (against.calibration != nullptr) {
        options.calibration = *against.calibration;
    }
    try {
        return vetting::rehearse(scene, plan, options);
    } catch (const InputError& problem) {
        out.undecided(fmt::format("what it does on this course: {}", problem.problems().front().message));
        return std::nullopt;
    }
}

} // namespace

VetReport vet(const Plan& plan, const VetAgainst& against) {
    VetReport report;
    vetting::Collector out(plan, against, report);
    std::optional<Scene> scene;
    std::optional<vetting::Rehearsal> rehearsal;
    if (against.robot != nullptr && against.course != nullptr) {
        scene.emplace(*against.course, *against.robot);
        rehearsal = rehearsed(*scene, plan, against, out);
        out.set_rehearsal(rehearsal ? &*rehearsal : nullptr);
    }
    vetting::check_patterns(out);
    vetting::check_sensors(out);
    vetting::check_errands(out);
    vetting::check_transfers(out);
    vetting::check_names(out);
    vetting::check_markers(out);
    if (against.robot != nullptr) {
        vetting::check_robot(out);
    }
    if (against.course != nullptr) {
        vetting::check_course(out, scene ? &*scene : nullptr);
    }
    if (against.calibration != nullptr) {
        vetting::check_calibration(out);
    }
    if (against.robot != nullptr && against.chip) {
        vetting::check_chip(out, scene ? &*scene : nullptr);
    }
    vetting::take_allowed(out, report, [&](const FindingKind& kind) { return is_looked_for(kind, against); });
    const auto rank = [](const Finding& f) { return std::tuple(f.place.line, f.place.column, f.kind, f.message); };
    std::sort(report.findings.begin(), report.findings.end(),
              [&](const Finding& a, const Finding& b) { return rank(a) < rank(b); });
    return report;
}

} // namespace vast_turn
