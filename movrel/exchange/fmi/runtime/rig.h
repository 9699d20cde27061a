/* What the tables of a rig are made of. Places are those in the numbers of all its units. */
#ifndef MV_RIG_H
#define MV_RIG_H

#include <stdint.h>

enum { RIG_HELD, RIG_EXTRAPOLATED, RIG_SMOOTHED };

typedef struct {
  const unsigned char *bytes;
  size_t size;
} RigBytes;

typedef struct {
  const char *name, *token, *library, *resources; /* paths within the resources of the rig */
  RigBytes before_library, after_library, categories, texts;
  int events, may_return, takes_slopes, stateful;
  int multiple; /* communication steps that it takes at once */
  int exchanged, states, indicators; /* whether it is for model exchange, and integrated here then */
  int base, clock, x, dx, z;
  int first_signal, signals, coupled; /* what it gives, of which the first are read by others */
  int first_link, links;
} RigUnit;

/* A signal into an input: value = factor * source + offset. */
typedef struct {
  int place, source, smooth;
  uint32_t reference;
  double factor, offset;
} RigLink;

/* Units in rig_order that depend on each other, or one; 'feeds' where something passes through at an instant. */
typedef struct {
  int first, size, loops, feeds;
} RigGroup;

typedef struct {
  int parameter, place;
} RigTarget;

typedef struct {
  int to, from;
} RigTransfer;

#endif
