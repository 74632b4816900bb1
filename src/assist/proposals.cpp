/// What may be written at a place.
#include <algorithm>
#include <set>

#include <fmt/format.h>

#include "assist/body.hpp"
#include "plan/text/words.hpp"
#include "vast_turn/assist/word_help.hpp"

namespace vast_turn {

namespace {

using lang::Token;
using lang::TokenKind;

class Proposer {
public:
    Proposer(const assist::Scan& scan, const Robot* robot) : scan_(scan), robot_(robot) {}

    std::vector<Proposal> at(std::size_t byte) {
        std::size_t before = scan_.token_before(byte);
        if (before != assist::no_token && scan_.token(before).span.to == byte && is_being_written(before)) {
            before = before == 0 ? assist::no_token : before - 1; // the word that is being written
        }
        const int block = scan_.block_at(byte);
        if (!in_words(before)) {
            in_place(before, block);
        }
        return std::move(list_);
    }

private:
    bool is_being_written(std::size_t i) const { return scan_.token(i).kind == TokenKind::word; }
    bool is(std::size_t i, std::string_view text) const { return i != assist::no_token && scan_.is(i, text); }

    void word(std::string_view text) {
        const WordHelp* help = find_word_help(text);
        add(std::string(text), help != nullptr ? std::string(help->usage) : "",
            help != nullptr ? fmt::format("{}\n\n```plan\n{}\n```\n", help->meaning, help->example) : "",
            MarkKind::word);
    }
    void words(std::initializer_list<std::string_view> some) {
        for (const std::string_view one : some) {
            word(one);
        }
    }
    void words(const std::vector<std::string>& some) {
        for (const std::string& one : some) {
            word(one);
        }
    }

    void add(std::string text, std::string about, std::string detail, MarkKind kind) {
        if (seen_.insert(text).second) {
            list_.push_back({std::move(text), std::move(about), std::move(detail), kind});
        }
    }

    void names(NameKind kind, MarkKind mark, int block = -1) {
        for (const NamedThing& thing : scan_.names) {
            if (thing.kind == kind && (kind != NameKind::parameter || thing.block == block)) {
                add(thing.name, std::string(name_of(kind)), "", mark);
            }
        }
    }
    void block_names(bool errands_too) {
        for (const TextBlock& one : scan_.blocks) {
            if (!one.name.empty() && (errands_too || !one.is_errand)) {
                std::string usage = one.is_errand ? "errand" : "habit";
                for (const std::string& parameter : one.parameters) {
                    usage += (&parameter == &one.parameters.front() ? "(" : ", ") + parameter;
                }
                add(one.name, one.parameters.empty() ? usage : usage + ")", "", MarkKind::block);
            }
        }
    }

    /// After a word that wants something of its own kind. False where there is none.
    bool in_words(std::size_t before) {
        if (is(before, "do") || is(before, "become")) {
            block_names(true);
        } else if (is(before, "as")) {
            block_names(false);
        } else if (is(before, "by")) {
            words(lang::source_words());
        } else if (is(before, "of")) {
            words({"left", "right"});
        } else if (is(before, "at")) {
            for (const ColourSensor& sensor :
                 robot_ != nullptr ? robot_->colour_sensors : std::vector<ColourSensor>{}) {
                add(sensor.name, fmt::format("colour sensor of {}", robot_->name), "", MarkKind::other_name);
            }
            names(NameKind::place, MarkKind::other_name);
        } else if (is(before, "set") || is(before, "track")) {
            names(NameKind::var, MarkKind::variable);
        } else if (is(before, "(") && before > 0 && given_names(before - 1)) {
            return true;
        } else if (before != assist::no_token && scan_.token(before).kind == TokenKind::number &&
                   scan_.token(before).unit.empty()) {
            words(lang::unit_words());
            continues_condition();
        } else {
            return declares(before);
        }
        return true;
    }

    bool given_names(std::size_t word) {
        for (const auto& [text, kind] : {std::pair{"light", NameKind::light}, std::pair{"sound", NameKind::sound},
                                         std::pair{"tell", NameKind::device}, std::pair{"heard", NameKind::heard}}) {
            if (is(word, text)) {
                names(kind, MarkKind::other_name);
                return true;
            }
        }
        return false;
    }

    /// Where a new name is wanted nothing is proposed.
    bool declares(std::size_t before) const {
        return is(before, "let") || is(before, "var") || is(before, "habit") || is(before, "errand") ||
               is(before, "markers") || is(before, "plan") || is(before, "sensors") || is(before, "note");
    }

    bool begins_line(std::size_t before) const {
        return before == assist::no_token || scan_.token(before).kind == TokenKind::line_end || is(before, "{") ||
               is(before, "}");
    }

    /// Whether the tokens of this line up to here have an arrow.
    bool is_behind_arrow(std::size_t before) const {
        for (std::size_t i = before; i != assist::no_token && scan_.token(i).kind != TokenKind::line_end && !is(i, "{");
             --i) {
            if (is(i, "->")) {
                return true;
            }
            if (i == 0) {
                break;
            }
        }
        return false;
    }

    void values(int block) {
        words(lang::value_words());
        words({"left", "right", "true", "false"});
        names(NameKind::parameter, MarkKind::parameter, block);
        names(NameKind::let, MarkKind::constant);
        names(NameKind::var, MarkKind::variable);
    }

    void condition(int block) {
        words({"fresh", "not", "heard"});
        names(NameKind::marker, MarkKind::marker);
        values(block);
    }

    void continues_condition() { words({"and", "or", "lasting", "mirrored"}); }

    void acts() {
        words(lang::motion_words());
        words({"note", "light", "sound", "tell", "set", "track", "do", "become", "done", "halt", "hold"});
    }

    void in_place(std::size_t before, int block) {
        const bool is_open = is_open_bracket(before);
        if (block < 0) {
            if (begins_line(before)) {
                words({"plan", "sensors", "markers", "weights", "let", "var", "guard", "habit", "errand"});
                return;
            }
        }
        const bool is_errand = block >= 0 && scan_.blocks[static_cast<std::size_t>(block)].is_errand;
        if (is_open) {
            values(block);
            names(NameKind::marker, MarkKind::marker);
        } else if (is(before, "->") || (is(before, ",") && is_behind_arrow(before))) {
            acts();
        } else if (begins_line(before) && is_errand) {
            acts();
            words({"loop", "if", "guard", "else"});
        } else if (begins_line(before) && block >= 0) {
            words({"else", "as", "guard"});
            condition(block);
        } else if (is(before, ",") && is_errand) {
            acts();
            words({"loop", "if"});
        } else if (is(before, "}")) {
            words({"else"});
        } else if (wants_value(before)) {
            condition(block);
        } else {
            words({"till", "over", "widening", "by", "at"});
            continues_condition();
            condition(block);
        }
    }

    bool wants_value(std::size_t before) const {
        for (const std::string_view word :
             {"and", "or", "not", "fresh", "till", "over", "guard", "if", "loop", "=",       "<",
              ">",   "<=", ">=",  "==",    "!=",   "+",    "-",     "*",  "/",    "lasting", "widening"}) {
            if (is(before, word)) {
                return true;
            }
        }
        return false;
    }

    bool is_open_bracket(std::size_t before) const {
        int closed = 0;
        for (std::size_t i = before; i != assist::no_token && scan_.token(i).kind != TokenKind::line_end; --i) {
            closed += is(i, ")") ? 1 : 0;
            if (is(i, "(") && --closed < 0) {
                return true;
            }
            if (i == 0) {
                break;
            }
        }
        return false;
    }

    const assist::Scan& scan_;
    const Robot* robot_;
    std::vector<Proposal> list_;
    std::set<std::string> seen_;
};

} // namespace

std::vector<Proposal> WrittenPlan::proposals(std::size_t byte, const Robot* robot) const {
    const std::size_t inside = body_->scan.token_at(byte, false);
    const bool in_text =
        inside != assist::no_token && body_->scan.token(inside).span.from < byte &&
        (body_->scan.token(inside).kind == TokenKind::string || body_->scan.token(inside).kind == TokenKind::pattern);
    const auto in_comment = [byte](const TextSpan& comment) { return comment.from < byte && byte <= comment.to; };
    if (in_text || std::any_of(body_->scan.comments.begin(), body_->scan.comments.end(), in_comment)) {
        return {};
    }
    return Proposer(body_->scan, robot).at(byte);
}

} // namespace vast_turn
