#include "vast_turn/page/page.hpp"

#include <fmt/format.h>

#include "page/course_data.hpp"
#include "page/html.hpp"
#include "page/run_data.hpp"
#include "vast_turn/base/visible.hpp"
#include "vast_turn/step/branches.hpp"

namespace vast_turn {

namespace {

void check(const std::vector<PageRun>& runs) {
    constexpr std::size_t most_runs = 64;
    constexpr std::size_t most_looks = 2'000'000;
    if (runs.empty() || runs.size() > most_runs) {
        throw InputError("", fmt::format("a page shows 1 to {} runs, not {}", most_runs, runs.size()),
                         "make fewer of them");
    }
    std::size_t looks = 0;
    for (const PageRun& one : runs) {
        looks += one.run.looks.size();
    }
    if (looks > most_looks) {
        throw InputError("", fmt::format("a page shows at most {} looks, and these runs have {}", most_looks, looks),
                         "make fewer runs, or end them earlier");
    }
}

/// Where a run parts from the first.
Json apart_json(const Run& first, const Run& other) {
    const RunsApart apart = runs_apart(first, other);
    if (!apart.look) {
        return nullptr;
    }
    return {{"t", rounded(apart.t_s, 1e4)},
            {"way_t", apart.way ? Json(rounded(apart.way_t_s, 1e4)) : Json(nullptr)},
            {"most_mm", rounded(apart.most_mm, 10.0)}};
}

Json document(const std::string& text) { return text.empty() ? Json(nullptr) : Json::parse(text); }

} // namespace

std::string report_page(const Scene& scene, const std::vector<PageRun>& runs, const PageDocuments& documents,
                        const PageOptions& options) {
    check(runs);
    const std::string title =
        fmt::format("{}: {}, {}", scene.course().name, scene.robot().name,
                    runs.size() == 1 ? fmt::format("\"{}\"", runs.front().name) : fmt::format("{} runs", runs.size()));
    Json list = Json::array();
    for (const PageRun& one : runs) {
        list.push_back(run_data(scene, one, options));
        list.back()["apart"] = &one == runs.data() ? Json(nullptr) : apart_json(runs.front().run, one.run);
    }
    const Json data = {{"title", title},
                       {"course", course_data(scene)},
                       {"robot", robot_data(scene)},
                       {"runs", list},
                       {"documents",
                        {{"trips", document(documents.trips)},
                         {"routes", document(documents.routes)},
                         {"comparison", document(documents.comparison)},
                         {"findings", document(documents.findings)}}},
                       {"problems", Json::array()},
                       {"changes_at", options.changes_at}};
    return html_page(title, written(data, -1), !options.changes_at.empty());
}

std::string problems_page(const std::string& title, const std::vector<Problem>& problems,
                          const std::string& changes_at) {
    Json list = Json::array();
    for (const Problem& problem : problems) {
        list.push_back({{"text", to_text(problem)}});
    }
    const Json data = {{"title", title}, {"problems", list}, {"changes_at", changes_at}};
    return html_page(title, written(data, -1), !changes_at.empty());
}

} // namespace vast_turn
