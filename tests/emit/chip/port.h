/* The serial line and the end of a program on the simulated chips: an ATmega1284P, or a Cortex-M3 as the board MPS2 with
 * the image AN385 has it. */
#ifndef CHIP_PORT_H
#define CHIP_PORT_H

#include <stdint.h>

#ifdef __AVR__
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/sleep.h>

static void port_begin(void)
{
    UCSR0B = 1 << TXEN0;
}

static void port_put(char c)
{
    while (!(UCSR0A & (1 << UDRE0))) {
    }
    UDR0 = (uint8_t)c;
}

static void port_end(void)
{
    cli();
    sleep_enable();
    sleep_cpu();
}
#else
static void port_begin(void)
{
    *(volatile uint32_t *)0x40004010u = 217;
    *(volatile uint32_t *)0x40004008u = 1;
}

static void port_put(char c)
{
    *(volatile uint32_t *)0x40004000u = (uint32_t)c;
}

static void port_end(void)
{
    register uint32_t operation __asm__("r0") = 0x18; /* of semihosting: the program ends */
    register uint32_t reason __asm__("r1") = 0x20026;
    __asm__ volatile("bkpt 0xAB" : : "r"(operation), "r"(reason));
}
#endif

#endif
