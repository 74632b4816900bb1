/* Plays recorded looks through a plan's C, or through the same logic written by hand, and tells over the serial line
 * what it took: `mean most left right`, in cycles of an 8-bit chip (ATmega1284P) or instructions of a 32-bit one
 * (Cortex-M3 in a simulator that takes 1,024 nanoseconds for each); the last two are the sums of the powers. A tick is 8 cycles, or a 25.6th of an instruction. With
 * -DEMPTY nothing is decided: what remains is the program around it. */
#include "looks.h"
#include "port.h"

#ifdef BY_HAND
#include "hand.h"
#endif

#ifdef __AVR__
enum { UNITS_A_TICK = 8, TICKS_A_UNIT_10 = 10 };

static void begin_clock(void)
{
    TCCR1B = 1 << CS11; /* a tick every 8 cycles */
}

static uint32_t ticks(void)
{
    return TCNT1;
}
#else
#define REGISTER(address) (*(volatile uint32_t *)(address))

enum { UNITS_A_TICK = 1, TICKS_A_UNIT_10 = 256 }; /* 25 ticks a microsecond: 25.6 an instruction */

static void begin_clock(void)
{
    REGISTER(0x40000008u) = 0xFFFFFFFFu;
    REGISTER(0x40000004u) = 0xFFFFFFFFu;
    REGISTER(0x40000000u) = 1;
}

static uint32_t ticks(void)
{
    return ~REGISTER(0x40000004u);
}
#endif

static void put_number(int32_t x)
{
    char digits[12];
    int count = 0;
    uint32_t rest = x < 0 ? (uint32_t)-x : (uint32_t)x;
    if (x < 0) {
        port_put('-');
    }
    do {
        digits[count++] = (char)('0' + rest % 10u);
        rest /= 10u;
    } while (rest != 0);
    while (count-- != 0) {
        port_put(digits[count]);
    }
    port_put(' ');
}

static uint32_t units(uint32_t some)
{
    return some * UNITS_A_TICK * 10u / TICKS_A_UNIT_10;
}

#if !defined(BY_HAND) && !defined(EMPTY)
static struct plan_loop loop;
#ifndef LEAN
static const struct plan_robot robot;
#endif
#endif

int main(void)
{
    const int count = (int)(sizeof looks / sizeof looks[0]);
    uint32_t all = 0;
    uint32_t most = 0;
    plan_number left = 0;
    plan_number right = 0;
    int i;
    port_begin();
    begin_clock();
#if !defined(BY_HAND) && !defined(EMPTY)
#ifdef LEAN
    plan_ready(&loop);
#else
    plan_ready(&loop, &robot);
#endif
#endif
    for (i = 0; i < count; ++i) {
        struct plan_answer answer = {0};
        const uint32_t before = ticks();
        uint32_t took;
#ifdef EMPTY
        answer.left_pct = looks[i].counts[0];
#elif defined(BY_HAND)
        hand_look(&looks[i], &answer);
#elif defined(LEAN)
        plan_decide_senses(&loop, &looks[i], &answer);
#else
        plan_decide_senses(&loop, &looks[i]);
#endif
        took = ticks() - before;
#if !defined(BY_HAND) && !defined(EMPTY) && !defined(LEAN)
        answer = loop.answer;
#endif
#ifdef __AVR__
        took &= 0xFFFFu;
#endif
        all += took;
        most = took > most ? took : most;
        left += answer.left_pct;
        right += answer.right_pct;
    }
    put_number((int32_t)(units(all) / (uint32_t)count));
    put_number((int32_t)units(most));
    put_number((int32_t)left);
    put_number((int32_t)right);
    port_put('\n');
    port_end();
    return 0;
}
