#pragma once

/// The language server: what an editor asks while plans and the TOML files beside them are written, by the Language
/// Server Protocol 3.17.

#include <condition_variable>
#include <deque>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <string>
#include <thread>

#include <nlohmann/json.hpp>

#include "cli.hpp"
#include "language/document.hpp"
#include "language/folder_cache.hpp"

namespace vturn {

class LanguageServer {
public:
    explicit LanguageServer(Streams& streams) : streams_(streams) {}
    ~LanguageServer();
    LanguageServer(const LanguageServer&) = delete;
    LanguageServer& operator=(const LanguageServer&) = delete;
    LanguageServer(LanguageServer&&) = delete;
    LanguageServer& operator=(LanguageServer&&) = delete;

    /// Answers until the client leaves. Returns whether it left as the protocol wants, by shutdown and exit. Throws
    /// InputError for input that is no protocol.
    bool serve();

private:
    using json = nlohmann::json;
    using Request = json (LanguageServer::*)(const json& params);
    using Notice = void (LanguageServer::*)(const json& params);

    /// What vet is to look at, in a thread of its own: texts as they were.
    struct Work {
        std::string uri;
        int version = 0;
        DocumentKind kind = DocumentKind::other;
        std::string path;
        std::shared_ptr<const LinedText> lined;
        std::shared_ptr<const vast_turn::WrittenPlan> plan;
    };
    /// What came of it.
    struct Found {
        std::string uri;
        int version = 0;
        std::vector<Remark> remarks;
    };

    static const std::map<std::string, Request>& requests();
    static const std::map<std::string, Notice>& notices();

    void read_all();
    void look_over();
    void handle(const json& message);
    void respond(const json& id, const json& result);
    void refuse(const json& id, int code, const std::string& message);
    void notify(const std::string& method, const json& params);
    void send(const json& message);
    void tell_problems();
    void check(Document& document);
    void begin_work(const Document& document);
    void take(Found found);

    Document* document_of(const json& params);
    /// One whose plan is made, and the byte of the call's position.
    Document* plan_of(const json& params);
    std::size_t byte_of(const Document& document, const json& params) const;

    json initialize(const json& params);
    json shutdown(const json& params);
    json hover(const json& params);
    json completion(const json& params);
    json definition(const json& params);
    json references(const json& params);
    json highlights(const json& params);
    json prepare_rename(const json& params);
    json rename(const json& params);
    json outline(const json& params);
    json folds(const json& params);
    json tokens(const json& params);
    json signature(const json& params);
    json layout(const json& params);
    json actions(const json& params);
    void opened(const json& params);
    void changed(const json& params);
    void closed(const json& params);
    void saved(const json& params);

    Streams& streams_;
    ColumnUnit unit_ = ColumnUnit::utf16;
    bool is_ready_ = false;
    bool is_shut_ = false;
    bool is_left_ = false;
    std::map<std::string, Document> documents_;
    FolderCache folders_;

    // What the threads share.
    std::mutex mutex_;
    std::condition_variable changed_;
    std::deque<std::string> messages_;
    std::deque<Found> found_;
    std::map<std::string, Work> waiting_; ///< the newest of each document
    bool input_ended_ = false;
    bool ends_ = false;
    std::string input_fault_;
    std::thread reader_;
    std::thread looker_;
};

} // namespace vturn
