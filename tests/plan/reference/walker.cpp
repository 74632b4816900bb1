#include "plan/reference/walker.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

namespace reference {

namespace {

Ex negative(Ex e) { return {"-", {}, 0.0, e.type, {e}}; }

/// Left and right exchanged; `side_wanted` where a looked-up side mirrors by itself.
Ex mirrored(const Ex& e, int sensors, bool side_wanted) {
    Ex out = e;
    if (e.op == "pattern") {
        std::reverse(out.text.begin(), out.text.end());
    } else if (e.op == "side") {
        out.number = side_wanted ? -e.number : e.number;
        out.text = out.number > 0.0 ? "left" : "right";
    } else if (e.op == "let" && e.type == Type::side && side_wanted) {
        out = {"flipped", e.text, e.number, e.type, {e}}; // its value is written out, so it is exchanged
    } else if (e.op == "marker") {
        out.text = e.text == "left" ? "right" : e.text == "right" ? "left" : e.text;
    } else if (e.op == "sensor" || e.op == "raw") {
        out.args[0].number = sensors + 1 - e.args[0].number;
    } else if (e.op == "offset" || e.op == "heading") {
        out = negative(e);
    } else if (e.op == "last_side" || ((e.op == "var" || e.op == "param") && e.type == Type::side)) {
        out = side_wanted ? e : negative(e);
    } else {
        const bool sides = (e.op == "==" || e.op == "!=") && e.args[0].type == Type::side;
        const bool keeps = e.op == "rolled" || (e.op == "-" && e.type == Type::side && side_wanted) || sides;
        for (Ex& arg : out.args) {
            arg = mirrored(arg, sensors, keeps);
        }
    }
    return out;
}

Rule twin(const Rule& rule, int sensors) {
    Rule out = rule;
    out.is_mirrored = false;
    out.condition = mirrored(rule.condition, sensors, false);
    for (Act& act : out.acts) {
        for (std::size_t i = 0; i < act.args.size(); ++i) {
            const bool motion_side = (act.op == "rotate" || act.op == "pivot") && i == 0;
            const bool value_side = act.op == "set" || act.op == "track" || act.op == "do" || act.op == "become";
            act.args[i] = mirrored(act.args[i], sensors, motion_side || (value_side && act.args[i].type == Type::side));
        }
        if (act.op == "wheels") {
            std::swap(act.args[0], act.args[1]);
        } else if (act.op == "bend") {
            act.args[0] = negative(act.args[0]);
        }
    }
    return out;
}

} // namespace

void Stand::shift(const Stand& to, const Stand& from) {
    ms += to.ms - from.ms;
    way += to.way - from.way;
    for (auto& [source, degrees] : heading) {
        degrees += to.heading.at(source) - from.heading.at(source);
    }
    left += to.left - from.left;
    right += to.right - from.right;
    looks += to.looks - from.looks;
}

Walker::Walker(Plan plan) : plan_(std::move(plan)) {
    for (const Value& var : plan_.vars) {
        vars_.push_back(var.number);
    }
    prepare();
    find_pid_params();
}

void Walker::prepare() {
    plan_body_ = body_of(plan_.guards, {}, {});
    for (const Block& block : plan_.blocks) {
        bodies_.push_back(body_of(block.guards, block.rules, block.items));
    }
}

Walker::Body Walker::body_of(const std::vector<Rule>& guards, const std::vector<Rule>& rules,
                             const std::vector<Item>& items) {
    Body body;
    add_rules(guards, nullptr, body.guards);
    add_rules(rules, nullptr, body.rules);
    for (const OwnRule& guard : body.guards) {
        find_fresh(guard.rule.condition, &guard, false, body.fresh);
    }
    for (const OwnRule& rule : body.rules) {
        find_fresh(rule.rule.condition, nullptr, false, body.fresh);
    }
    find_fresh(items, body.fresh);
    return body;
}

void Walker::add_rules(const std::vector<Rule>& rules, const Given* given, std::deque<OwnRule>& list) {
    for (const Rule& rule : rules) {
        if (rule.as_block >= 0) {
            givens_.push_back({rule.as_args, given});
            add_rules(plan_.blocks[static_cast<std::size_t>(rule.as_block)].rules, &givens_.back(), list);
            continue;
        }
        list.push_back({rule, given});
        if (rule.is_mirrored) {
            list.push_back({twin(rule, plan_.sensors), given});
        }
    }
}

void Walker::find_fresh(const Ex& e, const OwnRule* guard, bool in_limit, std::vector<FreshPart>& list) {
    for (const Ex& arg : e.args) {
        find_fresh(arg, guard, in_limit, list);
    }
    if (e.op == "fresh") {
        list.push_back({&e, guard, in_limit});
    }
}

void Walker::find_fresh(const std::vector<Item>& items, std::vector<FreshPart>& list) {
    for (const Item& item : items) {
        find_fresh(item.limit.value, nullptr, true, list);
        find_fresh(item.body, list);
        for (const Branch& branch : item.branches) {
            find_fresh(branch.condition, nullptr, false, list);
            find_fresh(branch.items, list);
        }
    }
}

// --- what goes on in the world -------------------------------------------------------------------------

void Walker::follow(const Ex& e) {
    for (const Ex& arg : e.args) {
        follow(arg);
    }
    if (e.op != "lasting" && e.op != "fresh") {
        return;
    }
    Followed& it = followed_[&e];
    it.before = it.now;
    it.now = holds(e.args[0], {});
    it.looks = it.now ? it.looks + 1 : 0;
    it.since = it.looks == 1 ? in_->clock_ms : it.since;
    if (look_ == 1) {
        it.before = it.now;
    }
    if (e.op == "lasting") {
        const double limit = value(e.args[1], {});
        it.now =
            it.looks > 0 && (e.args[1].type == Type::looks ? it.looks >= limit : in_->clock_ms - it.since >= limit);
    }
}

void Walker::follow(const std::vector<Item>& items) {
    for (const Item& item : items) {
        follow(item.limit.value);
        follow(item.body);
        for (const Branch& branch : item.branches) {
            follow(branch.condition);
            follow(branch.items);
        }
        for (const Ex& arg : item.act.args) {
            follow(arg);
        }
    }
}

void Walker::follow_all() {
    const auto rules = [this](const std::deque<OwnRule>& list) {
        for (const OwnRule& rule : list) {
            follow(rule.rule.condition);
            for (const Act& act : rule.rule.acts) {
                for (const Ex& arg : act.args) {
                    follow(arg);
                }
            }
        }
    };
    for (const Given& given : givens_) {
        for (const Ex& e : given.values) {
            follow(e);
        }
    }
    rules(plan_body_.guards);
    for (std::size_t i = 0; i < bodies_.size(); ++i) {
        rules(bodies_[i].guards);
        rules(bodies_[i].rules);
        follow(plan_.blocks[i].items);
    }
}

/// News for one block in hand, at the start of a look.
void Walker::freshen(Active& active, const Body& body, bool innermost) {
    for (const FreshPart& fresh : body.fresh) {
        const Followed& it = followed_[fresh.part];
        if (fresh.in_limit) {
            int& state = active.limit_news[fresh.part];
            state = !it.now ? 1 : state >= 1 ? 2 : 0;
            continue;
        }
        News& news = active.news[fresh.part];
        const bool hears = fresh.guard != nullptr ? !asleep(*fresh.guard) : innermost;
        if (!it.now) {
            news = News::none;
        } else if (!it.before && hears) {
            news = News::news;
        }
    }
}

// --- values --------------------------------------------------------------------------------------------

double Walker::kept(double x) {
    if (std::isnan(x)) {
        return 0.0;
    }
    return std::clamp(x, -1e12, 1e12);
}

double Walker::input(const Ex& e, const Env& env) const {
    const Stand& from = *env.began;
    if (e.op == "elapsed") {
        return stand_.ms - from.ms;
    }
    if (e.op == "looks") {
        return stand_.looks - from.looks;
    }
    if (e.op == "travelled") {
        return std::abs(stand_.way - from.way);
    }
    return std::abs(stand_.heading.at(e.text) - from.heading.at(e.text)); // turned
}

double Walker::number(const Ex& e, const Env& env) {
    const auto arg = [&](std::size_t i) { return value(e.args[i], env); };
    if (e.op == "+") {
        return kept(arg(0) + arg(1));
    }
    if (e.op == "-") {
        return e.args.size() == 1 ? -arg(0) : kept(arg(0) - arg(1));
    }
    if (e.op == "*") {
        return kept(arg(0) * arg(1));
    }
    if (e.op == "/") {
        const double what = arg(0); // asked in any case: a pid in it is called
        const double by = arg(1);
        return by == 0.0 ? 0.0 : kept(what / by);
    }
    if (e.op == "min") {
        return std::min(arg(0), arg(1));
    }
    if (e.op == "max") {
        return std::max(arg(0), arg(1));
    }
    if (e.op == "abs") {
        return std::abs(arg(0));
    }
    if (e.op == "clamp") {
        return std::max(arg(1), std::min(arg(0), arg(2)));
    }
    if (e.op == "rolled") {
        const Stand& from = *env.began;
        return arg(0) > 0.0 ? std::abs(stand_.left - from.left) : std::abs(stand_.right - from.right);
    }
    return e.op == "pid" ? pid(e, env) : ramp(e, env);
}

double Walker::value(const Ex& e, const Env& env) {
    const auto arg = [&](std::size_t i) { return value(e.args[i], env); };
    const auto said = [](bool b) { return b ? 1.0 : 0.0; };
    if (e.op == "number" || e.op == "side" || e.op == "truth") {
        return e.number;
    }
    if (e.op == "let") {
        return plan_.lets[static_cast<std::size_t>(e.number)].number;
    }
    if (e.op == "flipped") {
        return -arg(0);
    }
    if (e.op == "var") {
        return vars_[static_cast<std::size_t>(e.number)];
    }
    if (e.op == "param") {
        const auto i = static_cast<std::size_t>(e.number);
        return env.given != nullptr ? value(env.given->values[i], {env.active, env.began, env.given->outer})
                                    : env.active->arguments[i];
    }
    if (e.op == "pattern") {
        for (std::size_t i = 0; i < e.text.size(); ++i) {
            const bool line = ((in_->line_bits >> i) & 1U) != 0;
            if (e.text[i] != '?' && (e.text[i] == '#') != line) {
                return 0.0;
            }
        }
        return 1.0;
    }
    if (e.op == "marker") {
        std::uint16_t bits = in_->markers;
        if (!e.text.empty()) {
            bits = in_->markers_at[std::find(places_->begin(), places_->end(), e.text) - places_->begin()];
        }
        return said(((bits >> static_cast<unsigned>(e.number)) & 1U) != 0);
    }
    if (e.op == "heard") {
        const auto bit = static_cast<unsigned>(std::find(heard_->begin(), heard_->end(), e.text) - heard_->begin());
        return said(((in_->heard >> bit) & 1U) != 0);
    }
    static const std::map<std::string, double vast_turn::Look::*> plain = {{"last_side", &vast_turn::Look::last_side},
                                                                           {"clock", &vast_turn::Look::clock_ms},
                                                                           {"range", &vast_turn::Look::range_mm},
                                                                           {"heading", &vast_turn::Look::heading_deg},
                                                                           {"battery", &vast_turn::Look::battery_pct}};
    if (const auto at = plain.find(e.op); at != plain.end()) {
        return in_->*at->second;
    }
    if (e.op == "offset") {
        return plan_.weights.empty() ? in_->offset : offset_;
    }
    if (e.op == "seen") {
        int count = 0;
        for (int i = 0; i < plan_.sensors; ++i) {
            count += (in_->line_bits >> i) & 1;
        }
        return count;
    }
    if (e.op == "button") {
        return said(in_->button);
    }
    if (e.op == "sensor" || e.op == "raw") {
        const auto k = static_cast<std::size_t>(e.args[0].number - 1.0);
        return e.op == "sensor" ? in_->sensor[k] : in_->raw[k];
    }
    if (e.op == "elapsed" || e.op == "looks" || e.op == "travelled" || e.op == "turned") {
        return input(e, env);
    }
    if (e.op == "not") {
        return said(!(arg(0) > 0.5));
    }
    if (e.op == "and" || e.op == "or") {
        const bool a = arg(0) > 0.5;
        const bool b = arg(1) > 0.5;
        return said(e.op == "and" ? a && b : a || b);
    }
    if (e.op == "lasting") {
        return said(followed_[&e].now);
    }
    if (e.op == "fresh") {
        const auto limit = env.active->limit_news.find(&e);
        return limit != env.active->limit_news.end() ? said(limit->second == 2)
                                                     : said(env.active->news[&e] == News::news);
    }
    static const std::map<std::string, bool (*)(double, double)> tests = {
        {"<", [](double a, double b) { return a < b; }},   {"<=", [](double a, double b) { return a <= b; }},
        {">", [](double a, double b) { return a > b; }},   {">=", [](double a, double b) { return a >= b; }},
        {"==", [](double a, double b) { return a == b; }}, {"!=", [](double a, double b) { return a != b; }}};
    if (const auto test = tests.find(e.op); test != tests.end()) {
        return said(test->second(arg(0), arg(1)));
    }
    return number(e, env);
}

double Walker::pid(const Ex& e, const Env& env) {
    Pid& memory = env.active->pids[&e];
    if (memory.called && memory.look == look_) {
        return memory.value;
    }
    const double error = value(e.args[0], env);
    const double kp = value(e.args[1], env);
    const double ki = value(e.args[2], env);
    const double kd = value(e.args[3], env);
    const double passed = stand_.ms - memory.ms;
    const bool in_a_row = memory.called && memory.look >= free_look_ && passed > 0.0;
    double out = kp * error;
    if (in_a_row) {
        memory.sum = kept(memory.sum + error * passed / 1000.0);
    }
    if (memory.called) {
        double part = ki * memory.sum;
        if (std::abs(part) > 100.0) {
            part = part > 0.0 ? 100.0 : -100.0;
            memory.sum = part / ki;
        }
        out += part;
    }
    if (in_a_row) {
        out += kd * kept((error - memory.error) * 1000.0 / passed);
    }
    out = kept(out);
    memory = {true, look_, stand_.ms, error, memory.sum, out};
    return out;
}

double Walker::ramp(const Ex& e, const Env& env) {
    Active& active = *env.active;
    const Place& place = active.path.back();
    const double way = done(active, (*place.list)[place.at]);
    const double part = active.amount > 0.0 ? std::clamp(way / active.amount, 0.0, 1.0) : 1.0;
    const double from = value(e.args[0], env);
    const double to = value(e.args[1], env);
    return kept(from + kept((to - from) * part));
}

// --- blocks --------------------------------------------------------------------------------------------

/// Which arguments some call gives a pid, also through others.
void Walker::find_pid_params() {
    given_pid_.resize(plan_.blocks.size());
    for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
        given_pid_[i].resize(plan_.blocks[i].params.size(), false);
    }
    for (bool changed = true; changed;) {
        changed = false;
        const auto call = [&](int callee, const std::vector<Ex>& args, int caller) {
            for (std::size_t k = 0; k < args.size(); ++k) {
                if (!given_pid_[static_cast<std::size_t>(callee)][k] && has_pid(args[k], caller)) {
                    given_pid_[static_cast<std::size_t>(callee)][k] = changed = true;
                }
            }
        };
        const auto act = [&](const Act& a, int caller) {
            if (a.op == "do" || a.op == "become") {
                call(a.number, a.args, caller);
            }
        };
        const auto rules = [&](const std::vector<Rule>& list, int caller) {
            for (const Rule& rule : list) {
                if (rule.as_block >= 0) {
                    call(rule.as_block, rule.as_args, caller);
                }
                for (const Act& a : rule.acts) {
                    act(a, caller);
                }
            }
        };
        rules(plan_.guards, -1);
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            const int caller = static_cast<int>(i);
            rules(plan_.blocks[i].guards, caller);
            rules(plan_.blocks[i].rules, caller);
            std::vector<const std::vector<Item>*> open = {&plan_.blocks[i].items};
            while (!open.empty()) {
                const std::vector<Item>& items = *open.back();
                open.pop_back();
                for (const Item& item : items) {
                    act(item.act, caller);
                    open.push_back(&item.body);
                    for (const Branch& branch : item.branches) {
                        open.push_back(&branch.items);
                    }
                }
            }
        }
    }
}

bool Walker::has_pid(const Ex& e, int block) const {
    if (e.op == "pid") {
        return true;
    }
    if (e.op == "param" && block >= 0) {
        return given_pid_[static_cast<std::size_t>(block)][static_cast<std::size_t>(e.number)];
    }
    return std::any_of(e.args.begin(), e.args.end(), [&](const Ex& arg) { return has_pid(arg, block); });
}

/// Arguments by the caller's values: those without a pid at the start of a look, the others when it acts.
void Walker::refresh(bool with_pid) {
    for (std::size_t i = 1; i < active_.size(); ++i) {
        Active& active = active_[i];
        if (active.given == nullptr) {
            continue;
        }
        const std::vector<bool>& with = given_pid_[static_cast<std::size_t>(active.block)];
        Env env{&plan_active_, &plan_active_.began, active.caller_given};
        if (active.caller >= 0) {
            env = env_of(active.caller);
            env.given = active.caller_given;
        }
        for (std::size_t k = 0; k < with.size(); ++k) {
            if (with[k] == with_pid) {
                active.arguments[k] = value((*active.given)[k], env);
            }
        }
    }
}

void Walker::begin(Active& active) {
    active.began = active.item_began = stand_;
    active.news.clear();
    active.limit_news.clear();
    active.pids.clear();
    active.guard_look.clear();
    active.acting = nullptr;
    active.item_begun = false;
    active.path.clear();
    const Block& block = plan_.blocks[static_cast<std::size_t>(active.block)];
    if (block.is_errand) {
        active.path.push_back({});
        active.path.back().list = &block.items;
    }
    for (const FreshPart& fresh : bodies_[static_cast<std::size_t>(active.block)].fresh) {
        const Followed& it = followed_[fresh.part];
        if (fresh.in_limit) {
            active.limit_news[fresh.part] = 0;
        } else {
            active.news[fresh.part] = it.now && !it.before && it.spent_look != look_ ? News::news : News::none;
        }
    }
}

bool Walker::transfer() {
    if (transfers_ == 16) {
        said_.events.emplace_back("cut short");
        return false;
    }
    ++transfers_;
    return true;
}

Walker::Then Walker::enter(const Act& act, int caller, const Given* given, const OwnRule* guard) {
    Env env{&plan_active_, &plan_active_.began, given};
    if (caller >= 0) {
        env = env_of(caller);
        env.given = given;
    }
    Active made;
    made.block = act.number;
    made.given = &act.args;
    made.caller = caller;
    made.caller_given = given;
    made.by_guard = guard;
    for (const Ex& arg : act.args) {
        made.arguments.push_back(value(arg, env));
    }
    active_.push_back(std::move(made));
    begin(active_.back());
    return Then::go_on;
}

Walker::Then Walker::become(const Act& act, int at, const Env& env) {
    std::vector<double> arguments;
    for (const Ex& arg : act.args) {
        arguments.push_back(value(arg, env));
    }
    active_.resize(static_cast<std::size_t>(at) + 1);
    Active& active = active_.back();
    active.block = act.number;
    active.given = nullptr;
    active.arguments = std::move(arguments);
    begin(active);
    return Then::go_on;
}

Walker::Then Walker::end(std::size_t at) {
    const bool from_guard = active_[at].by_guard != nullptr;
    active_.resize(at);
    if (at == 0) {
        return Then::over;
    }
    come_back(from_guard);
    return Then::go_on;
}

void Walker::come_back(bool from_guard) {
    Active& active = active_.back();
    for (const FreshPart& fresh : bodies_[static_cast<std::size_t>(active.block)].fresh) {
        const Followed& it = followed_[fresh.part];
        const bool rises = it.now && !it.before;
        if (!fresh.in_limit && fresh.guard == nullptr && rises && active.news[fresh.part] != News::spent) {
            active.news[fresh.part] = News::news;
        }
    }
    active.acting = nullptr;
    if (!active.path.empty() && !from_guard) {
        ++active.path.back().at;
        active.item_begun = false;
    }
}

// --- rules ---------------------------------------------------------------------------------------------

bool Walker::asleep(const OwnRule& guard) const {
    if (guard.rule.acts.back().op != "do") {
        return false;
    }
    return std::any_of(active_.begin(), active_.end(), [&](const Active& active) {
        return active.by_guard == &guard || active.block == guard.rule.acts.back().number;
    });
}

void Walker::give(const Act& motion, const Env& env) {
    moved_ = true;
    const auto arg = [&](std::size_t i) { return value(motion.args[i], env); };
    double left = left_;
    double right = right_;
    if (motion.op == "wheels") {
        left = arg(0);
        right = arg(1);
    } else if (motion.op == "ahead") {
        left = right = arg(0);
    } else if (motion.op == "bend") {
        const double k = arg(0);
        const double p = arg(1);
        left = p - k;
        right = p + k;
    } else if (motion.op == "pivot" || motion.op == "rotate") {
        const bool to_left = arg(0) > 0.0;
        const double p = arg(1);
        const double other = motion.op == "pivot" ? 0.0 : -p;
        left = to_left ? other : p;
        right = to_left ? p : other;
    } else if (motion.op == "still") {
        left = right = 0.0;
    }
    left_ = std::clamp(left, -100.0, 100.0);
    right_ = std::clamp(right, -100.0, 100.0);
}

/// Acts as they are written. `at` is the block in hand in which they stand, -1 for the plan.
Walker::Then Walker::perform(const Act* acts, std::size_t count, const Given* given, bool begins, int at,
                             const OwnRule* guard) {
    Env env{&plan_active_, &plan_active_.began, given};
    if (at >= 0) {
        env = env_of(at);
        env.given = given;
    }
    for (const Act* next = acts; next != acts + count; ++next) {
        const Act& act = *next;
        if (act.op == "do" || act.op == "become" || act.op == "done" || act.op == "halt" || act.op == "hold") {
            return leave(act, at, given, guard);
        }
        if (act.op == "track" || (act.op == "set" && begins)) {
            vars_[static_cast<std::size_t>(act.number)] = value(act.args[0], env);
        } else if (act.op == "note" || act.op == "light" || act.op == "sound") {
            if (begins) {
                said_.events.push_back(act.op + " " + act.text);
            }
        } else if (act.op == "tell") {
            if (begins) {
                said_.events.push_back(fmt::format("tell {} {}", act.text, value(act.args[0], env)));
            }
        } else if (act.op != "set") {
            give(act, env);
        }
    }
    return Then::acted;
}

Walker::Then Walker::leave(const Act& act, int at, const Given* given, const OwnRule* guard) {
    if (act.op == "halt") {
        return Then::over;
    }
    if (act.op == "hold") {
        was_held_ = true;
        return Then::acted;
    }
    if (!transfer()) {
        if (at >= 0) {
            active_[static_cast<std::size_t>(at)].acting = nullptr;
            active_[static_cast<std::size_t>(at)].item_begun = false;
        }
        return Then::acted;
    }
    if (act.op == "do") {
        return enter(act, at, given, guard);
    }
    if (act.op == "become") {
        Env env{&plan_active_, &plan_active_.began, given};
        if (at >= 0) {
            env = env_of(at);
            env.given = given;
        }
        return become(act, std::max(at, 0), env);
    }
    return at < 0 ? Then::over : end(static_cast<std::size_t>(at));
}

/// Whether a guard of this block (or the plan) takes the look.
bool Walker::guards(Active& owner, Body& body, int at) {
    for (OwnRule& guard : body.guards) {
        if (asleep(guard) || !holds(guard.rule.condition, {&owner, &owner.began, nullptr})) {
            continue;
        }
        std::vector<FreshPart> spent;
        find_fresh(guard.rule.condition, nullptr, false, spent);
        for (const FreshPart& fresh : spent) {
            owner.news[fresh.part] = News::spent;
            followed_[fresh.part].spent_look = look_;
        }
        const bool calls = guard.rule.acts.back().op == "do";
        int& acted = owner.guard_look[&guard];
        const bool begins = acted == 0 || acted < free_look_;
        acted = calls ? 0 : look_;
        moved_ = was_held_ = false;
        if (guard.rule.acts.back().op != "hold") {
            refresh(true);
        }
        const Then then = perform(guard.rule.acts.data(), guard.rule.acts.size(), guard.given, begins, at, &guard);
        if (then == Then::over || then == Then::go_on) {
            over_ = then == Then::over || decide() == Then::over;
            return true;
        }
        if (moved_ || was_held_) {
            return true;
        }
    }
    return false;
}

Walker::Then Walker::habit() {
    const int at = static_cast<int>(active_.size()) - 1;
    Active& active = active_.back();
    for (OwnRule& rule : bodies_[static_cast<std::size_t>(active.block)].rules) {
        if (!rule.rule.is_else && !holds(rule.rule.condition, {&active, &active.began, rule.given})) {
            continue;
        }
        const bool begins = active.acting != &rule || active.acted_look < free_look_;
        active.acting = &rule;
        active.acted_look = look_;
        if (!rule.rule.is_else) {
            std::vector<FreshPart> spent;
            find_fresh(rule.rule.condition, nullptr, false, spent);
            for (const FreshPart& fresh : spent) {
                active.news[fresh.part] = News::spent;
                followed_[fresh.part].spent_look = look_;
            }
        }
        return perform(rule.rule.acts.data(), rule.rule.acts.size(), rule.given, begins, at, nullptr);
    }
    active.acting = nullptr;
    said_.events.emplace_back("unanswered");
    return Then::acted;
}

// --- errands -------------------------------------------------------------------------------------------

double Walker::done(const Active& active, const Item& item) {
    const Stand& from = active.item_began;
    const Limit& limit = item.limit;
    if (!limit.wheel.empty()) {
        Active& same = const_cast<Active&>(active); // values may remember, a side does not
        return value(limit.wheel[0], {&same, &active.item_began, nullptr}) > 0.0 ? std::abs(stand_.left - from.left)
                                                                                 : std::abs(stand_.right - from.right);
    }
    switch (limit.value.type) {
    case Type::mm: return std::abs(stand_.way - from.way);
    case Type::deg: return std::abs(stand_.heading.at(limit.by) - from.heading.at(limit.by));
    case Type::ms: return stand_.ms - from.ms;
    default: return stand_.looks - from.looks;
    }
}

bool Walker::limit_over(Active& active, const Item& item) {
    if (item.limit.word == "till") {
        return holds(item.limit.value, {&active, &active.item_began, nullptr});
    }
    return item.limit.word == "over" && done(active, item) >= active.amount;
}

void Walker::arm(Active& active, const Ex& e) {
    std::vector<FreshPart> parts;
    find_fresh(e, nullptr, true, parts);
    for (const FreshPart& fresh : parts) {
        active.limit_news[fresh.part] = followed_[fresh.part].now ? 0 : 1;
    }
}

void Walker::begin_item(Active& active, const Item& item) {
    active.item_began = stand_;
    active.item_begun = true;
    if (item.limit.word == "till") {
        arm(active, item.limit.value);
    } else if (item.limit.word == "over") {
        active.amount = value(item.limit.value, {&active, &active.item_began, nullptr});
        for (std::size_t i = active.path.size(); i-- > 0;) {
            if (active.path[i].loop != nullptr) {
                active.amount = kept(active.amount * active.path[i].scale);
                break;
            }
        }
    }
}

/// A list of items is through: a round of a loop, a branch, or the errand.
Walker::Then Walker::list_end(Active& active) {
    Place& place = active.path.back();
    if (place.loop == nullptr) {
        active.path.pop_back();
        ++active.path.back().at;
        return Then::go_on;
    }
    const Item& loop = *place.loop;
    place.rounds += place.waits || place.round_look == 0 ? 0.0 : 1.0;
    const bool over = place.rounds >= place.count ||
                      (loop.limit.word == "till" && holds(loop.limit.value, {&active, &place.began, nullptr}));
    if (over) {
        active.path.pop_back();
        ++active.path.back().at;
        return Then::go_on;
    }
    if (place.round_look == look_) {
        place.waits = true;
        return Then::acted;
    }
    place.scale = place.rounds > 0.5 ? kept(place.scale * place.factor) : place.scale;
    place.round_look = look_;
    place.waits = false;
    place.at = 0;
    return Then::go_on;
}

/// One step of the errand that acts.
Walker::Then Walker::go(Active& active) {
    const int at = static_cast<int>(active_.size()) - 1;
    if (active.path.back().at >= active.path.back().list->size()) {
        if (active.path.size() > 1) {
            return list_end(active);
        }
        return transfer() ? end(static_cast<std::size_t>(at)) : Then::acted;
    }
    const Item& item = (*active.path.back().list)[active.path.back().at];
    const Env env = env_of(at);
    if (item.kind == Item::Kind::loop) {
        Place round;
        round.list = &item.body;
        round.loop = &item;
        round.at = item.body.size(); // the first round begins like any other
        round.count = item.count.empty() ? 1e12 : value(item.count[0], env);
        round.factor = item.widening.empty() ? 1.0 : value(item.widening[0], env);
        for (const Place& outer : active.path) {
            round.scale = outer.loop != nullptr ? outer.scale : round.scale;
        }
        round.began = stand_;
        arm(active, item.limit.value);
        active.path.push_back(round);
        return Then::go_on;
    }
    if (item.kind == Item::Kind::choice) {
        for (const Branch& branch : item.branches) {
            if (branch.is_else || holds(branch.condition, env)) {
                std::vector<FreshPart> spent;
                find_fresh(branch.condition, nullptr, false, spent);
                for (const FreshPart& fresh : spent) {
                    active.news[fresh.part] = News::spent;
                    followed_[fresh.part].spent_look = look_;
                }
                Place way;
                way.list = &branch.items;
                active.path.push_back(way);
                return Then::go_on;
            }
        }
        ++active.path.back().at;
        return Then::go_on;
    }
    const bool limited = !item.limit.word.empty();
    const bool is_do = item.act.op == "do";
    if (limited || is_do) {
        if (is_do || !active.item_begun) {
            begin_item(active, item);
        }
        if (limit_over(active, item)) {
            ++active.path.back().at;
            active.item_begun = false;
            return Then::go_on;
        }
        if (is_do) {
            if (!transfer()) {
                active.item_begun = false;
                return Then::acted;
            }
            return enter(item.act, at, nullptr, nullptr);
        }
        give(item.act, env);
        return Then::acted;
    }
    if (item.act.op == "done" || item.act.op == "halt" || item.act.op == "become") {
        return leave(item.act, at, nullptr, nullptr);
    }
    perform(&item.act, 1, nullptr, true, at, nullptr);
    ++active.path.back().at;
    return Then::go_on;
}

Walker::Then Walker::errand() { return go(active_.back()); }

// --- one look ------------------------------------------------------------------------------------------

void Walker::limits() {
    for (std::size_t i = 0; i + 1 < active_.size(); ++i) {
        Active& active = active_[i];
        if (active.path.empty() || active_[i + 1].by_guard != nullptr) {
            continue;
        }
        const Item& item = (*active.path.back().list)[active.path.back().at];
        if (!item.limit.word.empty() && limit_over(active, item)) {
            ++transfers_;
            end(i + 1);
            return;
        }
    }
}

Walker::Then Walker::decide() {
    refresh(true);
    Then then = Then::go_on;
    while (then == Then::go_on) {
        then = active_.back().path.empty() ? habit() : errand();
    }
    return then;
}

Said Walker::look(const vast_turn::Look& in, const std::vector<std::string>& places,
                  const std::vector<std::string>& heard) {
    said_ = {};
    in_ = &in;
    places_ = &places;
    heard_ = &heard;
    if (!over_) {
        ++look_;
        transfers_ = 0;
        const Stand before = stand_;
        stand_ = {in.clock_ms,
                  in.way_mm,
                  {{"", in.heading_deg},
                   {"wheels", in.heading_by_wheels_deg},
                   {"gyro", in.heading_by_gyro_deg},
                   {"compass", in.heading_by_compass_deg}},
                  in.left_deg,
                  in.right_deg,
                  static_cast<double>(look_ - 1)};
        if (was_held_) { // what went by does not count
            for (Active& active : active_) {
                active.began.shift(stand_, before);
                active.item_began.shift(stand_, before);
                for (Place& place : active.path) {
                    if (place.loop != nullptr) {
                        place.began.shift(stand_, before);
                    }
                }
                for (auto& [part, memory] : active.pids) {
                    memory.ms += stand_.ms - before.ms;
                }
            }
            for (auto& [part, memory] : plan_active_.pids) {
                memory.ms += stand_.ms - before.ms;
            }
        } else {
            free_look_ = look_ - 1;
        }
        was_held_ = false;
        double sum = 0.0;
        double weighted = 0.0;
        for (std::size_t i = 0; i < plan_.weights.size(); ++i) {
            sum += in.sensor[i];
            weighted += plan_.weights[i] * in.sensor[i];
        }
        offset_ = in.line_bits != 0 && sum > 1e-9 ? weighted / sum : offset_;
        follow_all();
        if (look_ == 1) {
            plan_active_.began = stand_;
            active_.push_back({});
            active_.back().block = 0;
            begin(active_.back());
        } else {
            refresh(false);
        }
        freshen(plan_active_, plan_body_, false);
        for (std::size_t i = 0; i < active_.size(); ++i) {
            freshen(active_[i], bodies_[static_cast<std::size_t>(active_[i].block)], i + 1 == active_.size());
        }
        bool taken = guards(plan_active_, plan_body_, -1);
        const std::size_t in_hand = look_ == 1 ? 0 : active_.size();
        for (std::size_t i = 0; i < in_hand && !taken; ++i) {
            taken = guards(active_[i], bodies_[static_cast<std::size_t>(active_[i].block)], static_cast<int>(i));
        }
        if (!taken) {
            limits();
            over_ = decide() == Then::over;
        }
    }
    if (said_.events.size() > 32) { // no look tells more
        said_.events.resize(32);
    }
    said_.halted = over_;
    said_.left = over_ || was_held_ ? 0.0 : left_;
    said_.right = over_ || was_held_ ? 0.0 : right_;
    return said_;
}

} // namespace reference
