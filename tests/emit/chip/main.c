/* Drives one plan on a bare chip over random looks and tells the sum of its answers every so many looks through the
 * serial line. PLAN, SENSORS, SEED, LOOKS and EVERY are given when it is compiled; PLAN_SOURCE is the plan's adapter. */
#include PLAN_SOURCE

#include "looks.h"
#include "port.h"

#define JOIN(a, b) a##b
#define CALLED(name, what) JOIN(name, what)

static void send_sum(uint32_t sum)
{
    int8_t shift;
    for (shift = 28; shift >= 0; shift = (int8_t)(shift - 4)) {
        port_put("0123456789abcdef"[(sum >> shift) & 15]);
    }
    port_put('\n');
}

static struct flat_look look;
static struct flat_answer answer;

static void fill(const struct chip_look *l)
{
    uint8_t k;
    look.clock_ms = (double)l->clock_ms;
    look.way_mm = (double)l->way_mm;
    look.left_deg = (double)l->left_deg;
    look.right_deg = (double)l->right_deg;
    look.range_mm = (double)l->range_mm;
    look.offset = l->offset_8 / 8.0;
    look.last_side = l->last_side;
    look.battery_pct = l->battery_pct;
    look.button = l->button;
    look.line = l->line;
    look.markers = l->markers;
    look.heard = l->heard;
    for (k = 0; k < 8; ++k) {
        look.sensor[k] = l->sensor_8[k] / 8.0;
        look.raw[k] = l->raw[k];
    }
    for (k = 0; k < 4; ++k) {
        look.heading[k] = (double)l->heading[k];
        look.markers_at[k] = l->markers_at[k];
    }
}

static uint32_t with_number(uint32_t sum, double x)
{
    const float bits = (float)x;
    return chip_sum(sum, &bits, 4);
}

static uint32_t with_whole(uint32_t sum, int x)
{
    const uint16_t bits = (uint16_t)x;
    return chip_sum(sum, &bits, 2);
}

int main(void)
{
    struct chip_look given;
    uint32_t random = SEED;
    uint32_t sum = 2166136261u;
    uint32_t n;
    port_begin();
    chip_begin(&given);
    CALLED(PLAN, _flat_reset)(&answer);
    for (n = 0; n < LOOKS; ++n) {
        int e;
        chip_next(&given, &random, SENSORS);
        fill(&given);
        CALLED(PLAN, _flat_look)(&look, &answer);
        sum = with_number(with_number(sum, answer.left_pct), answer.right_pct);
        sum = with_whole(with_whole(with_whole(sum, answer.halted), answer.rule), answer.block);
        for (e = 0; e < answer.events; ++e) {
            sum = with_number(with_whole(with_whole(sum, answer.kind[e]), answer.what[e]), answer.value[e]);
        }
        if (answer.halted && n % 7 == 0) {
            CALLED(PLAN, _flat_reset)(&answer);
        }
        if (n % EVERY == EVERY - 1) {
            send_sum(sum);
        }
    }
    port_put('.');
    port_put('\n');
    port_end();
    return 0;
}
