/* A loaded unit and what can be done with it, whichever version of the standard it follows. */
#ifndef MOVREL_HOST_H
#define MOVREL_HOST_H

#include <stddef.h>
#include <stdint.h>

enum { OK, WARNING, DISCARD, ERROR, FATAL };
enum { PARAMETERS, INPUTS, OUTPUTS, CONTINUOUS, GROUPS };
/* Messages that are kept, bytes of one, and rounds of an event iteration after which a unit is said not to settle. */
enum { MESSAGES = 200, LENGTH = 2000, ROUNDS = 1000, FUNCTIONS = 64 };

typedef void (*Function)(void);

typedef enum { DOUBLE, FLOAT, INT8, UINT8, INT16, UINT16, INT32, UINT32, INT64, UINT64, TRUTH8, TRUTH32 } Storage;

/* Values of variables of one type, read or written together; 'numbers' are their doubles in shared memory. */
typedef struct {
  Storage storage;
  char type[12];
  uint32_t *references;
  size_t length, count;
  double *numbers;
  void *values; /* the numbers themselves where the type is double */
  Function get, set;
} Group;

typedef struct {
  int status;
  char category[101];
  char text[LENGTH + 1];
} Message;

typedef struct {
  int again, terminate, states_changed, has_next;
  double next;
} EventOutcome;

typedef struct Host Host;

/* What differs between the versions; every function is 0 where all went well, else the fault is in the host. */
typedef struct {
  const char *prefix, *state_words, *deserialize;
  int counts_values; /* functions for values are told how many values there are, too */
  int (*instantiate)(Host *h, const char *name, const char *token, const char *resources, int logging);
  int (*setup)(Host *h, double start, const double *stop, const double *tolerance);
  int (*enter_initialization)(Host *h, double start, const double *stop, const double *tolerance);
  int (*step)(Host *h, double t, double width, double *reached, int *ended);
  int (*new_discrete_states)(Host *h, EventOutcome *outcome);
  int (*completed_step)(Host *h, int *event, int *end);
  int (*derivatives)(Host *h);
  int (*input_slopes)(Host *h, const uint32_t *references, size_t n, const double *slopes);
} Binding;

extern const Binding BINDING_2, BINDING_3;

struct Host {
  const Binding *binding;
  void *library, *instance, *callbacks;
  struct {
    const char *name;
    Function function;
  } functions[FUNCTIONS]; /* those that were asked for */
  size_t function_count;
  int cosimulation, event_mode, event_pending;
  int discarded; /* whether a call was answered with Discard */
  double *numbers; /* the whole shared memory */
  size_t states, indicators;
  EventOutcome outcome; /* of the newest event iteration in model exchange, all its rounds together */
  double *x, *dx, *z, *clock;
  Group *groups[GROUPS];
  size_t group_count[GROUPS];
  void **kept; /* states of the unit by number */
  size_t kept_count;
  Message *messages;
  size_t message_count, dropped;
  char fault[LENGTH + 200], last_error[LENGTH + 1];
  char *answer;
  size_t answer_length, answer_room;
};

/* Writes down why something failed; always -1. */
int fail(Host *h, const char *format, ...);
void note_message(Host *h, int status, const char *category, const char *text);
/* A function of the unit by its name without the prefix, which must be a constant; NULL, and the fault, where it is missing. */
Function function_of(Host *h, const char *name);
/* The status of a call: 0 for OK, Warning and Discard, else the fault. */
int judged(Host *h, const char *name, int status);

#endif
