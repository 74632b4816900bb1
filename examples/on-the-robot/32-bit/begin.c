/* What runs before main: the vectors, and memory made ready. */
#include <stdint.h>

extern uint32_t data_begin, data_end, data_stored, zero_begin, zero_end, stack_top;
int main(void);
void reset(void);

void reset(void)
{
    const uint32_t *from = &data_stored;
    uint32_t *to;
    for (to = &data_begin; to < &data_end;) {
        *to++ = *from++;
    }
    for (to = &zero_begin; to < &zero_end;) {
        *to++ = 0;
    }
    main();
    for (;;) {
    }
}

static void trap(void)
{
    for (;;) {
    }
}

typedef void (*vector)(void);

__attribute__((section(".vectors"), used)) static const vector vectors[16] = {
    (vector)&stack_top, reset, trap, trap, trap, trap, trap, 0, 0, 0, 0, trap, trap, 0, trap, trap,
};

/* A compiler may call these for structs, though nothing here names them. */
void *memcpy(void *to, const void *from, unsigned int count);
void *memset(void *to, int value, unsigned int count);

__attribute__((optimize("no-tree-loop-distribute-patterns"))) void *memcpy(void *to, const void *from, unsigned int count)
{
    char *out = to;
    const char *in = from;
    while (count-- != 0) {
        *out++ = *in++;
    }
    return to;
}

__attribute__((optimize("no-tree-loop-distribute-patterns"))) void *memset(void *to, int value, unsigned int count)
{
    char *out = to;
    while (count-- != 0) {
        *out++ = (char)value;
    }
    return to;
}
