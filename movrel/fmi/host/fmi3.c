/* FMI 3.0.2. */
#include <stdbool.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "host.h"

typedef void (*Logger)(void *, int, const char *, const char *);

static void logger(void *environment, int status, const char *category, const char *text) {
  note_message(environment, status, category, text);
}

static int instantiate(Host *h, const char *name, const char *token, const char *resources, int logging) {
  typedef void *(*Exchange)(const char *, const char *, const char *, bool, bool, void *, Logger);
  typedef void *(*Simulate)(const char *, const char *, const char *, bool, bool, bool, bool, const uint32_t *, size_t, void *, Logger,
                            void *);
  Function create = function_of(h, h->cosimulation ? "InstantiateCoSimulation" : "InstantiateModelExchange");
  char *place;
  if (!create) return -1;
  place = malloc(strlen(resources) + 2);
  if (!place) return fail(h, "there is no memory left");
  strcat(strcpy(place, resources), "/");
  if (h->cosimulation)
    h->instance = ((Simulate)create)(name, token, place, false, logging != 0, h->event_mode != 0, h->event_mode != 0, NULL, 0, h, logger,
                                     NULL);
  else h->instance = ((Exchange)create)(name, token, place, false, logging != 0, h, logger);
  free(place);
  return h->instance ? 0 : fail(h, "fmi3Instantiate… returned nothing");
}

static int setup(Host *h, double start, const double *stop, const double *tolerance) {
  (void)h, (void)start, (void)stop, (void)tolerance; /* told when the initialization is entered */
  return 0;
}

static int enter_initialization(Host *h, double start, const double *stop, const double *tolerance) {
  typedef int (*Enter)(void *, bool, double, double, bool, double);
  Enter call = (Enter)function_of(h, "EnterInitializationMode");
  if (!call) return -1;
  return judged(h, "EnterInitializationMode",
                call(h->instance, tolerance != NULL, tolerance ? *tolerance : 0.0, start, stop != NULL, stop ? *stop : 0.0));
}

static int step(Host *h, double t, double width, double *reached, int *ended) {
  typedef int (*DoStep)(void *, double, double, bool, bool *, bool *, bool *, double *);
  DoStep call = (DoStep)function_of(h, "DoStep");
  bool event = false, end = false, early = false;
  double last = t + width;
  int status;
  if (!call) return -1;
  status = call(h->instance, t, width, true, &event, &end, &early, &last);
  if (judged(h, "DoStep", status)) return -1;
  *reached = early || end || status == DISCARD ? last : t + width;
  *ended = end;
  h->event_pending = h->event_mode && event;
  return 0;
}

static int new_discrete_states(Host *h, EventOutcome *outcome) {
  typedef int (*Update)(void *, bool *, bool *, bool *, bool *, bool *, double *);
  Update call = (Update)function_of(h, "UpdateDiscreteStates");
  bool again = false, end = false, nominals = false, states = false, defined = false;
  double next = 0.0;
  if (!call || judged(h, "UpdateDiscreteStates", call(h->instance, &again, &end, &nominals, &states, &defined, &next))) return -1;
  *outcome = (EventOutcome){again, end, states, defined, next};
  return 0;
}

static int completed_step(Host *h, int *event, int *end) {
  typedef int (*Completed)(void *, bool, bool *, bool *);
  Completed call = (Completed)function_of(h, "CompletedIntegratorStep");
  bool wanted = false, ends = false;
  if (!call || judged(h, "CompletedIntegratorStep", call(h->instance, true, &wanted, &ends))) return -1;
  *event = wanted, *end = ends;
  return 0;
}

static int derivatives(Host *h) {
  typedef int (*Rates)(void *, double *, size_t);
  Rates call = (Rates)function_of(h, "GetContinuousStateDerivatives");
  return call ? judged(h, "GetContinuousStateDerivatives", call(h->instance, h->dx, h->states)) : -1;
}

static int input_slopes(Host *h, const uint32_t *references, size_t n, const double *slopes) {
  (void)references, (void)n, (void)slopes;
  return fail(h, "this version of the standard has no derivatives of inputs");
}

const Binding BINDING_3 = {"fmi3", "FMUState", "Deserialize", 1, instantiate, setup, enter_initialization, step, new_discrete_states, completed_step,
                           derivatives, input_slopes};
