#pragma once

/// Where the demo data may lie.

namespace vturn {

extern const char* const data_beside_sources;
extern const char* const data_installed;

} // namespace vturn
