/* A plan on a bare 32-bit chip, a Cortex-M3 at 25 MHz as the board MPS2 with the image AN385 has it: a serial line, and a
 * timer for the clock. The drivers of the sensors and motors are stubs: put your board's own in their place.
 *
 * Build it with build.sh beside this folder, which exports the plan as `plan.c` and `plan.h`. With -DOVER_THE_LINE the
 * looks come over the serial line and the answers go back there: so the chip drives the robot of the map, see
 * docs/on-the-robot.md. With -DLEAN it is for a program that was exported with --lean, which has no such line. */
#include "plan.h"

#define REGISTER(address) (*(volatile uint32_t *)(address))
#define UART_DATA REGISTER(0x40004000u)
#define UART_STATE REGISTER(0x40004004u)
#define UART_CONTROL REGISTER(0x40004008u)
#define UART_DIVIDER REGISTER(0x40004010u)
#define TIMER_CONTROL REGISTER(0x40000000u)
#define TIMER_VALUE REGISTER(0x40000004u)
#define TIMER_RELOAD REGISTER(0x40000008u)

enum { TICKS_A_MICROSECOND = 25 };

/* The timer counts 25 times a microsecond and begins anew every 171 seconds; the clock goes on. */
static uint32_t clock_us(void *whom)
{
    static uint32_t last, us, rest;
    const uint32_t now = ~TIMER_VALUE; /* it counts down */
    (void)whom;
    rest += now - last;
    last = now;
    us += rest / TICKS_A_MICROSECOND;
    rest %= TICKS_A_MICROSECOND;
    return us;
}

#ifndef LEAN
static void put(void *whom, uint8_t byte)
{
    (void)whom;
    while ((UART_STATE & 1u) != 0) {
    }
    UART_DATA = byte;
}
#endif

/* The converter of your board, from the left. */
static void counts(void *whom, uint16_t *counts)
{
    int i;
    (void)whom;
    for (i = 0; i < PLAN_SENSORS; ++i) {
        counts[i] = 0;
    }
}

#ifdef PLAN_ASKS_LEFT_DEG
/* The encoders of your board. */
static plan_number left_deg(void *whom)
{
    (void)whom;
    return 0;
}

static plan_number right_deg(void *whom)
{
    (void)whom;
    return 0;
}
#endif

#ifdef PLAN_ASKS_RANGE_MM
static plan_number range_mm(void *whom)
{
    (void)whom;
    return 1150;
}
#endif

#ifdef PLAN_ASKS_MARKERS
static uint16_t markers(void *whom)
{
    (void)whom;
    return 0;
}
#endif

/* The motors of your board. */
static void drive(void *whom, const struct plan_outputs *out)
{
    (void)whom;
    (void)out;
}

static const struct plan_robot robot = {
    .clock_us = clock_us,
    .counts = counts,
#ifdef PLAN_ASKS_LEFT_DEG
    .left_deg = left_deg,
    .right_deg = right_deg,
#endif
#ifdef PLAN_ASKS_RANGE_MM
    .range_mm = range_mm,
#endif
#ifdef PLAN_ASKS_MARKERS
    .markers = markers,
#endif
    .drive = drive,
#ifndef LEAN
    .put = put,
#endif
};

static struct plan_loop loop;

int main(void)
{
#ifndef LEAN
    UART_DIVIDER = 217; /* 115,200 bit/s */
    UART_CONTROL = 3u;
#endif
    TIMER_RELOAD = 0xFFFFFFFFu;
    TIMER_VALUE = 0xFFFFFFFFu;
    TIMER_CONTROL = 1u;
#ifdef LEAN
    plan_ready(&loop);
    plan_go(&loop, &robot);
    for (;;) {
    }
#else
    plan_ready(&loop, &robot);
#endif
#ifdef OVER_THE_LINE
    {
        static struct plan_ear ear;
        plan_greet(&loop);
        for (;;) {
            while ((UART_STATE & 2u) == 0) {
            }
            plan_serve(&loop, &ear, (uint8_t)UART_DATA);
        }
    }
#elif !defined(LEAN)
    plan_go(&loop);
    for (;;) {
    }
#endif
}
