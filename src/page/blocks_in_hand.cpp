#include "page/blocks_in_hand.hpp"

namespace vast_turn {

void BlocksInHand::look(const Mind& mind, const Look& look) {
    const runtime::Machine& machine = mind.machine();
    const double t_s = look.clock_ms / 1000.0;
    std::vector<InHand> next;
    Key key;
    for (int i = 0; i < machine.depth(); ++i) {
        const auto at = static_cast<std::size_t>(i);
        InHand one{machine.frame(i).block, machine.come_in(i, look).ms, 0.0};
        // One that began anew has been in hand for less long than before; one that was held for longer than it tells.
        const bool goes_on = at < now_.size() && now_[at].block == one.block && one.ms >= now_[at].ms;
        one.begun_s = goes_on ? now_[at].begun_s : t_s - one.ms / 1000.0;
        key.emplace_back(one.block, one.begun_s);
        next.push_back(one);
    }
    now_ = std::move(next);
    const auto [found, is_new] = known_.try_emplace(key, list_.size());
    if (is_new) {
        list_.push_back(key);
    }
    numbers_.push_back(static_cast<double>(found->second));
}

Json BlocksInHand::json() const {
    Json json = Json::array();
    for (const Key& key : list_) {
        Json hand = Json::array();
        for (const auto& [block, begun_s] : key) {
            hand.push_back(Json::array({plan_.blocks()[block], thousandths(begun_s)}));
        }
        json.push_back(std::move(hand));
    }
    return json;
}

} // namespace vast_turn
