/* A unit of FMI 3.0 written by hand from the standard: a stiff chain of two with an array of states, a variable of every
 * numeric type that follows an input of its type, and a step that the unit cuts short. For model exchange and co-simulation.
 * Built with AFTER it is kicked by a thousandth each AFTER s, in an event mode between the steps of co-simulation. */
#include <math.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

typedef uint32_t VR;
typedef void (*Logger)(void *, int, const char *, const char *);

/* References: 0 time, 1 x[2], 2 der(x)[2], 3 rate, 4 gain[2]; 10 + k input and 30 + k output of type k. */
typedef struct {
  double t, x[2], rate, gain[2], stop;
  double numbers[12];
  bool ended, due;
  char plate[20], report[40];
} Unit;

static const double START[2] = {1.0, 0.0};

const char *fmi3GetVersion(void) { return "3.0"; }
int fmi3SetDebugLogging(Unit *u, bool on, size_t n, const char *const c[]) { (void)u, (void)on, (void)n, (void)c; return 0; }
static Unit *make(const char *token) {
  Unit *u;
  if (strcmp(token, "{three}") != 0) return NULL;
  u = calloc(1, sizeof *u);
  memcpy(u->x, START, sizeof START);
  strcpy(u->plate, "none");
  u->rate = 1000.0, u->gain[0] = 1.0, u->gain[1] = 2.0, u->stop = INFINITY;
  return u;
}
void *fmi3InstantiateModelExchange(const char *n, const char *token, const char *r, bool v, bool l, void *e, Logger log) { (void)n, (void)r, (void)v, (void)l, (void)e, (void)log; return make(token); }
void *fmi3InstantiateCoSimulation(const char *n, const char *token, const char *r, bool v, bool l, bool em, bool er, const VR q[], size_t nq, void *e, Logger log, void *i) {
  (void)n, (void)r, (void)v, (void)l, (void)em, (void)er, (void)q, (void)nq, (void)e, (void)log, (void)i;
  return make(token);
}
void fmi3FreeInstance(void *u) { free(u); }
int fmi3EnterInitializationMode(Unit *u, bool d, double tol, double start, bool s, double stop) { (void)d, (void)tol, (void)s, (void)stop; u->t = start; return 0; }
int fmi3ExitInitializationMode(Unit *u) { (void)u; return 0; }
int fmi3EnterEventMode(Unit *u) { (void)u; return 0; }
int fmi3Terminate(Unit *u) { (void)u; return 0; }

static void rates(const Unit *u, double *dx) {
  dx[0] = -u->x[0] * u->gain[0];
  dx[1] = u->rate * (u->x[0] * u->gain[1] - u->x[1]);
}

int fmi3GetFloat64(Unit *u, const VR r[], size_t n, double value[], size_t values) {
  size_t i, at = 0;
  double dx[2];
  rates(u, dx);
  for (i = 0; i < n; ++i) {
    if (r[i] == 1 || r[i] == 2 || r[i] == 4) {
      memcpy(value + at, r[i] == 1 ? u->x : r[i] == 2 ? dx : u->gain, sizeof dx);
      at += 2;
    } else if (r[i] == 3) value[at++] = u->rate;
    else if (r[i] == 0) value[at++] = u->t;
    else if (r[i] == 10 || r[i] == 30) value[at++] = u->numbers[0];
    else return 3;
  }
  return at == values ? 0 : 3;
}
int fmi3SetFloat64(Unit *u, const VR r[], size_t n, const double value[], size_t values) {
  size_t i, at = 0;
  for (i = 0; i < n; ++i) {
    if (r[i] == 1 || r[i] == 4) {
      memcpy(r[i] == 1 ? u->x : u->gain, value + at, 2 * sizeof(double));
      at += 2;
    } else if (r[i] == 3) u->rate = value[at++];
    else if (r[i] == 10) u->numbers[0] = value[at++];
    else return 3;
  }
  return at == values ? 0 : 3;
}
#define TYPE(NAME, CTYPE, K)                                                                             \
  int fmi3Get##NAME(Unit *u, const VR r[], size_t n, CTYPE value[], size_t values) {                     \
    size_t i;                                                                                            \
    for (i = 0; i < n; ++i) {                                                                            \
      if (r[i] != 10 + K && r[i] != 30 + K) return 3;                                                    \
      value[i] = (CTYPE)u->numbers[K];                                                                   \
    }                                                                                                    \
    return n == values ? 0 : 3;                                                                          \
  }                                                                                                      \
  int fmi3Set##NAME(Unit *u, const VR r[], size_t n, const CTYPE value[], size_t values) {               \
    size_t i;                                                                                            \
    for (i = 0; i < n; ++i) {                                                                            \
      if (r[i] != 10 + K) return 3;                                                                      \
      u->numbers[K] = (double)value[i];                                                                  \
    }                                                                                                    \
    return n == values ? 0 : 3;                                                                          \
  }
TYPE(Float32, float, 1) TYPE(Int8, int8_t, 2) TYPE(UInt8, uint8_t, 3) TYPE(Int16, int16_t, 4) TYPE(UInt16, uint16_t, 5)
TYPE(Int32, int32_t, 6) TYPE(UInt32, uint32_t, 7) TYPE(Int64, int64_t, 8) TYPE(UInt64, uint64_t, 9) TYPE(Boolean, bool, 10)

/* Text 50 is a parameter of 20 bytes at most, 51 says it and whether x[0] is above a half. */
int fmi3SetString(Unit *u, const VR r[], size_t n, const char *const value[], size_t values) {
  if (n != 1 || values != 1 || r[0] != 50 || strlen(value[0]) >= sizeof u->plate) return 3;
  strcpy(u->plate, value[0]);
  return 0;
}
int fmi3GetString(Unit *u, const VR r[], size_t n, const char *value[], size_t values) {
  size_t i;
  strcat(strcpy(u->report, u->plate), u->x[0] > 0.5 ? " high" : " low");
  for (i = 0; i < n; ++i) value[i] = r[i] == 50 ? u->plate : u->report;
  return n == values ? 0 : 3;
}

#ifndef AFTER
#define AFTER INFINITY
#endif
int fmi3EnterStepMode(Unit *u) { (void)u; return 0; }
int fmi3GetFMUState(Unit *u, void **state) { if (!*state) *state = malloc(sizeof *u); memcpy(*state, u, sizeof *u); return 0; }
int fmi3SetFMUState(Unit *u, void *state) { memcpy(u, state, sizeof *u); return 0; }
int fmi3FreeFMUState(Unit *u, void **state) { (void)u; free(*state); *state = NULL; return 0; }

int fmi3UpdateDiscreteStates(Unit *u, bool *again, bool *end, bool *nominals, bool *states, bool *defined, double *next) {
  if (u->due) u->x[0] += 0.001;
  u->due = false;
  *again = *end = *nominals = *states = *defined = false;
  *next = 0.0;
  return 0;
}
int fmi3EnterContinuousTimeMode(Unit *u) { (void)u; return 0; }
int fmi3CompletedIntegratorStep(Unit *u, bool no, bool *event, bool *end) { (void)no; *event = false; *end = u->t > 0.9 && u->gain[0] < 0.0; return 0; }
int fmi3SetTime(Unit *u, double t) { u->t = t; return 0; }
int fmi3SetContinuousStates(Unit *u, const double x[], size_t n) { memcpy(u->x, x, n * sizeof *x); return 0; }
int fmi3GetContinuousStates(Unit *u, double x[], size_t n) { memcpy(x, u->x, n * sizeof *x); return 0; }
int fmi3GetContinuousStateDerivatives(Unit *u, double dx[], size_t n) { (void)n; rates(u, dx); return 0; }
int fmi3GetNominalsOfContinuousStates(Unit *u, double x[], size_t n) { (void)u; while (n) x[--n] = 1.0; return 0; }

/* Exact for x[0]; x[1] by the exponential of the stiff part with x[0] at its exact value. A negative gain ends the run at 0.5 s. */
int fmi3DoStep(Unit *u, double t, double h, bool no, bool *event, bool *end, bool *early, double *last) {
  double g = u->gain[0], until = t + h, a = u->rate * u->gain[1] / (u->rate - g), x0;
  (void)no;
  *event = *early = *end = false;
  if (g < 0.0 && until > 0.5) until = 0.5, *end = *early = true;
  if (isfinite(AFTER)) {
    double kick = (floor(t / AFTER + 1e-6) + 1.0) * AFTER;
    if (kick <= until + 1e-9) *event = u->due = true, *early = kick < until - 1e-9, until = *early ? kick : until;
  }
  x0 = u->x[0];
  u->x[0] = x0 * exp(-g * (until - t));
  u->x[1] = a * u->x[0] + (u->x[1] - a * x0) * exp(-u->rate * (until - t));
  u->t = *last = until;
  return 0;
}
