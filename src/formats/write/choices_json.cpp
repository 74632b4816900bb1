
#include "vast_turn/formats/write/choices_json.hpp"

#include "formats/write/json_text.hpp"

namespace vast_turn {

namespace {

const char* end_word(ArmEnd end) {
    switch (end) {
    case ArmEnd::exit: return "exit";
    case ArmEnd::halted: return "halted";
    case ArmEnd::lost: return "lost";
    case ArmEnd::stayed: return "stayed";
    }
    return "";
}

Json arm_object(const RouteGraph& graph, const Arm& arm) {
    const Node& node = graph.node(arm.node);
    Json exits = Json::array();
    for (std::size_t e = 0; e < arm.taken.size(); ++e) {
        exits.push_back({{"to", arm_name(graph, arm.node, ExitId(e))},
                         {"turn", name_of(turn_between(node, arm.from, ExitId(e)))},
                         {"robots", arm.taken[e]}});
    }
    Json by_turns = Json::array();
    for (const ExitId exit : arm.by_turns) {
        by_turns.push_back(exit ? Json(arm_name(graph, arm.node, exit)) : Json(nullptr));
    }
    return {{"at", node.name},
            {"from", arm_name(graph, arm.node, arm.from)},
            {"robots", arm.robots},
            {"exits", exits},
            {"halted", arm.halted},
            {"lost", arm.lost},
            {"stayed", arm.stayed},
            {"usual", end_word(arm.usual)},
            {"share", arm.share},
            {"in_rounds", arm.in_rounds},
            {"by_turns", by_turns},
            {"stayed_because", arm.stayed_because.empty() ? Json(nullptr) : Json(arm.stayed_because)}};
}

} // namespace

std::string choices_json(const RouteGraph& graph, const std::vector<PlanChoices>& all) {
    Json plans = Json::array();
    for (const PlanChoices& one : all) {
        Json arms = Json::array();
        for (const Arm& arm : one.arms) {
            arms.push_back(arm_object(graph, arm));
        }
        Json reach = Json::array();
        for (const Reach& way : one.reach) {
            Json nodes = Json::array();
            for (const NodeId node : way.nodes) {
                nodes.push_back(graph.node(node).name);
            }
            reach.push_back({{"start", way.start},
                             {"nodes", nodes},
                             {"circles", way.circles},
                             {"loop_from", way.loop_from},
                             {"end", end_word(way.end)},
                             {"share", way.share},
                             {"towards", way.towards ? Json(graph.node(way.towards).name) : Json(nullptr)},
                             {"to_go_mm", way.to_go_mm},
                             {"in_place", way.in_place.empty() ? Json(nullptr) : Json(way.in_place)}});
        }
        plans.push_back({{"plan", one.plan.name()}, {"file", one.plan.file()}, {"choices", arms}, {"reach", reach}});
    }
    return written({{"plans", plans}});
}

} // namespace vast_turn
