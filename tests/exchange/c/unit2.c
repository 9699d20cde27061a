/* A unit of FMI 2.0 written by hand from the standard: a mass on a spring that strikes a wall, with an input force, one
 * variable of each type, and ways to misbehave (-DMISBEHAVE=...). For model exchange and co-simulation. */
#include <arpa/inet.h>
#include <math.h>
#include <signal.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/socket.h>
#include <unistd.h>

#ifndef SECRET
#define SECRET ""
#define PORT 0
#define PARENT 0
#endif
#ifndef AFTER
#define AFTER 0.0
#endif
#ifndef MISBEHAVE
#define MISBEHAVE 0
#endif
enum { CRASH = 1, HANG, ENDLESS_LOG, BAD_STATUS, FATAL_STATUS, NO_INSTANCE, EAT_MEMORY, EXIT, NOT_FINITE, DIVIDE, PEEK };

typedef void (*Logger)(void *, const char *, int, const char *, const char *, ...);
typedef struct {
  Logger logger;
  void *(*allocate)(size_t, size_t);
  void (*release)(void *);
  void (*finished)(void *, int);
  void *environment;
} Callbacks;
typedef struct {
  int again, terminate, nominals, states, defined;
  double next;
} EventInfo;

/* References: 0 x, 1 v, 2 der(x), 3 der(v), 4 force, 5 stiffness, 6 wall; integers: 0 strikes; booleans: 0 touching. */
typedef struct {
  double t, x, v, force, stiffness, wall;
  int strikes, touching, cs;
  Callbacks callbacks;
} Unit;

static void misbehave(Unit *u) {
  static volatile double zero = 0.0;
  int k;
  (void)zero;
  if (u->t < AFTER) return;
  if (MISBEHAVE == CRASH) *(volatile int *)8 = 1;
  if (MISBEHAVE == HANG)
    for (;;) zero = zero + 1.0;
  if (MISBEHAVE == ENDLESS_LOG)
    for (k = 0; k < 5000; ++k) u->callbacks.logger(u->callbacks.environment, "unit", 1, "log", "and another line");
  if (MISBEHAVE == EAT_MEMORY)
    for (;;) {
      char *more = malloc(1u << 28);
      if (!more) abort();
      memset(more, 1, 1u << 28);
    }
  if (MISBEHAVE == PEEK) { /* says what it can reach: a file, a server on this machine, other processes */
    struct sockaddr_in there = {0};
    FILE *file = fopen(SECRET, "r");
    int line = socket(AF_INET, SOCK_STREAM, 0);
    there.sin_family = AF_INET;
    there.sin_port = htons(PORT);
    there.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
    u->callbacks.logger(u->callbacks.environment, "unit", 1, "log", "file %d, server %d, parent %d", file != NULL,
                        connect(line, (struct sockaddr *)&there, sizeof there) == 0, kill(PARENT, 0) == 0);
    if (file) fclose(file);
    close(line);
  }
  if (MISBEHAVE == EXIT) exit(7);
  if (MISBEHAVE == DIVIDE) abort();
}

const char *fmi2GetTypesPlatform(void) { return "default"; }
const char *fmi2GetVersion(void) { return "2.0"; }
int fmi2SetDebugLogging(void *u, int on, size_t n, const char *const categories[]) { (void)u, (void)on, (void)n, (void)categories; return 0; }

void *fmi2Instantiate(const char *name, int type, const char *guid, const char *resources, const Callbacks *callbacks, int visible, int logging) {
  Unit *u;
  (void)name, (void)resources, (void)visible, (void)logging;
  if (MISBEHAVE == NO_INSTANCE || strcmp(guid, "{hand-written}") != 0) return NULL;
  u = callbacks->allocate(1, sizeof *u);
  u->callbacks = *callbacks;
  u->cs = type == 1;
  u->x = 1.0, u->stiffness = 4.0, u->wall = -0.5;
  return u;
}
void fmi2FreeInstance(void *u) { if (u) ((Unit *)u)->callbacks.release(u); }
int fmi2SetupExperiment(Unit *u, int d, double tolerance, double start, int s, double stop) { (void)d, (void)tolerance, (void)s, (void)stop; u->t = start; return 0; }
int fmi2EnterInitializationMode(Unit *u) { (void)u; return 0; }
int fmi2ExitInitializationMode(Unit *u) { (void)u; return 0; }
int fmi2Terminate(Unit *u) { (void)u; return 0; }
int fmi2Reset(Unit *u) { (void)u; return 0; }

static double acceleration(const Unit *u) { return MISBEHAVE == NOT_FINITE ? NAN : u->force - u->stiffness * u->x; }

int fmi2GetReal(Unit *u, const unsigned r[], size_t n, double value[]) {
  size_t i;
  for (i = 0; i < n; ++i) {
    double all[7] = {u->x, u->v, u->v, acceleration(u), u->force, u->stiffness, u->wall};
    if (r[i] > 6) return 3;
    value[i] = all[r[i]];
  }
  return 0;
}
int fmi2SetReal(Unit *u, const unsigned r[], size_t n, const double value[]) {
  size_t i;
  for (i = 0; i < n; ++i) {
    double *all[7] = {&u->x, &u->v, NULL, NULL, &u->force, &u->stiffness, &u->wall};
    if (r[i] > 6 || !all[r[i]]) return 3;
    *all[r[i]] = value[i];
  }
  return 0;
}
int fmi2GetInteger(Unit *u, const unsigned r[], size_t n, int value[]) { if (n && r[0]) return 3; if (n) value[0] = u->strikes; return 0; }
int fmi2SetInteger(Unit *u, const unsigned r[], size_t n, const int value[]) { if (n && r[0]) return 3; if (n) u->strikes = value[0]; return 0; }
int fmi2GetBoolean(Unit *u, const unsigned r[], size_t n, int value[]) { if (n && r[0]) return 3; if (n) value[0] = u->touching; return 0; }
int fmi2SetBoolean(Unit *u, const unsigned r[], size_t n, const int value[]) { (void)u, (void)r, (void)value; return n ? 3 : 0; }
int fmi2GetString(Unit *u, const unsigned r[], size_t n, const char *value[]) { (void)u, (void)r; if (n) value[0] = "hand-written"; return 0; }
int fmi2SetString(Unit *u, const unsigned r[], size_t n, const char *const value[]) { (void)u, (void)r, (void)value; return n ? 3 : 0; }

int fmi2EnterEventMode(Unit *u) { (void)u; return 0; }
int fmi2NewDiscreteStates(Unit *u, EventInfo *info) {
  memset(info, 0, sizeof *info);
  if (u->x <= u->wall && u->v < 0) {
    u->v = -0.8 * u->v;
    u->strikes += 1;
    u->touching = 1;
    info->states = 1;
    info->again = 1;
  } else {
    u->touching = 0;
  }
  return 0;
}
int fmi2EnterContinuousTimeMode(Unit *u) { (void)u; return 0; }
int fmi2CompletedIntegratorStep(Unit *u, int no, int *event, int *end) { (void)u, (void)no; *event = *end = 0; return 0; }
int fmi2SetTime(Unit *u, double t) { u->t = t; return 0; }
int fmi2SetContinuousStates(Unit *u, const double x[], size_t n) { (void)n; u->x = x[0], u->v = x[1]; return 0; }
int fmi2GetContinuousStates(Unit *u, double x[], size_t n) { (void)n; x[0] = u->x, x[1] = u->v; return 0; }
int fmi2GetDerivatives(Unit *u, double dx[], size_t n) { (void)n; misbehave(u); dx[0] = u->v, dx[1] = acceleration(u); return MISBEHAVE == BAD_STATUS ? 3 : MISBEHAVE == FATAL_STATUS ? 4 : 0; }
int fmi2GetEventIndicators(Unit *u, double z[], size_t n) { (void)n; z[0] = u->x - u->wall + (u->v > 0 ? 1e-9 : 0.0); return 0; }
int fmi2GetNominalsOfContinuousStates(Unit *u, double x[], size_t n) { size_t i; (void)u; for (i = 0; i < n; ++i) x[i] = 1.0; return 0; }

/* Between strikes the motion is a sine, so each step is exact; strikes are found by bisection. */
static void fly(const Unit *u, double h, double *x, double *v) {
  double w = sqrt(u->stiffness), rest = u->force / u->stiffness;
  *x = rest + (u->x - rest) * cos(w * h) + u->v / w * sin(w * h);
  *v = u->v * cos(w * h) - (u->x - rest) * w * sin(w * h);
}
int fmi2DoStep(Unit *u, double t, double h, int no) {
  double left = h;
  (void)t, (void)no;
  misbehave(u);
  if (MISBEHAVE == BAD_STATUS && u->t >= AFTER) {
    u->callbacks.logger(u->callbacks.environment, "unit", 3, "logStatusError", "the %s is %d %% broken after %.2f s", "spring", 97, u->t + 0.25);
    return 3;
  }
  if (MISBEHAVE == FATAL_STATUS) return 4;
  while (left > 0) {
    double part = left < 0.01 ? left : 0.01, x, v;
    fly(u, part, &x, &v);
    if (x < u->wall && v < 0) {
      double low = 0, high = part;
      while (high - low > 1e-15) {
        double middle = (low + high) / 2;
        fly(u, middle, &x, &v);
        if (x < u->wall) high = middle;
        else low = middle;
      }
      fly(u, high, &x, &v);
      u->x = x, u->v = -0.8 * v, u->strikes += 1, left -= high;
      continue;
    }
    u->x = x, u->v = v, left -= part;
  }
  u->t += h;
  return 0;
}
int fmi2GetRealStatus(Unit *u, int kind, double *value) { (void)kind; *value = u->t; return 0; }
int fmi2GetBooleanStatus(Unit *u, int kind, int *value) { (void)u, (void)kind; *value = 0; return 0; }
