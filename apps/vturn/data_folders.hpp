#pragma once

/// Where the demo data and the modules of an installed program may lie.

namespace vturn {

extern const char* const data_beside_sources;
extern const char* const data_installed;
extern const char* const modules_from_program; ///< from the folder of the program

} // namespace vturn
