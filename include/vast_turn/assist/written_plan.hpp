#pragma once

/// The text of a plan as an editor asks of it while it is written: where a name is meant, what a word means, what may
/// stand here. All of it holds for broken texts too. Places are bytes of the text, from 0.

#include <cstddef>
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"

namespace vast_turn {

/// Bytes from..to (exclusive) of a text.
struct TextSpan {
    std::size_t from = 0;
    std::size_t to = 0;

    friend constexpr bool operator==(const TextSpan&, const TextSpan&) = default;
};

/// What a name of a plan stands for.
enum class NameKind : std::uint8_t {
    let,
    var,
    marker,
    habit,
    errand,
    parameter, ///< of a block; known in that block alone
    place,     ///< a colour sensor, behind `at`
    heard,     ///< what is heard from outside
    light,
    sound,
    device, ///< to which `tell` sends
};

/// "let", "habit", "colour sensor" ...
std::string_view name_of(NameKind kind);

/// A name of a plan and everywhere that it is meant.
struct NamedThing {
    NameKind kind = NameKind::let;
    std::string name;
    std::vector<TextSpan> uses;       ///< in the order of the text, its declaration among them
    std::optional<TextSpan> declared; ///< where; none for what the robot or its surroundings give, and what is missing
    int block = -1;                   ///< of a parameter: the number of its block among blocks()
};

/// A habit or an errand as far as it is written.
struct TextBlock {
    bool is_errand = false;
    std::string name; ///< empty while it has none
    TextSpan name_span;
    TextSpan whole; ///< from its first word to behind its }, or to where the next begins
    std::vector<std::string> parameters;
};

/// What a stretch of text is, for its colour.
enum class MarkKind : std::uint8_t {
    word,
    number,
    text,
    comment,
    pattern,
    sign,
    block,
    constant,
    variable,
    parameter,
    marker,
    other_name
};

struct TextMark {
    TextSpan span;
    MarkKind kind = MarkKind::word;
    bool declares = false; ///< a name, here told what it stands for
};

/// What may be written at a place.
struct Proposal {
    std::string text;   ///< what is written
    std::string about;  ///< in a few words
    std::string detail; ///< more, as Markdown; may be empty
    MarkKind kind = MarkKind::word;
};

/// The call in whose brackets a place lies.
struct CallHere {
    std::string usage;               ///< "bend(turn, power)"
    std::vector<TextSpan> arguments; ///< of `usage`, each one's name
    std::size_t active = 0;          ///< which of them stands at the place
    std::string meaning;
};

/// A plan's text. Cheap to copy; immutable.
class WrittenPlan {
public:
    /// Reads it all. Never throws for anything in the text.
    WrittenPlan(std::string text, const std::string& file);

    const std::string& text() const;
    const std::vector<Problem>& problems() const; ///< errors and warnings, as compile_plan gives them
    const std::optional<Plan>& plan() const;      ///< when there is no error

    const std::vector<NamedThing>& names() const;
    const std::vector<TextBlock>& blocks() const;
    /// Marks in the order of the text, none over another.
    const std::vector<TextMark>& marks() const;

    /// The name that is meant at a place, also right behind its last letter; null when there is none. Good as long as
    /// a copy of this is.
    const NamedThing* name_at(std::size_t byte) const;

    /// What is wrong with giving a thing this name; empty when it can have it.
    std::string fault_of_name(const NamedThing& thing, const std::string& wanted) const;

    /// What stands at a place, as Markdown: a word's meaning with an example, a name, a number in other units, the
    /// patterns for which a rule acts and what the wheels (with a robot: what it) then do. Empty when nothing is to be
    /// said.
    std::string about(std::size_t byte, const Robot* robot) const;

    /// The stretch of text that about() speaks of.
    std::optional<TextSpan> stretch_at(std::size_t byte) const;

    /// What may be written at a place, whatever part of a word stands before it. With a robot also the names of its
    /// colour sensors.
    std::vector<Proposal> proposals(std::size_t byte, const Robot* robot) const;

    std::optional<CallHere> call_at(std::size_t byte) const;

private:
    struct Body;
    std::shared_ptr<const Body> body_;
};

} // namespace vast_turn
