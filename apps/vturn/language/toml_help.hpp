#pragma once

/// The keys of the TOML files, as docs/files.md tells them, for who writes such a file.

#include <string>
#include <string_view>
#include <vector>

#include <nlohmann/json_fwd.hpp>

#include "language/document.hpp"

namespace vturn {

/// A key, or a table.
struct TomlKey {
    std::string name;    ///< "look_ms", "[[sensor]]"
    std::string table;   ///< in which it stands: "", "[motors]", "[[sensor]]"
    std::string usual;   ///< unit and default as the page says
    std::string meaning; ///< Markdown
    bool is_table = false;
};

/// All keys of a kind of file.
const std::vector<TomlKey>& toml_keys(DocumentKind kind);

/// What the key at a place means; null where there is none.
nlohmann::json toml_hover(const Document& document, std::size_t byte);

/// Keys that may stand at a place, or names of the file's own places, starts, variants and colours within quotes.
nlohmann::json toml_proposals(const Document& document, std::size_t byte);

/// Names that tables of a file have: `name = "..."` under this header; of "[palette]" its keys.
std::vector<std::string> names_under(const LinedText& lined, std::string_view header);

/// The tables of a file.
nlohmann::json toml_outline(const Document& document);

} // namespace vturn
