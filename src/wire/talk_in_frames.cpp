#include <algorithm>
#include <cmath>
#include <vector>

#include <fmt/format.h>

#include "vast_turn/base/problem.hpp"
#include "vast_turn/emit/c_source.hpp"
#include "vast_turn/emit/frames.hpp"
#include "wire/frame_content.hpp"
#include "wire/put_senses.hpp"
#include "wire/talk.hpp"

namespace vast_turn {

namespace {

/// In frames.
class FrameTalk final : public Talking {
public:
    FrameTalk(Listener& listener, const Plan& plan, const Robot& robot)
        : listener_(listener), senses_(asked_senses(plan, robot)) {
        next_frame({frames::hello}, 6);
        FrameReader hello(ear_.content(), 4);
        const std::uint32_t version = hello.whole(1);
        number_bytes_ = hello.whole(1);
        const std::uint32_t mark = hello.whole(2);
        const std::uint32_t senses = hello.whole(1);
        const std::uint32_t sensors = hello.whole(1);
        if (version != 1 || (number_bytes_ != 4 && number_bytes_ != 8)) {
            throw listener_.complaint("it speaks another version of the short form", "export it anew");
        }
        if (mark != program_mark(plan, robot) || sensors != robot.sensors.size() ||
            senses != senses_bytes(senses_, number_bytes_)) {
            throw listener_.complaint(fmt::format("it was made of another plan than {} or for another robot than {}",
                                                  plan.file(), robot.file),
                                      "export this plan with --robot and this file, and build it anew");
        }
    }

    ProgramReply ask(const Look& look) override {
        FrameContent content(number_bytes_);
        put_senses(content, senses_, look);
        listener_.send(content.framed(frames::senses));
        ProgramReply reply;
        while (next_frame({frames::said, frames::answer}, 0) == frames::said) {
            FrameReader said(ear_.content(), number_bytes_);
            const auto kind = static_cast<EventKind>(said.whole(1));
            const auto what = static_cast<std::uint16_t>(said.whole(2));
            reply.answer.add(kind, what, kind == EventKind::tell ? said.number() : 0.0);
        }
        if (ear_.length() != static_cast<int>(9 + 2 * number_bytes_)) {
            throw listener_.complaint("its answer has another length than it should", "export it anew");
        }
        FrameReader answer(ear_.content(), number_bytes_);
        reply.answer.left_pct = power(answer.number());
        reply.answer.right_pct = power(answer.number());
        reply.answer.rule = RuleId(answer.whole(2));
        reply.answer.block = static_cast<std::uint16_t>(answer.whole(2));
        reply.answer.halted = answer.whole(1) != 0;
        reply.took_ms = answer.whole(4) / 1000.0;
        return reply;
    }

private:
    double power(double pct) const {
        if (!std::isfinite(pct)) {
            throw listener_.complaint("it answered a power that is no number", "let powers be -100 to 100");
        }
        return std::clamp(pct, -100.0, 100.0);
    }

    /// The next frame of one of these kinds; others are passed over, as what a robot tells unasked.
    std::uint8_t next_frame(const std::vector<std::uint8_t>& wanted, int length) {
        constexpr int most_passed_over = 1 << 20;
        for (int passed = 0; passed < most_passed_over; ++passed) {
            const std::uint8_t kind = ear_.hears(static_cast<std::uint8_t>(listener_.next_byte()));
            const bool is_wanted = kind != 0 && std::find(wanted.begin(), wanted.end(), kind) != wanted.end();
            if (is_wanted && (length == 0 || ear_.length() == length)) {
                return kind;
            }
        }
        throw listener_.complaint("it says much, but nothing that was asked", "export it anew");
    }

    Listener& listener_;
    std::vector<SenseField> senses_;
    std::size_t number_bytes_ = 4;
    frames::Ear ear_;
};

} // namespace

std::unique_ptr<Talking> talk_in_frames(Listener& listener, const Plan& plan, const Robot& robot) {
    return std::make_unique<FrameTalk>(listener, plan, robot);
}

} // namespace vast_turn
