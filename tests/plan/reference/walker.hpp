#pragma once

/// A plain tree walker for plans, written from the language page.

#include <deque>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "plan/reference/model.hpp"

namespace reference {

/// What a plan answers.
struct Said {
    double left = 0.0;
    double right = 0.0;
    bool halted = false;
    std::vector<std::string> events; ///< "note here", "tell arm 3", "unanswered", "cut short"
    bool operator==(const Said&) const = default;
};

/// Where the robot stands, as it tells itself.
struct Stand {
    double ms = 0.0;
    double way = 0.0;
    std::map<std::string, double> heading; ///< by source; "" the best
    double left = 0.0;
    double right = 0.0;
    double looks = 0.0;
    void shift(const Stand& by, const Stand& from);
};

class Walker {
public:
    explicit Walker(Plan plan);
    Said look(const vast_turn::Look& in, const std::vector<std::string>& places, const std::vector<std::string>& heard);

private:
    /// Values that `as` gives for the arguments of a habit.
    struct Given {
        std::vector<Ex> values;
        const Given* outer = nullptr;
    };
    /// A rule with memory of its own.
    struct OwnRule {
        Rule rule;
        const Given* given = nullptr;
    };
    struct FreshPart {
        const Ex* part = nullptr;
        const OwnRule* guard = nullptr;
        bool in_limit = false;
    };
    struct Body {
        std::deque<OwnRule> guards;
        std::deque<OwnRule> rules;
        std::vector<FreshPart> fresh;
    };
    struct Followed {
        int looks = 0;
        double since = 0.0;
        bool now = false;
        bool before = false;
        int spent_look = 0; ///< in which a rule acted on its news last
    };
    struct Pid {
        bool called = false;
        int look = 0;
        double ms = 0.0;
        double error = 0.0;
        double sum = 0.0;
        double value = 0.0;
    };
    /// A list of items that is gone through; of a loop or branch within another list.
    struct Place {
        const std::vector<Item>* list = nullptr;
        std::size_t at = 0;
        const Item* loop = nullptr;
        double rounds = 0.0;
        double count = 0.0;
        double factor = 1.0;
        double scale = 1.0;
        int round_look = 0;
        bool waits = false;
        Stand began;
    };
    enum class News { none, news, spent };
    struct Active {
        int block = -1;
        const std::vector<Ex>* given = nullptr; ///< argument expressions of its `do`; null after `become`
        int caller = -1;
        const Given* caller_given = nullptr;
        std::vector<double> arguments;
        const OwnRule* by_guard = nullptr;
        Stand began;
        std::map<const Ex*, News> news;
        std::map<const Ex*, int> limit_news; ///< 0 not yet false, 1 false, 2 news
        std::map<const Ex*, Pid> pids;
        std::map<const OwnRule*, int> guard_look;
        const OwnRule* acting = nullptr;
        int acted_look = 0;
        std::vector<Place> path;
        bool item_begun = false;
        Stand item_began;
        double amount = 0.0;
    };
    enum class Then { acted, go_on, over };
    /// In whose words an expression is read.
    struct Env {
        Active* active = nullptr; ///< null: the plan, or the world alone
        const Stand* began = nullptr;
        const Given* given = nullptr;
    };

    void prepare();
    void add_rules(const std::vector<Rule>& rules, const Given* given, std::deque<OwnRule>& list);
    void find_fresh(const Ex& e, const OwnRule* guard, bool in_limit, std::vector<FreshPart>& list);
    void find_fresh(const std::vector<Item>& items, std::vector<FreshPart>& list);
    Body body_of(const std::vector<Rule>& guards, const std::vector<Rule>& rules, const std::vector<Item>& items);

    void follow(const Ex& e);
    void follow(const std::vector<Item>& items);
    void follow_all();
    void freshen(Active& active, const Body& body, bool innermost);

    double value(const Ex& e, const Env& env);
    double number(const Ex& e, const Env& env);
    double input(const Ex& e, const Env& env) const;
    double pid(const Ex& e, const Env& env);
    double ramp(const Ex& e, const Env& env);
    bool holds(const Ex& e, const Env& env) { return value(e, env) > 0.5; }
    static double kept(double x);

    void refresh(bool with_pid);
    void find_pid_params();
    bool has_pid(const Ex& e, int block) const;
    Active make_active(int block) const;
    void begin(Active& active);
    bool transfer();
    Then enter(const Act& act, int caller, const Given* given, const OwnRule* guard);
    Then become(const Act& act, int at, const Env& env);
    Then end(std::size_t at);
    void come_back(bool from_guard);

    bool asleep(const OwnRule& guard) const;
    bool guards(Active& owner, Body& body, int at);
    Then perform(const Act* acts, std::size_t count, const Given* given, bool begins, int at, const OwnRule* guard);
    Then leave(const Act& act, int at, const Given* given, const OwnRule* guard);
    void give(const Act& motion, const Env& env);
    void limits();
    Then decide();
    Then habit();
    Then errand();
    Then go(Active& active);
    Then list_end(Active& active);
    bool limit_over(Active& active, const Item& item);
    double done(const Active& active, const Item& item);
    void begin_item(Active& active, const Item& item);
    void arm(Active& active, const Ex& e);
    Env env_of(int at) {
        return {&active_[static_cast<std::size_t>(at)], &active_[static_cast<std::size_t>(at)].began, nullptr};
    }

    Plan plan_;
    std::deque<Given> givens_;
    std::vector<std::vector<bool>> given_pid_; ///< by block and argument
    Body plan_body_;
    std::deque<Body> bodies_; // stays where it is: rules are pointed at
    std::map<const Ex*, Followed> followed_;
    std::vector<double> vars_;
    std::deque<Active> active_;
    Active plan_active_; ///< memory of the plan-wide guards
    Stand stand_;
    const vast_turn::Look* in_ = nullptr;
    const std::vector<std::string>* places_ = nullptr;
    const std::vector<std::string>* heard_ = nullptr;
    Said said_;
    double left_ = 0.0;
    double right_ = 0.0;
    double offset_ = 0.0;
    int look_ = 0;
    int free_look_ = 0;
    int transfers_ = 0;
    bool was_held_ = false;
    bool moved_ = false;
    bool over_ = false;
};

} // namespace reference
