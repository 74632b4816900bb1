/* A plan on a bare 8-bit chip, the ATmega1284P at 16 MHz: five line sensors at its converter, two servos made to turn
 * for ever at its 16-bit timer, encoders at two pins that tell of changes, a serial line at 115,200 bit/s.
 *
 * Build it with build.sh beside this folder, which exports the plan as `plan.c` and `plan.h`. With -DOVER_THE_LINE the
 * looks come over the serial line and the answers go back there: so the chip drives the robot of the map, see
 * docs/on-the-robot.md. With -DLEAN it is for a program that was exported with --lean, which has no such line. */
#include <avr/interrupt.h>
#include <avr/io.h>

#include "plan.h"

/* The clock: timer 0 counts every 4 microseconds and runs over every 1,024. */
static volatile uint32_t overflows;

ISR(TIMER0_OVF_vect)
{
    overflows++;
}

static uint32_t clock_us(void *whom)
{
    uint32_t high;
    uint8_t low;
    (void)whom;
    cli();
    high = overflows;
    low = TCNT0;
    if ((TIFR0 & (1 << TOV0)) != 0 && low < 128) { /* it ran over just now */
        high++;
    }
    sei();
    return ((high << 8) | low) * 4;
}

#ifndef LEAN
/* The serial line. */
static void put(void *whom, uint8_t byte)
{
    (void)whom;
    while ((UCSR0A & (1 << UDRE0)) == 0) {
    }
    UDR0 = byte;
}
#endif

/* The sensors, from the left, at A0, A1, A2, A3 and A4; the plan's robot file may have more or fewer. */
static void counts(void *whom, uint16_t *counts)
{
    uint8_t i;
    (void)whom;
    for (i = 0; i < PLAN_SENSORS; ++i) {
        ADMUX = (uint8_t)((1 << REFS0) | i);
        ADCSRA |= 1 << ADSC;
        while ((ADCSRA & (1 << ADSC)) != 0) {
        }
        counts[i] = ADC;
    }
}

#ifdef PLAN_ASKS_LEFT_DEG
/* The encoders: 24 changes a turn of the wheel. One channel each, so the motor's own direction tells which way. */
static volatile int16_t left_changes, right_changes;
static volatile int8_t left_way = 1, right_way = 1;

ISR(PCINT0_vect)
{
    left_changes = (int16_t)(left_changes + left_way);
}

ISR(PCINT1_vect)
{
    right_changes = (int16_t)(right_changes + right_way);
}

static plan_number degrees_of(const volatile int16_t *changes)
{
    int16_t now;
    cli();
    now = *changes;
    sei();
    return (plan_number)now * (plan_number)(360.0 / 24.0);
}

static plan_number left_deg(void *whom)
{
    (void)whom;
    return degrees_of(&left_changes);
}

static plan_number right_deg(void *whom)
{
    (void)whom;
    return degrees_of(&right_changes);
}
#endif

#ifdef PLAN_ASKS_RANGE_MM
/* An analogue range sensor at A5: its counts go with the inverse of the way. */
static plan_number range_mm(void *whom)
{
    uint16_t seen;
    (void)whom;
    ADMUX = (1 << REFS0) | 5;
    ADCSRA |= 1 << ADSC;
    while ((ADCSRA & (1 << ADSC)) != 0) {
    }
    seen = ADC;
    return seen < 61 ? (plan_number)1150 : (plan_number)70000 / (plan_number)seen;
}
#endif

#ifdef PLAN_ASKS_MARKERS
/* Whatever tells colours apart stands behind this: which of the plan's markers lies under it. */
static uint16_t markers(void *whom)
{
    (void)whom;
    return 0;
}
#endif

/* The servos: 1 to 2 milliseconds every 20, of degrees 0 to 180, by timer 1 in steps of half a microsecond. */
static uint16_t pulse(plan_number degrees)
{
    const plan_number steps = (plan_number)2000 + degrees * (plan_number)(2000.0 / 180.0);
    return (uint16_t)steps;
}

static void drive(void *whom, const struct plan_outputs *out)
{
    (void)whom;
    OCR1A = pulse(out->left);
    OCR1B = pulse(out->right);
#ifdef PLAN_ASKS_LEFT_DEG
    left_way = out->left < (plan_number)90 ? -1 : 1;
    right_way = out->right < (plan_number)90 ? 1 : -1; /* mounted mirrored */
#endif
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

static void begin_chip(void)
{
    ADCSRA = (1 << ADEN) | (1 << ADPS2) | (1 << ADPS1) | (1 << ADPS0);
    TCCR0B = (1 << CS01) | (1 << CS00); /* 16 MHz / 64 */
    TIMSK0 = 1 << TOIE0;
#ifndef LEAN
    UBRR0 = 16; /* 115,200 bit/s at double speed */
    UCSR0A = 1 << U2X0;
    UCSR0B = (1 << RXEN0) | (1 << TXEN0);
#endif
    TCCR1A = (1 << COM1A1) | (1 << COM1B1) | (1 << WGM11);
    TCCR1B = (1 << WGM13) | (1 << WGM12) | (1 << CS11);
    ICR1 = 40000;
    DDRD = (1 << DDD5) | (1 << DDD4);
#ifdef PLAN_ASKS_LEFT_DEG
    PCICR = (1 << PCIE0) | (1 << PCIE1);
    PCMSK0 = 1 << PCINT6;
    PCMSK1 = 1 << PCINT8;
#endif
    sei();
}

int main(void)
{
    begin_chip();
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
            while ((UCSR0A & (1 << RXC0)) == 0) {
            }
            plan_serve(&loop, &ear, UDR0);
        }
    }
#elif !defined(LEAN)
    plan_go(&loop);
    for (;;) {
    }
#endif
}
