#include "vast_turn/wire/other_mind.hpp"

#include <algorithm>
#include <optional>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/frames.hpp"
#include "wire/talk.hpp"

namespace vast_turn {

Listener::Listener(const OtherProgram& program)
    : name_(fmt::format("{}", fmt::join(program.words, " "))), patience_s_(program.patience_s), line_(program.words) {}

InputError Listener::complaint(const std::string& what, const std::string& cure) const {
    return {"", fmt::format("the program `{}`: {}", name_, what), cure};
}

void Listener::wait_for_more() {
    if (at_ == heard_.size()) {
        heard_ = line_.receive(patience_s_);
        at_ = 0;
    }
    if (heard_.empty()) {
        throw line_.ended() ? complaint("it ended before the run did", "see what it said before it ended")
                            : complaint(fmt::format("it said nothing for {:g} s", patience_s_),
                                        "let it write what it has at once (flush), and answer each look");
    }
}

char Listener::coming_byte() {
    wait_for_more();
    return heard_[at_];
}

char Listener::next_byte() {
    wait_for_more();
    return heard_[at_++];
}

std::string Listener::next_line() {
    constexpr std::size_t longest = 1U << 16U;
    std::string line;
    for (char c = next_byte(); c != '\n'; c = next_byte()) {
        line += c;
        if (line.size() > longest) {
            throw complaint("it wrote a line without end", "let each answer be one line");
        }
    }
    if (!line.empty() && line.back() == '\r') {
        line.pop_back();
    }
    return line;
}

void Listener::send(std::string_view bytes) {
    if (!line_.send(bytes)) {
        throw complaint("it ended before the run did", "see what it said before it ended");
    }
}

struct OtherMind::Talk {
    Talk(const OtherProgram& program, const Plan& plan, const Robot& robot)
        : listener(program), period_ms(robot.look_ms),
          form(static_cast<std::uint8_t>(listener.coming_byte()) == frames::mark
                   ? talk_in_frames(listener, plan, robot)
                   : talk_in_text(listener, plan, robot)) {}

    /// An answer that is being worked out.
    struct Coming {
        Answer answer;
        double ready_ms = 0.0;
    };

    Listener listener;
    double period_ms;
    std::unique_ptr<Talking> form;
    Answer last;
    std::optional<Coming> coming;
    Pace pace;
};

OtherMind::OtherMind(const OtherProgram& program, const Plan& plan, const Robot& robot)
    : talk_(std::make_shared<Talk>(program, plan, robot)) {}

const Pace& OtherMind::pace() const { return talk_->pace; }

void OtherMind::operator()(const Look& look, Answer& answer) {
    constexpr double all_but_ms = 1e-6;
    Talk& talk = *talk_;
    const auto goes_on = [&] { // what it said before, without saying it again
        answer = talk.last;
        answer.events = answer.events_lost = 0;
    };
    if (talk.coming && look.clock_ms + all_but_ms < talk.coming->ready_ms) {
        ++talk.pace.late;
        return goes_on();
    }
    goes_on();
    if (talk.coming) {
        answer = talk.last = talk.coming->answer;
        talk.coming.reset();
    }
    if (talk.last.halted) {
        return;
    }
    const ProgramReply reply = talk.form->ask(look);
    ++talk.pace.looks;
    talk.pace.slowest_ms = std::max(talk.pace.slowest_ms, reply.took_ms);
    if (reply.took_ms > talk.period_ms) {
        talk.coming = {reply.answer, look.clock_ms + reply.took_ms};
        return;
    }
    const Answer said_late = answer;
    answer = talk.last = reply.answer;
    answer.events = answer.events_lost = 0;
    for (const Answer* one : {&said_late, &reply.answer}) {
        for (int i = 0; i < one->events; ++i) {
            answer.add(one->event[i].kind, one->event[i].what, one->event[i].value);
        }
    }
}

} // namespace vast_turn
