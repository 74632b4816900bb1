/// Errands as functions of C: a switch over the item in hand.

#include <string>
#include <vector>

#include <fmt/format.h>

#include "emit/acts.hpp"
#include "emit/blocks.hpp"

namespace vast_turn::emit {

namespace {

using runtime::Item;
using runtime::ItemKind;
using runtime::LimitKind;

/// How much of its limit an item has done, in the words that are asked.
std::string measure(const Shape& shape, const Item& item, const Where& where) {
    const auto way = [&](const char* field) {
        return shape.pieces(fmt::format("@size(s->now.{0} - f->item_began.{0})", field));
    };
    switch (item.limit) {
    case LimitKind::way: return way("way_mm");
    case LimitKind::angle: return way(turn_fields[static_cast<std::size_t>(item.source)]);
    case LimitKind::wheel:
        return shape.pieces(
            fmt::format("@rolled(&s->now, &f->item_began, {})", shape.expressions.number(item.other_code, where).text));
    case LimitKind::time: return "(s->now.ms - f->item_began.ms)";
    case LimitKind::looks: return "(s->now.looks - f->item_began.looks)";
    default: return shape.pieces.number(0.0);
    }
}

class ErrandWriter {
public:
    ErrandWriter(const Shape& shape, std::size_t block)
        : shape_(shape), block_(block), made_(shape.tables.blocks[block]) {}

    std::string run() {
        lines_.add("for (;;) {");
        lines_.add("switch (f->item) {");
        for (std::size_t i = 0; i < made_.items; ++i) {
            const std::size_t number = made_.first_item + i;
            lines_.add(fmt::format("case {}: /* {} */ {{", i, shape_.told(shape_.tables.rules.size() + number)));
            item(shape_.tables.items[number], number);
            lines_.add("}");
        }
        lines_.add("default:");
        lines_.add("return @transfer(s) ? @end_block(s, at) : $ACTED;");
        lines_.add("}");
        lines_.add("}");
        return c_function(shape_.pieces, fmt::format("static uint8_t @{}", shape_.block_function(block_)),
                          {"struct @state *s", "const struct @look *in", "struct @answer *out"},
                          {{"at", "const int at = s->depth - 1;"},
                           {"f", "struct @frame *const f = &s->frame[at];"},
                           {"c", "@number *const c = s->cell + f->cells;"}},
                          lines_.text());
    }

private:
    void go_on() {
        lines_.add("f->item++;");
        lines_.add("f->item_begun = false;");
        lines_.add("continue;");
    }

    void item(const Item& item, std::size_t number) {
        switch (item.kind) {
        case ItemKind::move: return move(item, number);
        case ItemKind::call: return call(item, number);
        case ItemKind::act: return act(item, number);
        case ItemKind::loop: return loop(item);
        case ItemKind::round: return round(item, number);
        case ItemKind::again:
            lines_.add(fmt::format("c[{}] += {};", item.cell + runtime::loop_rounds, one()));
            return jump(item.target);
        case ItemKind::branch: return branch(item);
        case ItemKind::jump: return jump(item.target);
        }
    }

    std::string one() const { return shape_.pieces.number(1.0); }

    void jump(std::uint16_t target) {
        lines_.add(fmt::format("f->item = {};", target));
        lines_.add("continue;");
    }

    void acts_as(std::size_t number) {
        if (shape_.form.numbered) {
            lines_.add(fmt::format("out->rule = {};", shape_.tables.rules.size() + number));
            lines_.add(fmt::format("out->block = {};", block_));
        }
    }

    void begin(const Item& item) {
        lines_.add("@begin_item(s, f);");
        if (item.limit == LimitKind::till) {
            arm(item);
        } else if (item.limit != LimitKind::none) {
            CValue limit = shape_.expressions.number(item.limit_code, shape_.item_words());
            if (item.scale_cell != runtime::no_code) {
                limit = shape_.expressions.settled(
                    {fmt::format("({} * c[{}])", limit.text, item.scale_cell), false, -1e24, 1e24});
            }
            lines_.add(fmt::format("f->item_limit = {};", limit.text));
        }
    }

    void arm(const Item& item) {
        for (std::size_t i = 0; i < item.freshes; ++i) {
            const runtime::Fresh& fresh = shape_.tables.freshes[item.first_fresh + i];
            lines_.add(fmt::format("c[{}] = s->watch[{}].holds ? {} : {};", fresh.cell, fresh.watch,
                                   shape_.pieces.number(0.0), one()));
        }
    }

    void end_at_limit(const Item& item) {
        if (item.limit != LimitKind::none) {
            lines_.add(fmt::format("if ({}) {{", unbracketed(limit_truth(shape_, item))));
            go_on();
            lines_.add("}");
        }
    }

    void move(const Item& item, std::size_t number) {
        lines_.add("if (!f->item_begun) {");
        begin(item);
        lines_.add("}");
        end_at_limit(item);
        acts_as(number);
        if (!write_acts(lines_, shape_, item.code, {words_of_item(shape_, item), "at", "$NO_RULE", true})) {
            lines_.add("return $ACTED;");
        }
    }

    void call(const Item& item, std::size_t number) {
        begin(item);
        end_at_limit(item);
        lines_.add("if (!@transfer(s)) {");
        lines_.add("f->item_begun = false;");
        lines_.add("return $ACTED;");
        lines_.add("}");
        acts_as(number);
        lines_.add(fmt::format("return @enter(s, {}at, {}, {}, $NO_RULE);", shape_.arguments > 0 ? "in, " : "",
                               item.target, shape_.tables.calls[item.target].block));
    }

    void act(const Item& item, std::size_t number) {
        acts_as(number);
        if (!write_acts(lines_, shape_, item.code, {words_of_item(shape_, item), "at", "$NO_RULE", true})) {
            lines_.add(fmt::format("f->item = (uint16_t)(f->item + {});", item.target));
            lines_.add("continue;");
        }
    }

    void loop(const Item& item) {
        const Where where = shape_.block_words();
        const auto cell = [&](int which) { return fmt::format("c[{}]", item.cell + which); };
        const auto value = [&](std::uint16_t code, double otherwise) {
            return code == runtime::no_code ? shape_.pieces.number(otherwise)
                                            : shape_.expressions.number(code, where).text;
        };
        lines_.add("@begin_item(s, f);");
        lines_.add(fmt::format("{} = {};", cell(runtime::loop_rounds), shape_.pieces.number(0.0)));
        lines_.add(fmt::format("{} = {};", cell(runtime::loop_count), value(item.code, 1e12)));
        lines_.add(fmt::format("{} = {};", cell(runtime::loop_factor), value(item.other_code, 1.0)));
        lines_.add(fmt::format("{} = {};", cell(runtime::loop_scale),
                               item.scale_cell == runtime::no_code ? one() : fmt::format("c[{}]", item.scale_cell)));
        lines_.add(fmt::format("{} = {};", cell(runtime::loop_look), shape_.pieces.number(0.0)));
        if (item.keeps_marks) {
            for (std::size_t i = 0; i < shape_.marks.size(); ++i) {
                lines_.add(fmt::format("c[{}] = s->now.{};", item.cell + runtime::loop_marks + static_cast<int>(i),
                                       shape_.marks[i].name));
            }
        }
        arm(item);
        go_on();
    }

    void round(const Item& item, std::size_t number) {
        const auto cell = [&](int which) { return fmt::format("c[{}]", item.cell + which); };
        std::string over = fmt::format("{} >= {}", cell(runtime::loop_rounds), cell(runtime::loop_count));
        if (item.limit == LimitKind::till) {
            Where where = shape_.block_words();
            where.began = "kept";
            const std::string till = shape_.expressions.truth(item.limit_code, where);
            if (stands_in("kept", till)) {
                lines_.add("struct @marks kept;");
                for (std::size_t i = 0; i < shape_.marks.size(); ++i) {
                    lines_.add(fmt::format("kept.{} = {};", shape_.marks[i].name,
                                           item.keeps_marks ? cell(runtime::loop_marks + static_cast<int>(i))
                                                            : shape_.pieces.number(0.0)));
                }
            }
            over += " || " + till;
        }
        lines_.add(fmt::format("if ({}) {{", over));
        jump(item.target);
        lines_.add("}");
        lines_.add(fmt::format("if ({} >= (@number)s->look) {{", cell(runtime::loop_look)));
        acts_as(number);
        lines_.add("return $ACTED;");
        lines_.add("}");
        lines_.add(fmt::format("if ({} > {}) {{", cell(runtime::loop_rounds), shape_.pieces.number(0.5)));
        lines_.add(fmt::format("{0} = @settled({0} * {1});", cell(runtime::loop_scale), cell(runtime::loop_factor)));
        lines_.add("}");
        lines_.add(fmt::format("{} = (@number)s->look;", cell(runtime::loop_look)));
        lines_.add("f->item++;");
        lines_.add("continue;");
    }

    void branch(const Item& item) {
        lines_.add(
            fmt::format("if (!({})) {{", unbracketed(shape_.expressions.truth(item.code, shape_.block_words()))));
        jump(item.target);
        lines_.add("}");
        for (std::size_t i = 0; i < item.freshes; ++i) {
            const runtime::Fresh& fresh = shape_.tables.freshes[item.first_fresh + i];
            lines_.add(fmt::format("c[{}] = -{};", fresh.cell, one()));
            lines_.add(fmt::format("s->watch[{}].spent = true;", fresh.watch));
        }
        lines_.add("f->item++;");
        lines_.add("continue;");
    }

    const Shape& shape_;
    std::size_t block_;
    const runtime::Block& made_;
    Lines lines_;
};

} // namespace

Where words_of_item(const Shape& shape, const Item& item) {
    Where where = shape.block_words();
    where.progress = shape.pieces(fmt::format("@progress({}, f->item_limit)", measure(shape, item, where)));
    return where;
}

std::string limit_truth(const Shape& shape, const Item& item) {
    const Where where = shape.item_words();
    return item.limit == LimitKind::till ? shape.expressions.truth(item.limit_code, where)
                                         : measure(shape, item, where) + " >= f->item_limit";
}

std::string errand_function(const Shape& shape, std::size_t block) { return ErrandWriter(shape, block).run(); }

} // namespace vast_turn::emit
