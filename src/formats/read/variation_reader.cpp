#include "formats/read/variation_reader.hpp"

#include <algorithm>
#include <string>

#include <fmt/format.h>

#include "formats/read/file_kind.hpp"
#include "vast_turn/formats/read/days_file.hpp"
#include "vast_turn/formats/read/text_file.hpp"

namespace vast_turn {

namespace {

Scatter read_scatter(TomlTable table, const QuantityFacts& facts) {
    Scatter how;
    const Range range{facts.least, facts.most};
    for (const char* key : {"about", "deviation", "from", "to", "one_of"}) {
        table.mention(key);
    }
    if (table.has("one_of")) {
        how.kind = Scatter::Kind::one_of;
        how.values = table.numbers("one_of", range);
    } else if (table.has("from") || table.has("to")) {
        how.kind = Scatter::Kind::even;
        how.from = table.number("from", range);
        how.to = table.number("to", range);
        if (how.from > how.to) {
            table.fault("from", fmt::format("`from` is {:g}, above `to`, {:g}", how.from, how.to),
                        "give the smaller one first");
        }
    } else {
        how.middle = table.number("about", range, facts.usual);
        how.deviation = table.number("deviation", {0.0, facts.most - facts.least});
    }
    table.done();
    return how;
}

} // namespace

Variation read_variation(TomlTable table) {
    Variation variation;
    for (const QuantityFacts& facts : quantities()) {
        if (table.has(facts.key)) {
            variation.push_back({facts.quantity, read_scatter(table.table(facts.key), facts)});
        }
    }
    table.done();
    return variation;
}

Variation parse_days(std::string_view text, std::string_view file) {
    TomlText toml(text, file);
    TomlTable root = toml.root();
    Variation variation = read_variation(root.table("variation", true));
    root.tables("trip"); // of a file of trips how days differ is taken, and the trips are left to who takes them
    root.done();
    toml.finish();
    return variation;
}

Variation load_days(const std::string& path) { return parse_days(read_file(path), path); }

} // namespace vast_turn
