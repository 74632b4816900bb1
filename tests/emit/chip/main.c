/* Drives one plan on a bare chip over random looks and tells the sum of its answers every so many looks through the
 * serial line. PLAN, SENSORS, SEED, LOOKS and EVERY are given when it is compiled; PLAN_SOURCE is the plan's adapter. The
 * chip is an ATmega1284P, or a Cortex-M3 as the board MPS2 with the image AN385 has it. */
#include PLAN_SOURCE

#include "looks.h"

#define JOIN(a, b) a##b
#define CALLED(name, what) JOIN(name, what)

#ifdef __AVR__
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>

static void begin_chip(void)
{
    UCSR0B = 1 << TXEN0;
}

static void send(char c)
{
    while (!(UCSR0A & (1 << UDRE0))) {
    }
    UDR0 = (uint8_t)c;
}

static void end_chip(void)
{
    cli();
    sleep_enable();
    sleep_cpu();
}
#else
static void begin_chip(void)
{
    *(volatile uint32_t *)0x40004010u = 217;
    *(volatile uint32_t *)0x40004008u = 1;
}

static void send(char c)
{
    *(volatile uint32_t *)0x40004000u = (uint32_t)c;
}

static void end_chip(void)
{
    register uint32_t operation __asm__("r0") = 0x18; /* of semihosting: the program ends */
    register uint32_t reason __asm__("r1") = 0x20026;
    __asm__ volatile("bkpt 0xAB" : : "r"(operation), "r"(reason));
}
#endif

static void send_sum(uint32_t sum)
{
    int8_t shift;
    for (shift = 28; shift >= 0; shift = (int8_t)(shift - 4)) {
        send("0123456789abcdef"[(sum >> shift) & 15]);
    }
    send('\n');
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
    begin_chip();
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
    send('.');
    send('\n');
    end_chip();
    return 0;
}
