#include "assist/scan.hpp"

#include <algorithm>
#include <array>
#include <map>
#include <tuple>
#include <utility>

#include "plan/text/words.hpp"

namespace vast_turn::assist {

namespace {

using lang::Token;
using lang::TokenKind;

/// What lies between tokens and begins with two strokes.
std::vector<TextSpan> comments_between(std::string_view text, const std::vector<Token>& tokens) {
    std::vector<TextSpan> found;
    std::size_t at = 0;
    const auto look_through = [&](std::size_t to) {
        while (at < to) {
            const std::size_t from = text.substr(0, to).find("//", at);
            if (from == std::string_view::npos) {
                return;
            }
            const std::size_t end = std::min(text.find('\n', from), text.size());
            const std::size_t last = end > from && text[end - 1] == '\r' ? end - 1 : end;
            found.push_back({from, last});
            at = end;
        }
    };
    for (const Token& token : tokens) {
        if (token.kind != TokenKind::line_end) {
            look_through(token.span.from);
            at = std::max(at, token.span.to);
        }
    }
    look_through(text.size());
    return found;
}

class Reader {
public:
    explicit Reader(Scan& scan, std::size_t size) : scan_(scan), size_(size) {}

    void read() {
        find_blocks();
        scan_.name_of_token.assign(scan_.tokens.size(), -1);
        declare_globals();
        declare_parameters();
        for (std::size_t i = 0; i < scan_.tokens.size(); ++i) {
            name_token(i);
        }
    }

private:
    bool is_name(std::size_t i) const {
        return i < scan_.tokens.size() && scan_.tokens[i].kind == TokenKind::word &&
               !lang::is_reserved(scan_.tokens[i].text);
    }

    bool begins_line(std::size_t i) const {
        return i == 0 || scan_.tokens[i - 1].kind == TokenKind::line_end || scan_.is(i - 1, "}");
    }

    bool begins_block(std::size_t i) const {
        return begins_line(i) && (scan_.is(i, "habit") || scan_.is(i, "errand")) &&
               scan_.tokens[i].kind == TokenKind::word;
    }

    void find_blocks() {
        int depth = 0;
        for (std::size_t i = 0; i < scan_.tokens.size(); ++i) {
            const Token& token = scan_.tokens[i];
            if (begins_block(i)) {
                close(token.span.from);
                open_ = true;
                depth = 0;
                TextBlock block;
                block.is_errand = token.text == "errand";
                block.whole = {token.span.from, size_};
                if (is_name(i + 1)) {
                    block.name = scan_.tokens[i + 1].text;
                    block.name_span = {scan_.tokens[i + 1].span.from, scan_.tokens[i + 1].span.to};
                }
                scan_.blocks.push_back(std::move(block));
                heads_.push_back(i);
            } else if (open_ && scan_.is(i, "{")) {
                ++depth;
            } else if (open_ && scan_.is(i, "}") && --depth <= 0) {
                close(token.span.to);
            }
        }
    }

    void close(std::size_t at) {
        if (open_) {
            scan_.blocks.back().whole.to = at;
            open_ = false;
        }
    }

    int thing(NameKind kind, const std::string& name, int block = -1) {
        // What is declared has one name for one thing; what the robot gives has a list of its own for each kind.
        const bool is_global = kind <= NameKind::errand;
        const auto [at, is_new] =
            by_name_.try_emplace(Key(is_global ? -1 : static_cast<int>(kind), block, name), scan_.names.size());
        if (is_new) {
            scan_.names.push_back({kind, name, {}, std::nullopt, block});
        }
        return static_cast<int>(at->second);
    }

    void declare(std::size_t i, NameKind kind, int block = -1) {
        const int number = thing(kind, scan_.tokens[i].text, block);
        NamedThing& declared = scan_.names[static_cast<std::size_t>(number)];
        if (!declared.declared) {
            declared.declared = TextSpan{scan_.tokens[i].span.from, scan_.tokens[i].span.to};
        }
    }

    void declare_globals() {
        for (std::size_t i = 0; i < scan_.tokens.size(); ++i) {
            if (!begins_line(i)) {
                continue;
            }
            if (scan_.is(i, "let") && is_name(i + 1)) {
                declare(i + 1, NameKind::let);
            } else if (scan_.is(i, "var") && is_name(i + 1)) {
                declare(i + 1, NameKind::var);
            } else if (scan_.is(i, "markers")) {
                for (std::size_t k = i + 1; is_name(k); k += 2) {
                    declare(k, NameKind::marker);
                    if (!scan_.is(k + 1, ",")) {
                        break;
                    }
                }
            }
        }
        for (std::size_t b = 0; b < heads_.size(); ++b) {
            if (!scan_.blocks[b].name.empty()) {
                declare(heads_[b] + 1, scan_.blocks[b].is_errand ? NameKind::errand : NameKind::habit);
            }
        }
    }

    void declare_parameters() {
        for (std::size_t b = 0; b < heads_.size(); ++b) {
            std::size_t i = heads_[b] + 2;
            if (!scan_.is(i, "(")) {
                continue;
            }
            for (++i; is_name(i); i += 2) {
                scan_.blocks[b].parameters.push_back(scan_.tokens[i].text);
                declare(i, NameKind::parameter, static_cast<int>(b));
                if (!scan_.is(i + 1, ",")) {
                    break;
                }
            }
        }
    }

    /// Names of what the robot gives are told by what stands before them.
    std::optional<NameKind> given_kind(std::size_t i) const {
        constexpr std::array<std::pair<std::string_view, NameKind>, 4> calls = {{{"light", NameKind::light},
                                                                                 {"sound", NameKind::sound},
                                                                                 {"tell", NameKind::device},
                                                                                 {"heard", NameKind::heard}}};
        if (i >= 1 && scan_.is(i - 1, "at")) {
            return NameKind::place;
        }
        if (i >= 2 && scan_.is(i - 1, "(")) {
            for (const auto& [word, kind] : calls) {
                if (scan_.is(i - 2, word)) {
                    return kind;
                }
            }
        }
        return std::nullopt;
    }

    void name_token(std::size_t i) {
        const Token& token = scan_.tokens[i];
        const std::optional<NameKind> given = given_kind(i);
        // `left` and `right` may name a colour sensor too.
        if (token.kind != TokenKind::word || (lang::is_reserved(token.text) && given != NameKind::place)) {
            return;
        }
        int number = -1;
        if (given) {
            number = thing(*given, token.text);
        } else {
            const int block = scan_.block_at(token.span.from);
            const auto in_block = by_name_.find(Key(static_cast<int>(NameKind::parameter), block, token.text));
            const auto anywhere = by_name_.find(Key(-1, -1, token.text));
            number = block >= 0 && in_block != by_name_.end() ? static_cast<int>(in_block->second)
                     : anywhere != by_name_.end()             ? static_cast<int>(anywhere->second)
                                                              : -1;
        }
        if (number >= 0) {
            scan_.name_of_token[i] = number;
            scan_.names[static_cast<std::size_t>(number)].uses.push_back({token.span.from, token.span.to});
        }
    }

    using Key = std::tuple<int, int, std::string>; ///< kind (-1 for what is declared), block, name

    Scan& scan_;
    std::size_t size_;
    bool open_ = false;
    std::vector<std::size_t> heads_; ///< tokens with which blocks begin
    std::map<Key, std::size_t> by_name_;
};

} // namespace

std::size_t Scan::token_at(std::size_t byte, bool touching) const {
    const auto is_ahead = [](std::size_t wanted, const Token& one) { return wanted < one.span.from; };
    auto at = std::upper_bound(tokens.begin(), tokens.end(), byte, is_ahead);
    while (at != tokens.begin()) {
        --at;
        if (at->kind == TokenKind::line_end || at->kind == TokenKind::text_end) {
            if (at->span.from < byte) {
                break;
            }
            continue;
        }
        const bool in_it = byte < at->span.to || (touching && byte == at->span.to);
        if (in_it) {
            return static_cast<std::size_t>(at - tokens.begin());
        }
        break;
    }
    return no_token;
}

std::size_t Scan::token_before(std::size_t byte) const {
    const auto is_ahead = [](std::size_t wanted, const Token& one) { return wanted < one.span.from; };
    auto at = std::upper_bound(tokens.begin(), tokens.end(), byte, is_ahead);
    while (at != tokens.begin()) {
        --at;
        if (at->span.from < byte && at->span.to <= byte && at->kind != TokenKind::text_end) {
            return static_cast<std::size_t>(at - tokens.begin());
        }
    }
    return no_token;
}

int Scan::block_at(std::size_t byte) const {
    const auto at = std::upper_bound(blocks.begin(), blocks.end(), byte,
                                     [](std::size_t wanted, const TextBlock& one) { return wanted < one.whole.from; });
    if (at == blocks.begin() || byte >= std::prev(at)->whole.to) {
        return -1;
    }
    return static_cast<int>(std::prev(at) - blocks.begin());
}

Scan scan(std::string_view text) {
    const lang::Source source(text, "");
    lang::Problems ignored(source);
    Scan result;
    result.tokens = lang::tokenize(source, ignored);
    result.comments = comments_between(text, result.tokens);
    Reader(result, text.size()).read();
    return result;
}

} // namespace vast_turn::assist
