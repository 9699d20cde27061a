/* What a unit keeps while it runs, and what can be done with it. The interfaces of FMI 2 and 3 stand above this file. */
#ifndef MV_UNIT_H
#define MV_UNIT_H

#include <float.h>
#include <math.h>
#include <stddef.h>
#include <stdlib.h>
#include <string.h>

#define MV_AT_LEAST_ONE(n) ((n) > 0 ? (n) : 1)

/* The loops that a large unit spends its time in: worth more optimisation than its many generated lines. */
#if defined(__GNUC__) && !defined(__clang__)
#define MV_OFTEN __attribute__((optimize("O3")))
#else
#define MV_OFTEN
#endif

typedef enum { MV_OK = 0, MV_WARNING, MV_ERROR } MvStatus;
typedef enum { MV_LOG_EVENTS, MV_LOG_STEPS, MV_LOG_WARNING, MV_LOG_ERROR, MV_LOG_COUNT } MvCategory;

/* Where the value of a variable comes from. */
typedef enum { MV_TIME, MV_PARAMETER, MV_STATE, MV_SOLVED, MV_RATE, MV_FIXED, MV_INDICATOR } MvSource;

typedef struct {
  MvSource source;
  int index;
  double sign;
  double value; /* of MV_FIXED */
  int start;    /* which parameter is its start value, or -1 */
  int settable; /* 0 never, 1 before the start, 2 an input */
} MvVariable;

/* One relation or rounding whose outcome is held between events. */
typedef struct {
  int floor;
  int inclusive;
  const char *text;
} MvSlot;

typedef struct {
  int warning;
  const char *text;
} MvAssertion;

typedef struct {
  int to;
  int from;
} MvTransfer;

typedef struct {
  int linear;
  int position;
  int size;
} MvBlock;

/* A stretch of time that was integrated, with a polynomial in it. */
typedef struct {
  double from, to, width;
  int kind; /* 0 none, 1 Rosenbrock, 2 Hermite */
  int ends_in_event;
} MvStretch;

typedef void (*MvLogger)(void *owner, MvCategory category, MvStatus status, const char *text);

typedef struct MvUnit {
  void *owner;
  MvLogger logger;
  unsigned logged; /* the categories that are asked for, as bits */
  /* numbers that make up the state, in one piece */
  double *state;
  size_t state_size;
  double *x, *p, *m, *w, *hold, *rests, *next_sample, *dense, *history;
  double *unknown_size, *largest_unknown, *term_size, *largest_term; /* of the implicit equations, while they are solved */
  /* work space */
  double *work;
  double *s, *y, *dx, *g, *scale, *acting, *first, *present, *start_s, *start_y;
  double *matrix, *vector, *trial, *size_of_terms, *jac, *big, *stage, *rate, *weight, *old_m, *casadi, *sink;
  double *coming, *lines, *drift;
  long long *casadi_int;
  int *pivot, *forced;
  unsigned long long *seen;
  double t, start_time, stop_time, tolerance, span, last_step;
  MvStretch stretch;
  int bound, started, initialised, solved, valued, rated, ended, inputs_changed, inputs_held, no_start_event;
  /* Whether a failure to solve is one of states that are only tried, as between the steps of an importer; and whether one was. */
  int may_discard, discarded;
  long counted_steps, counted_rates;
} MvUnit;

MvUnit *mv_new(void *owner, MvLogger logger);
/* Told where its resources are, as a path or a URI; 0 where they cannot be used. */
int mv_open(MvUnit *u, const char *resources);
void mv_free(MvUnit *u);
void mv_reset(MvUnit *u);
void mv_setup(MvUnit *u, double start, double stop, double tolerance);

MvStatus mv_get(MvUnit *u, int variable, double *value);
/* 'phase' is 1 until the start is left, 2 afterwards. */
MvStatus mv_set(MvUnit *u, int variable, double value, int phase);

MvStatus mv_start(MvUnit *u);
MvStatus mv_initialise(MvUnit *u);
void mv_set_time(MvUnit *u, double t);
void mv_set_states(MvUnit *u, const double *x);
MvStatus mv_rates(MvUnit *u);
MvStatus mv_values(MvUnit *u);
MvStatus mv_indicators(MvUnit *u, double *z);
MvStatus mv_event(MvUnit *u, int *states_changed, double *next_time);
MvStatus mv_step_done(MvUnit *u);
double mv_next_time(MvUnit *u);
/* Whether the states have left the constraints that integration does not keep so far that they are to be taken back. */
int mv_drifts(MvUnit *u);

/* Called after each step that the solver of the unit made; nonzero asks to return there. */
typedef int (*MvAfterStep)(void *owner, double t);
/* Integrates until 'target'; where it returned earlier (ended, asked to), 'u->t' is before that. */
MvStatus mv_advance(MvUnit *u, double target, MvAfterStep after);

/* Derivatives in a direction: of x (seed_x), p (seed_p); gives those of the rates and solved unknowns. */
MvStatus mv_forward(MvUnit *u, const double *seed_x, const double *seed_p, double *rates, double *values);
MvStatus mv_reverse(MvUnit *u, const double *seed_rates, const double *seed_values, double *x, double *p);

size_t mv_stored_size(const MvUnit *u);
void mv_store(const MvUnit *u, unsigned char *bytes);
MvStatus mv_restore(MvUnit *u, const unsigned char *bytes, size_t size);

void mv_say(MvUnit *u, MvCategory category, MvStatus status, const char *format, ...);
/* Asks for categories by name, all of them where none is named; 0 when the unit lacks one. Errors are always told. */
int mv_ask_for_log(MvUnit *u, int on, size_t n, const char *const names[]);

#endif
