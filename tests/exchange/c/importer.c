/* Loads a unit and drives its functions as the state machines of the standard say (2.0.4: sections 3.2.3 and 4.2.4;
 * 3.0.2: sections 2.3, 3.2 and 4.2); compiled with calls2.h or calls3.h.
 *
 * importer UNIT.so TOKEN me|cs|derive START STOP STEP STATES INDICATORS REFERENCE...
 * importer UNIT.so TOKEN log START STOP STEP STATES INDICATORS CATEGORY...
 *
 * me, cs: a row for each point with the values of the references (real numbers). derive: the first references are the
 * states; prints directional derivatives of the others beside differences and beside what the adjoint gives.
 */
#include <dlfcn.h>
#include <math.h>
#include <stdarg.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#define MUST(call)                                                       \
  do {                                                                   \
    int status_ = (call);                                                \
    if (status_ > 1) {                                                   \
      fprintf(stderr, "%s gave %d (line %d)\n", #call, status_, __LINE__); \
      exit(4);                                                           \
    }                                                                    \
  } while (0)
#define REFUSED(call)                                                    \
  do {                                                                   \
    if ((call) <= 1) {                                                   \
      fprintf(stderr, "%s was not refused (line %d)\n", #call, __LINE__);  \
      exit(5);                                                           \
    }                                                                    \
  } while (0)

static const unsigned NOWHERE = 4000000000u;

#if FMI == 2
#include "calls2.h"
#else
#include "calls3.h"
#endif

static int n, roots, wanted;
static unsigned references[4096];
static double values[4096];
static const char *token;

static void row(Component c, double t) {
  int k;
  MUST(get_reals(c, references, wanted, values));
  printf("%.17g", t);
  for (k = 0; k < wanted; ++k) printf(",%.17g", values[k]);
  printf("\n");
}

static Component begin(const char *name, int type, double start, double stop) {
  Component c = make(name, type, token);
  if (!c) exit(4);
  MUST(start_up(c, start, stop));
  return c;
}

/* Model exchange by the classical method of order 4 in small steps, events found by bisection. */
static void rates(Component c, double t, const double *x, double *dx) {
  MUST(SetTime(c, t));
  if (n) MUST(SetContinuousStates(c, x, (size_t)n));
  if (n) MUST(rates_of(c, dx, n));
}

static void runge_kutta(Component c, double t, double h, const double *x, double *out) {
  double k1[256], k2[256], k3[256], k4[256], y[256];
  int i;
  rates(c, t, x, k1);
  for (i = 0; i < n; ++i) y[i] = x[i] + h / 2 * k1[i];
  rates(c, t + h / 2, y, k2);
  for (i = 0; i < n; ++i) y[i] = x[i] + h / 2 * k2[i];
  rates(c, t + h / 2, y, k3);
  for (i = 0; i < n; ++i) y[i] = x[i] + h * k3[i];
  rates(c, t + h, y, k4);
  for (i = 0; i < n; ++i) out[i] = x[i] + h / 6 * (k1[i] + 2 * k2[i] + 2 * k3[i] + k4[i]);
}

static int crossed(Component c, double t, const double *x, const double *before, double *z) {
  int i, any = 0;
  MUST(SetTime(c, t));
  if (n) MUST(SetContinuousStates(c, x, (size_t)n));
  if (roots) MUST(GetEventIndicators(c, z, (size_t)roots));
  for (i = 0; i < roots; ++i) any |= (before[i] > 0) != (z[i] > 0);
  return any;
}

static double settle(Component c) {
  int again, terminate, defined, rounds = 0;
  double next;
  do {
    MUST(update(c, &again, &terminate, &defined, &next));
    if (++rounds > 100) exit(6);
  } while (again && !terminate);
  MUST(EnterContinuousTimeMode(c));
  return terminate ? -INFINITY : defined ? next : INFINITY;
}

static void exchange(Component c, double start, double stop, double step) {
  double x[256], next[256], z0[256], z1[256], t = start, following = settle(c), point;
  int event, end, k, count = (int)ceil((stop - start) / step - 1e-9);
  if (n) MUST(GetContinuousStates(c, x, (size_t)n));
  row(c, t);
  for (k = 1; k <= count; ++k) {
    point = k == count ? stop : start + k * step;
    while (t < point) {
      double target = fmin(point, following), h = fmin(target - t, step / 20);
      if (target - t < 1.5 * h) h = target - t;
      crossed(c, t, x, z0, z0);
      runge_kutta(c, t, h, x, next);
      event = crossed(c, t + h, next, z0, z1);
      if (event) {
        double low = 0, high = h;
        while (high - low > 4e-16 * fmax(fabs(t), h)) {
          double middle = (low + high) / 2;
          if (middle <= low || middle >= high) break;
          runge_kutta(c, t, middle, x, next);
          if (crossed(c, t + middle, next, z0, z1)) high = middle;
          else low = middle;
        }
        runge_kutta(c, t, high, x, next);
        h = high;
      }
      t = h == target - t ? target : t + h;
      memcpy(x, next, sizeof(double) * (size_t)n);
      MUST(SetTime(c, t));
      if (n) MUST(SetContinuousStates(c, x, (size_t)n));
      {
        int wants;
        MUST(completed(c, &wants, &end));
        event |= wants || t >= following;
      }
      if (event) {
        MUST(EnterEventMode(c));
        following = settle(c);
        if (following == -INFINITY) {
          row(c, t);
          return;
        }
        if (n) MUST(GetContinuousStates(c, x, (size_t)n));
      }
    }
    row(c, t);
  }
}

static void cosimulate(Component c, double start, double stop, double step) {
  int k, ended, count = (int)ceil((stop - start) / step - 1e-9);
  double t = start, reached;
  row(c, t);
  for (k = 1; k <= count; ++k) {
    double point = k == count ? stop : start + k * step;
    MUST(step_to(c, t, point - t, &reached, &ended));
    t = ended ? reached : point;
    row(c, t);
    if (ended) return;
  }
}

/* What every unit must stand: calls out of turn, states kept and restored, two instances, a second run after a reset. */
static void stress(int type, double start, double stop, double step) {
  Component a, b;
  void *kept = NULL, *again = NULL;
  char *bytes;
  size_t size;
  double first[4096], second[4096], x[256], reached;
  int ended, k;
  if (strcmp(GetVersion(), VERSION) != 0 || make("wrong", type, "{another}")) exit(7);
  a = begin("one", type, start, stop);
  b = begin("two", type, start, stop);
  MUST(SetDebugLogging(a, 1, 0, NULL));
  MUST(SetDebugLogging(a, 0, 0, NULL));
  REFUSED(enter_again(a, start, stop));
  REFUSED(get_reals(a, &NOWHERE, 1, values));
  besides(a, type);
  MUST(state_of(a, &kept));
  MUST(size_of_state(a, kept, &size));
  bytes = malloc(size);
  MUST(bytes_of_state(a, kept, bytes, size));
  if (type == 1) {
    REFUSED(EnterEventMode(a));
    REFUSED(step_to(a, start + 5 * (stop - start), step, &reached, &ended));
    MUST(step_to(a, start, step, &reached, &ended));
    MUST(get_reals(a, references, wanted, first));
    MUST(set_state(a, kept));
    MUST(step_to(a, start, step, &reached, &ended));
    MUST(get_reals(a, references, wanted, second));
    if (memcmp(first, second, sizeof(double) * (size_t)wanted) != 0) exit(8);
    /* the other instance did not move; a state travels between them as bytes */
    MUST(state_from(b, bytes, size, &again));
    MUST(set_state(b, again));
    MUST(step_to(b, start, step, &reached, &ended));
    MUST(get_reals(b, references, wanted, second));
    if (memcmp(first, second, sizeof(double) * (size_t)wanted) != 0) exit(8);
  } else {
    REFUSED(step_to(a, start, step, &reached, &ended));
    settle(a);
    if (n) {
      MUST(GetContinuousStates(a, x, (size_t)n));
      MUST(GetNominalsOfContinuousStates(a, first, (size_t)n));
      for (k = 0; k < n; ++k)
        if (!(first[k] > 0)) exit(9);
    }
    MUST(state_from(b, bytes, size, &again));
    MUST(set_state(b, again));
  }
  bytes[0] ^= 0x55;
  REFUSED(state_from(b, bytes, size, &again));
  REFUSED(state_from(b, bytes, 3, &again));
  MUST(free_state(a, &kept));
  MUST(free_state(b, &again));
  if (kept || again) exit(8);
  free(bytes);
  if (type == 1) MUST(Terminate(a));
  MUST(Reset(a));
  MUST(start_up(a, start, stop));
  MUST(get_reals(a, references, wanted, first));
  FreeInstance(a);
  FreeInstance(b);
  FreeInstance(NULL);
}

static void derive(Component c, const unsigned *unknown, int unknowns, const unsigned *known) {
  double slope[256], plus[256], minus[256], adjoint[256], x[256];
  int i, k;
  settle(c);
  MUST(GetContinuousStates(c, x, (size_t)n));
  for (k = 0; k < n; ++k) {
    double at = x[k], h = 1e-6 * fmax(1.0, fabs(at));
    MUST(slope_of(c, unknown, unknowns, known[k], slope));
    x[k] = at + h;
    MUST(SetContinuousStates(c, x, (size_t)n));
    MUST(get_reals(c, unknown, unknowns, plus));
    x[k] = at - h;
    MUST(SetContinuousStates(c, x, (size_t)n));
    MUST(get_reals(c, unknown, unknowns, minus));
    x[k] = at;
    MUST(SetContinuousStates(c, x, (size_t)n));
    for (i = 0; i < unknowns; ++i) {
      int status = slope_by_adjoint(c, unknown[i], known, n, adjoint);
      if (status > 1) exit(4);
      printf("%.17g,%.17g,%.17g\n", slope[i], (plus[i] - minus[i]) / (2 * h), status < 0 ? slope[i] : adjoint[k]);
    }
  }
}

int main(int argc, char **argv) {
  double start, stop, step;
  int type, k;
  Component c;
  if (argc < 9) return 2;
  load(argv[1]);
  token = argv[2];
  type = strcmp(argv[3], "cs") == 0;
  start = atof(argv[4]), stop = atof(argv[5]), step = atof(argv[6]);
  n = atoi(argv[7]), roots = atoi(argv[8]);
  if (strcmp(argv[3], "log") == 0) { /* co-simulation; what follows are categories of messages */
    c = begin("log", 1, start, stop);
    if (argc > 9) SetDebugLogging(c, 1, (size_t)(argc - 9), (const char *const *)argv + 9);
    cosimulate(c, start, stop, step);
    FreeInstance(c);
    return 0;
  }
  for (k = 9; k < argc; ++k) references[wanted++] = (unsigned)atoi(argv[k]);
  if (strcmp(argv[3], "derive") == 0) {
    c = begin("derive", 0, start, stop);
    derive(c, references + n, wanted - n, references);
    FreeInstance(c);
    return 0;
  }
  stress(type, start, stop, step);
  c = begin("run", type, start, stop);
  (type ? cosimulate : exchange)(c, start, stop, step);
  MUST(Terminate(c));
  FreeInstance(c);
  return 0;
}
