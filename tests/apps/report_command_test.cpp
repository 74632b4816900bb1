/// `vturn report` and `vturn watch` from outside; a browser looks at their pages in web/tests.

#include <array>
#include <csignal>
#include <filesystem>
#include <fstream>

#include <arpa/inet.h>
#include <doctest/doctest.h>
#include <fmt/format.h>
#include <sys/socket.h>
#include <unistd.h>

#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "support/terminal.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace {

using fixtures::call_vturn;
using fixtures::Called;

const std::string ferns = "data/fern-house/";

Called report(const std::string& of_course, const std::string& of_robot, const std::vector<std::string>& more) {
    std::vector<std::string> words = {"report", ferns + of_course + ".course.toml", ferns + of_robot + ".robot.toml"};
    words.insert(words.end(), more.begin(), more.end());
    return call_vturn(words);
}

std::string bytes_of(const std::string& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

/// What a server on this machine answers.
std::string asked(int port, const std::string& request) {
    const int socket = ::socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in to{};
    to.sin_family = AF_INET;
    to.sin_port = htons(static_cast<std::uint16_t>(port));
    to.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    REQUIRE(::connect(socket, reinterpret_cast<const sockaddr*>(&to), sizeof to) == 0);
    REQUIRE(::send(socket, request.data(), request.size(), 0) == static_cast<ssize_t>(request.size()));
    const timeval minute{60, 0};
    REQUIRE(::setsockopt(socket, SOL_SOCKET, SO_RCVTIMEO, &minute, sizeof minute) == 0);
    std::string answer;
    std::array<char, 4096> part{};
    for (ssize_t n = 0; (n = ::recv(socket, part.data(), part.size(), 0)) > 0;) {
        answer.append(part.data(), static_cast<std::size_t>(n));
    }
    ::close(socket);
    return answer;
}

} // namespace

TEST_CASE("report: a page, and what came of it") {
    const fixtures::Folder folder;
    const std::string page = folder.file("page.html");
    const std::string lefts = ferns + "left-first.plan";
    const Called two = report("fern-house", "sprig-2", {lefts, ferns + "right-first.plan", "-o", page});
    CHECK(two.status == 1); // each plan fails the other's trip
    CHECK(two.out.find("left first: halt at 8.26 s") != std::string::npos);
    CHECK(two.out.find("trips    2 of 4 pass") != std::string::npos);
    const std::string html = bytes_of(page);
    for (const char* part : {R"("trips":{)", R"("routes":{)", R"("comparison":{)", R"("findings":{)",
                             "line 10 moved above line 9", "took left, expected right"}) {
        CHECK_MESSAGE(html.find(part) != std::string::npos, part);
    }
    if (!fixtures::sanitized()) {
        CHECK(report("fern-house", "sprig-2", {lefts, ferns + "right-first.plan", "-o", page, "--jobs", "1"}).status ==
              1);
        CHECK(html == bytes_of(page)); // whatever the number of threads
    }
    CHECK(report("fern-house", "sprig-2", {lefts, "-o", page, "--runs-only"}).status == 0);
    CHECK(bytes_of(page).find(R"("trips":null)") != std::string::npos);
    CHECK(report("fern-house", "sprig-2", {lefts, "-o", page, "--runs", "3", "--runs-only"})
              .out.find("left first, seed 3: halt") != std::string::npos);
}

TEST_CASE("report: any course and plan of the demo" * doctest::skip(fixtures::sanitized())) {
    const fixtures::Folder folder;
    const std::string page = folder.file("page.html");
    // Without trips; shuffled layouts; from a drawing.
    struct Case {
        std::string ground;
        std::string cart;
        std::string plan;
        std::string words;
    };
    for (const Case& one : {Case{"mist-loop", "sprig-5", "plans/five-pid.plan", "five PID"},
                            Case{"any-day", "sprig-5", "any-day.plan", "80 of 80 pass"},
                            Case{"glass-wing-scan", "sprig-5", "plans/five-pid.plan", "five PID"}}) {
        if (fixtures::sanitized() && one.ground != "glass-wing-scan") {
            continue; // its trips and routes are taken by others there
        }
        CAPTURE(one.ground);
        std::filesystem::remove(page);
        const bool quick = one.ground != "any-day"; // the others have neither
        std::vector<std::string> more = {ferns + one.plan, "-o", page, "--limit-s", "20"};
        if (quick) {
            more.emplace_back("--runs-only");
        } else {
            more.insert(more.begin() + 1, ferns + one.plan); // compared, over all layouts
        }
        const Called called = report(one.ground, one.cart, more);
        CHECK((called.out + called.err).find(one.words) != std::string::npos);
        CHECK(std::filesystem::exists(page) == (called.status != 2));
        const std::string html = vast_turn::read_file(page);
        CHECK((html.find("\"variant\":null") != std::string::npos) == !quick);
    }
}

TEST_CASE("report: what cannot be made is refused, and nothing is written") {
    const fixtures::Folder folder;
    const std::string lefts = ferns + "left-first.plan";
    const std::string page = folder.file("page.html");
    const auto refused = [&](const std::vector<std::string>& more, const std::string& words) {
        const Called called = report("fern-house", "sprig-2", more);
        CHECK(called.status == 2);
        CHECK_MESSAGE(called.err.find(words) != std::string::npos, called.err);
        CHECK(folder.names().empty());
    };
    refused({lefts, "-o", folder.file("page.pdf")}, "a page is a .html file");
    refused({lefts, "-o", page, "--plot", "offzet"}, "did you mean `offset`");
    refused({lefts, "-o", page, "--plot", "offset,,left"}, "empty quantity");
    refused({lefts, ferns + "rounds.plan", "-o", page}, "5 line sensors");
    refused({ferns + "no.plan", "-o", page}, "cannot be read");
    refused({lefts, "-o", folder.file("no/page.html")}, "there is no folder " + folder.file("no"));
    refused({lefts, "-o", page, "--runs", "65"}, "--runs");
    refused({lefts, "-o", page, "--start", "nowhere"}, "nowhere");
    refused({lefts, "-o", page, "--margins"}, "--margins is of trips whose days are driven");
    CHECK(report("fern-house", "sprig-2", {lefts}).status == 2);

    // What is wrong with the call is told before the course is so much as read.
    const auto told_first = [&](const std::vector<std::string>& more, const std::string& words) {
        const Called called = report("no-such", "sprig-2", more);
        CHECK_MESSAGE(called.err.find(words) != std::string::npos, called.err);
    };
    told_first({lefts, "-o", folder.file("no/page.html")}, "there is no folder");
    told_first({lefts, "-o", page, "--plot", "offzet"}, "did you mean `offset`");
    told_first({lefts, ferns + "rounds.plan", "-o", page}, "5 line sensors");
    told_first({lefts, "-o", page}, "no-such.course.toml");
}

TEST_CASE("watch: serves the page to this machine until it is interrupted") {
    const fixtures::Folder folder;
    std::filesystem::copy(ferns + "left-first.plan", folder.file("own.plan"));
    fixtures::Terminal terminal({fixtures::built("apps/vturn/vturn"), "watch", ferns + "fern-house.course.toml",
                                 ferns + "sprig-2.robot.toml", folder.file("own.plan")},
                                40, 200);
    REQUIRE(terminal.shows("http://127.0.0.1:"));
    REQUIRE(terminal.shows("Ctrl-C ends it"));
    const std::string& wrote = terminal.wrote();
    const std::size_t from = wrote.find("http://127.0.0.1:") + 17;
    const int port = std::stoi(wrote.substr(from));
    const std::string path = wrote.substr(wrote.find('/', from), 34);
    const std::string ask = "GET {} HTTP/1.1\r\nHost: 127.0.0.1:{}\r\nConnection: close\r\n{}\r\n";
    const auto get = [&](const std::string& of, const std::string& header = "") {
        return asked(port, fmt::format(fmt::runtime(ask), of, port, header));
    };
    const std::string first = get(path);
    CHECK(first.starts_with("HTTP/1.1 200"));
    CHECK(first.find("changes?after=1") != std::string::npos);
    CHECK(first.find("Cache-Control: no-store") != std::string::npos);
    CHECK(get("/").starts_with("HTTP/1.1 404"));
    CHECK(get(path, "Origin: http://elsewhere.example\r\n").starts_with("HTTP/1.1 403"));
    CHECK(asked(port, "GET " + path + " HTTP/1.1\r\nHost: elsewhere.example\r\nConnection: close\r\n\r\n")
              .starts_with("HTTP/1.1 403"));
    CHECK(asked(port, "rubbish\r\n\r\n").find("200 OK") == std::string::npos);

    const std::string text = bytes_of(folder.file("own.plan"));
    const auto save = [&folder](const std::string& bytes) { // at once, as editors do
        std::ofstream(folder.file("new.plan")) << bytes;
        std::filesystem::rename(folder.file("new.plan"), folder.file("own.plan"));
    };
    save(text + "rubbish\n");
    CHECK(get(path + "changes?after=1").find("data: 2") != std::string::npos);
    CHECK(get(path).find("found `rubbish`") != std::string::npos);
    save(text);
    CHECK(get(path + "changes?after=2").find("data: 3") != std::string::npos);
    CHECK(get(path).find(R"("problems":[])") != std::string::npos);
    terminal.type("\x03");
    CHECK(terminal.ended() == 0);
}

TEST_CASE("watch: a port that is taken is refused") {
    const int socket = ::socket(AF_INET, SOCK_STREAM, 0);
    sockaddr_in own{};
    own.sin_family = AF_INET;
    own.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    REQUIRE(::bind(socket, reinterpret_cast<const sockaddr*>(&own), sizeof own) == 0);
    REQUIRE(::listen(socket, 1) == 0);
    socklen_t size = sizeof own;
    REQUIRE(::getsockname(socket, reinterpret_cast<sockaddr*>(&own), &size) == 0);
    const std::string port = std::to_string(ntohs(own.sin_port));
    const Called called =
        fixtures::program(fixtures::built("apps/vturn/vturn") + " watch " + ferns + "fern-house.course.toml " + ferns +
                          "sprig-2.robot.toml " + ferns + "left-first.plan --port " + port);
    CHECK(called.status == 2);
    CHECK(called.err.find("port " + port + " of this machine cannot be had") != std::string::npos);
    ::close(socket);
}
