/// Runs as pages, without a browser: what is in the file. What a browser makes of it is tested in web/tests.

#include <cmath>
#include <cstdint>

#include <doctest/doctest.h>
#include <glib.h>
#include <nlohmann/json.hpp>
#include <zlib.h>

#include "support/fixtures.hpp"
#include "vast_turn/page/page.hpp"

namespace {

using namespace vast_turn;
using PageJson = nlohmann::json;

/// The data of a page, which stands in it as a text.
PageJson data_of(const std::string& html) {
    const std::string begin = R"(<script type="application/json" id="data">)";
    const std::size_t from = html.find(begin) + begin.size();
    return PageJson::parse(html.substr(from, html.find("</script>", from) - from));
}

/// Columns as the page's own script unpacks them.
std::map<std::string, std::vector<double>> unpacked(const PageJson& looks) {
    const auto text = looks.at("packed").get<std::string>();
    gsize size = 0;
    const std::unique_ptr<guchar, decltype(&g_free)> packed(g_base64_decode(text.c_str(), &size), &g_free);
    std::vector<unsigned char> bytes(looks.at("bytes").get<std::size_t>());
    uLongf length = bytes.size();
    REQUIRE(::uncompress(bytes.data(), &length, packed.get(), size) == Z_OK);
    REQUIRE(length == bytes.size());
    std::map<std::string, std::vector<double>> columns;
    std::size_t at = 0;
    for (std::size_t c = 0; c < looks.at("names").size(); ++c) {
        std::int64_t sum = 0;
        std::vector<double>& values = columns[looks["names"][c].get<std::string>()];
        for (std::size_t row = 0; row < looks.at("rows").get<std::size_t>(); ++row) {
            std::uint64_t rest = 0;
            unsigned shift = 0;
            do {
                rest |= static_cast<std::uint64_t>(bytes.at(at) & 0x7FU) << shift;
                shift += 7;
            } while ((bytes[at++] & 0x80U) != 0);
            sum += static_cast<std::int64_t>(rest >> 1U) ^ -static_cast<std::int64_t>(rest & 1U);
            values.push_back(static_cast<double>(sum) * looks["steps"][c].get<double>());
        }
    }
    CHECK(at == bytes.size());
    return columns;
}

struct Driven {
    Course course = fixtures::board({"M 60,300 H 900"});
    Robot robot = fixtures::ideal_robot(3);
    Scene scene{course, robot};
    std::string text = "plan \"<b>&\"\nsensors 3\nvar laps = 0\nhabit follow {\n"
                       "    [...] lasting 40 looks -> note(\"</script>\"), halt\n"
                       "    [##?] -> bend(10, 50)\n    [?##] -> bend(-10, 50)\n    [?#?] -> ahead(50)\n}\n";
    Plan plan = fixtures::compiled(text);
    Run run = drive(scene, plan, {.keep_told = true});

    std::string page(const PageOptions& options = {}) const {
        return report_page(scene, {{"<b>&", plan, text, run}}, {}, options);
    }
};

} // namespace

TEST_CASE("page: all looks of a run are in it, to the digits that it promises") {
    const Driven driven;
    REQUIRE(driven.run.ending == Ending::halted);
    REQUIRE(driven.run.unanswered > 0);
    const std::string html = driven.page();
    const PageJson run = data_of(html).at("runs").at(0);
    auto columns = unpacked(run.at("looks"));
    const std::vector<LookRecord>& looks = driven.run.looks;
    REQUIRE(columns["t"].size() == looks.size());
    for (std::size_t i = 0; i < looks.size(); ++i) {
        CHECK(std::abs(columns["t"][i] - looks[i].t_s) <= 1e-5);
        CHECK(std::abs(columns["x"][i] - looks[i].at.x) <= 0.0501);
        CHECK(std::abs(columns["y"][i] - looks[i].at.y) <= 0.0501);
        CHECK(std::abs(columns["left"][i] - static_cast<double>(looks[i].left_pct)) <= 0.0501);
        CHECK(std::lround(columns["line"][i]) == looks[i].line_bits);
        const bool none = looks[i].rule == no_rule;
        CHECK(std::lround(columns["rule"][i]) == (none ? -1 : static_cast<long>(looks[i].rule.index())));
        const std::vector<double> readings = readings_of(driven.run, looks[i]);
        for (std::size_t k = 0; k < 3; ++k) {
            CHECK(std::abs(columns["sensor " + std::to_string(k + 1)][i] - readings[k]) <= 0.000501);
        }
    }
    CHECK(run.at("hands") == PageJson::parse(R"([[["follow", 0.0]]])"));
    std::vector<std::string> kinds;
    for (const PageJson& moment : run.at("moments")) {
        kinds.push_back(moment.at("kind"));
    }
    CAPTURE(run.at("moments").dump());
    CHECK(kinds == std::vector<std::string>{"start", "unanswered", "lost", "said", "end"});
    CHECK(run.at("quantities").at(0).at("name") == "offset");
    CHECK(run.at("quantities").at(1).at("name") == "laps");
}

TEST_CASE("page: it is one file, its texts are data, and it is the same each time") {
    const Driven driven;
    const std::string html = driven.page();
    CHECK(html == driven.page());
    CHECK(html.find("<title>") < html.find("&lt;b&gt;&amp;"));
    CHECK(html.find("<b>&") == std::string::npos);
    const PageJson data = data_of(html);
    CHECK(data["runs"][0]["name"] == "<b>&");
    CHECK(data["runs"][0]["text"] == driven.text);
    // Three elements can hold what is run or applied: ours, by their hashes.
    std::size_t scripts = 0;
    for (std::size_t at = html.find("<script"); at != std::string::npos; at = html.find("<script", at + 1)) {
        ++scripts;
    }
    CHECK(scripts == 2);
    const std::size_t from = html.rfind("<script>") + 8;
    const std::string script = html.substr(from, html.rfind("</script>") - from);
    const std::unique_ptr<GChecksum, decltype(&g_checksum_free)> sum(g_checksum_new(G_CHECKSUM_SHA256),
                                                                     &g_checksum_free);
    g_checksum_update(sum.get(), reinterpret_cast<const guchar*>(script.data()), static_cast<gssize>(script.size()));
    std::array<guint8, 32> digest{};
    gsize size = digest.size();
    g_checksum_get_digest(sum.get(), digest.data(), &size);
    const std::unique_ptr<gchar, decltype(&g_free)> hash(g_base64_encode(digest.data(), size), &g_free);
    CHECK(html.find(std::string("script-src 'sha256-") + hash.get() + "';") != std::string::npos);
    CHECK(html.find("default-src 'none'") != std::string::npos);
    CHECK(html.find("connect-src") == std::string::npos);
    CHECK(driven.page({{}, runtime::NumberKind::binary64, "changes"}).find("connect-src 'self'") != std::string::npos);
    CHECK(html.find("Permission is hereby granted") != std::string::npos); // of the plots' library
    CHECK(html.find("http://") == std::string::npos);
}

TEST_CASE("page: quantities that are asked for come first; what cannot be asked is refused") {
    const Driven driven;
    const PageJson data = data_of(driven.page({{"[.#.]", "max(sensor(1), 0.5)", "laps"}}));
    const PageJson& quantities = data["runs"][0]["quantities"];
    REQUIRE(quantities.size() == 4);
    CHECK(quantities[0]["condition"] == true);
    CHECK(quantities[2]["name"] == "laps");
    CHECK(quantities[3]["name"] == "offset");
    CHECK(quantities[3]["asked"] == false);
    auto columns = unpacked(data["runs"][0]["looks"]);
    const auto sees = std::count(columns["quantity 0"].begin(), columns["quantity 0"].end(), 1.0);
    CHECK(sees == std::count_if(driven.run.looks.begin(), driven.run.looks.end(),
                                [](const LookRecord& look) { return look.line_bits == 2; }));
    CHECK(fixtures::message_of([&] { driven.page({{"lapz"}}); }).find("lapz") != std::string::npos);
    CHECK(fixtures::message_of([&] { report_page(driven.scene, {}); }).find("1 to 64 runs, not 0") !=
          std::string::npos);
    const std::vector<PageRun> many(65, {"x", driven.plan, driven.text, driven.run});
    CHECK(fixtures::message_of([&] { report_page(driven.scene, many); }).find("not 65") != std::string::npos);
}

TEST_CASE("page: of what is wrong") {
    const std::string html =
        problems_page("a <course>", {{Severity::error, {}, "there is no <start>", "add one"}}, "changes?after=2");
    const PageJson data = data_of(html);
    CHECK(data["problems"][0]["text"].get<std::string>().find("there is no <start>") != std::string::npos);
    CHECK(data["changes_at"] == "changes?after=2");
    CHECK(html.find("<title>a &lt;course&gt;</title>") != std::string::npos);
}
