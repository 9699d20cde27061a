/* Commands that a host obeys, as bytes. */
#ifndef MOVREL_COMMANDS_H
#define MOVREL_COMMANDS_H

#include "host.h"

#if defined(VISIBLE)
#elif defined(__GNUC__)
#define VISIBLE __attribute__((visibility("default")))
#else
#define VISIBLE
#endif

/* A host whose numbers stand at an address, and its end. */
VISIBLE Host *host_new(double *numbers);
VISIBLE void host_free(Host *h);
/* What happens in every step: s step, x exchange, r rates, z indicators, o outputs, a all of these, c step completed.
 * 0, or -1 with the reason in the answer. The third number of the clock tells how far a step went, whether a completed one
 * wants an event, and of values whether the unit discarded the call. */
VISIBLE int host_do(Host *h, int code);
/* What happens seldom: a letter and its arguments, little-endian, as 'commands.py' writes them. The answer is JSON. */
VISIBLE int host_obey(Host *h, const unsigned char *command, size_t size);
/* The state of the unit as bytes, where it can be had so: how many, into some, and back from them; 0, or -1 with the fault. */
VISIBLE size_t host_stored_size(Host *h);
VISIBLE int host_store(Host *h, unsigned char *bytes, size_t size);
VISIBLE int host_restore(Host *h, const unsigned char *bytes, size_t size);
/* The sizes of the states; 0, or -1 with the fault. */
VISIBLE int host_nominals(Host *h, double *sizes);
VISIBLE const char *host_answer(const Host *h, size_t *length);

#endif
