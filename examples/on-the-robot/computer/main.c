/* A plan's C as a program of this computer: looks come over standard input, answers go to standard output, so that
 * `vturn run ... --on ./plan` drives the map's robot with what will run on the chip. Built by build.sh. */
#include <stdio.h>

#include "plan.h"

/* It is quick enough to take no time: what it does shall not depend on how busy this computer is. */
static uint32_t clock_us(void *whom)
{
    (void)whom;
    return 0;
}

static void put(void *whom, uint8_t byte)
{
    (void)whom;
    putchar(byte);
}

int main(void)
{
    static const struct plan_robot robot = {.clock_us = clock_us, .put = put};
    static struct plan_loop loop;
    static struct plan_ear ear;
    int byte;
    plan_ready(&loop, &robot);
    plan_greet(&loop);
    fflush(stdout);
    while ((byte = getchar()) != EOF) {
        if (plan_serve(&loop, &ear, (uint8_t)byte)) {
            fflush(stdout);
        }
    }
    return 0;
}
