#pragma once

/// Columns of numbers as few bytes, for a page.

#include <string>
#include <vector>

#include "formats/write/json_text.hpp"

namespace vast_turn {

/// Numbers, each to the nearest whole multiple of a step, packed together: of each column the differences from one to
/// the next (zigzag, seven bits a byte), all of it deflated (RFC 1950) and written in base64.
class Columns {
public:
    /// `values` that are no finite numbers are told as missing.
    void add(const std::string& name, double step, const std::vector<double>& values);

    /// {"names": [...], "steps": [...], "rows": n, "bytes": n, "packed": "..."}; a missing value is the least one that
    /// 32 bits hold.
    Json json() const;

private:
    std::vector<std::string> names_;
    std::vector<double> steps_;
    std::string bytes_;
    std::size_t rows_ = 0;
};

/// As base64 (RFC 4648).
std::string base64(const std::string& bytes);

} // namespace vast_turn
