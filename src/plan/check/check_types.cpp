#include "plan/check/check_types.hpp"

#include <fmt/format.h>

#include "plan/check/type_checker.hpp"

namespace vast_turn::lang {

void check_types(Expr& e, Names& names, Where where, const Source& source, Problems& problems) {
    TypeChecker(names, where, source, problems).check(e);
}

bool counts_from_block(const Expr& e) {
    const InputWord* input = e.is<Input>() ? find_input(e.as<Input>()->text) : nullptr;
    return (input != nullptr && input->since_block) || is_call(e, Op::rolled);
}

void check_condition(Expr& e, Names& names, const Source& source, Problems& problems) {
    check_types(e, names, Where::condition, source, problems);
    if (e.type.base != Base::truth && e.type.base != Base::broken) {
        problems.error(e.span, fmt::format("expected a condition here, found {}", to_text(e.type)),
                       "a condition is a pattern like [#.] or a comparison like seen > 0");
    }
}

} // namespace vast_turn::lang
