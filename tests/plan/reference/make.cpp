#include <algorithm>

#include <fmt/format.h>

#include "plan/reference/model.hpp"

namespace reference {

namespace {

/// What may stand in an expression at this place.
struct At {
    const Block* block = nullptr; ///< whose arguments can be named
    bool clocks = true;
    bool arguments = true;
    bool fresh = true;
    bool pid = false;
    bool in_condition = true; ///< no argument that may be a pid
    int ramp = 0;             ///< 1 in time, 2 on a way
};

class Maker {
public:
    explicit Maker(std::uint32_t seed) : random_(seed) {}

    Plan run() {
        plan_.sensors = pick(1, 5);
        for (int i = 0; i < plan_.sensors && own_weights_; ++i) {
            plan_.weights.push_back(pick(-10, 10) / 10.0);
        }
        values(plan_.lets, "let", pick(0, 3));
        values(plan_.vars, "var", pick(0, 4));
        plan_.blocks.resize(static_cast<std::size_t>(pick(1, 6)));
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            head(plan_.blocks[i], static_cast<int>(i));
        }
        for (std::size_t i = plan_.blocks.size(); i-- > 0;) {
            body(plan_.blocks[i]);
        }
        const At everywhere;
        for (int i = pick(-2, 2); i > 0; --i) {
            plan_.guards.push_back(guard(everywhere, -1));
        }
        return std::move(plan_);
    }

private:
    int pick(int low, int high) { return low + static_cast<int>(random_() % static_cast<unsigned>(high - low + 1)); }
    bool chance(int percent) { return pick(1, 100) <= percent; }
    template <class T> const T& one(const std::vector<T>& list) {
        return list[static_cast<std::size_t>(pick(0, static_cast<int>(list.size()) - 1))];
    }

    Type any_type() { return static_cast<Type>(pick(0, 6)); }

    void values(std::vector<Value>& list, const char* word, int count) {
        for (int i = 0; i < count; ++i) {
            const Type type = any_type();
            Value value{fmt::format("{}{}", word, i), type, literal(type).number};
            list.push_back(value);
        }
    }

    void head(Block& block, int number) {
        block.name = fmt::format("block{}", number);
        block.is_errand = chance(50);
        block.group = number == 0 ? 0 : plan_.blocks[static_cast<std::size_t>(number - 1)].group + (chance(75) ? 1 : 0);
        for (int i = number == 0 ? 0 : pick(-1, 3); i > 0; --i) {
            Param param{fmt::format("p{}{}", number, static_cast<char>('a' + i)), any_type(), false};
            param.pid = param.type == Type::plain && chance(50);
            block.params.push_back(param);
        }
    }

    void body(Block& block) {
        At at;
        at.block = &block;
        const int number = static_cast<int>(&block - plan_.blocks.data());
        for (int i = pick(-3, 2); i > 0; --i) {
            block.guards.push_back(guard(at, number));
        }
        if (block.is_errand) {
            block.items = items(at, number, 2, pick(1, 4));
            return;
        }
        const int rules = pick(1, 5);
        for (int i = 0; i < rules; ++i) {
            block.rules.push_back(rule(at, number, i > 0 && i + 1 == rules && chance(70)));
        }
        for (const std::vector<Rule>* list : {&block.guards, &block.rules}) {
            for (const Rule& r : *list) {
                const bool out = !r.acts.empty() && (r.acts.back().op == "done" || r.acts.back().op == "halt" ||
                                                     r.acts.back().op == "become");
                block.leaves = block.leaves || out;
            }
        }
    }

    Rule guard(const At& at, int block) {
        Rule made;
        made.is_mirrored = chance(10);
        made.condition = condition(at, 3);
        acts(made, at, block, true);
        made.is_mirrored = made.is_mirrored && !keeps_side_in_sum(made);
        return made;
    }

    /// Whether it keeps, sends or gives a number with a side written in it: with a twin that is an error.
    static bool keeps_side_in_sum(const Rule& rule) {
        const auto has_side = [](const auto& self, const Ex& e) -> bool {
            return e.op == "side" || (e.op == "let" && e.type == Type::side) ||
                   (e.op != "rolled" &&
                    std::any_of(e.args.begin(), e.args.end(), [&](const Ex& arg) { return self(self, arg); }));
        };
        return std::any_of(rule.acts.begin(), rule.acts.end(), [&](const Act& act) {
            const bool keeps =
                act.op == "set" || act.op == "track" || act.op == "tell" || act.op == "do" || act.op == "become";
            return keeps && std::any_of(act.args.begin(), act.args.end(), [&](const Ex& arg) {
                       return arg.type != Type::side && arg.type != Type::truth && has_side(has_side, arg);
                   });
        });
    }

    Rule rule(const At& at, int block, bool is_else) {
        Rule made;
        if (!is_else && chance(12)) {
            const int other = later(block, [](const Block& b) { return !b.is_errand && b.guards.empty(); });
            if (other >= 0) {
                made.as_block = other;
                made.as_args = arguments(at, other);
                return made;
            }
        }
        made.is_else = is_else;
        made.is_mirrored = !is_else && chance(25);
        made.condition = condition(at, 3);
        acts(made, at, block, false);
        made.is_mirrored = made.is_mirrored && !keeps_side_in_sum(made);
        return made;
    }

    At value_at(const At& at) {
        At in = at;
        in.pid = true;
        in.in_condition = false;
        in.fresh = false;
        return in;
    }

    void acts(Rule& made, const At& at, int block, bool is_guard) {
        const At in = value_at(at);
        const bool holds = is_guard && chance(30);
        if (!holds && chance(80)) {
            made.acts.push_back(motion(in));
        }
        for (int i = pick(-2, 2); i > 0; --i) {
            made.acts.insert(made.acts.begin() + pick(0, static_cast<int>(made.acts.size())), side_act(in, true));
        }
        if (holds) {
            made.acts.push_back({"hold", {}, 0, {}});
        } else if (chance(35)) {
            transfer(made.acts, in, block, true);
        }
        if (made.acts.empty()) {
            made.acts.push_back(side_act(in, true));
        }
    }

    /// Appends a transfer, when one is possible.
    void transfer(std::vector<Act>& acts, const At& in, int block, bool calls) {
        const int kind = pick(0, 11);
        if (kind == 0) {
            acts.push_back({"halt", {}, 0, {}});
        } else if (kind <= 3) {
            acts.push_back({"done", {}, 0, {}});
        } else if (kind <= 6 || !calls) {
            const int group = block < 0 ? 0 : plan_.blocks[static_cast<std::size_t>(block)].group;
            const int other = any_block([group](const Block& b) { return b.group >= group; });
            acts.push_back({"become", {}, other, arguments(in, other)});
        } else {
            const int other = later(block, [](const Block&) { return true; });
            if (other >= 0) {
                acts.push_back({"do", {}, other, arguments(in, other)});
            }
        }
    }

    template <class Fits> int any_block(Fits fits) {
        std::vector<int> list;
        for (std::size_t i = 0; i < plan_.blocks.size(); ++i) {
            if (fits(plan_.blocks[i])) {
                list.push_back(static_cast<int>(i));
            }
        }
        return list.empty() ? -1 : one(list);
    }

    /// A block of a later group than that of `block`; for the plan any.
    template <class Fits> int later(int block, Fits fits) {
        const int group = block < 0 ? -1 : plan_.blocks[static_cast<std::size_t>(block)].group;
        return any_block([&](const Block& b) { return b.group > group && fits(b); });
    }

    std::vector<Ex> arguments(const At& at, int block) {
        std::vector<Ex> list;
        for (const Param& param : plan_.blocks[static_cast<std::size_t>(block)].params) {
            At in = value_at(at);
            in.pid = param.pid;
            in.in_condition = !param.pid;
            in.ramp = param.pid || param.type != Type::plain ? 0 : at.ramp;
            list.push_back(value(param.type, in, 2));
        }
        return list;
    }

    Act motion(const At& in) {
        static const std::vector<std::string> words = {"wheels", "ahead", "bend", "pivot", "rotate", "still", "keep"};
        Act made{one(words), {}, 0, {}};
        if (made.op == "pivot" || made.op == "rotate") {
            made.args = {value(Type::side, in, 2), power(in)};
        } else if (made.op == "wheels" || made.op == "bend") {
            made.args = {power(in), power(in)};
        } else if (made.op == "ahead") {
            made.args = {power(in)};
        }
        return made;
    }

    Ex power(const At& in) {
        if (in.ramp != 0 && chance(50)) {
            return {"ramp",
                    {},
                    0.0,
                    Type::plain,
                    {literal_of(Type::plain, pick(1, 90)), literal_of(Type::plain, pick(-90, -1))}};
        }
        return value(Type::plain, in, 2);
    }

    Act side_act(const At& in, bool in_rule) {
        switch (pick(0, plan_.vars.empty() ? 3 : 6)) {
        case 0: return {"light", one(std::vector<std::string>{"green", "red"}), 0, {}};
        case 1: return {"sound", one(std::vector<std::string>{"chirp", "buzz"}), 0, {}};
        case 2: return {"tell", "arm", 0, {value(Type::plain, in, 2)}};
        case 3: return {"note", one(std::vector<std::string>{"here", "there", "a b"}), 0, {}};
        default: break;
        }
        const int var = pick(0, static_cast<int>(plan_.vars.size()) - 1);
        return {in_rule && chance(40) ? "track" : "set",
                {},
                var,
                {value(plan_.vars[static_cast<std::size_t>(var)].type, in, 2)}};
    }

    std::vector<Item> items(const At& at, int block, int depth, int count) {
        std::vector<Item> list;
        for (int i = 0; i < count; ++i) {
            list.push_back(item(at, block, depth));
        }
        std::vector<Act> last;
        if (!takes_no_item(list) && chance(15)) {
            transfer(last, value_at(at), block, false);
            list.push_back({});
            list.back().act = last.front();
        }
        return list;
    }

    /// Whether nothing in it could stop a chain of transfers, as far as the compiler's check goes.
    static bool takes_no_item(const std::vector<Item>& list) {
        return std::all_of(list.begin(), list.end(), [](const Item& item) {
            static const std::vector<std::string> acts = {"note", "light", "sound", "tell", "set"};
            return item.kind == Item::Kind::act && std::find(acts.begin(), acts.end(), item.act.op) != acts.end();
        });
    }

    Item item(const At& at, int block, int depth) {
        Item made;
        const int kind = pick(0, depth > 0 ? 9 : 7);
        if (kind == 8) {
            made.kind = Item::Kind::loop;
            loop(made, at, block, depth);
        } else if (kind == 9) {
            made.kind = Item::Kind::choice;
            for (int i = pick(1, 3); i > 0; --i) {
                made.branches.push_back({false, condition(at, 2), items(at, block, depth - 1, pick(1, 2))});
            }
            if (chance(50)) {
                made.branches.push_back({true, {}, items(at, block, depth - 1, pick(1, 2))});
            }
        } else if (kind <= 1) {
            made.act = side_act(value_at(at), false);
        } else if (kind <= 4) {
            const int other = later(block, [](const Block&) { return true; });
            if (other < 0) {
                made.act = side_act(value_at(at), false);
                return made;
            }
            const Block& callee = plan_.blocks[static_cast<std::size_t>(other)];
            const bool needs = !callee.is_errand && !callee.leaves;
            if (needs || chance(40)) {
                made.limit = limit(at, {Type::mm, Type::ms, Type::deg, Type::looks});
            }
            made.act = {"do", {}, other, arguments(with_ramp(at, made.limit), other)};
        } else {
            moving(made, at);
        }
        return made;
    }

    void moving(Item& made, const At& at) {
        const std::string word = motion(value_at(at)).op;
        std::vector<Type> over = {Type::ms, Type::looks};
        if (word != "rotate" && word != "still") {
            over.push_back(Type::mm);
        }
        if (word != "ahead" && word != "still") {
            over.push_back(Type::deg);
        }
        made.limit = limit(at, over);
        do {
            made.act = motion(value_at(with_ramp(at, made.limit)));
        } while (made.act.op != word);
    }

    static At with_ramp(const At& at, const Limit& limit) {
        At in = at;
        const bool way = limit.value.type == Type::mm || limit.value.type == Type::deg;
        in.ramp = limit.word != "over" ? 0 : way ? 2 : 1;
        return in;
    }

    Limit limit(const At& at, const std::vector<Type>& over) {
        Limit made;
        if (chance(45)) {
            made.word = "till";
            made.value = condition(at, 2);
            return made;
        }
        made.word = "over";
        const Type type = one(over);
        made.value = chance(75) ? literal(type) : value(type, at, 1);
        if (type == Type::deg && chance(50)) {
            made.by = one(std::vector<std::string>{"wheels", "gyro", "compass"});
        } else if (type == Type::deg && chance(60)) {
            made.wheel = {value(Type::side, at, 1)};
        }
        return made;
    }

    void loop(Item& made, const At& at, int block, int depth) {
        if (chance(70)) {
            made.count = {chance(70) ? literal_of(Type::plain, pick(1, 4)) : value(Type::plain, at, 1)};
            if (made.count[0].op == "number" || made.count[0].op == "let") {
                made.count = {literal_of(Type::plain, pick(1, 4))};
            }
        }
        if (made.count.empty() || chance(25)) {
            made.limit.word = "till";
            made.limit.value = condition(at, 2);
        }
        if (chance(50)) {
            made.widening = {literal_of(Type::plain, pick(1, 3))};
        }
        made.body = items(at, block, depth - 1, pick(1, 3));
    }

    /// A number that means what its text does: 13mm is written 1.3cm.
    static Ex literal_of(Type type, int whole) {
        Ex e{"number", {}, static_cast<double>(whole), type, {}};
        const int turn = (whole < 0 ? -whole : whole) % 4;
        if (type == Type::mm && turn == 1) {
            e.number = whole / 10.0 * 10.0;
        } else if ((type == Type::mm || type == Type::ms) && turn == 2) {
            e.number = whole / 1000.0 * 1000.0;
        }
        return e;
    }

    Ex literal(Type type) {
        switch (type) {
        case Type::plain: return literal_of(type, pick(-120, 120));
        case Type::mm: return literal_of(type, pick(0, 40));
        case Type::ms: return literal_of(type, pick(0, 60));
        case Type::deg: return literal_of(type, pick(0, 50));
        case Type::looks: return literal_of(type, pick(1, 5));
        case Type::side: {
            const bool left = chance(50);
            return {"side", left ? "left" : "right", left ? 1.0 : -1.0, type, {}};
        }
        case Type::truth: {
            const bool yes = chance(50);
            return {"truth", yes ? "true" : "false", yes ? 1.0 : 0.0, type, {}};
        }
        }
        return {};
    }

    /// Something of this type that has a name; an empty `op` when there is none.
    Ex named(Type type, const At& at) {
        std::vector<Ex> list;
        const auto add = [&](const char* op, const std::vector<Value>& values) {
            for (std::size_t i = 0; i < values.size(); ++i) {
                if (values[i].type == type) {
                    list.push_back({op, values[i].name, static_cast<double>(i), type, {}});
                }
            }
        };
        add("let", plan_.lets);
        add("var", plan_.vars);
        if (at.block != nullptr && at.arguments) {
            for (std::size_t i = 0; i < at.block->params.size(); ++i) {
                const Param& param = at.block->params[i];
                const bool fits = !param.pid || (!at.in_condition && at.pid);
                if (param.type == type && fits) {
                    list.push_back({"param", param.name, static_cast<double>(i), type, {}});
                }
            }
        }
        return list.empty() ? Ex{} : one(list);
    }

    Ex input(const char* word, Type type) { return {word, {}, 0.0, type, {}}; }

    Ex value(Type type, const At& at, int depth) {
        if (type == Type::truth) {
            At in = at;
            in.fresh = false;
            return condition(in, depth);
        }
        if (chance(30)) {
            const Ex name = named(type, at);
            if (!name.op.empty()) {
                return name;
            }
        }
        if (depth > 0 && chance(45)) {
            return composed(type, at, depth);
        }
        switch (type) {
        case Type::plain: return plain(at);
        case Type::mm:
            return chance(30)                ? input("range", type)
                   : at.clocks && chance(40) ? input("travelled", type)
                                             : literal(type);
        case Type::ms:
            return chance(20) ? input("clock", type) : at.clocks && chance(40) ? input("elapsed", type) : literal(type);
        case Type::deg: return angle(at);
        case Type::looks: return at.clocks && chance(40) ? input("looks", type) : literal(type);
        default: return chance(30) ? input("last_side", type) : literal(type);
        }
    }

    Ex plain(const At& at) {
        (void)at;
        switch (pick(0, 7)) {
        case 0: return {"sensor", {}, 0.0, Type::plain, {literal_sensor()}};
        case 1: return {"raw", {}, 0.0, Type::plain, {literal_sensor()}};
        case 2: return input("offset", Type::plain);
        case 3: return input("seen", Type::plain);
        case 4: return input("battery", Type::plain);
        default: return literal(Type::plain);
        }
    }

    Ex literal_sensor() { return {"number", {}, static_cast<double>(pick(1, plan_.sensors)), Type::side, {}}; }

    Ex angle(const At& at) {
        if (chance(20)) {
            return input("heading", Type::deg);
        }
        if (at.clocks && chance(40)) {
            Ex e = input("turned", Type::deg);
            e.text = one(std::vector<std::string>{"", "wheels", "gyro", "compass"});
            return e;
        }
        if (at.clocks && chance(40)) {
            return {"rolled", {}, 0.0, Type::deg, {value(Type::side, at, 1)}};
        }
        return literal(Type::deg);
    }

    Ex composed(Type type, const At& at, int depth) {
        const auto part = [&] { return value(type, at, depth - 1); };
        if (type == Type::side) {
            return {"-", {}, 0.0, type, {part()}};
        }
        if (type == Type::plain && at.pid && chance(40)) {
            At inner = at;
            inner.pid = false;
            inner.in_condition = true;
            return {"pid",
                    {},
                    0.0,
                    type,
                    {value(chance(70) ? Type::plain : Type::mm, inner, depth - 1), literal(type), literal(type),
                     literal(type)}};
        }
        switch (pick(0, 9)) {
        case 0: return {"-", {}, 0.0, type, {part()}};
        case 1: return {"+", {}, 0.0, type, {part(), part()}};
        case 2: return {"-", {}, 0.0, type, {part(), part()}};
        case 3: return {"*", {}, 0.0, type, {part(), value(Type::plain, at, depth - 1)}};
        case 4: return {"/", {}, 0.0, type, {part(), value(Type::plain, at, depth - 1)}};
        case 5: return {"min", {}, 0.0, type, {part(), part()}};
        case 6: return {"max", {}, 0.0, type, {part(), part()}};
        case 7: return {"abs", {}, 0.0, type, {part()}};
        case 8: return {"clamp", {}, 0.0, type, {part(), part(), part()}};
        default: return {"*", {}, 0.0, type, {value(Type::side, at, depth - 1), part()}};
        }
    }

    Ex condition(const At& given, int depth) {
        At at = given;
        at.pid = false;
        at.in_condition = true;
        at.ramp = 0;
        const int kind = pick(0, depth > 0 ? 17 : 7);
        switch (kind) {
        case 0:
        case 1:
        case 2: return pattern();
        case 3: return marker();
        case 4: return input("button", Type::truth);
        case 5: return {"heard", one(sounds), 0.0, Type::truth, {}};
        case 6:
        case 7: return comparison(at, depth);
        case 8: return {"not", {}, 0.0, Type::truth, {condition(at, depth - 1)}};
        case 9:
        case 10: return {"and", {}, 0.0, Type::truth, {part(at, depth), part(at, depth)}};
        case 11: return {"or", {}, 0.0, Type::truth, {part(at, depth), part(at, depth)}};
        case 12:
        case 13:
            return {"lasting",
                    {},
                    0.0,
                    Type::truth,
                    {condition(everywhere(at), depth - 1), chance(50) ? literal(Type::looks) : literal(Type::ms)}};
        default: break;
        }
        if (at.fresh) {
            return {"fresh", {}, 0.0, Type::truth, {condition(everywhere(at), depth - 1)}};
        }
        return comparison(at, depth);
    }

    /// Bare truths and names stand only inside of others: a rule that always holds would be an `else`.
    Ex part(const At& at, int depth) {
        if (chance(12)) {
            const Ex name = named(Type::truth, at);
            return name.op.empty() ? literal(Type::truth) : name;
        }
        return condition(at, depth - 1);
    }

    static At everywhere(At at) {
        at.clocks = at.arguments = at.fresh = false;
        return at;
    }

    Ex pattern() {
        Ex e{"pattern", {}, 0.0, Type::truth, {}};
        for (int i = 0; i < plan_.sensors; ++i) {
            e.text += "#.?"[pick(0, 2)];
        }
        return e;
    }

    Ex marker() {
        Ex e{"marker", {}, static_cast<double>(pick(0, 2)), Type::truth, {}};
        e.text = one(std::vector<std::string>{"", "", "left", "right", "nose"});
        return e;
    }

    Ex comparison(const At& at, int depth) {
        const Type type = static_cast<Type>(pick(0, 5));
        static const std::vector<std::string> all = {"<", "<=", ">", ">=", "==", "!="};
        const std::string op = type == Type::side ? all[static_cast<std::size_t>(pick(4, 5))] : one(all);
        return {op, {}, 0.0, Type::truth, {value(type, at, std::min(depth, 1)), value(type, at, std::min(depth, 1))}};
    }

    std::mt19937 random_;
    bool own_weights_ = random_() % 3 == 0;
    Plan plan_;
};

} // namespace

Plan make(std::uint32_t seed) { return Maker(seed).run(); }

const vast_turn::Look& Looks::next(const std::vector<std::string>& places, const std::vector<std::string>& heard) {
    if (!first_) {
        look_.clock_ms += pick(0, 19) == 0 ? 0.0 : 10.0;
        look_.way_mm += pick(-1, 4);
        look_.left_deg += pick(-2, 8);
        look_.right_deg += pick(-2, 8);
        look_.heading_deg += pick(-6, 6);
        look_.heading_by_wheels_deg += pick(-6, 6);
        look_.heading_by_gyro_deg += pick(-6, 6);
        look_.heading_by_compass_deg += pick(-6, 6);
    }
    first_ = false;
    look_.sensors = static_cast<std::uint8_t>(sensors_);
    look_.line_bits = 0;
    for (int k = 0; k < sensors_; ++k) {
        if (pick(0, 3) == 0) {
            look_.sensor[k] = pick(0, 10) / 10.0;
            look_.raw[k] = pick(0, 1023);
        }
        look_.line_bits = static_cast<std::uint8_t>(look_.line_bits | (look_.sensor[k] >= 0.5 ? 1U << k : 0U));
    }
    look_.offset = pick(-10, 10) / 10.0;
    look_.last_side = pick(0, 9) == 0 ? -look_.last_side : look_.last_side;
    look_.range_mm = pick(0, 3) == 0 ? pick(0, 50) : look_.range_mm;
    look_.battery_pct = pick(80, 100);
    look_.button = pick(0, 4) == 0 ? !look_.button : look_.button;
    look_.markers = 0;
    for (const char* name : {"left", "right", "nose", "other"}) {
        std::uint16_t& bits = seen_by_[name];
        bits = pick(0, 4) == 0 ? static_cast<std::uint16_t>(pick(0, 7)) : bits;
        look_.markers = static_cast<std::uint16_t>(look_.markers | (pick(0, 1) * bits));
    }
    for (std::size_t i = 0; i < places.size(); ++i) {
        look_.markers_at[i] = seen_by_[places[i]];
    }
    look_.heard = 0;
    for (const std::string& name : heard) {
        const auto bit = static_cast<unsigned>(&name - heard.data());
        look_.heard = static_cast<std::uint16_t>(look_.heard | (pick(0, 5) == 0 ? 1U << bit : 0U));
    }
    return look_;
}

} // namespace reference
