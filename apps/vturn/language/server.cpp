#include "language/server.hpp"

#include <algorithm>
#include <istream>
#include <ostream>

#include <fmt/format.h>

#include "debug/messages.hpp"
#include "language/plan_answers.hpp"
#include "language/toml_help.hpp"
#include "vast_turn/base/problem.hpp"
#include "vast_turn/version.hpp"

namespace vturn {

using namespace vast_turn;
using nlohmann::json;

namespace {

constexpr int no_such_method = -32601;
constexpr int bad_params = -32602;
constexpr int bad_request = -32600;
constexpr int not_json = -32700;
constexpr int not_ready = -32002;
constexpr int request_failed = -32803;

std::string text_at(const json& object, const char* key) {
    const auto at = object.is_object() ? object.find(key) : object.end();
    return at != object.end() && at->is_string() ? at->get<std::string>() : std::string();
}

json part(const json& object, const char* key) {
    const auto at = object.is_object() ? object.find(key) : object.end();
    return at != object.end() ? *at : json::object();
}

} // namespace

LanguageServer::~LanguageServer() {
    {
        const std::lock_guard lock(mutex_);
        ends_ = true;
    }
    changed_.notify_all();
    for (std::thread* thread : {&reader_, &looker_}) {
        if (thread->joinable()) {
            thread->join();
        }
    }
}

/// In a thread of its own, so that it is known whether more is to come while something is reckoned.
void LanguageServer::read_all() {
    try {
        while (std::optional<std::string> message = read_message(streams_.in)) {
            // Behind `exit` nothing is read, so that this ends though the client keeps the line open.
            const bool is_exit = message->find("\"exit\"") != std::string::npos &&
                                 text_at(json::parse(*message, nullptr, false), "method") == "exit";
            const std::lock_guard lock(mutex_);
            messages_.push_back(std::move(*message));
            changed_.notify_all();
            if (is_exit) {
                break;
            }
        }
    } catch (const InputError& error) {
        const std::lock_guard lock(mutex_);
        input_fault_ = error.problems().front().message;
    }
    const std::lock_guard lock(mutex_);
    input_ended_ = true;
    changed_.notify_all();
}

/// What takes a while: vet, and reading courses. The newest text of each document, one after another.
void LanguageServer::look_over() {
    while (true) {
        Work work;
        {
            std::unique_lock lock(mutex_);
            changed_.wait(lock, [this] { return ends_ || !waiting_.empty(); });
            if (ends_) {
                return;
            }
            work = std::move(waiting_.begin()->second);
            waiting_.erase(waiting_.begin());
        }
        const auto tell = [&](std::vector<Remark> remarks) {
            const std::lock_guard lock(mutex_);
            found_.push_back({work.uri, work.version, std::move(remarks)});
            changed_.notify_all();
        };
        const auto is_old = [&] {
            const std::lock_guard lock(mutex_);
            return ends_ || waiting_.count(work.uri) != 0;
        };
        if (work.kind != DocumentKind::plan) {
            const bool of_course = work.kind == DocumentKind::trips;
            tell(check_toml(*work.lined, work.path, work.kind,
                            of_course ? folders_.surroundings_of(work.path) : Surroundings{}));
            continue;
        }
        tell(found_in(*work.lined, *work.plan->plan(), {}));
        if (is_old()) {
            continue;
        }
        const Surroundings around = folders_.surroundings_of(work.path);
        if (around.robot && !is_old()) {
            tell(found_in(*work.lined, *work.plan->plan(), around));
        }
    }
}

bool LanguageServer::serve() {
    streams_.in.tie(nullptr); // else reading, in a thread of its own, would flush what another writes
    reader_ = std::thread([this] { read_all(); });
    looker_ = std::thread([this] { look_over(); });
    while (!is_left_) {
        std::optional<std::string> message;
        std::optional<Found> found;
        {
            std::unique_lock lock(mutex_);
            if (messages_.empty()) {
                lock.unlock();
                tell_problems(); // nothing waits to be answered first
                lock.lock();
            }
            changed_.wait(lock, [this] { return !messages_.empty() || !found_.empty() || input_ended_; });
            if (!messages_.empty()) {
                message = std::move(messages_.front());
                messages_.pop_front();
            } else if (!found_.empty()) {
                found = std::move(found_.front());
                found_.pop_front();
            } else {
                break;
            }
        }
        if (message) {
            const json parsed = json::parse(*message, nullptr, false);
            if (parsed.is_discarded()) {
                refuse(nullptr, not_json, "this is no JSON");
            } else {
                handle(parsed);
            }
        } else {
            take(std::move(*found));
        }
    }
    if (!input_fault_.empty()) {
        throw InputError(
            "standard input", input_fault_,
            "an editor starts it and speaks the Language Server Protocol; see vturn language-server --help");
    }
    return is_shut_ && is_left_;
}

void LanguageServer::send(const json& message) {
    // What the client sent may be no UTF-8; it is answered all the same.
    write_message(streams_.raw_out(), message.dump(-1, ' ', false, json::error_handler_t::replace));
}

void LanguageServer::respond(const json& id, const json& result) {
    send({{"jsonrpc", "2.0"}, {"id", id}, {"result", result}});
}

void LanguageServer::refuse(const json& id, int code, const std::string& message) {
    send({{"jsonrpc", "2.0"}, {"id", id}, {"error", {{"code", code}, {"message", message}}}});
}

void LanguageServer::notify(const std::string& method, const json& params) {
    send({{"jsonrpc", "2.0"}, {"method", method}, {"params", params}});
}

const std::map<std::string, LanguageServer::Request>& LanguageServer::requests() {
    static const std::map<std::string, Request> all = {
        {"initialize", &LanguageServer::initialize},
        {"shutdown", &LanguageServer::shutdown},
        {"textDocument/hover", &LanguageServer::hover},
        {"textDocument/completion", &LanguageServer::completion},
        {"textDocument/definition", &LanguageServer::definition},
        {"textDocument/references", &LanguageServer::references},
        {"textDocument/documentHighlight", &LanguageServer::highlights},
        {"textDocument/prepareRename", &LanguageServer::prepare_rename},
        {"textDocument/rename", &LanguageServer::rename},
        {"textDocument/documentSymbol", &LanguageServer::outline},
        {"textDocument/foldingRange", &LanguageServer::folds},
        {"textDocument/semanticTokens/full", &LanguageServer::tokens},
        {"textDocument/signatureHelp", &LanguageServer::signature},
        {"textDocument/formatting", &LanguageServer::layout},
        {"textDocument/codeAction", &LanguageServer::actions},
    };
    return all;
}

const std::map<std::string, LanguageServer::Notice>& LanguageServer::notices() {
    static const std::map<std::string, Notice> all = {
        {"textDocument/didOpen", &LanguageServer::opened},
        {"textDocument/didChange", &LanguageServer::changed},
        {"textDocument/didClose", &LanguageServer::closed},
        {"textDocument/didSave", &LanguageServer::saved},
    };
    return all;
}

void LanguageServer::handle(const json& message) {
    const std::string method = text_at(message, "method");
    const bool is_request = message.is_object() && message.contains("id");
    const json id = is_request ? message["id"] : json(nullptr);
    if (method.empty()) {
        if (!message.is_object() || !(message.contains("result") || message.contains("error"))) {
            refuse(id, bad_request, "a message has a method");
        }
        return; // an answer to what was not asked
    }
    if (method == "exit") {
        is_left_ = true;
        return;
    }
    if (!is_request) {
        const auto notice = notices().find(method);
        if (notice != notices().end() && is_ready_) {
            (this->*notice->second)(part(message, "params"));
        }
        return;
    }
    const auto request = requests().find(method);
    if (request == requests().end()) {
        refuse(id, no_such_method, fmt::format("there is no method `{}`", method));
    } else if (!is_ready_ && method != "initialize") {
        refuse(id, not_ready, "initialize comes first");
    } else if (is_shut_) {
        refuse(id, bad_request, "it was shut down");
    } else {
        try {
            respond(id, (this->*request->second)(part(message, "params")));
        } catch (const InputError& error) {
            refuse(id, method == "textDocument/rename" ? request_failed : bad_params, error.problems().front().message);
        } catch (const json::exception&) {
            refuse(id, bad_params, "the parameters are not what this method takes");
        }
    }
}

json LanguageServer::initialize(const json& params) {
    is_ready_ = true;
    const json encodings = part(part(part(params, "capabilities"), "general"), "positionEncodings");
    unit_ = encodings.is_array() && std::find(encodings.begin(), encodings.end(), "utf-8") != encodings.end()
                ? ColumnUnit::utf8
                : ColumnUnit::utf16;
    return {{"capabilities",
             {{"positionEncoding", unit_ == ColumnUnit::utf8 ? "utf-8" : "utf-16"},
              {"textDocumentSync", {{"openClose", true}, {"change", 2}, {"save", true}}},
              {"hoverProvider", true},
              {"completionProvider", {{"triggerCharacters", {"\"", "(", ">"}}}},
              {"signatureHelpProvider", {{"triggerCharacters", {"(", ","}}}},
              {"definitionProvider", true},
              {"referencesProvider", true},
              {"documentHighlightProvider", true},
              {"documentSymbolProvider", true},
              {"foldingRangeProvider", true},
              {"documentFormattingProvider", true},
              {"renameProvider", {{"prepareProvider", true}}},
              {"codeActionProvider", {{"codeActionKinds", {"quickfix"}}}},
              {"semanticTokensProvider",
               {{"legend", {{"tokenTypes", token_kinds()}, {"tokenModifiers", token_modifiers()}}}, {"full", true}}}}},
            {"serverInfo", {{"name", "vturn"}, {"version", version_text}}}};
}

json LanguageServer::shutdown(const json&) {
    is_shut_ = true;
    return nullptr;
}

} // namespace vturn
