/* data/fern-house/plans/five-pid.plan as somebody would write it by hand for the same robot. */
static float hand_integral, hand_before;
static uint32_t hand_before_ms, hand_first_us;
static float hand_offset;
static int8_t hand_side = 1;
static uint8_t hand_line, hand_pad, hand_gone;
static bool hand_goes, hand_over;

static float hand_limited(float power)
{
    return power > 100.0f ? 100.0f : (power < -100.0f ? -100.0f : power);
}

static void hand_look(const struct plan_senses *now, struct plan_answer *out)
{
    static const float floors[] = {HAND_FLOORS};
    static const float per_count[] = {HAND_PER_COUNT};
    static const float on[] = {HAND_ON}, off[] = {HAND_OFF};
    static const float places[] = {1.0f, 0.5f, 0.0f, -0.5f, -1.0f};
    float sum = 0.0f, weighted = 0.0f, error, change, left, right;
    uint8_t line = 0, i;
    uint32_t ms;
    if (hand_over) {
        return;
    }
    for (i = 0; i < 5; ++i) {
        float s = ((float)now->counts[i] - floors[i]) * per_count[i];
        s = s < 0.0f ? 0.0f : (s > 1.0f ? 1.0f : s);
        sum += s;
        weighted += places[i] * s;
        if (s >= ((hand_line >> i & 1) ? off[i] : on[i])) {
            line |= (uint8_t)(1 << i);
        }
    }
    hand_line = line;
    if (line != 0 && sum > 0.0f) {
        const int8_t to_left = (int8_t)(2 * (line & 1) + (line >> 1 & 1) - (line >> 3 & 1) - 2 * (line >> 4 & 1));
        hand_offset = weighted / sum;
        hand_side = to_left > 0 ? 1 : (to_left < 0 ? -1 : hand_side);
    }
    hand_pad = line == 31 ? (uint8_t)(hand_pad + (hand_pad < 6)) : 0;
    hand_gone = line == 0 ? (uint8_t)(hand_gone + (hand_gone < 4)) : 0;
    if (!hand_goes) {
        hand_first_us = now->clock_us;
    }
    if (hand_pad >= 6) {
        hand_over = true;
        return;
    }
    if (hand_gone >= 4) {
        out->left_pct = hand_side > 0 ? -35.0f : 35.0f;
        out->right_pct = -out->left_pct;
        hand_goes = false;
        return;
    }
    error = hand_offset;
    ms = (now->clock_us - hand_first_us) / 1000u;
    change = 41.0f * error;
    if (hand_goes) {
        const float passed = (float)(ms - hand_before_ms);
        hand_integral += error * passed / 1000.0f;
        change += hand_limited(6.0f * hand_integral);
        change += 2.2f * (error - hand_before) * 1000.0f / passed;
    }
    hand_goes = true;
    hand_before = error;
    hand_before_ms = ms;
    left = 56.0f - change;
    right = 56.0f + change;
    out->left_pct = hand_limited(left);
    out->right_pct = hand_limited(right);
}
