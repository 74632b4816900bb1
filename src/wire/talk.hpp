#pragma once

/// The two forms in which a program is asked.

#include <memory>
#include <string>

#include "vast_turn/plan/plan.hpp"
#include "vast_turn/robot/robot.hpp"
#include "vast_turn/runtime/look.hpp"
#include "vast_turn/wire/other_mind.hpp"
#include "wire/program_line.hpp"

namespace vast_turn {

/// What a program said to one look.
struct ProgramReply {
    Answer answer;
    double took_ms = 0.0; ///< by its own clock
};

/// The line to a program, and what it says out of turn.
class Listener {
public:
    explicit Listener(const OtherProgram& program);

    /// The next byte that it says, waited for with patience. Throws InputError when it says nothing more.
    char next_byte();
    /// The same without taking it.
    char coming_byte();
    /// Up to a line's end, which is left out; a carriage return before it too.
    std::string next_line();
    void send(std::string_view bytes);

    /// An error that names the program.
    InputError complaint(const std::string& what, const std::string& cure) const;

private:
    void wait_for_more();

    std::string name_;
    double patience_s_;
    ProgramLine line_;
    std::string heard_;
    std::size_t at_ = 0;
};

/// One of the forms.
class Talking {
public:
    Talking() = default;
    Talking(const Talking&) = delete;
    Talking& operator=(const Talking&) = delete;
    virtual ~Talking() = default;
    virtual ProgramReply ask(const Look& look) = 0;
};

/// Lines of text; the program's first line is yet to be read.
std::unique_ptr<Talking> talk_in_text(Listener& listener, const Plan& plan, const Robot& robot);

/// Frames; the program's hello is yet to be read.
std::unique_ptr<Talking> talk_in_frames(Listener& listener, const Plan& plan, const Robot& robot);

} // namespace vast_turn
