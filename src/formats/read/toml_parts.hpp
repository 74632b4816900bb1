#pragma once

/// What tables and texts of the reader hold, for the files that make it up.

#include <toml++/toml.h>

#include "formats/read/toml_reader.hpp"

namespace vast_turn {

struct TomlText::Parsed {
    toml::table root;
    toml::table nothing;
};

struct TomlTable::Node {
    const toml::table* table = nullptr;
};

} // namespace vast_turn
