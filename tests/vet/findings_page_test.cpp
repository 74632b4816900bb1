/// docs/findings.md: every section's first plan shows its finding, the cured one does not, and the text is the
/// catalogue's.
#include <algorithm>
#include <map>
#include <optional>

#include <doctest/doctest.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/calibration_file.hpp"
#include "vast_turn/formats/read/chip_text.hpp"
#include "vast_turn/formats/read/robot_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/paint/course_file.hpp"
#include "vast_turn/vet/vet.hpp"

using namespace vast_turn;

namespace {

/// The fenced blocks of a section by what stands behind the fence: "plan shows", "robot" ...
std::map<std::string, std::string> blocks_of(const std::string& section) {
    std::map<std::string, std::string> blocks;
    std::size_t at = 0;
    while ((at = section.find("\n```", at)) != std::string::npos) {
        const std::size_t name_end = section.find('\n', at + 1);
        const std::size_t end = section.find("\n```", name_end);
        blocks[section.substr(at + 4, name_end - at - 4)] = section.substr(name_end + 1, end - name_end);
        at = end + 4;
    }
    return blocks;
}

const std::string* block(const std::map<std::string, std::string>& blocks, const std::string& what, bool cured) {
    const auto own = blocks.find(what + " cured");
    if (cured && own != blocks.end()) {
        return &own->second;
    }
    const auto shared = blocks.find(what);
    return shared == blocks.end() ? nullptr : &shared->second;
}

VetReport vetted(const std::map<std::string, std::string>& blocks, bool cured) {
    const auto plan_text = blocks.find(cured && blocks.contains("plan cured") ? "plan cured" : "plan shows");
    REQUIRE(plan_text != blocks.end());
    const Plan plan = fixtures::compiled(plan_text->second);
    std::optional<Robot> robot;
    std::optional<Course> course;
    std::optional<Calibration> calibration;
    if (const std::string* text = block(blocks, "robot", cured)) {
        robot = parse_robot(*text, "robot");
    }
    if (const std::string* text = block(blocks, "course", cured)) {
        course = parse_course(*text, "course");
    }
    if (const std::string* text = block(blocks, "calibration", cured)) {
        calibration = parse_calibration(*text, "calibration").levels;
    }
    VetAgainst against{robot ? &*robot : nullptr, course ? &*course : nullptr, calibration ? &*calibration : nullptr};
    if (const std::string* text = block(blocks, "chip", cured)) {
        const std::size_t from = text->find_first_not_of('\n');
        against.chip = parse_chip(text->substr(from, text->find('\n', from) - from));
    }
    return vet(plan, against);
}

/// Who looks too seldom, or sees the line pass between two sensors, swings as well.
bool swings_too(const std::string& code, const Finding& finding) {
    return (code == "step-too-long" || code == "line-misfit") && std::string(finding.kind->code) == "oscillates";
}

int count(const VetReport& report, const std::string& code) {
    return static_cast<int>(std::count_if(report.findings.begin(), report.findings.end(),
                                          [&](const Finding& f) { return f.kind->code == code; }));
}

} // namespace

TEST_CASE("findings page: each section shows its finding and cures it, in the words of the catalogue" *
          doctest::skip(fixtures::sanitized())) {
    const std::string page = read_file("docs/findings.md");
    for (const FindingKind& kind : finding_kinds()) {
        const std::string code = kind.code;
        CAPTURE(code);
        const std::size_t from = page.find("\n## " + code + "\n");
        REQUIRE(from != std::string::npos);
        const std::string section = page.substr(from, page.find("\n## ", from + 1) - from);
        CHECK(section.find("*" + std::string(name_of(kind.grade)) + "*: " + kind.title + ".") != std::string::npos);
        CHECK(section.find(kind.why) != std::string::npos);
        CHECK(section.find(kind.cure) != std::string::npos);
        const std::map<std::string, std::string> blocks = blocks_of(section);
        const VetReport shows = vetted(blocks, false);
        CHECK(count(shows, code) >= 1);
        const VetReport cured = vetted(blocks, true);
        CHECK(count(cured, code) == 0);
        for (const VetReport* report : {&shows, &cured}) { // a finding says what to do, and only its own thing is wrong
            for (const Finding& finding : report->findings) {
                CHECK_FALSE(finding.cure.empty());
                const bool known = finding.kind->code == code || finding.kind->grade == Grade::hint ||
                                   code == "start-unanswered" || code.rfind("allow-", 0) == 0 ||
                                   swings_too(code, finding);
                CHECK_MESSAGE(known, finding.kind->code << ": " << finding.message);
            }
        }
        // A one-line cure cures: with the line in place, the finding is gone.
        for (const Finding& finding : shows.findings) {
            if (finding.kind->code == code && !finding.new_line.empty()) {
                std::map<std::string, std::string> mended = blocks;
                std::string& text = mended["plan shows"];
                const std::size_t line = text.find(finding.place.source_line);
                REQUIRE(line != std::string::npos);
                text.replace(line, finding.place.source_line.size(), finding.new_line);
                CHECK(count(vetted(mended, false), code) < count(shows, code));
            }
        }
    }
}
