#pragma once

/// What is answered about a plan that is open in an editor, in the words of the Language Server Protocol.

#include <nlohmann/json_fwd.hpp>
#include <string>
#include <vector>

#include "language/document.hpp"

namespace vturn {

/// Names of the kinds and modifiers by which plan_tokens() colours.
const std::vector<std::string>& token_kinds();
const std::vector<std::string>& token_modifiers();

/// These want a document whose `plan` is there.
nlohmann::json plan_hover(const Document& document, std::size_t byte);
nlohmann::json plan_proposals(const Document& document, std::size_t byte);
nlohmann::json plan_definition(const Document& document, std::size_t byte);
nlohmann::json plan_references(const Document& document, std::size_t byte, bool with_declaration);
nlohmann::json plan_highlights(const Document& document, std::size_t byte);
/// The range of a name that can be given another; null where there is none.
nlohmann::json plan_rename_range(const Document& document, std::size_t byte);
/// Throws InputError when it cannot have that name.
nlohmann::json plan_rename(const Document& document, std::size_t byte, const std::string& wanted);
nlohmann::json plan_outline(const Document& document);
nlohmann::json plan_folds(const Document& document);
nlohmann::json plan_tokens(const Document& document);
nlohmann::json plan_signature(const Document& document, std::size_t byte);
/// The changes that lay the plan out; none when it has errors.
nlohmann::json plan_layout(const Document& document);

} // namespace vturn
