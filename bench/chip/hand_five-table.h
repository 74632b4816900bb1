/* data/fern-house/plans/five-table.plan as somebody would write it by hand for the same robot. */
static uint8_t hand_line, hand_pad;
static int8_t hand_side = 1;
static bool hand_over;

static void hand_bend(struct plan_answer *out, float turn, float power)
{
    out->left_pct = power - turn;
    out->right_pct = power + turn;
}

static void hand_look(const struct plan_senses *now, struct plan_answer *out)
{
    static const uint16_t on[] = {HAND_ON_COUNTS}, off[] = {HAND_OFF_COUNTS};
    uint8_t line = 0, i;
    if (hand_over) {
        return;
    }
    for (i = 0; i < 5; ++i) { /* tape counts less than floor */
        if (now->counts[i] <= ((hand_line >> i & 1) ? off[i] : on[i])) {
            line |= (uint8_t)(1 << i);
        }
    }
    hand_line = line;
    if (line != 0) {
        const int8_t to_left = (int8_t)(2 * (line & 1) + (line >> 1 & 1) - (line >> 3 & 1) - 2 * (line >> 4 & 1));
        hand_side = to_left > 0 ? 1 : (to_left < 0 ? -1 : hand_side);
    }
    hand_pad = line == 31 ? (uint8_t)(hand_pad + (hand_pad < 6)) : 0;
    if (hand_pad >= 6) {
        hand_over = true;
        return;
    }
    switch (line) {
    case 4: hand_bend(out, 0.0f, 50.0f); return;
    case 2 | 4: hand_bend(out, 9.0f, 50.0f); return;
    case 8 | 4: hand_bend(out, -9.0f, 50.0f); return;
    case 2: hand_bend(out, 18.0f, 50.0f); return;
    case 8: hand_bend(out, -18.0f, 50.0f); return;
    case 1 | 2: hand_bend(out, 27.0f, 33.0f); return;
    case 16 | 8: hand_bend(out, -27.0f, 33.0f); return;
    case 1: hand_bend(out, 42.0f, 33.0f); return;
    case 16: hand_bend(out, -42.0f, 33.0f); return;
    case 0:
        out->left_pct = hand_side > 0 ? -35.0f : 35.0f;
        out->right_pct = -out->left_pct;
        return;
    default: hand_bend(out, 0.0f, 33.0f); return;
    }
}
