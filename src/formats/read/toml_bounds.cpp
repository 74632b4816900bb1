#include "formats/read/toml_bounds.hpp"

#include <fmt/format.h>

#include "vast_turn/base/utf8.hpp"

namespace vast_turn {

namespace {

constexpr int most_parts = 16;
constexpr int deepest = 32;
constexpr std::size_t most_values = 200'000;

/// Goes over a text once, knowing only what is a string, what a comment, and how deep brackets are.
class Scanner {
public:
    explicit Scanner(std::string_view text) : text_(text) {}

    std::optional<TomlFault> run() {
        while (at_ < text_.size()) {
            const char c = text_[at_];
            if (c == '#') {
                at_ = std::min(text_.find('\n', at_), text_.size());
            } else if (c == '"' || c == '\'') {
                if (auto fault = skip_string(c)) {
                    return fault;
                }
            } else if (auto fault = take(c)) {
                return fault;
            }
        }
        return std::nullopt;
    }

private:
    /// Behind the string that begins here; one that is not closed ends where the library will say so.
    std::optional<TomlFault> skip_string(char quote) {
        const std::string three(3, quote);
        const bool is_long = text_.substr(at_, 3) == three;
        at_ += is_long ? 3 : 1;
        while (at_ < text_.size()) {
            if (quote == '"' && text_[at_] == '\\') {
                // What the library asks of a character here is not defined for all of them.
                const std::size_t next = std::min(text_.find_first_not_of(" \t\r\n", at_ + 1), text_.size());
                if (next < text_.size() && static_cast<unsigned char>(text_[next]) >= 0x80) {
                    return TomlFault{at_, "a character beyond ASCII stands behind a backslash",
                                     "remove the backslash, or write the line in one"};
                }
                at_ += 2;
            } else if (is_long ? text_.substr(at_, 3) == three : text_[at_] == quote) {
                at_ += is_long ? 3 : 1;
                return std::nullopt;
            } else if (!is_long && text_[at_] == '\n') {
                return std::nullopt;
            } else {
                ++at_;
            }
        }
        return std::nullopt;
    }

    std::optional<TomlFault> take(char c) {
        switch (c) {
        case '\n':
        case '=': parts_ = 0; break;
        case ',':
            parts_ = 0;
            if (++values_ > most_values) {
                return TomlFault{at_, fmt::format("there are more than {} values here", most_values),
                                 "check that this is the right file"};
            }
            break;
        case '.':
            if (++parts_ > most_parts) {
                return TomlFault{at_, fmt::format("a key has more than {} parts", most_parts),
                                 "keys here have one or two: [robot], sensor.channel"};
            }
            break;
        case '[':
        case '{':
            if (++depth_ > deepest) {
                return TomlFault{at_, fmt::format("brackets are more than {} deep", deepest), "close them before"};
            }
            break;
        case ']':
        case '}': depth_ = depth_ > 0 ? depth_ - 1 : 0; break;
        default:
            if (static_cast<unsigned char>(c) >= 0x80) {
                return TomlFault{at_, "a character beyond ASCII stands outside a text",
                                 "put names and texts into quotation marks: name = \"...\""};
            }
        }
        ++at_;
        return std::nullopt;
    }

    std::string_view text_;
    std::size_t at_ = 0;
    std::size_t values_ = 0;
    int parts_ = 0;
    int depth_ = 0;
};

} // namespace

std::optional<TomlFault> fault_before_parsing(std::string_view text) {
    const std::size_t valid = first_not_utf8(text);
    if (valid < text.size()) {
        return TomlFault{valid, "here the text is not UTF-8", "save the file as UTF-8; check that it is a text at all"};
    }
    if (text.substr(0, 3) == "\xEF\xBB\xBF") {
        auto fault = Scanner(text.substr(3)).run();
        if (fault) {
            fault->at += 3;
        }
        return fault;
    }
    return Scanner(text).run();
}

} // namespace vast_turn
