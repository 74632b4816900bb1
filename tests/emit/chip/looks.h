/* Random looks that a chip and a computer make alike: whole numbers only, out of one generator (Marsaglia's xorshift,
 * Journal of Statistical Software 8, 2003). C99 and C++. */
#ifndef CHIP_LOOKS_H
#define CHIP_LOOKS_H

#include <stdint.h>

struct chip_look {
    int32_t clock_ms, way_mm, heading[4], left_deg, right_deg, range_mm;
    int16_t raw[8];
    int8_t sensor_8[8], offset_8, last_side; /* in eighths */
    uint8_t battery_pct, button, line;
    uint16_t markers, markers_at[4], heard;
};

static int32_t chip_pick(uint32_t *x, int32_t low, int32_t high)
{
    *x ^= *x << 13;
    *x ^= *x >> 17;
    *x ^= *x << 5;
    return low + (int32_t)(*x % (uint32_t)(high - low + 1));
}

static void chip_begin(struct chip_look *l)
{
    const struct chip_look none = {0, 0, {0, 0, 0, 0}, 0, 0, 1000, {0}, {0}, 0, 1, 100, 0, 0, 0, {0}, 0};
    *l = none;
}

/* The next look; things often stay as they were, so that they last. */
static void chip_next(struct chip_look *l, uint32_t *x, int sensors)
{
    int k;
    l->clock_ms += chip_pick(x, 0, 19) == 0 ? 0 : 10;
    l->way_mm += chip_pick(x, -1, 4);
    l->left_deg += chip_pick(x, -2, 8);
    l->right_deg += chip_pick(x, -2, 8);
    for (k = 0; k < 4; ++k) {
        l->heading[k] += chip_pick(x, -6, 6);
    }
    l->line = 0;
    for (k = 0; k < sensors; ++k) {
        if (chip_pick(x, 0, 3) == 0) {
            l->sensor_8[k] = (int8_t)chip_pick(x, 0, 8);
            l->raw[k] = (int16_t)chip_pick(x, 0, 1023);
        }
        l->line = (uint8_t)(l->line | (l->sensor_8[k] >= 4 ? 1 << k : 0));
    }
    l->offset_8 = (int8_t)chip_pick(x, -8, 8);
    l->last_side = (int8_t)(chip_pick(x, 0, 9) == 0 ? -l->last_side : l->last_side);
    l->range_mm = chip_pick(x, 0, 3) == 0 ? chip_pick(x, 0, 120) : l->range_mm;
    l->battery_pct = (uint8_t)chip_pick(x, 80, 100);
    l->button = (uint8_t)(chip_pick(x, 0, 4) == 0 ? !l->button : l->button);
    l->markers = 0;
    for (k = 0; k < 4; ++k) {
        l->markers_at[k] = (uint16_t)(chip_pick(x, 0, 4) == 0 ? chip_pick(x, 0, 7) : l->markers_at[k]);
        l->markers = (uint16_t)(l->markers | (chip_pick(x, 0, 1) == 0 ? 0 : l->markers_at[k]));
    }
    l->heard = (uint16_t)chip_pick(x, 0, 7);
}

/* A sum over bytes that tells any two rows of them apart (FNV-1a, 32 bits). */
static uint32_t chip_sum(uint32_t sum, const void *bytes, int count)
{
    const unsigned char *next = (const unsigned char *)bytes;
    while (count-- > 0) {
        sum = (sum ^ *next++) * 16777619u;
    }
    return sum;
}

#endif
