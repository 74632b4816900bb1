/* Plays a program on a simulated ATmega1284P at 16 MHz (libsimavr), with the chip's serial line tied to standard input
 * and output: `chip-line chip.elf`. Ends with its input. */
#include <errno.h>
#include <poll.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <unistd.h>

#include <simavr/avr_uart.h>
#include <simavr/sim_avr.h>
#include <simavr/sim_elf.h>

enum { OFTEN = 2000 }; /* instructions between two looks at the input */

static uint8_t said[4096];
static size_t said_bytes;
static int takes_more = 1;

static void flush_said(void)
{
    size_t at = 0;
    while (at < said_bytes) {
        const ssize_t n = write(STDOUT_FILENO, said + at, said_bytes - at);
        if (n < 0 && errno == EAGAIN) {
            struct pollfd out = {STDOUT_FILENO, POLLOUT, 0};
            poll(&out, 1, -1);
        } else if (n < 0 && errno != EINTR) {
            exit(0); /* nobody listens any more */
        } else if (n > 0) {
            at += (size_t)n;
        }
    }
    said_bytes = 0;
}

static void chip_says(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)param;
    said[said_bytes++] = (uint8_t)value;
    if (said_bytes == sizeof said) {
        flush_said();
    }
}

static void chip_takes_more(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    (void)param;
    takes_more = 1;
}

static void chip_takes_no_more(struct avr_irq_t *irq, uint32_t value, void *param)
{
    (void)irq;
    (void)value;
    (void)param;
    takes_more = 0;
}

/* Gives the chip what came. False when nothing will come any more. */
static int give(avr_t *avr)
{
    static uint8_t came[4096];
    static ssize_t bytes, at;
    avr_irq_t *const input = avr_io_getirq(avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_INPUT);
    if (at == bytes) {
        struct pollfd in = {STDIN_FILENO, POLLIN, 0};
        if (poll(&in, 1, 0) <= 0) {
            return 1;
        }
        bytes = read(STDIN_FILENO, came, sizeof came);
        at = 0;
        if (bytes <= 0) {
            const int goes_on = bytes < 0 && (errno == EINTR || errno == EAGAIN);
            bytes = 0;
            return goes_on;
        }
    }
    while (takes_more && at < bytes) {
        avr_raise_irq(input, came[at++]);
    }
    return 1;
}

/* The simulator's own remarks go to the error stream. */
static void remark(avr_t *avr, const int level, const char *format, va_list list)
{
    (void)avr;
    if (level <= LOG_ERROR) {
        vfprintf(stderr, format, list);
    }
}

int main(int count, char **words)
{
    elf_firmware_t firmware = {0};
    avr_t *avr;
    uint32_t flags = 0;
    int state = cpu_Running;
    int until_given = OFTEN;
    if (count != 2 || elf_read_firmware(words[1], &firmware) != 0) {
        fprintf(stderr, "usage: chip-line chip.elf\n");
        return 2;
    }
    avr_global_logger_set(remark);
    avr = avr_make_mcu_by_name("atmega1284p");
    if (avr == NULL || avr_init(avr) != 0) {
        fprintf(stderr, "chip-line: there is no such chip\n");
        return 2;
    }
    avr->frequency = firmware.frequency = 16000000;
    avr_load_firmware(avr, &firmware);
    avr_ioctl(avr, AVR_IOCTL_UART_SET_FLAGS('0'), &flags); /* no sleep, no echo of its own */
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUTPUT), chip_says, NULL);
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUT_XON), chip_takes_more, NULL);
    avr_irq_register_notify(avr_io_getirq(avr, AVR_IOCTL_UART_GETIRQ('0'), UART_IRQ_OUT_XOFF), chip_takes_no_more, NULL);
    while (state != cpu_Done && state != cpu_Crashed) {
        state = avr_run(avr);
        if (--until_given == 0) {
            until_given = OFTEN;
            flush_said();
            if (!give(avr)) {
                return 0;
            }
        }
    }
    flush_said();
    return state == cpu_Crashed ? 1 : 0;
}
