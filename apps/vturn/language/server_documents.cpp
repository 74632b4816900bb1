/// What the language server knows of open files, and what it answers about them.
#include "language/server.hpp"

#include <algorithm>

#include "language/plan_answers.hpp"
#include "language/toml_help.hpp"

namespace vturn {

using namespace vast_turn;
using nlohmann::json;

namespace {

constexpr std::size_t most_documents = 1000;

std::string uri_of(const json& params) {
    const json& document = params.at("textDocument");
    return document.at("uri").get<std::string>();
}

bool is_toml(DocumentKind kind) { return kind != DocumentKind::plan && kind != DocumentKind::other; }

} // namespace

Document* LanguageServer::document_of(const json& params) {
    const auto at = documents_.find(uri_of(params));
    return at == documents_.end() ? nullptr : &at->second;
}

Document* LanguageServer::plan_of(const json& params) {
    Document* document = document_of(params);
    if (document == nullptr || document->kind != DocumentKind::plan) {
        return nullptr;
    }
    check(*document);
    return document;
}

std::size_t LanguageServer::byte_of(const Document& document, const json& params) const {
    return document.lined->byte_of(params.at("position"));
}

/// Reads the text of a plan anew when it changed.
void LanguageServer::check(Document& document) {
    if (document.is_checked) {
        return;
    }
    document.is_checked = true;
    document.found.clear();
    document.remarks.clear();
    if (document.kind == DocumentKind::plan) {
        document.plan = std::make_shared<const WrittenPlan>(document.lined->text(), document.path);
        document.remarks = remarks_of(*document.lined, document.plan->problems());
        document.robot = folders_.robot_for(document.path);
    }
}

void LanguageServer::begin_work(const Document& document) {
    if (document.kind == DocumentKind::other || (document.kind == DocumentKind::plan && !document.plan->plan())) {
        return;
    }
    const std::lock_guard lock(mutex_);
    waiting_[document.uri] = {document.uri,  document.version, document.kind,
                              document.path, document.lined,   document.plan};
    changed_.notify_all();
}

/// Tells what is wrong with every text that changed, once nothing else waits.
void LanguageServer::tell_problems() {
    for (auto& [uri, document] : documents_) {
        if (document.is_checked && document.told) {
            continue;
        }
        check(document);
        document.told = true;
        if (!is_toml(document.kind)) { // of the others all is found by reading them, in a moment
            notify("textDocument/publishDiagnostics", diagnostics_of(document));
        }
        begin_work(document);
    }
}

void LanguageServer::take(Found found) {
    const auto at = documents_.find(found.uri);
    if (at == documents_.end() || at->second.version != found.version || !at->second.is_checked) {
        return; // it has changed since
    }
    at->second.found = std::move(found.remarks);
    notify("textDocument/publishDiagnostics", diagnostics_of(at->second));
}

void LanguageServer::opened(const json& params) {
    const json& given = params.at("textDocument");
    Document document;
    document.uri = given.at("uri").get<std::string>();
    document.path = path_of_uri(document.uri);
    document.version = given.value("version", 0);
    document.kind = kind_of(document.path);
    document.lined = std::make_shared<const LinedText>(given.at("text").get<std::string>(), unit_);
    if (documents_.size() < most_documents || documents_.count(document.uri) != 0) {
        documents_[document.uri] = std::move(document);
    }
}

void LanguageServer::changed(const json& params) {
    Document* document = document_of(params);
    if (document == nullptr) {
        return;
    }
    for (const json& change : params.at("contentChanges")) {
        document->lined = std::make_shared<const LinedText>(document->lined->with(change), unit_);
    }
    document->version = params.at("textDocument").value("version", document->version + 1);
    document->is_checked = false;
    document->told = false;
}

void LanguageServer::closed(const json& params) {
    if (Document* document = document_of(params)) {
        document->remarks.clear();
        document->found.clear();
        notify("textDocument/publishDiagnostics", diagnostics_of(*document));
        documents_.erase(uri_of(params));
    }
}

/// A robot, course or folder that was saved matters to the plans beside it.
void LanguageServer::saved(const json& params) {
    const Document* saved = document_of(params);
    for (auto& [uri, document] : documents_) {
        if (saved != nullptr && is_toml(saved->kind) && document.kind == DocumentKind::plan) {
            document.is_checked = false;
            document.told = false;
        }
    }
}

json LanguageServer::hover(const json& params) {
    if (const Document* plan = plan_of(params)) {
        return plan_hover(*plan, byte_of(*plan, params));
    }
    const Document* document = document_of(params);
    return document != nullptr ? toml_hover(*document, byte_of(*document, params)) : json(nullptr);
}

json LanguageServer::completion(const json& params) {
    if (const Document* plan = plan_of(params)) {
        return plan_proposals(*plan, byte_of(*plan, params));
    }
    const Document* document = document_of(params);
    return document != nullptr ? toml_proposals(*document, byte_of(*document, params)) : json(nullptr);
}

json LanguageServer::definition(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_definition(*plan, byte_of(*plan, params)) : json(nullptr);
}

json LanguageServer::references(const json& params) {
    const Document* plan = plan_of(params);
    const bool with_declaration = params.contains("context") && params["context"].value("includeDeclaration", false);
    return plan != nullptr ? plan_references(*plan, byte_of(*plan, params), with_declaration) : json(nullptr);
}

json LanguageServer::highlights(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_highlights(*plan, byte_of(*plan, params)) : json(nullptr);
}

json LanguageServer::prepare_rename(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_rename_range(*plan, byte_of(*plan, params)) : json(nullptr);
}

json LanguageServer::rename(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_rename(*plan, byte_of(*plan, params), params.at("newName").get<std::string>())
                           : json(nullptr);
}

json LanguageServer::outline(const json& params) {
    if (const Document* plan = plan_of(params)) {
        return plan_outline(*plan);
    }
    const Document* document = document_of(params);
    return document != nullptr ? toml_outline(*document) : json(nullptr);
}

json LanguageServer::folds(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_folds(*plan) : json(nullptr);
}

json LanguageServer::tokens(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_tokens(*plan) : json(nullptr);
}

json LanguageServer::signature(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_signature(*plan, byte_of(*plan, params)) : json(nullptr);
}

json LanguageServer::layout(const json& params) {
    const Document* plan = plan_of(params);
    return plan != nullptr ? plan_layout(*plan) : json(nullptr);
}

json LanguageServer::actions(const json& params) {
    const Document* document = document_of(params);
    json list = json::array();
    if (document == nullptr || !document->is_checked) {
        return list;
    }
    const std::size_t from = document->lined->byte_of(params.at("range").at("start"));
    const std::size_t to = document->lined->byte_of(params.at("range").at("end"));
    for (const std::vector<Remark>* remarks : {&document->remarks, &document->found}) {
        for (const Remark& remark : *remarks) {
            if (remark.span.from > to || remark.span.to < from) {
                continue;
            }
            for (const Remark::Change& change : remark.changes) {
                json edit = {{"range", document->lined->range_of(change.span)}, {"newText", change.text}};
                json action = {{"title", change.title}, {"kind", "quickfix"}};
                action["isPreferred"] = &change == &remark.changes.front() && remark.changes.size() != 1;
                action["edit"]["changes"][document->uri] = json::array({std::move(edit)});
                list.push_back(std::move(action));
            }
        }
    }
    return list;
}

} // namespace vturn
