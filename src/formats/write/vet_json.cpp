#include "vast_turn/formats/write/vet_json.hpp"

#include "formats/write/json_text.hpp"

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"
#include "vast_turn/version.hpp"

namespace vast_turn {

namespace {

Json finding_object(const Finding& finding) {
    Json object{{"code", finding.kind->code},     {"grade", name_of(finding.grade)},
                {"line", finding.place.line},     {"column", finding.place.column},
                {"length", finding.place.length}, {"message", finding.message},
                {"why", finding.kind->why},       {"cure", finding.cure}};
    if (!finding.new_line.empty()) {
        object["new_line"] = finding.new_line;
    }
    return object;
}

/// A path as part of a URI (RFC 3986).
std::string as_uri(const std::string& path) {
    std::string uri;
    for (const char c : path) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '-' ||
                           c == '.' || c == '_' || c == '~' || c == '/';
        uri += plain ? std::string(1, c) : fmt::format("%{:02X}", static_cast<unsigned char>(c));
    }
    return uri;
}

const char* level_of(Grade grade) {
    switch (grade) {
    case Grade::fault: return "error";
    case Grade::risk: return "warning";
    case Grade::hint: return "note";
    }
    return "none";
}

std::size_t number_of(const FindingKind& kind) { return static_cast<std::size_t>(&kind - finding_kinds().data()); }

Json result_object(const Plan& plan, const Finding& finding) {
    const Json artifact{{"uri", as_uri(plan.file())}};
    Json physical{{"artifactLocation", artifact}};
    if (finding.place.line > 0) {
        physical["region"] = {{"startLine", finding.place.line},
                              {"startColumn", finding.place.column},
                              {"endColumn", finding.place.column + finding.place.length},
                              {"snippet", {{"text", finding.place.source_line}}}};
    }
    Json result{{"ruleId", finding.kind->code},
                {"ruleIndex", number_of(*finding.kind)},
                {"level", level_of(finding.grade)},
                {"message", {{"text", fmt::format("{}. To do: {}.", finding.message, finding.cure)}}},
                {"locations", Json::array({{{"physicalLocation", physical}}})}};
    if (!finding.new_line.empty()) {
        const Json region{{"startLine", finding.place.line},
                          {"startColumn", 1},
                          {"endColumn", characters_in(finding.place.source_line) + 1}};
        const Json replacement{{"deletedRegion", region}, {"insertedContent", {{"text", finding.new_line}}}};
        result["fixes"] = Json::array(
            {{{"description", {{"text", finding.cure}}},
              {"artifactChanges",
               Json::array({{{"artifactLocation", artifact}, {"replacements", Json::array({replacement})}}})}}});
    }
    return result;
}

Json rules_array() {
    Json rules = Json::array();
    for (const FindingKind& kind : finding_kinds()) {
        rules.push_back({{"id", kind.code},
                         {"shortDescription", {{"text", kind.title}}},
                         {"fullDescription", {{"text", kind.why}}},
                         {"help", {{"text", kind.cure}}},
                         {"defaultConfiguration", {{"level", level_of(kind.grade)}}}});
    }
    return rules;
}

} // namespace

std::string vet_json(const std::vector<VettedPlan>& plans) {
    Json list = Json::array();
    for (const VettedPlan& vetted : plans) {
        Json findings = Json::array();
        for (const Finding& finding : vetted.report.findings) {
            findings.push_back(finding_object(finding));
        }
        Json allowed = Json::array();
        for (const AllowedFinding& one : vetted.report.allowed) {
            Json object = finding_object(one.finding);
            object["because"] = one.because;
            object["allowed_at_line"] = one.line;
            allowed.push_back(object);
        }
        Json facts = Json::array();
        for (const VetFact& fact : vetted.report.facts) {
            facts.push_back({{"what", fact.what}, {"value", fact.value}});
        }
        list.push_back({{"plan", vetted.plan.name()},
                        {"file", vetted.plan.file()},
                        {"findings", findings},
                        {"allowed", allowed},
                        {"facts", facts},
                        {"undecided", vetted.report.undecided}});
    }
    return written({{"plans", list}});
}

std::string vet_sarif(const std::vector<VettedPlan>& plans) {
    Json results = Json::array();
    for (const VettedPlan& vetted : plans) {
        for (const Finding& finding : vetted.report.findings) {
            results.push_back(result_object(vetted.plan, finding));
        }
        for (const AllowedFinding& one : vetted.report.allowed) {
            Json result = result_object(vetted.plan, one.finding);
            result["suppressions"] = Json::array({{{"kind", "inSource"}, {"justification", one.because}}});
            results.push_back(result);
        }
    }
    const Json driver{{"name", "Vast Turn"}, {"semanticVersion", version_text}, {"rules", rules_array()}};
    const Json run{{"tool", {{"driver", driver}}}, {"columnKind", "unicodeCodePoints"}, {"results", results}};
    return written({{"$schema", "https://json.schemastore.org/sarif-2.1.0.json"},
                    {"version", "2.1.0"},
                    {"runs", Json::array({run})}});
}

} // namespace vast_turn
