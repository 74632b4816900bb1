/// The Language Server Protocol, as an editor speaks it.
#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <filesystem>
#include <mutex>
#include <random>
#include <sstream>

#include <doctest/doctest.h>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "cli.hpp"
#include "support/fixtures.hpp"
#include "support/rounds.hpp"
#include "vast_turn/formats/read/text_file.hpp"
#include "vast_turn/formats/write/text_file.hpp"

namespace {

using Message = nlohmann::json;

/// What the server wrote so far, for who waits for it.
class Wrote : public std::stringbuf {
public:
    bool waits_for(const std::string& part) {
        std::unique_lock lock(mutex_);
        return came_.wait_for(lock, std::chrono::minutes(1), [&] { return text_.find(part) != std::string::npos; });
    }
    std::string text() {
        const std::lock_guard lock(mutex_);
        return text_;
    }

protected:
    std::streamsize xsputn(const char* from, std::streamsize count) override {
        const std::lock_guard lock(mutex_);
        text_.append(from, static_cast<std::size_t>(count));
        came_.notify_all();
        return count;
    }
    int_type overflow(int_type c) override {
        const char one = static_cast<char>(c);
        return xsputn(&one, 1) == 1 ? c : traits_type::eof();
    }

private:
    std::mutex mutex_;
    std::condition_variable came_;
    std::string text_;
};

/// What a client sends, some of it only once the server has said something.
class Sends : public std::streambuf {
public:
    struct Part {
        std::string wait_for;
        std::string text;
    };
    Sends(std::vector<Part> parts, Wrote& wrote) : parts_(std::move(parts)), wrote_(wrote) {}
    bool all_came = true;

protected:
    int_type underflow() override {
        if (next_ == parts_.size()) {
            return traits_type::eof();
        }
        Part& part = parts_[next_++];
        all_came = all_came && (part.wait_for.empty() || wrote_.waits_for(part.wait_for));
        setg(part.text.data(), part.text.data(), part.text.data() + part.text.size());
        return part.text.empty() ? underflow() : traits_type::to_int_type(part.text.front());
    }

private:
    std::vector<Part> parts_;
    Wrote& wrote_;
    std::size_t next_ = 0;
};

/// A client's side of a session.
class Session {
public:
    explicit Session(const Message& capabilities = Message::object()) {
        ask("initialize", {{"capabilities", capabilities}});
        tell("initialized", Message::object());
    }

    int ask(const std::string& method, const Message& params) {
        send({{"jsonrpc", "2.0"}, {"id", ++last_}, {"method", method}, {"params", params}});
        return last_;
    }
    void tell(const std::string& method, const Message& params) {
        send({{"jsonrpc", "2.0"}, {"method", method}, {"params", params}});
    }
    void raw(const std::string& text) { parts_.back().text += text; }
    void wait_for(const std::string& part) { parts_.push_back({part, ""}); }

    void open(const std::string& path, const std::string& text) {
        uri = "file://" + path;
        tell("textDocument/didOpen",
             {{"textDocument", {{"uri", uri}, {"languageId", "plan"}, {"version", 1}, {"text", text}}}});
    }
    int at(const std::string& method, std::size_t line, std::size_t character, Message more = Message::object()) {
        more["textDocument"] = {{"uri", uri}};
        more["position"] = {{"line", line}, {"character", character}};
        return ask("textDocument/" + method, more);
    }
    int of(const std::string& method) { return ask("textDocument/" + method, {{"textDocument", {{"uri", uri}}}}); }

    void run(bool leaves = true) {
        if (leaves) {
            ask("shutdown", Message::object());
            tell("exit", Message::object());
        }
        Wrote wrote;
        Sends sends(parts_, wrote);
        std::istream in(&sends);
        std::ostream out(&wrote);
        std::ostringstream errors;
        status = vturn::run({"language-server"}, {in, out, errors});
        err = errors.str();
        CHECK(sends.all_came);
        std::string_view rest;
        const std::string all = wrote.text();
        for (rest = all; !rest.empty();) {
            const std::string_view name = "Content-Length: ";
            REQUIRE(rest.starts_with(name));
            const std::size_t size = std::stoul(std::string(rest.substr(name.size(), 20)));
            const std::size_t from = rest.find("\r\n\r\n") + 4;
            said.push_back(Message::parse(rest.substr(from, size)));
            rest = rest.substr(from + size);
        }
    }

    /// The response to a request, its result or its error.
    const Message& answer(int id) const {
        for (const Message& one : said) {
            if (one.contains("id") && one["id"] == id) {
                return one.contains("result") ? one["result"] : one["error"];
            }
        }
        FAIL("no answer to " << id);
        return said.front();
    }
    /// What was told last of a text.
    Message diagnostics() const {
        Message last;
        for (const Message& one : said) {
            if (one.value("method", "") == "textDocument/publishDiagnostics" && one["params"]["uri"] == uri) {
                last = one["params"]["diagnostics"];
            }
        }
        return last;
    }

    std::string uri;
    int status = -1;
    std::string err;
    std::vector<Message> said;

private:
    void send(const Message& message) {
        const std::string text = message.dump();
        raw("Content-Length: " + std::to_string(text.size()) + "\r\n\r\n" + text);
    }
    std::vector<Sends::Part> parts_ = {{"", ""}};
    int last_ = 0;
};

Message place(std::size_t line, std::size_t character) { return {{"line", line}, {"character", character}}; }

std::vector<std::string> labels(const Message& proposals) {
    std::vector<std::string> list;
    for (const Message& one : proposals) {
        list.push_back(one["label"]);
    }
    return list;
}

bool among(const std::vector<std::string>& list, const std::string& word) {
    return std::find(list.begin(), list.end(), word) != list.end();
}

const std::string rounds_path = std::filesystem::absolute("data/fern-house/rounds.plan").string();

} // namespace

TEST_CASE("language server: a plan is asked about in every way, and left") {
    Session session;
    session.open(rounds_path, vast_turn::read_file(rounds_path));
    const int hover = session.at("hover", 21, 25);
    const int definition = session.at("definition", 11, 48);
    const int references = session.at("references", 11, 48, {{"context", {{"includeDeclaration", false}}}});
    const int highlights = session.at("documentHighlight", 29, 8);
    const int can_rename = session.at("prepareRename", 29, 8);
    const int rename = session.at("rename", 29, 8, {{"newName", "go_round"}});
    const int bad_rename = session.at("rename", 29, 8, {{"newName", "halt"}});
    const int proposals = session.at("completion", 11, 48);
    const int signature = session.at("signatureHelp", 21, 29);
    const int outline = session.of("documentSymbol");
    const int folds = session.of("foldingRange");
    const int tokens = session.of("semanticTokens/full");
    const int layout = session.of("formatting");
    const int unknown = session.of("nothingSuch");
    session.run();
    CHECK(session.status == 0);
    CHECK(session.err.empty());
    CHECK(session.answer(1)["capabilities"]["positionEncoding"] == "utf-16");
    CHECK(session.answer(hover)["contents"]["value"].get<std::string>().find("wheels 35 / 53 %") != std::string::npos);
    CHECK(session.answer(definition)["range"]["start"] == place(29, 7));
    CHECK(session.answer(references).size() == 2);
    CHECK(session.answer(highlights).size() == 3);
    CHECK(session.answer(can_rename)["placeholder"] == "take");
    CHECK(session.answer(rename)["changes"][session.uri].size() == 3);
    CHECK(session.answer(bad_rename)["message"] == "`halt` is a word of the language");
    CHECK(labels(session.answer(proposals)) == std::vector<std::string>{"follow", "line", "take"});
    CHECK(session.answer(signature)["signatures"][0]["label"] == "bend(turn, power)");
    CHECK(session.answer(outline).size() == 8);
    CHECK(session.answer(folds).size() == 3);
    CHECK(session.answer(tokens)["data"].size() % 5 == 0);
    CHECK(session.answer(tokens)["data"].size() > 500);
    CHECK(session.answer(layout) == Message::array()); // it is laid out
    CHECK(session.answer(unknown)["code"] == -32601);
}

TEST_CASE("language server: what is wrong is told as it is typed, and mended by what is offered") {
    Session session;
    const std::string text =
        "plan \"x\"\nsensors 2\nlet cruise = 40\nhabit follow {\n    [##] -> ahead(criuse)\n    else -> keep\n}\n";
    session.open("/nowhere/a.plan", text);
    session.wait_for("did you mean `cruise`?");
    const Message line = {{"start", place(4, 0)}, {"end", place(4, 30)}};
    const int actions =
        session.ask("textDocument/codeAction",
                    {{"textDocument", {{"uri", session.uri}}}, {"range", line}, {"context", Message::object()}});
    session.tell(
        "textDocument/didChange",
        {{"textDocument", {{"uri", session.uri}, {"version", 2}}},
         {"contentChanges", {{{"range", {{"start", place(4, 18)}, {"end", place(4, 24)}}}, {"text", "cruise"}}}}});
    session.wait_for("\"version\":2");
    session.tell(
        "textDocument/didChange",
        {{"textDocument", {{"uri", session.uri}, {"version", 3}}},
         {"contentChanges",
          {{{"range", {{"start", place(5, 0)}, {"end", place(6, 0)}}}, {"text", "    [#.] -> bend(9, cruise)\n"}}}}});
    session.wait_for("has no rule for [..] and [.#]");
    session.run();
    REQUIRE(session.answer(actions).size() == 1);
    const Message edit = session.answer(actions)[0]["edit"]["changes"][session.uri][0];
    CHECK(edit["newText"] == "cruise");
    CHECK(edit["range"]["start"] == place(4, 18));
    CHECK(edit["range"]["end"] == place(4, 24));
    const Message told = session.diagnostics();
    REQUIRE_FALSE(told.empty());
    CHECK(told[0]["code"] == "unanswered");
    CHECK(told[0]["source"] == "vturn");
}

TEST_CASE("language server: with what the folder means it tells what the robot does there, and offers the cure") {
    const fixtures::Folder folder;
    const std::string first = folder.file("first");
    CHECK(fixtures::call_vturn({"new", first, "--sensors", "3"}).status == 0);
    std::string text = vast_turn::read_file(first + "/follow.plan");
    const std::size_t at = text.find("[..#]");
    REQUIRE(at != std::string::npos);
    text.replace(at, text.find('\n', at) - at, "[..#] -> bend(-2, cruise)"); // too little for the bends to the right
    Session session;
    session.open(first + "/follow.plan", text);
    session.wait_for("bend-too-tight");
    const std::size_t line =
        static_cast<std::size_t>(std::count(text.begin(), text.begin() + static_cast<std::ptrdiff_t>(at), '\n'));
    const int hover = session.at("hover", line, 14);
    session.run();
    CHECK(session.answer(hover)["contents"]["value"].get<std::string>().find("first: ") != std::string::npos);
}

TEST_CASE("language server: keys of the files are told, proposed and checked") {
    const std::string path = std::filesystem::absolute("data/fern-house/sprig-2.robot.toml").string();
    Session session;
    session.open(path, "name = \"x\"\nlook_ms = 9\ntrack_m = 118\n\n[[sensor]]\nspot_mm = 6\n\n");
    session.wait_for("track_mm");
    const int hover = session.at("hover", 1, 3);
    const int root = session.at("completion", 3, 0);
    const int sensor = session.at("completion", 6, 0);
    const int outline = session.of("documentSymbol");
    session.run();
    CHECK(session.answer(hover)["contents"]["value"] == "`look_ms`: 10\n\nloop period");
    CHECK(among(labels(session.answer(root)), "top_speed_mm_s"));
    CHECK_FALSE(among(labels(session.answer(root)), "spot_mm"));
    CHECK(among(labels(session.answer(sensor)), "adc_max"));
    CHECK(session.answer(outline).size() == 1);
    CHECK(session.diagnostics().size() >= 1);

    Session in_course;
    const std::string house_path = std::filesystem::absolute("data/fern-house/fern-house.course.toml").string();
    std::string text = vast_turn::read_file(house_path);
    text += "\n[[trip]]\nname = \"new\"\nfrom = \"\"\nvisits = [\"fo\"]\n";
    const auto last = static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
    in_course.open(house_path, text);
    const int starts = in_course.at("completion", last - 2, 8);
    const int places = in_course.at("completion", last - 1, 13);
    in_course.run();
    CHECK(labels(in_course.answer(starts)) == std::vector<std::string>{"potting bench"});
    CHECK(among(labels(in_course.answer(places)), "mist room"));
}

TEST_CASE("language server: pieces are checked with their drawings, trips against the course of their folder") {
    const fixtures::Folder folder;
    std::filesystem::copy("data/fern-house/fern-house.course.toml", folder.file("fern-house.course.toml"));
    Session trips;
    trips.open(folder.file("team.trips.toml"),
               "[[trip]]\nname = \"far\"\nfrom = \"potting bench\"\nvisits = [\"mist rom\"]\n");
    trips.wait_for("mist room");
    trips.run();
    REQUIRE(trips.diagnostics().size() == 1);
    CHECK(trips.diagnostics()[0]["range"]["start"]["line"] == 3);

    const std::string path = std::filesystem::absolute("data/fern-house/fern-house.pieces.toml").string();
    const std::string text = vast_turn::read_file(path);
    Session whole;
    whole.open(path, text);
    whole.wait_for("publishDiagnostics");
    whole.run();
    CHECK(whole.diagnostics().empty());
    Session spoilt;
    spoilt.open(path, text + "\n[[piece]]\nname = \"lost\"\nways = [\"west\"]\ndrawing = \"no.svg\"\n");
    spoilt.wait_for("no.svg: cannot be read");
    spoilt.run();
    CHECK_FALSE(spoilt.diagnostics().empty());
}

TEST_CASE("language server: random edits leave what a fresh look at the text finds") {
    // The text as the client has it, in the protocol's own units of 16 bits.
    std::u16string mine = u"plan \"né 🌿\"\nsensors 2\nlet cruise = 40\nhabit follow {\n    [##] -> note(\"🌿\"), "
                          u"ahead(cruise)\n    else -> keep\n}\n";
    const auto utf8 = [](const std::u16string& text) {
        std::string out;
        for (std::size_t i = 0; i < text.size(); ++i) {
            std::uint32_t c = text[i];
            if (c >= 0xD800 && c < 0xDC00 && i + 1 < text.size()) {
                c = 0x10000 + ((c - 0xD800) << 10U) + (text[++i] - 0xDC00U);
            }
            if (c < 0x80) {
                out += static_cast<char>(c);
            } else if (c < 0x800) {
                out += {static_cast<char>(0xC0 | c >> 6U), static_cast<char>(0x80 | (c & 0x3FU))};
            } else if (c < 0x10000) {
                out += {static_cast<char>(0xE0 | c >> 12U), static_cast<char>(0x80 | (c >> 6U & 0x3FU)),
                        static_cast<char>(0x80 | (c & 0x3FU))};
            } else {
                out += {static_cast<char>(0xF0 | c >> 18U), static_cast<char>(0x80 | (c >> 12U & 0x3FU)),
                        static_cast<char>(0x80 | (c >> 6U & 0x3FU)), static_cast<char>(0x80 | (c & 0x3FU))};
            }
        }
        return out;
    };
    const std::vector<std::u16string> pieces = {u"x",
                                                u" ",
                                                u"\n",
                                                u"é",
                                                u"🌿",
                                                u"{",
                                                u"}",
                                                u"[#.] -> bend(9, cruise)\n",
                                                u"let a = 3\n",
                                                u"\"",
                                                u"// ",
                                                u"\r\n",
                                                u"errand go { ahead(3) over 9mm }\n",
                                                u"do go",
                                                u"criuse"};
    const auto place_in = [](const std::u16string& text, std::size_t at) {
        std::size_t line = 0;
        std::size_t from = 0;
        for (std::size_t i = 0; i < at; ++i) {
            if (text[i] == u'\n') {
                ++line;
                from = i + 1;
            }
        }
        return place(line, at - from);
    };
    std::mt19937 random(9);
    const auto below = [&](std::size_t n) { return n == 0 ? 0 : random() % n; };
    // Never within a character of two units, nor between a return and its line end, where no client stands.
    const auto whole = [](const std::u16string& text, std::size_t at) {
        while (at > 0 && at < text.size() &&
               ((text[at] >= 0xDC00 && text[at] < 0xE000) || (text[at] == u'\n' && text[at - 1] == u'\r'))) {
            --at;
        }
        return at;
    };
    Session edited;
    edited.open("/nowhere/e.plan", utf8(mine));
    std::vector<std::pair<int, std::string>> asked; ///< requests, and the text that they are about
    const int edits = fixtures::rounds(10000, 1500, 200);
    for (int i = 0; i < edits; ++i) {
        const std::size_t from = whole(mine, below(mine.size() + 1));
        const std::size_t to = whole(mine, std::max(from, std::min(mine.size(), from + below(3) * below(12))));
        const std::u16string put = mine.size() > 4000 ? u"" : pieces[below(pieces.size())];
        edited.tell("textDocument/didChange",
                    {{"textDocument", {{"uri", edited.uri}, {"version", i + 2}}},
                     {"contentChanges",
                      {{{"range", {{"start", place_in(mine, from)}, {"end", place_in(mine, std::max(from, to))}}},
                        {"text", utf8(put)}}}}});
        mine.replace(from, std::max(from, to) - from, put);
        if (i % 5 == 0 || i + 1 == edits) {
            asked.emplace_back(edited.of("semanticTokens/full"), utf8(mine));
            asked.emplace_back(edited.of("documentSymbol"), utf8(mine));
        }
    }
    edited.wait_for("\"version\":" + std::to_string(edits + 1)); // its last problems
    edited.run();
    CHECK(edited.status == 0);

    Session fresh;
    std::vector<int> again;
    for (std::size_t i = 0; i < asked.size(); i += 2) {
        fresh.open("/nowhere/e.plan", asked[i].second);
        again.push_back(fresh.of("semanticTokens/full"));
        again.push_back(fresh.of("documentSymbol"));
    }
    fresh.wait_for("\"id\":" + std::to_string(again.back()));
    fresh.run();
    for (std::size_t i = 0; i < asked.size(); ++i) {
        CAPTURE(i);
        REQUIRE(edited.answer(asked[i].first) == fresh.answer(again[i]));
    }
}

TEST_CASE("language server: clients that count bytes, that leave oddly, and what is no protocol") {
    Session bytes(Message{{"general", {{"positionEncodings", {"utf-8", "utf-16"}}}}});
    bytes.open("/nowhere/b.plan", "plan \"🌿\" sensors x\n");
    bytes.wait_for("publishDiagnostics");
    bytes.run();
    CHECK(bytes.answer(1)["capabilities"]["positionEncoding"] == "utf-8");
    REQUIRE_FALSE(bytes.diagnostics().empty());

    Session gone;
    gone.run(false);
    CHECK(gone.status == 1); // it left without a word

    Session early;
    early.raw("Content-Length: 5\r\n\r\n{\"a\":");
    early.raw("Content-Length: 2\r\n\r\n[]");
    const int bad = early.ask("textDocument/hover", {{"textDocument", 3}});
    const int missing =
        early.ask("textDocument/hover", {{"textDocument", {{"uri", "file:///no.plan"}}}, {"position", place(0, 0)}});
    early.run();
    CHECK(early.status == 0);
    CHECK(early.answer(bad)["code"] == -32602);
    CHECK(early.answer(missing).is_null());
    CHECK(std::any_of(early.said.begin(), early.said.end(),
                      [](const Message& one) { return one.contains("error") && one["error"]["code"] == -32700; }));

    Session broken;
    broken.raw("Content-Length: many\r\n\r\n");
    broken.run();
    CHECK(broken.status == 2);
    CHECK(broken.err.find("the length of a message is no number") != std::string::npos);
}
