/// Items of errands: what ends them, and what cannot end.

#include <fmt/format.h>

#include "plan/check/check_context.hpp"
#include "plan/text/words.hpp"

namespace vast_turn::lang {

namespace {

constexpr Unit way{1, 0, 0, 0};
constexpr Unit time_unit{0, 1, 0, 0};
constexpr Unit angle{0, 0, 1, 0};
constexpr Unit look_count{0, 0, 0, 1};

class ItemChecker {
public:
    ItemChecker(const Block& block, CheckContext& context) : block_(block), context_(context) {}

    void check(std::vector<Item>& items) {
        for (Item& item : items) {
            switch (item.kind) {
            case Item::Kind::act: act(item); break;
            case Item::Kind::loop: loop(item); break;
            case Item::Kind::choice: choice(item); break;
            }
        }
        nothing_behind(
            items,
            [](const Item& item) {
                const bool leaves =
                    item.kind == Item::Kind::act && is_transfer(item.act.kind) && item.act.kind != ActKind::call;
                return leaves ? &item.act : nullptr;
            },
            context_.problems);
    }

private:
    void error(Span span, std::string message, std::string cure) {
        context_.problems.error(span, std::move(message), std::move(cure));
    }

    void act(Item& item) {
        limit(item.limit);
        Where where = Where::value;
        if (item.limit.kind == Limit::Kind::over) {
            const Unit unit = item.limit.value.type.unit;
            where = unit == way || unit == angle ? Where::value_on_way : Where::value_in_time;
        }
        check_act(item.act, where, &block_, context_);
        fits(item);
    }

    void fits(const Item& item) {
        const std::string text = to_text(item.act);
        const bool limited = item.limit.kind != Limit::Kind::none;
        switch (item.act.kind) {
        case ActKind::motion:
            if (!limited) {
                error(item.act.span, fmt::format("nothing ends `{}`", text),
                      fmt::format("write {} over 45mm, or over 200ms, or till seen > 0", text));
            } else if (item.limit.kind == Limit::Kind::over) {
                motion_over(item);
            }
            return;
        case ActKind::call: return;
        case ActKind::hold:
            error(item.act.span, "`hold` is for guards", "write still over 300ms, or still till button");
            return;
        case ActKind::track:
            error(item.act.span, "an item is done once, so there is nothing to track",
                  fmt::format("write set {} = ...", item.act.name));
            return;
        default:
            if (limited) {
                error(item.limit.span, fmt::format("`{}` is done at once and needs no limit", text),
                      fmt::format("write {} alone", text));
            }
        }
    }

    void motion_over(const Item& item) {
        const Limit& limit = item.limit;
        const Type type = limit.value.type;
        if (type.base == Base::broken || limit.of_wheel) {
            return;
        }
        const std::string& motion = item.act.name;
        if (motion == "rotate" && type.unit == way) {
            error(limit.value.span, "turning on the spot goes no way, so this would never end",
                  "write an angle: over 90deg");
        } else if (motion == "ahead" && type.unit == angle) {
            error(limit.value.span, "going straight ahead turns by nothing, so this would never end",
                  "write a way: over 45mm");
        } else if (motion == "still" && (type.unit == way || type.unit == angle)) {
            error(limit.value.span, "standing still neither moves nor turns, so this would never end",
                  "write a time, looks or a condition: over 300ms, till button");
        }
    }

    void limit(Limit& limit) {
        if (limit.kind == Limit::Kind::none) {
            return;
        }
        if (limit.kind == Limit::Kind::till) {
            check_condition(limit.value, context_.names, context_.source, context_.problems);
            return;
        }
        Expr& value = limit.value;
        check_types(value, context_.names, Where::condition, context_.source, context_.problems);
        const Type type = value.type;
        const bool known = type.unit == way || type.unit == time_unit || type.unit == angle || type.unit == look_count;
        if (type.base == Base::truth) {
            error(value.span, fmt::format("`over` takes a quantity, found {}", to_text(type)),
                  fmt::format("write till {}", to_text(value)));
            value.type.base = Base::broken;
        } else if (type.base != Base::broken && (type.base != Base::number || !known)) {
            error(value.span, fmt::format("`over` takes a way, an angle, a time or looks, found {}", to_text(type)),
                  "write over 45mm, over 90deg, over 200ms or over 3 looks");
            value.type.base = Base::broken;
        }
        source(limit);
    }

    void source(Limit& limit) {
        const Type type = limit.value.type;
        const bool turns = type.base == Base::broken || type.unit == angle;
        if (limit.of_wheel) {
            check_types(limit.wheel, context_.names, Where::condition, context_.source, context_.problems);
            if (limit.wheel.type.base != Base::side && limit.wheel.type.base != Base::broken) {
                error(limit.wheel.span, fmt::format("expected a side here, found {}", to_text(limit.wheel.type)),
                      "write over 280deg of left wheel");
            }
        }
        if ((limit.of_wheel || !limit.by.empty()) && !turns) {
            error(limit.value.span, fmt::format("a turn is in degrees, found {}", to_text(type)),
                  limit.of_wheel ? "write over 280deg of left wheel" : "write over 90deg by gyro");
        }
        if (!limit.by.empty() && !find_source(limit.by)) {
            error(limit.span, fmt::format("`{}` tells no turn{}", limit.by, did_you_mean(limit.by, source_words())),
                  fmt::format("write by {}", one_of(source_words())));
        }
    }

    void plain_number(Expr& e, const char* what, const char* cure) {
        check_types(e, context_.names, Where::condition, context_.source, context_.problems);
        if (e.type.base != Base::broken && e.type != Type{Base::number, {}}) {
            error(e.span, fmt::format("{} is a plain number, found {}", what, to_text(e.type)), cure);
        }
    }

    void loop(Item& item) {
        if (item.count) {
            plain_number(*item.count, "how often a loop goes round", "write loop 4 { ... }");
            if (item.count->is<Constant>() && item.count->as<Constant>()->value < 1.0) {
                error(item.count->span, "this loop never goes round", "write at least 1, or leave the loop out");
            }
        }
        if (item.limit.kind == Limit::Kind::till) {
            check_condition(item.limit.value, context_.names, context_.source, context_.problems);
        }
        if (item.widening) {
            plain_number(*item.widening, "how much a loop widens", "write loop 4 widening 1.6 { ... }");
        }
        check(item.body);
    }

    void choice(Item& item) {
        for (Branch& branch : item.branches) {
            if (!branch.is_else) {
                check_condition(branch.condition, context_.names, context_.source, context_.problems);
            }
            check(branch.items);
        }
    }

    const Block& block_;
    CheckContext& context_;
};

} // namespace

void check_items(std::vector<Item>& items, const Block& block, CheckContext& context) {
    context.names.params = &block.params;
    ItemChecker(block, context).check(items);
}

} // namespace vast_turn::lang
