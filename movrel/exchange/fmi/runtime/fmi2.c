/* The interface of FMI 2.0.4 for model exchange and co-simulation. */
#include "fmi2.h"

typedef enum { M2_INSTANTIATED, M2_INITIALIZATION, M2_EVENT, M2_CONTINUOUS, M2_STEP, M2_TERMINATED, M2_ERROR } Mode2;

typedef struct {
  MvUnit *unit;
  fmi2CallbackFunctions callbacks;
  char *name;
  fmi2Type type;
  Mode2 mode;
  double last_success;
} Component2;

static const fmi2Status STATUS2[] = {fmi2OK, fmi2Warning, fmi2Error};

static void log2_(void *owner, MvCategory category, MvStatus status, const char *text) {
  Component2 *c = owner;
  char format[2048];
  int k;
  if (!c->callbacks.logger) return;
  /* Some importers take the message for the whole text, others for a format: it is both when each % is doubled. */
  for (k = 0; *text && k < (int)sizeof format - 2; ++text) {
    if (*text == '%') format[k++] = '%';
    format[k++] = *text;
  }
  format[k] = 0;
  c->callbacks.logger(c->callbacks.componentEnvironment, c->name, STATUS2[status], mv_log_names[category], format);
}

/* Refuses a call that the present mode does not allow (state machines of sections 3.2.3 and 4.2.4). */
static int allowed2(Component2 *c, unsigned modes, const char *function) {
  if (!c) return 0;
  if (modes & (1u << c->mode)) return 1;
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "%s is not allowed in this mode.", function);
  return 0;
}

#define IN2(mode) (1u << (mode))
#define ALIVE2 (IN2(M2_INSTANTIATED) | IN2(M2_INITIALIZATION) | IN2(M2_EVENT) | IN2(M2_CONTINUOUS) | IN2(M2_STEP))
#define READABLE2 (ALIVE2 | IN2(M2_TERMINATED) | IN2(M2_ERROR))

static fmi2Status result2(Component2 *c, MvStatus status) {
  if (status == MV_ERROR) c->mode = M2_ERROR;
  return STATUS2[status];
}

MV_EXPORT const char *fmi2GetTypesPlatform(void) { return "default"; }
MV_EXPORT const char *fmi2GetVersion(void) { return "2.0"; }

MV_EXPORT fmi2Status fmi2SetDebugLogging(fmi2Component component, fmi2Boolean on, size_t n, const fmi2String categories[]) {
  Component2 *c = component;
  if (!c) return fmi2Error;
  return mv_ask_for_log(c->unit, on, n, categories) ? fmi2OK : fmi2Error;
}

MV_EXPORT void fmi2FreeInstance(fmi2Component component) {
  Component2 *c = component;
  if (!c) return;
  mv_free(c->unit);
  free(c->name);
  free(c);
}

MV_EXPORT fmi2Component fmi2Instantiate(fmi2String name, fmi2Type type, fmi2String guid, fmi2String resources,
                                        const fmi2CallbackFunctions *functions, fmi2Boolean visible, fmi2Boolean logging) {
  Component2 *c;
  const char *fault = NULL;
  (void)visible;
  if (!functions) return NULL;
  if (!name || !*name) fault = "an instance needs a name.";
  else if (!guid || strcmp(guid, MV_GUID) != 0) fault = "the guid is not that of this unit; its description belongs to another one.";
  else if (type == fmi2ModelExchange && !(MV_KINDS & 1)) fault = "this unit is not for model exchange.";
  else if (type == fmi2CoSimulation && !(MV_KINDS & 2)) fault = "this unit is not for co-simulation.";
  if (fault) {
    if (functions->logger)
      functions->logger(functions->componentEnvironment, name ? name : "", fmi2Error, "logStatusError", fault);
    return NULL;
  }
  c = calloc(1, sizeof *c);
  if (!c) return NULL;
  c->callbacks = *functions;
  c->type = type;
  c->mode = M2_INSTANTIATED;
  c->name = malloc(strlen(name) + 1);
  c->unit = mv_new(c, log2_);
  if (!c->name || !c->unit) {
    fmi2FreeInstance(c);
    return NULL;
  }
  strcpy(c->name, name);
  fmi2SetDebugLogging(c, logging, 0, NULL);
  if (!mv_open(c->unit, resources)) {
    fmi2FreeInstance(c);
    return NULL;
  }
  return c;
}

MV_EXPORT fmi2Status fmi2SetupExperiment(fmi2Component component, fmi2Boolean tolerance_defined, fmi2Real tolerance, fmi2Real start,
                                         fmi2Boolean stop_defined, fmi2Real stop) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_INSTANTIATED), "fmi2SetupExperiment")) return fmi2Error;
  if (!isfinite(start) || (stop_defined && !(stop > start))) {
    mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "the stop time must lie behind the start time.");
    return fmi2Error;
  }
  mv_setup(c->unit, start, stop_defined ? stop : INFINITY, tolerance_defined ? tolerance : 0.0);
  c->last_success = start;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2EnterInitializationMode(fmi2Component component) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_INSTANTIATED), "fmi2EnterInitializationMode")) return fmi2Error;
  c->mode = M2_INITIALIZATION;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2ExitInitializationMode(fmi2Component component) {
  Component2 *c = component;
  MvStatus status;
  if (!allowed2(c, IN2(M2_INITIALIZATION), "fmi2ExitInitializationMode")) return fmi2Error;
  status = mv_initialise(c->unit);
  if (status != MV_ERROR && c->type == fmi2CoSimulation) {
    status = mv_event(c->unit, NULL, NULL);
    if (status != MV_ERROR) status = mv_step_done(c->unit);
  }
  c->mode = c->type == fmi2CoSimulation ? M2_STEP : M2_EVENT;
  return result2(c, status);
}

MV_EXPORT fmi2Status fmi2Terminate(fmi2Component component) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_EVENT) | IN2(M2_CONTINUOUS) | IN2(M2_STEP), "fmi2Terminate")) return fmi2Error;
  c->mode = M2_TERMINATED;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2Reset(fmi2Component component) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2Reset")) return fmi2Error;
  mv_reset(c->unit);
  c->mode = M2_INSTANTIATED;
  return fmi2OK;
}

/* --- values ------------------------------------------------------------------------------------ */

static int known2(Component2 *c, fmi2ValueReference reference) {
  if (reference < NVARIABLE) return 1;
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "there is no variable with the value reference %u.", reference);
  return 0;
}

/* What is returned where values cannot be worked out: between steps that is no fault, and the step is to be shorter (2.1.3). */
static fmi2Status refused2(Component2 *c) {
  fmi2Status status = c->unit->discarded ? fmi2Discard : fmi2Error;
  c->unit->discarded = 0;
  return status;
}

static fmi2Status get2(Component2 *c, fmi2ValueReference reference, double *value) {
  if (!known2(c, reference)) return fmi2Error;
  return STATUS2[mv_get(c->unit, (int)reference, value)];
}

static fmi2Status set2(Component2 *c, fmi2ValueReference reference, double value) {
  if (!known2(c, reference)) return fmi2Error;
  return STATUS2[mv_set(c->unit, (int)reference, value, c->mode <= M2_INITIALIZATION ? 1 : 2)];
}

MV_EXPORT fmi2Status fmi2GetReal(fmi2Component component, const fmi2ValueReference vr[], size_t n, fmi2Real value[]) {
  Component2 *c = component;
  size_t i;
  if (!allowed2(c, READABLE2, "fmi2GetReal")) return fmi2Error;
  for (i = 0; i < n; ++i)
    if (get2(c, vr[i], &value[i]) != fmi2OK) return refused2(c);
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetInteger(fmi2Component component, const fmi2ValueReference vr[], size_t n, fmi2Integer value[]) {
  Component2 *c = component;
  size_t i;
  double number;
  if (!allowed2(c, READABLE2, "fmi2GetInteger")) return fmi2Error;
  for (i = 0; i < n; ++i) {
    if (get2(c, vr[i], &number) != fmi2OK) return refused2(c);
    value[i] = (fmi2Integer)lround(number);
  }
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetBoolean(fmi2Component component, const fmi2ValueReference vr[], size_t n, fmi2Boolean value[]) {
  Component2 *c = component;
  size_t i;
  double number;
  if (!allowed2(c, READABLE2, "fmi2GetBoolean")) return fmi2Error;
  for (i = 0; i < n; ++i) {
    if (get2(c, vr[i], &number) != fmi2OK) return refused2(c);
    value[i] = number != 0.0;
  }
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetString(fmi2Component component, const fmi2ValueReference vr[], size_t n, fmi2String value[]) {
  Component2 *c = component;
  size_t i;
  if (!allowed2(c, READABLE2, "fmi2GetString")) return fmi2Error;
  for (i = 0; i < n; ++i) {
    if (vr[i] < NVARIABLE || vr[i] >= NVARIABLE + NTEXT) {
      mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "there is no text with the value reference %u.", vr[i]);
      return fmi2Error;
    }
    value[i] = mv_texts[vr[i] - NVARIABLE];
  }
  return fmi2OK;
}

#define SETTABLE2 ALIVE2

MV_EXPORT fmi2Status fmi2SetReal(fmi2Component component, const fmi2ValueReference vr[], size_t n, const fmi2Real value[]) {
  Component2 *c = component;
  size_t i;
  if (!allowed2(c, SETTABLE2, "fmi2SetReal")) return fmi2Error;
  for (i = 0; i < n; ++i)
    if (set2(c, vr[i], value[i]) != fmi2OK) return fmi2Error;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SetInteger(fmi2Component component, const fmi2ValueReference vr[], size_t n, const fmi2Integer value[]) {
  Component2 *c = component;
  size_t i;
  if (!allowed2(c, SETTABLE2, "fmi2SetInteger")) return fmi2Error;
  for (i = 0; i < n; ++i)
    if (set2(c, vr[i], value[i]) != fmi2OK) return fmi2Error;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SetBoolean(fmi2Component component, const fmi2ValueReference vr[], size_t n, const fmi2Boolean value[]) {
  Component2 *c = component;
  size_t i;
  if (!allowed2(c, SETTABLE2, "fmi2SetBoolean")) return fmi2Error;
  for (i = 0; i < n; ++i)
    if (set2(c, vr[i], value[i] ? 1.0 : 0.0) != fmi2OK) return fmi2Error;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SetString(fmi2Component component, const fmi2ValueReference vr[], size_t n, const fmi2String value[]) {
  Component2 *c = component;
  (void)vr;
  (void)value;
  if (!allowed2(c, SETTABLE2, "fmi2SetString")) return fmi2Error;
  if (n == 0) return fmi2OK;
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "texts of this unit are constants.");
  return fmi2Error;
}

/* --- keeping the state ------------------------------------------------------------------------- */

typedef struct {
  size_t size;
  int mode;
  double last_success;
} Kept2;

static size_t kept_size2(Component2 *c) { return sizeof(Kept2) + mv_stored_size(c->unit); }

static size_t size_of_kept2(const void *state) {
  Kept2 head;
  memcpy(&head, state, sizeof head);
  return head.size;
}

static void write_kept2(Component2 *c, unsigned char *bytes) {
  Kept2 head;
  memset(&head, 0, sizeof head);
  head.size = kept_size2(c);
  head.mode = c->mode;
  head.last_success = c->last_success;
  memcpy(bytes, &head, sizeof head);
  mv_store(c->unit, bytes + sizeof head);
}

static fmi2Status read_kept2(Component2 *c, const unsigned char *bytes, size_t size) {
  Kept2 head;
  if (size >= sizeof head) memcpy(&head, bytes, sizeof head);
  if (size < sizeof head || head.size != size || mv_restore(c->unit, bytes + sizeof head, size - sizeof head) == MV_ERROR) {
    mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "these bytes are not a state of this unit.");
    return fmi2Error;
  }
  c->mode = (Mode2)head.mode;
  c->last_success = head.last_success;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetFMUstate(fmi2Component component, fmi2FMUstate *state) {
  Component2 *c = component;
  void *kept;
  if (!allowed2(c, READABLE2, "fmi2GetFMUstate") || !state) return fmi2Error;
  kept = realloc(*state, kept_size2(c)); /* units within this one may need more room than before */
  if (!kept) return fmi2Error;
  write_kept2(c, *state = kept);
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SetFMUstate(fmi2Component component, fmi2FMUstate state) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2SetFMUstate") || !state) return fmi2Error;
  return read_kept2(c, state, size_of_kept2(state));
}

MV_EXPORT fmi2Status fmi2FreeFMUstate(fmi2Component component, fmi2FMUstate *state) {
  (void)component;
  if (!state) return fmi2OK;
  free(*state);
  *state = NULL;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SerializedFMUstateSize(fmi2Component component, fmi2FMUstate state, size_t *size) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2SerializedFMUstateSize") || !state) return fmi2Error;
  *size = size_of_kept2(state);
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SerializeFMUstate(fmi2Component component, fmi2FMUstate state, fmi2Byte bytes[], size_t size) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2SerializeFMUstate") || !state || size < size_of_kept2(state)) return fmi2Error;
  memcpy(bytes, state, size_of_kept2(state));
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2DeSerializeFMUstate(fmi2Component component, const fmi2Byte bytes[], size_t size, fmi2FMUstate *state) {
  Component2 *c = component;
  Kept2 head;
  if (!allowed2(c, READABLE2, "fmi2DeSerializeFMUstate") || !state) return fmi2Error;
  if (size >= sizeof head) memcpy(&head, bytes, sizeof head);
  if (size < sizeof head || head.size != size) {
    mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "these bytes are not a state of this unit.");
    return fmi2Error;
  }
  if (!*state) *state = malloc(size);
  if (!*state) return fmi2Error;
  memcpy(*state, bytes, size);
  return fmi2OK;
}

/* --- derivatives ------------------------------------------------------------------------------- */

MV_EXPORT fmi2Status fmi2GetDirectionalDerivative(fmi2Component component, const fmi2ValueReference unknown[], size_t unknowns,
                                                  const fmi2ValueReference known[], size_t knowns, const fmi2Real seed[],
                                                  fmi2Real result[]) {
  Component2 *c = component;
  double x[MV_AT_LEAST_ONE(NX)] = {0.0}, p[MV_AT_LEAST_ONE(NP)] = {0.0}, rates[MV_AT_LEAST_ONE(NX)], values[MV_AT_LEAST_ONE(NY)];
  size_t i;
  if (!allowed2(c, IN2(M2_INITIALIZATION) | IN2(M2_EVENT) | IN2(M2_CONTINUOUS) | IN2(M2_STEP) | IN2(M2_TERMINATED),
                "fmi2GetDirectionalDerivative"))
    return fmi2Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi2Error;
  for (i = 0; i < knowns; ++i) {
    if (!known2(c, known[i]) || !mv_seed(&mv_variables[known[i]], seed[i], x, p)) return fmi2Error;
  }
  if (mv_forward(c->unit, x, p, rates, values) == MV_ERROR) return fmi2Error;
  for (i = 0; i < unknowns; ++i) {
    if (!known2(c, unknown[i])) return fmi2Error;
    result[i] = mv_slope(&mv_variables[unknown[i]], x, p, rates, values);
  }
  return fmi2OK;
}

/* --- model exchange ---------------------------------------------------------------------------- */

MV_EXPORT fmi2Status fmi2EnterEventMode(fmi2Component component) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_EVENT) | IN2(M2_CONTINUOUS), "fmi2EnterEventMode")) return fmi2Error;
  c->mode = M2_EVENT;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2NewDiscreteStates(fmi2Component component, fmi2EventInfo *info) {
  Component2 *c = component;
  int changed = 0;
  double next = INFINITY;
  MvStatus status;
  if (!allowed2(c, IN2(M2_EVENT), "fmi2NewDiscreteStates")) return fmi2Error;
  status = mv_event(c->unit, &changed, &next);
  info->newDiscreteStatesNeeded = fmi2False; /* the iteration is done inside */
  info->terminateSimulation = c->unit->ended;
  info->nominalsOfContinuousStatesChanged = fmi2False;
  info->valuesOfContinuousStatesChanged = changed;
  info->nextEventTimeDefined = isfinite(next) ? fmi2True : fmi2False;
  info->nextEventTime = isfinite(next) ? next : 0.0;
  return result2(c, status);
}

MV_EXPORT fmi2Status fmi2EnterContinuousTimeMode(fmi2Component component) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_EVENT), "fmi2EnterContinuousTimeMode")) return fmi2Error;
  c->mode = M2_CONTINUOUS;
  c->unit->may_discard = 1;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2CompletedIntegratorStep(fmi2Component component, fmi2Boolean no_set_state, fmi2Boolean *enter_event,
                                                 fmi2Boolean *terminate) {
  Component2 *c = component;
  MvStatus status;
  (void)no_set_state;
  if (!allowed2(c, IN2(M2_CONTINUOUS), "fmi2CompletedIntegratorStep")) return fmi2Error;
  *enter_event = mv_drifts(c->unit) ? fmi2True : fmi2False;
  *terminate = c->unit->ended;
  status = mv_step_done(c->unit);
  c->unit->may_discard = status != MV_ERROR;
  return result2(c, status);
}

MV_EXPORT fmi2Status fmi2SetTime(fmi2Component component, fmi2Real time) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_EVENT) | IN2(M2_CONTINUOUS), "fmi2SetTime")) return fmi2Error;
  mv_set_time(c->unit, time);
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2SetContinuousStates(fmi2Component component, const fmi2Real x[], size_t n) {
  Component2 *c = component;
  if (!allowed2(c, IN2(M2_EVENT) | IN2(M2_CONTINUOUS), "fmi2SetContinuousStates") || n != NX) return fmi2Error;
  mv_set_states(c->unit, x);
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetContinuousStates(fmi2Component component, fmi2Real x[], size_t n) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2GetContinuousStates") || n != NX) return fmi2Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi2Error;
  memcpy(x, c->unit->x, NX * sizeof(double));
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetDerivatives(fmi2Component component, fmi2Real dx[], size_t n) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2GetDerivatives") || n != NX) return fmi2Error;
  if ((!c->unit->started && mv_start(c->unit) == MV_ERROR) || mv_rates(c->unit) == MV_ERROR) return refused2(c);
  memcpy(dx, c->unit->dx, NX * sizeof(double));
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetEventIndicators(fmi2Component component, fmi2Real z[], size_t n) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2GetEventIndicators") || n != NINDICATOR) return fmi2Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi2Error;
  return mv_indicators(c->unit, z) == MV_ERROR ? refused2(c) : fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetNominalsOfContinuousStates(fmi2Component component, fmi2Real nominal[], size_t n) {
  Component2 *c = component;
  if (!allowed2(c, READABLE2, "fmi2GetNominalsOfContinuousStates") || n != NX) return fmi2Error;
  memcpy(nominal, mv_nominal, NX * sizeof(double));
  return fmi2OK;
}

/* --- co-simulation ----------------------------------------------------------------------------- */

MV_EXPORT fmi2Status fmi2SetRealInputDerivatives(fmi2Component component, const fmi2ValueReference vr[], size_t n,
                                                 const fmi2Integer order[], const fmi2Real value[]) {
  Component2 *c = component;
  (void)vr;
  (void)order;
  (void)value;
  if (!c || n == 0) return c ? fmi2OK : fmi2Error;
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "inputs of this unit are held during a step; it takes no derivatives of them.");
  return fmi2Error;
}

MV_EXPORT fmi2Status fmi2GetRealOutputDerivatives(fmi2Component component, const fmi2ValueReference vr[], size_t n,
                                                  const fmi2Integer order[], fmi2Real value[]) {
  Component2 *c = component;
  (void)vr;
  (void)order;
  (void)value;
  if (!c || n == 0) return c ? fmi2OK : fmi2Error;
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "this unit tells no derivatives of outputs.");
  return fmi2Error;
}

MV_EXPORT fmi2Status fmi2DoStep(fmi2Component component, fmi2Real from, fmi2Real step, fmi2Boolean no_set_state) {
  Component2 *c = component;
  MvStatus status;
  (void)no_set_state;
  if (!allowed2(c, IN2(M2_STEP), "fmi2DoStep")) return fmi2Error;
  if (fabs(from - c->unit->t) > 1e-9 * fmax(fabs(from), c->unit->span)) {
    mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "a step from %g s was asked for, but the unit is at %g s.", from, c->unit->t);
    return fmi2Error;
  }
  if (!(step >= 0.0) || from + step > c->unit->stop_time * (1.0 + 1e-12) + 1e-12 * c->unit->span) {
    mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, step >= 0.0 ? "the step leads beyond the stop time." : "the step is negative.");
    return fmi2Error;
  }
  if (c->unit->ended) return fmi2Discard;
  status = mv_advance(c->unit, from + step, NULL);
  if (status != MV_ERROR) c->last_success = c->unit->t;
  if (status != MV_ERROR && c->unit->ended && c->unit->t < from + step) return fmi2Discard;
  return result2(c, status);
}

MV_EXPORT fmi2Status fmi2CancelStep(fmi2Component component) {
  (void)component;
  return fmi2Error; /* steps are never pending */
}

MV_EXPORT fmi2Status fmi2GetStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Status *value) {
  if (!component || kind != fmi2DoStepStatus) return fmi2Error;
  *value = fmi2OK;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetRealStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Real *value) {
  Component2 *c = component;
  if (!c || kind != fmi2LastSuccessfulTime) return fmi2Error;
  *value = c->last_success;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetIntegerStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Integer *value) {
  (void)component;
  (void)kind;
  (void)value;
  return fmi2Discard;
}

MV_EXPORT fmi2Status fmi2GetBooleanStatus(fmi2Component component, const fmi2StatusKind kind, fmi2Boolean *value) {
  Component2 *c = component;
  if (!c || kind != fmi2Terminated) return fmi2Error;
  *value = c->unit->ended;
  return fmi2OK;
}

MV_EXPORT fmi2Status fmi2GetStringStatus(fmi2Component component, const fmi2StatusKind kind, fmi2String *value) {
  if (!component || kind != fmi2PendingStatus) return fmi2Error;
  *value = "";
  return fmi2OK;
}
