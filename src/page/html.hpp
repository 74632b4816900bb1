#pragma once

#include <string>

namespace vast_turn {

/// The whole file: our style and script with their hashes in its content policy, and the data as a text that is no
/// script. `asks_for_changes`: the policy lets the page listen to the server that it came from.
std::string html_page(const std::string& title, const std::string& data_json, bool asks_for_changes);

} // namespace vast_turn
