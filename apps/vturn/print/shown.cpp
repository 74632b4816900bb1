#include "print/shown.hpp"

#include <random>

#include <fmt/format.h>

#include "vast_turn/base/visible.hpp"

namespace vturn {

namespace {

constexpr char escape = '\x1B';

const std::string& mark() {
    static const std::string drawn = [] {
        std::random_device device;
        return fmt::format("{}{:08x}{:08x}", escape, device(), device());
    }();
    return drawn;
}

} // namespace

std::string own_code(const char* code) { return mark() + code + "m"; }

ShownBuffer::int_type ShownBuffer::overflow(int_type c) {
    if (!traits_type::eq_int_type(c, traits_type::eof())) {
        const char one = traits_type::to_char_type(c);
        xsputn(&one, 1);
    }
    return to_ ? traits_type::not_eof(c) : traits_type::eof();
}

std::streamsize ShownBuffer::xsputn(const char* text, std::streamsize size) {
    constexpr std::size_t enough = 1U << 16U;
    waiting_.append(text, static_cast<std::size_t>(size));
    if (waiting_.size() > enough) {
        pass_on(false);
    }
    return to_ ? size : 0;
}

int ShownBuffer::sync() {
    pass_on(true);
    to_.flush();
    return to_ ? 0 : -1;
}

void ShownBuffer::pass_on(bool all) {
    std::string_view rest = waiting_;
    while (!rest.empty()) {
        const std::size_t own = rest.find(mark());
        const std::string_view plain = rest.substr(0, own);
        if (own == std::string_view::npos) {
            // The beginning of a mark or of a character may stand at the end.
            std::size_t kept = all ? 0 : vast_turn::unfinished_bytes(plain);
            const std::size_t begun = plain.rfind(escape);
            if (!all && begun != std::string_view::npos && plain.size() - begun < mark().size()) {
                kept = plain.size() - begun;
            }
            to_ << vast_turn::visible(plain.substr(0, plain.size() - kept));
            rest = plain.substr(plain.size() - kept);
            break;
        }
        const std::size_t end = rest.find('m', own + mark().size());
        if (end == std::string_view::npos && !all) {
            to_ << vast_turn::visible(plain);
            rest.remove_prefix(own);
            break;
        }
        to_ << vast_turn::visible(plain) << escape << '[' << rest.substr(own + mark().size(), end - own - mark().size())
            << 'm';
        rest.remove_prefix(std::min(end, rest.size() - 1) + 1);
    }
    waiting_ = std::string(rest);
}

} // namespace vturn
