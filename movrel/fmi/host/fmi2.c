/* FMI 2.0.4. */
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "host.h"

typedef struct {
  void (*logger)(void *, const char *, int, const char *, const char *, ...);
  void *(*allocate)(size_t, size_t);
  void (*release)(void *);
  void (*finished)(void *, int);
  void *environment;
} Callbacks;

typedef struct {
  int again, terminate, nominals, states, defined;
  double next;
} EventInfo;

static void logger(void *environment, const char *instance, int status, const char *category, const char *text, ...) {
  char said[LENGTH + 1];
  va_list values;
  (void)instance;
  va_start(values, text);
  vsnprintf(said, sizeof said, text ? text : "", values);
  va_end(values);
  note_message(environment, status, category, said);
}

static int instantiate(Host *h, const char *name, const char *token, const char *resources, int logging) {
  typedef void *(*Instantiate)(const char *, int, const char *, const char *, const Callbacks *, int, int);
  Instantiate create = (Instantiate)function_of(h, "Instantiate");
  Callbacks *own;
  char *place;
  if (!create) return -1;
  own = h->callbacks = realloc(h->callbacks, sizeof *own); /* the unit may keep the address */
  place = malloc(strlen(resources) + 8);
  if (!place || !own) {
    free(place);
    return fail(h, "there is no memory left");
  }
  *own = (Callbacks){logger, calloc, free, NULL, h};
  strcat(strcpy(place, "file://"), resources);
  h->instance = create(name, h->cosimulation ? 1 : 0, token, place, own, 0, logging);
  free(place);
  return h->instance ? 0 : fail(h, "fmi2Instantiate returned nothing");
}

static int setup(Host *h, double start, const double *stop, const double *tolerance) {
  typedef int (*Setup)(void *, int, double, double, int, double);
  Setup call = (Setup)function_of(h, "SetupExperiment");
  if (!call) return -1;
  return judged(h, "SetupExperiment",
                call(h->instance, tolerance != NULL, tolerance ? *tolerance : 0.0, start, stop != NULL, stop ? *stop : 0.0));
}

static int enter_initialization(Host *h, double start, const double *stop, const double *tolerance) {
  typedef int (*Enter)(void *);
  Enter call = (Enter)function_of(h, "EnterInitializationMode");
  (void)start, (void)stop, (void)tolerance;
  return call ? judged(h, "EnterInitializationMode", call(h->instance)) : -1;
}

static int step(Host *h, double t, double width, double *reached, int *ended) {
  typedef int (*DoStep)(void *, double, double, int);
  typedef int (*RealStatus)(void *, int, double *);
  typedef int (*TruthStatus)(void *, int, int *);
  DoStep call = (DoStep)function_of(h, "DoStep");
  RealStatus how_far;
  TruthStatus whether;
  int status;
  if (!call) return -1;
  status = call(h->instance, t, width, 1);
  if (judged(h, "DoStep", status)) return -1;
  *reached = t + width, *ended = 0;
  if (status != DISCARD) return 0;
  how_far = (RealStatus)function_of(h, "GetRealStatus");
  whether = (TruthStatus)function_of(h, "GetBooleanStatus");
  if (!how_far || !whether) return -1;
  *reached = t;
  if (judged(h, "GetRealStatus", how_far(h->instance, 2, reached))) return -1;
  return judged(h, "GetBooleanStatus", whether(h->instance, 3, ended));
}

static int new_discrete_states(Host *h, EventOutcome *outcome) {
  typedef int (*Update)(void *, EventInfo *);
  Update call = (Update)function_of(h, "NewDiscreteStates");
  EventInfo info = {0, 0, 0, 0, 0, 0.0};
  if (!call || judged(h, "NewDiscreteStates", call(h->instance, &info))) return -1;
  *outcome = (EventOutcome){info.again, info.terminate, info.states, info.defined, info.next};
  return 0;
}

static int completed_step(Host *h, int *event, int *end) {
  typedef int (*Completed)(void *, int, int *, int *);
  Completed call = (Completed)function_of(h, "CompletedIntegratorStep");
  *event = *end = 0;
  return call ? judged(h, "CompletedIntegratorStep", call(h->instance, 1, event, end)) : -1;
}

static int derivatives(Host *h) {
  typedef int (*Rates)(void *, double *, size_t);
  Rates call = (Rates)function_of(h, "GetDerivatives");
  return call ? judged(h, "GetDerivatives", call(h->instance, h->dx, h->states)) : -1;
}

static int input_slopes(Host *h, const uint32_t *references, size_t n, const double *slopes) {
  typedef int (*Slopes)(void *, const uint32_t *, size_t, const int *, const double *);
  Slopes call = (Slopes)function_of(h, "SetRealInputDerivatives");
  int *orders = malloc((n ? n : 1) * sizeof *orders), status;
  size_t i;
  if (!call || !orders) {
    free(orders);
    return call ? fail(h, "there is no memory left") : -1;
  }
  for (i = 0; i < n; ++i) orders[i] = 1;
  status = judged(h, "SetRealInputDerivatives", call(h->instance, references, n, orders, slopes));
  free(orders);
  return status;
}

const Binding BINDING_2 = {"fmi2", "FMUstate", "DeSerialize", 0, instantiate, setup, enter_initialization, step, new_discrete_states, completed_step,
                           derivatives, input_slopes};
