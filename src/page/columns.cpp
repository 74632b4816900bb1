#include "page/columns.hpp"

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>
#include <memory>
#include <stdexcept>

#include <glib.h>
#include <zlib.h>

namespace vast_turn {

namespace {

constexpr std::int64_t missing = std::numeric_limits<std::int32_t>::min();

std::int64_t whole(double value, double step) {
    constexpr double most = 2147483647.0;
    return std::isfinite(value) ? std::llround(std::clamp(value / step, -most, most)) : missing;
}

void append_difference(std::string& bytes, std::int64_t difference) {
    auto rest = (static_cast<std::uint64_t>(difference) << 1U) ^ static_cast<std::uint64_t>(difference >> 63);
    while (rest >= 0x80) {
        bytes += static_cast<char>(static_cast<unsigned char>(rest | 0x80U));
        rest >>= 7U;
    }
    bytes += static_cast<char>(static_cast<unsigned char>(rest));
}

std::string deflated(const std::string& bytes) {
    uLongf size = ::compressBound(bytes.size());
    std::string out(size, '\0');
    const int status = ::compress2(reinterpret_cast<Bytef*>(out.data()), &size,
                                   reinterpret_cast<const Bytef*>(bytes.data()), bytes.size(), Z_DEFAULT_COMPRESSION);
    if (status != Z_OK) {
        throw std::bad_alloc(); // the only way in which it can fail
    }
    out.resize(size);
    return out;
}

} // namespace

void Columns::add(const std::string& name, double step, const std::vector<double>& values) {
    names_.push_back(name);
    steps_.push_back(step);
    rows_ = values.size();
    std::int64_t before = 0;
    for (const double value : values) {
        const std::int64_t now = whole(value, step);
        append_difference(bytes_, now - before);
        before = now;
    }
}

Json Columns::json() const {
    return {{"names", names_},
            {"steps", steps_},
            {"rows", rows_},
            {"bytes", bytes_.size()},
            {"packed", base64(deflated(bytes_))}};
}

std::string base64(const std::string& bytes) {
    const std::unique_ptr<gchar, decltype(&g_free)> text(
        g_base64_encode(reinterpret_cast<const guchar*>(bytes.data()), bytes.size()), &g_free);
    return text.get();
}

} // namespace vast_turn
