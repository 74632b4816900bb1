#include <algorithm>

#include <fmt/format.h>

#include "plan/reference/model.hpp"

namespace reference {

namespace {

std::string list(const std::vector<Ex>& args);

bool is_infix(const std::string& op) {
    static const std::vector<std::string> ops = {"+", "-", "*", "/", "<", "<=", ">", ">=", "==", "!=", "and", "or"};
    return std::find(ops.begin(), ops.end(), op) != ops.end();
}

const char* unit_of(Type type) {
    switch (type) {
    case Type::mm: return "mm";
    case Type::ms: return "ms";
    case Type::deg: return "deg";
    case Type::looks: return " looks";
    default: return "";
    }
}

/// Units in all their spellings, by the number itself so that a text stays the same.
std::string number(const Ex& e) {
    const double x = e.number < 0.0 ? -e.number : e.number;
    std::string text = fmt::format("{}{}", x, unit_of(e.type));
    const int turn = static_cast<int>(x) % 4;
    if (e.type == Type::mm && turn == 1) {
        text = fmt::format("{}cm", x / 10.0);
    } else if (e.type == Type::mm && turn == 2) {
        text = fmt::format("{:.3f}m", x / 1000.0);
    } else if (e.type == Type::ms && turn == 2) {
        text = fmt::format("{:.3f}s", x / 1000.0);
    } else if (e.type == Type::looks && x < 1.5) {
        text = fmt::format("{} look", x);
    } else if (e.type == Type::plain && turn == 3) {
        text += "percent";
    }
    return e.number < 0.0 ? "-" + text : text;
}

std::string text_of(const Ex& e) {
    if (e.op == "number") {
        return number(e);
    }
    if (e.op == "side" || e.op == "let" || e.op == "var" || e.op == "param" || e.op == "truth") {
        return e.text;
    }
    if (e.op == "pattern") {
        return "[" + e.text + "]";
    }
    if (e.op == "marker") {
        const std::string& name = markers[static_cast<std::size_t>(e.number)];
        return e.text.empty() ? name : name + " at " + e.text;
    }
    if (e.op == "heard") {
        return "heard(" + e.text + ")";
    }
    if (e.op == "turned" && !e.text.empty()) {
        return "turned by " + e.text;
    }
    if (e.op == "not" || e.op == "fresh") {
        return fmt::format("({} ({}))", e.op, text_of(e.args[0]));
    }
    if (e.op == "-" && e.args.size() == 1) {
        return fmt::format("-({})", text_of(e.args[0]));
    }
    if (e.op == "lasting") {
        return fmt::format("(({}) lasting {})", text_of(e.args[0]), text_of(e.args[1]));
    }
    if (is_infix(e.op)) {
        return fmt::format("(({}) {} ({}))", text_of(e.args[0]), e.op, text_of(e.args[1]));
    }
    return e.args.empty() ? e.op : fmt::format("{}({})", e.op, list(e.args));
}

std::string list(const std::vector<Ex>& args) {
    std::string text;
    for (const Ex& arg : args) {
        text += (text.empty() ? "" : ", ") + text_of(arg);
    }
    return text;
}

class Writer {
public:
    explicit Writer(const Plan& plan) : plan_(plan) {}

    std::string run() {
        text_ = fmt::format("plan \"random\"\nsensors {}\nmarkers amber, teal, magenta\n", plan_.sensors);
        if (!plan_.weights.empty()) {
            text_ += "weights ";
            for (std::size_t i = 0; i < plan_.weights.size(); ++i) {
                text_ += fmt::format("{}{}", i == 0 ? "" : ", ", plan_.weights[i]);
            }
            text_ += "\n";
        }
        values("let", plan_.lets);
        values("var", plan_.vars);
        rules(plan_.guards, "guard ");
        for (const Block& block : plan_.blocks) {
            text_ += fmt::format("{} {}", block.is_errand ? "errand" : "habit", block.name);
            for (std::size_t i = 0; i < block.params.size(); ++i) {
                text_ += (i == 0 ? "(" : ", ") + block.params[i].name;
            }
            text_ += block.params.empty() ? " {\n" : ") {\n";
            rules(block.guards, "guard ");
            rules(block.rules, "");
            items(block.items);
            text_ += "}\n";
        }
        return text_;
    }

private:
    void values(const char* word, const std::vector<Value>& list) {
        for (const Value& value : list) {
            std::string what = number({"number", {}, value.number, value.type, {}});
            if (value.type == Type::side) {
                what = value.number > 0.0 ? "left" : "right";
            } else if (value.type == Type::truth) {
                what = value.number > 0.0 ? "true" : "false";
            }
            text_ += fmt::format("{} {} = {}\n", word, value.name, what);
        }
    }

    std::string call(const std::string& name, const std::vector<Ex>& args) const {
        return args.empty() ? name : fmt::format("{}({})", name, list(args));
    }

    std::string act(const Act& a) const {
        if (a.op == "note") {
            return fmt::format("note(\"{}\")", a.text);
        }
        if (a.op == "light" || a.op == "sound") {
            return fmt::format("{}({})", a.op, a.text);
        }
        if (a.op == "tell") {
            return fmt::format("tell({}, {})", a.text, list(a.args));
        }
        if (a.op == "set" || a.op == "track") {
            return fmt::format("{} {} = {}", a.op, plan_.vars[static_cast<std::size_t>(a.number)].name, list(a.args));
        }
        if (a.op == "do" || a.op == "become") {
            return a.op + " " + call(plan_.blocks[static_cast<std::size_t>(a.number)].name, a.args);
        }
        return call(a.op, a.args);
    }

    void rules(const std::vector<Rule>& rules, const char* word) {
        for (const Rule& rule : rules) {
            if (rule.as_block >= 0) {
                text_ += fmt::format("    as {}\n",
                                     call(plan_.blocks[static_cast<std::size_t>(rule.as_block)].name, rule.as_args));
                continue;
            }
            text_ += fmt::format("    {}{}{} ->", word, rule.is_else ? "else" : text_of(rule.condition),
                                 rule.is_mirrored ? " mirrored" : "");
            for (std::size_t i = 0; i < rule.acts.size(); ++i) {
                text_ += (i == 0 ? " " : ", ") + act(rule.acts[i]);
            }
            text_ += "\n";
        }
    }

    std::string limit(const Limit& l) const {
        if (l.word.empty()) {
            return "";
        }
        return fmt::format(" {} {}{}{}", l.word, text_of(l.value),
                           l.wheel.empty() ? "" : " of " + text_of(l.wheel[0]) + " wheel",
                           l.by.empty() ? "" : " by " + l.by);
    }

    void items(const std::vector<Item>& list) {
        for (const Item& item : list) {
            if (item.kind == Item::Kind::act) {
                text_ += "    " + act(item.act) + limit(item.limit) + "\n";
            } else if (item.kind == Item::Kind::loop) {
                text_ += fmt::format("    loop{}{}{} {{\n", item.count.empty() ? "" : " " + text_of(item.count[0]),
                                     limit(item.limit),
                                     item.widening.empty() ? "" : " widening " + text_of(item.widening[0]));
                items(item.body);
                text_ += "    }\n";
            } else {
                choice(item);
            }
        }
    }

    void choice(const Item& item) {
        for (std::size_t i = 0; i < item.branches.size(); ++i) {
            const Branch& branch = item.branches[i];
            text_ += fmt::format("    {}{} {{\n",
                                 i == 0           ? "if "
                                 : branch.is_else ? "else"
                                                  : "else if ",
                                 branch.is_else ? "" : text_of(branch.condition));
            items(branch.items);
            text_ += "    }\n";
        }
    }

    const Plan& plan_;
    std::string text_;
};

} // namespace

std::string written(const Plan& plan) { return Writer(plan).run(); }

} // namespace reference
