#include "bench/link.hpp"

#include <fmt/format.h>

#include "vast_turn/settings/setting.hpp"

namespace vturn {

using namespace vast_turn;

namespace {

constexpr int most_tries = 12;
constexpr std::chrono::milliseconds between_tries(250);
constexpr std::size_t most_looks = 1000000;
constexpr double lost_ms = 300.0; // a gap in the tape takes less

} // namespace

RobotLink::RobotLink(SerialPort& port, BenchSession& session, const Manner& manner)
    : port_(port), session_(session), manner_(manner), ear_(session.robot(), session.plan()) {}

/// In front of all else, the motors first.
void RobotLink::greet() {
    std::erase_if(waiting_,
                  [](const Sent& sent) { return sent.words.starts_with("tell,") || sent.words == "motors,off"; });
    waiting_.push_front({manner_.in_frames ? "tell,short" : "tell,text", 0, {}});
    if (manner_.motors_off) {
        waiting_.push_front({"motors,off", 0, {}});
    }
}

void RobotLink::send_waiting(std::vector<Told>& told) {
    if (waiting_.empty() && ear_.count().unnamed > unnamed_) { // the line that names the columns was lost
        unnamed_ = ear_.count().unnamed;
        waiting_.push_back({"tell,text", 0, {}});
    }
    while (open_ && !waiting_.empty()) {
        Sent& sent = waiting_.front();
        const Clock::time_point now = Clock::now();
        if (sent.tries > 0 && now - sent.last < between_tries) {
            return;
        }
        if (sent.tries == most_tries) {
            told.push_back({"no answer", sent.words});
            waiting_.pop_front();
            continue;
        }
        ++sent.tries;
        sent.last = now;
        // What came garbled before leaves half a line there, which this ends.
        port_.write((sent.tries > 1 ? "\n" : "") + checked_line(sent.words));
        return;
    }
}

/// The robot has another value of a number: from its next look on the plan is asked with it too.
void RobotLink::note_set(const RobotReply& reply) {
    const std::string_view words = reply.words;
    const std::size_t comma = words.rfind(',');
    if (reply.done && words.starts_with("set,") && comma > 4) {
        if (const auto value = parse_number(words.substr(comma + 1))) {
            session_.set_var(std::string(words.substr(4, comma - 4)), value->value);
        }
    }
}

void RobotLink::take(const RobotReply& reply, std::vector<Told>& told) {
    answered_ = true;
    if (reply.done && (reply.words == "motors,off" || reply.words == "motors,on")) {
        motors_off_ = reply.words == "motors,off";
    }
    note_set(reply);
    if (waiting_.empty()) {
        return; // it was asked twice, and answered twice
    }
    if (reply.done ? reply.words == waiting_.front().words : !reply.words.starts_with("its check sum")) {
        if (!reply.done) {
            told.push_back({"answer", fmt::format("{}: {}", waiting_.front().words, reply.words)});
        } else if (!reply.words.starts_with("tell,")) {
            told.push_back({"answer", reply.words});
        }
        waiting_.pop_front();
    }
}

void RobotLink::take(const LoggedLook& look) {
    const bool began_anew = session_.last() && look.look.clock_ms < session_.last()->look.clock_ms;
    if (began_anew) { // it was switched off and on, and has forgotten what it was told
        motors_off_ = false;
        greet();
    }
    session_.take(look, ear_.tells_counts());
    if (looks_.size() < most_looks) {
        looks_.push_back(*session_.last());
    }
    ++taken_;
    lately_.push_back(Clock::now());
}

/// Whoever looks on hears that it has lost the line, and that it has it again. While a hand holds it that is no news.
void RobotLink::note_line(std::vector<Told>& told) {
    const double blind_ms = session_.blind_ms();
    if (blind_ms >= lost_ms && !motors_off_) {
        if (!(lost_for_ms_ > 0.0)) {
            told.push_back({"lost", fmt::format("no sensor has seen the line for {:.2f} s", blind_ms / 1000.0)});
        }
        lost_for_ms_ = blind_ms;
    } else if (lost_for_ms_ > 0.0 && !(blind_ms > 0.0)) {
        told.push_back({"found", fmt::format("it sees the line again, after {:.2f} s", lost_for_ms_ / 1000.0)});
        lost_for_ms_ = 0.0;
    }
}

std::vector<Told> RobotLink::go_on(int wait_ms) {
    std::vector<Told> told;
    open_ = port_.is_open();
    if (open_ != was_open_) {
        if (open_) {
            greet();
        } else {
            ear_.cut();
            motors_off_ = false; // who knows what it does meanwhile
            ++cuts_;
        }
        if (cuts_ > 0) {
            told.push_back({"cable", open_ ? "it is there again" : "it is out"});
        }
        was_open_ = open_;
    }
    if (!open_) {
        port_.read(wait_ms);
        return told;
    }
    send_waiting(told);
    if (heard_.empty()) {
        for (RobotHeard& heard : ear_.hears(port_.read(wait_ms))) {
            heard_.push_back(std::move(heard));
        }
    }
    for (bool looked = false; !looked && !heard_.empty(); heard_.pop_front()) {
        if (const auto* look = std::get_if<LoggedLook>(&heard_.front())) {
            take(*look);
            note_line(told);
            looked = true;
        } else if (const auto* says = std::get_if<RobotSays>(&heard_.front())) {
            told.push_back({says->kind, says->what});
        } else if (const auto* reply = std::get_if<RobotReply>(&heard_.front())) {
            take(*reply, told);
        }
    }
    while (!lately_.empty() && Clock::now() - lately_.front() > std::chrono::seconds(1)) {
        lately_.pop_front();
    }
    return told;
}

double RobotLink::looks_a_second() const { return static_cast<double>(lately_.size()); }

} // namespace vturn
