/* The interface of FMI 3.0.2 for model exchange and co-simulation. */
#include "fmi3.h"

typedef enum { M3_INSTANTIATED, M3_INITIALIZATION, M3_EVENT, M3_CONTINUOUS, M3_STEP, M3_TERMINATED, M3_ERROR } Mode3;

typedef struct {
  MvUnit *unit;
  fmi3InstanceEnvironment environment;
  fmi3LogMessageCallback logger;
  fmi3IntermediateUpdateCallback intermediate;
  int cosimulation, may_return_early, returned_early;
  double return_at;
  Mode3 mode;
} Instance3;

static const fmi3Status STATUS3[] = {fmi3OK, fmi3Warning, fmi3Error};

static void log3_(void *owner, MvCategory category, MvStatus status, const char *text) {
  Instance3 *c = owner;
  if (!c->logger) return;
  c->logger(c->environment, STATUS3[status], mv_log_names[category], text);
}

/* Refuses a call that the present mode does not allow (state machines of sections 2.3, 3.2.3 and 4.2.3). */
static int allowed3(Instance3 *c, unsigned modes, const char *function) {
  if (!c) return 0;
  if (modes & (1u << c->mode)) return 1;
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "%s is not allowed in this mode.", function);
  return 0;
}

#define IN3(mode) (1u << (mode))
#define ALIVE3 (IN3(M3_INSTANTIATED) | IN3(M3_INITIALIZATION) | IN3(M3_EVENT) | IN3(M3_CONTINUOUS) | IN3(M3_STEP))
#define READABLE3 (ALIVE3 | IN3(M3_TERMINATED) | IN3(M3_ERROR))

static fmi3Status result3(Instance3 *c, MvStatus status) {
  if (status == MV_ERROR) c->mode = M3_ERROR;
  return STATUS3[status];
}

/* What is returned where values cannot be worked out: between steps that is no fault, and the step is to be shorter (2.2.4). */
static fmi3Status refused3(Instance3 *c) {
  fmi3Status status = c->unit->discarded ? fmi3Discard : fmi3Error;
  c->unit->discarded = 0;
  return status;
}

static fmi3Status refuse3(fmi3Instance instance, const char *why) {
  Instance3 *c = instance;
  if (c) mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "%s", why);
  return fmi3Error;
}

MV_EXPORT const char *fmi3GetVersion(void) { return "3.0"; }

MV_EXPORT fmi3Status fmi3SetDebugLogging(fmi3Instance instance, fmi3Boolean on, size_t n, const fmi3String categories[]) {
  Instance3 *c = instance;
  if (!c) return fmi3Error;
  return mv_ask_for_log(c->unit, on, n, categories) ? fmi3OK : fmi3Error;
}

static Instance3 *instantiate3(fmi3String name, fmi3String token, fmi3String resources, int kind, fmi3Boolean logging,
                               fmi3InstanceEnvironment environment, fmi3LogMessageCallback logger) {
  Instance3 *c;
  const char *fault = NULL;
  if (!name || !*name) fault = "an instance needs a name.";
  else if (!token || strcmp(token, MV_GUID) != 0) fault = "the instantiation token is not that of this unit; its description belongs to another one.";
  else if (!(MV_KINDS & kind)) fault = kind == 1 ? "this unit is not for model exchange." : "this unit is not for co-simulation.";
  if (fault) {
    if (logger) logger(environment, fmi3Error, "logStatusError", fault);
    return NULL;
  }
  c = calloc(1, sizeof *c);
  if (!c) return NULL;
  c->environment = environment;
  c->logger = logger;
  c->cosimulation = kind == 2;
  c->unit = mv_new(c, log3_);
  if (!c->unit) {
    free(c);
    return NULL;
  }
  fmi3SetDebugLogging(c, logging, 0, NULL);
  if (!mv_open(c->unit, resources)) {
    mv_free(c->unit);
    free(c);
    return NULL;
  }
  return c;
}

MV_EXPORT fmi3Instance fmi3InstantiateModelExchange(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
                                                    fmi3Boolean logging, fmi3InstanceEnvironment environment,
                                                    fmi3LogMessageCallback logger) {
  (void)visible;
  return instantiate3(name, token, resources, 1, logging, environment, logger);
}

MV_EXPORT fmi3Instance fmi3InstantiateCoSimulation(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
                                                   fmi3Boolean logging, fmi3Boolean event_mode, fmi3Boolean early_return,
                                                   const fmi3ValueReference intermediate[], size_t intermediates,
                                                   fmi3InstanceEnvironment environment, fmi3LogMessageCallback logger,
                                                   fmi3IntermediateUpdateCallback update) {
  Instance3 *c;
  (void)visible;
  (void)event_mode; /* hasEventMode is false: events are handled inside a step */
  (void)intermediate;
  (void)intermediates;
  c = instantiate3(name, token, resources, 2, logging, environment, logger);
  if (!c) return NULL;
  c->intermediate = update;
  c->may_return_early = early_return;
  return c;
}

MV_EXPORT fmi3Instance fmi3InstantiateScheduledExecution(fmi3String name, fmi3String token, fmi3String resources, fmi3Boolean visible,
                                                         fmi3Boolean logging, fmi3InstanceEnvironment environment,
                                                         fmi3LogMessageCallback logger, fmi3ClockUpdateCallback clock,
                                                         fmi3LockPreemptionCallback lock, fmi3UnlockPreemptionCallback unlock) {
  (void)name;
  (void)token;
  (void)resources;
  (void)visible;
  (void)logging;
  (void)clock;
  (void)lock;
  (void)unlock;
  if (logger) logger(environment, fmi3Error, "logStatusError", "this unit is not for scheduled execution.");
  return NULL;
}

MV_EXPORT void fmi3FreeInstance(fmi3Instance instance) {
  Instance3 *c = instance;
  if (!c) return;
  mv_free(c->unit);
  free(c);
}

MV_EXPORT fmi3Status fmi3EnterInitializationMode(fmi3Instance instance, fmi3Boolean tolerance_defined, fmi3Float64 tolerance,
                                                 fmi3Float64 start, fmi3Boolean stop_defined, fmi3Float64 stop) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_INSTANTIATED), "fmi3EnterInitializationMode")) return fmi3Error;
  if (!isfinite(start) || (stop_defined && !(stop > start)))
    return refuse3(c, "the stop time must lie behind the start time.");
  mv_setup(c->unit, start, stop_defined ? stop : INFINITY, tolerance_defined ? tolerance : 0.0);
  c->mode = M3_INITIALIZATION;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3ExitInitializationMode(fmi3Instance instance) {
  Instance3 *c = instance;
  MvStatus status;
  if (!allowed3(c, IN3(M3_INITIALIZATION), "fmi3ExitInitializationMode")) return fmi3Error;
  status = mv_initialise(c->unit);
  if (status != MV_ERROR && c->cosimulation) {
    status = mv_event(c->unit, NULL, NULL);
    if (status != MV_ERROR) status = mv_step_done(c->unit);
  }
  c->mode = c->cosimulation ? M3_STEP : M3_EVENT;
  return result3(c, status);
}

MV_EXPORT fmi3Status fmi3Terminate(fmi3Instance instance) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_EVENT) | IN3(M3_CONTINUOUS) | IN3(M3_STEP), "fmi3Terminate")) return fmi3Error;
  c->mode = M3_TERMINATED;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3Reset(fmi3Instance instance) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3Reset")) return fmi3Error;
  mv_reset(c->unit);
  c->mode = M3_INSTANTIATED;
  return fmi3OK;
}

/* --- values: an array has the reference of its first element, and its elements follow ---------- */

static int length3(Instance3 *c, fmi3ValueReference reference, int type) {
  if (reference < NVARIABLE && mv_length[reference] > 0 && mv_type[reference] == type) return mv_length[reference];
  mv_say(c->unit, MV_LOG_ERROR, MV_ERROR, "there is no such variable with the value reference %u.", (unsigned)reference);
  return 0;
}

static fmi3Status get3(Instance3 *c, int type, const fmi3ValueReference vr[], size_t n, size_t values, double *out) {
  size_t i, at = 0;
  int j, length;
  for (i = 0; i < n; ++i) {
    length = length3(c, vr[i], type);
    if (length == 0) return fmi3Error;
    if (at + (size_t)length > values) return refuse3(c, "fewer values are asked for than the variables have.");
    for (j = 0; j < length; ++j)
      if (mv_get(c->unit, (int)vr[i] + j, &out[at++]) == MV_ERROR) return refused3(c);
  }
  return at == values ? fmi3OK : refuse3(c, "more values are asked for than the variables have.");
}

/* The value with a number among all that were given; of different types. */
typedef double (*Nth)(const void *values, size_t at);

static fmi3Status set3(Instance3 *c, int type, const fmi3ValueReference vr[], size_t n, size_t values, const void *given, Nth nth) {
  size_t i, at = 0;
  int j, length;
  for (i = 0; i < n; ++i) {
    length = length3(c, vr[i], type);
    if (length == 0) return fmi3Error;
    if (at + (size_t)length > values) return refuse3(c, "fewer values are given than the variables have.");
    for (j = 0; j < length; ++j)
      if (mv_set(c->unit, (int)vr[i] + j, nth(given, at++), c->mode <= M3_INITIALIZATION ? 1 : 2) == MV_ERROR) return fmi3Error;
  }
  return at == values ? fmi3OK : refuse3(c, "more values are given than the variables have.");
}

static double nth_float64(const void *v, size_t i) { return ((const fmi3Float64 *)v)[i]; }
static double nth_int32(const void *v, size_t i) { return ((const fmi3Int32 *)v)[i]; }
static double nth_int64(const void *v, size_t i) { return (double)((const fmi3Int64 *)v)[i]; }
static double nth_boolean(const void *v, size_t i) { return ((const fmi3Boolean *)v)[i] ? 1.0 : 0.0; }

MV_EXPORT fmi3Status fmi3GetFloat64(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3Float64 value[], size_t values) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3GetFloat64")) return fmi3Error;
  return get3(c, MV_REAL, vr, n, values, value);
}

MV_EXPORT fmi3Status fmi3SetFloat64(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const fmi3Float64 value[],
                                    size_t values) {
  Instance3 *c = instance;
  if (!allowed3(c, ALIVE3, "fmi3SetFloat64")) return fmi3Error;
  return set3(c, MV_REAL, vr, n, values, value, nth_float64);
}

/* One getter a type: the values are numbers inside. */
#define GETTER3(NAME, TYPE, KIND, CONVERT)                                                                                        \
  MV_EXPORT fmi3Status NAME(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, TYPE value[], size_t values) {        \
    Instance3 *c = instance;                                                                                                      \
    double number;                                                                                                                \
    size_t i, at = 0;                                                                                                             \
    int j, length;                                                                                                                \
    if (!allowed3(c, READABLE3, #NAME)) return fmi3Error;                                                                         \
    for (i = 0; i < n; ++i) {                                                                                                     \
      length = length3(c, vr[i], KIND);                                                                                           \
      if (length == 0) return fmi3Error;                                                                                          \
      if (at + (size_t)length > values) return refuse3(c, "fewer values are asked for than the variables have.");                 \
      for (j = 0; j < length; ++j) {                                                                                              \
        if (mv_get(c->unit, (int)vr[i] + j, &number) == MV_ERROR) return refused3(c);                                              \
        value[at++] = CONVERT;                                                                                                    \
      }                                                                                                                           \
    }                                                                                                                             \
    return at == values ? fmi3OK : refuse3(c, "more values are asked for than the variables have.");                              \
  }

#define SETTER3(NAME, TYPE, KIND, NTH)                                                                                            \
  MV_EXPORT fmi3Status NAME(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const TYPE value[], size_t values) {  \
    Instance3 *c = instance;                                                                                                      \
    if (!allowed3(c, ALIVE3, #NAME)) return fmi3Error;                                                                            \
    return set3(c, KIND, vr, n, values, value, NTH);                                                                              \
  }

GETTER3(fmi3GetInt32, fmi3Int32, MV_INTEGER, (fmi3Int32)lround(number))
SETTER3(fmi3SetInt32, fmi3Int32, MV_INTEGER, nth_int32)
GETTER3(fmi3GetInt64, fmi3Int64, MV_ENUMERATION, (fmi3Int64)llround(number))
SETTER3(fmi3SetInt64, fmi3Int64, MV_ENUMERATION, nth_int64)
GETTER3(fmi3GetBoolean, fmi3Boolean, MV_BOOLEAN, number != 0.0)
SETTER3(fmi3SetBoolean, fmi3Boolean, MV_BOOLEAN, nth_boolean)

MV_EXPORT fmi3Status fmi3GetString(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3String value[], size_t values) {
  Instance3 *c = instance;
  size_t i;
  if (!allowed3(c, READABLE3, "fmi3GetString") || values != n) return fmi3Error;
  for (i = 0; i < n; ++i) {
    if (vr[i] < NVARIABLE || vr[i] >= NVARIABLE + NTEXT) return refuse3(c, "there is no text with this value reference.");
    value[i] = mv_texts[vr[i] - NVARIABLE];
  }
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3SetString(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const fmi3String value[],
                                   size_t values) {
  (void)vr;
  (void)value;
  (void)values;
  if (instance && n == 0) return fmi3OK;
  return refuse3(instance, "texts of this unit are constants.");
}

/* The unit has no variables of the other types. */
#define NONE_OF3(NAME, TYPE)                                                                                                      \
  MV_EXPORT fmi3Status fmi3Get##NAME(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, TYPE value[], size_t values) { \
    (void)vr, (void)value, (void)values;                                                                                          \
    return instance && n == 0 ? fmi3OK : refuse3(instance, "this unit has no variables of type " #NAME ".");                      \
  }                                                                                                                               \
  MV_EXPORT fmi3Status fmi3Set##NAME(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const TYPE value[],          \
                                     size_t values) {                                                                             \
    (void)vr, (void)value, (void)values;                                                                                          \
    return instance && n == 0 ? fmi3OK : refuse3(instance, "this unit has no variables of type " #NAME ".");                      \
  }

NONE_OF3(Float32, fmi3Float32)
NONE_OF3(Int8, fmi3Int8)
NONE_OF3(UInt8, fmi3UInt8)
NONE_OF3(Int16, fmi3Int16)
NONE_OF3(UInt16, fmi3UInt16)
NONE_OF3(UInt32, fmi3UInt32)
NONE_OF3(UInt64, fmi3UInt64)

MV_EXPORT fmi3Status fmi3GetBinary(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, size_t sizes[], fmi3Binary value[],
                                   size_t values) {
  (void)vr, (void)sizes, (void)value, (void)values;
  return instance && n == 0 ? fmi3OK : refuse3(instance, "this unit has no variables of type Binary.");
}

MV_EXPORT fmi3Status fmi3SetBinary(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const size_t sizes[],
                                   const fmi3Binary value[], size_t values) {
  (void)vr, (void)sizes, (void)value, (void)values;
  return instance && n == 0 ? fmi3OK : refuse3(instance, "this unit has no variables of type Binary.");
}

#define NO_CLOCKS3 (instance && n == 0 ? fmi3OK : refuse3(instance, "this unit has no clocks."))

MV_EXPORT fmi3Status fmi3GetClock(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3Clock value[]) {
  (void)vr, (void)value;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3SetClock(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const fmi3Clock value[]) {
  (void)vr, (void)value;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3GetIntervalDecimal(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3Float64 intervals[],
                                            fmi3IntervalQualifier qualifiers[]) {
  (void)vr, (void)intervals, (void)qualifiers;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3GetIntervalFraction(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3UInt64 counters[],
                                             fmi3UInt64 resolutions[], fmi3IntervalQualifier qualifiers[]) {
  (void)vr, (void)counters, (void)resolutions, (void)qualifiers;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3GetShiftDecimal(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3Float64 shifts[]) {
  (void)vr, (void)shifts;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3GetShiftFraction(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, fmi3UInt64 counters[],
                                          fmi3UInt64 resolutions[]) {
  (void)vr, (void)counters, (void)resolutions;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3SetIntervalDecimal(fmi3Instance instance, const fmi3ValueReference vr[], size_t n,
                                            const fmi3Float64 intervals[]) {
  (void)vr, (void)intervals;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3SetIntervalFraction(fmi3Instance instance, const fmi3ValueReference vr[], size_t n,
                                             const fmi3UInt64 counters[], const fmi3UInt64 resolutions[]) {
  (void)vr, (void)counters, (void)resolutions;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3SetShiftDecimal(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const fmi3Float64 shifts[]) {
  (void)vr, (void)shifts;
  return NO_CLOCKS3;
}
MV_EXPORT fmi3Status fmi3SetShiftFraction(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const fmi3UInt64 counters[],
                                          const fmi3UInt64 resolutions[]) {
  (void)vr, (void)counters, (void)resolutions;
  return NO_CLOCKS3;
}

MV_EXPORT fmi3Status fmi3GetNumberOfVariableDependencies(fmi3Instance instance, fmi3ValueReference vr, size_t *n) {
  (void)vr, (void)n;
  return refuse3(instance, "the dependencies of this unit are in its description.");
}
MV_EXPORT fmi3Status fmi3GetVariableDependencies(fmi3Instance instance, fmi3ValueReference dependent, size_t of_dependent[],
                                                 fmi3ValueReference independents[], size_t of_independents[],
                                                 fmi3DependencyKind kinds[], size_t n) {
  (void)dependent, (void)of_dependent, (void)independents, (void)of_independents, (void)kinds, (void)n;
  return refuse3(instance, "the dependencies of this unit are in its description.");
}

/* --- keeping the state ------------------------------------------------------------------------- */

typedef struct {
  size_t size;
  int mode;
} Kept3;

static size_t kept_size3(Instance3 *c) { return sizeof(Kept3) + mv_stored_size(c->unit); }

static size_t size_of_kept3(const void *state) {
  Kept3 head;
  memcpy(&head, state, sizeof head);
  return head.size;
}

MV_EXPORT fmi3Status fmi3GetFMUState(fmi3Instance instance, fmi3FMUState *state) {
  Instance3 *c = instance;
  void *kept;
  Kept3 head;
  if (!allowed3(c, READABLE3, "fmi3GetFMUState") || !state) return fmi3Error;
  kept = realloc(*state, kept_size3(c)); /* units within this one may need more room than before */
  if (!kept) return fmi3Error;
  *state = kept;
  memset(&head, 0, sizeof head);
  head.size = kept_size3(c);
  head.mode = c->mode;
  memcpy(*state, &head, sizeof head);
  mv_store(c->unit, (unsigned char *)*state + sizeof head);
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3SetFMUState(fmi3Instance instance, fmi3FMUState state) {
  Instance3 *c = instance;
  Kept3 head;
  if (!allowed3(c, READABLE3, "fmi3SetFMUState") || !state) return fmi3Error;
  memcpy(&head, state, sizeof head);
  if (head.size < sizeof head || mv_restore(c->unit, (unsigned char *)state + sizeof head, head.size - sizeof head) == MV_ERROR)
    return refuse3(c, "these bytes are not a state of this unit.");
  c->mode = (Mode3)head.mode;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3FreeFMUState(fmi3Instance instance, fmi3FMUState *state) {
  (void)instance;
  if (!state) return fmi3OK;
  free(*state);
  *state = NULL;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3SerializedFMUStateSize(fmi3Instance instance, fmi3FMUState state, size_t *size) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3SerializedFMUStateSize") || !state) return fmi3Error;
  *size = size_of_kept3(state);
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3SerializeFMUState(fmi3Instance instance, fmi3FMUState state, fmi3Byte bytes[], size_t size) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3SerializeFMUState") || !state || size < size_of_kept3(state)) return fmi3Error;
  memcpy(bytes, state, size_of_kept3(state));
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3DeserializeFMUState(fmi3Instance instance, const fmi3Byte bytes[], size_t size, fmi3FMUState *state) {
  Instance3 *c = instance;
  Kept3 head;
  if (!allowed3(c, READABLE3, "fmi3DeserializeFMUState") || !state) return fmi3Error;
  if (size >= sizeof head) memcpy(&head, bytes, sizeof head);
  if (size < sizeof head || head.size != size) return refuse3(c, "these bytes are not a state of this unit.");
  if (!*state) *state = malloc(size);
  if (!*state) return fmi3Error;
  memcpy(*state, bytes, size);
  return fmi3OK;
}

/* --- derivatives ------------------------------------------------------------------------------- */

#define DERIVED3 (IN3(M3_INITIALIZATION) | IN3(M3_EVENT) | IN3(M3_CONTINUOUS) | IN3(M3_STEP) | IN3(M3_TERMINATED))

MV_EXPORT fmi3Status fmi3GetDirectionalDerivative(fmi3Instance instance, const fmi3ValueReference unknown[], size_t unknowns,
                                                  const fmi3ValueReference known[], size_t knowns, const fmi3Float64 seed[],
                                                  size_t seeds, fmi3Float64 result[], size_t results) {
  Instance3 *c = instance;
  double x[MV_AT_LEAST_ONE(NX)] = {0.0}, p[MV_AT_LEAST_ONE(NP)] = {0.0}, rates[MV_AT_LEAST_ONE(NX)], values[MV_AT_LEAST_ONE(NY)];
  size_t i, at = 0;
  int j, length;
  if (!allowed3(c, DERIVED3, "fmi3GetDirectionalDerivative")) return fmi3Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi3Error;
  for (i = 0; i < knowns; ++i) {
    length = length3(c, known[i], MV_REAL);
    if (length == 0 || at + (size_t)length > seeds) return fmi3Error;
    for (j = 0; j < length; ++j)
      if (!mv_seed(&mv_variables[known[i] + (fmi3ValueReference)j], seed[at++], x, p)) return refuse3(c, "this known cannot vary.");
  }
  if (mv_forward(c->unit, x, p, rates, values) == MV_ERROR) return fmi3Error;
  at = 0;
  for (i = 0; i < unknowns; ++i) {
    length = length3(c, unknown[i], MV_REAL);
    if (length == 0 || at + (size_t)length > results) return fmi3Error;
    for (j = 0; j < length; ++j) result[at++] = mv_slope(&mv_variables[unknown[i] + (fmi3ValueReference)j], x, p, rates, values);
  }
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetAdjointDerivative(fmi3Instance instance, const fmi3ValueReference unknown[], size_t unknowns,
                                              const fmi3ValueReference known[], size_t knowns, const fmi3Float64 seed[], size_t seeds,
                                              fmi3Float64 result[], size_t results) {
  Instance3 *c = instance;
  double x[MV_AT_LEAST_ONE(NX)], p[MV_AT_LEAST_ONE(NP)], rates[MV_AT_LEAST_ONE(NX)] = {0.0}, values[MV_AT_LEAST_ONE(NY)] = {0.0};
  double direct_x[MV_AT_LEAST_ONE(NX)] = {0.0}, direct_p[MV_AT_LEAST_ONE(NP)] = {0.0};
  size_t i, at = 0;
  int j, length;
  if (!allowed3(c, DERIVED3, "fmi3GetAdjointDerivative")) return fmi3Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi3Error;
  for (i = 0; i < unknowns; ++i) {
    length = length3(c, unknown[i], MV_REAL);
    if (length == 0 || at + (size_t)length > seeds) return fmi3Error;
    for (j = 0; j < length; ++j) {
      const MvVariable *v = &mv_variables[unknown[i] + (fmi3ValueReference)j];
      double part = v->sign * seed[at++];
      if (v->source == MV_RATE) rates[v->index] += part;
      else if (v->source == MV_SOLVED) values[v->index] += part;
      else if (v->source == MV_STATE) direct_x[v->index] += part;
      else if (v->source == MV_PARAMETER) direct_p[v->index] += part;
    }
  }
  if (mv_reverse(c->unit, rates, values, x, p) == MV_ERROR) return fmi3Error;
  at = 0;
  for (i = 0; i < knowns; ++i) {
    length = length3(c, known[i], MV_REAL);
    if (length == 0 || at + (size_t)length > results) return fmi3Error;
    for (j = 0; j < length; ++j) {
      const MvVariable *v = &mv_variables[known[i] + (fmi3ValueReference)j];
      if (v->source == MV_STATE) result[at++] = v->sign * (x[v->index] + direct_x[v->index]);
      else if (v->source == MV_PARAMETER && v->settable) result[at++] = v->sign * (p[v->index] + direct_p[v->index]);
      else return refuse3(c, "this known cannot vary.");
    }
  }
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3EnterConfigurationMode(fmi3Instance instance) {
  return refuse3(instance, "this unit has no structural parameters.");
}
MV_EXPORT fmi3Status fmi3ExitConfigurationMode(fmi3Instance instance) {
  return refuse3(instance, "this unit has no structural parameters.");
}

/* --- events and model exchange ----------------------------------------------------------------- */

MV_EXPORT fmi3Status fmi3EnterEventMode(fmi3Instance instance) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_EVENT) | IN3(M3_CONTINUOUS), "fmi3EnterEventMode")) return fmi3Error;
  c->mode = M3_EVENT;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3EvaluateDiscreteStates(fmi3Instance instance) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_INITIALIZATION) | IN3(M3_EVENT), "fmi3EvaluateDiscreteStates")) return fmi3Error;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3UpdateDiscreteStates(fmi3Instance instance, fmi3Boolean *again, fmi3Boolean *terminate,
                                              fmi3Boolean *nominals_changed, fmi3Boolean *states_changed, fmi3Boolean *next_defined,
                                              fmi3Float64 *next_time) {
  Instance3 *c = instance;
  int changed = 0;
  double next = INFINITY;
  MvStatus status;
  if (!allowed3(c, IN3(M3_EVENT), "fmi3UpdateDiscreteStates")) return fmi3Error;
  status = mv_event(c->unit, &changed, &next);
  *again = fmi3False; /* the iteration is done inside */
  *terminate = c->unit->ended != 0;
  *nominals_changed = fmi3False;
  *states_changed = changed != 0;
  *next_defined = isfinite(next) != 0;
  *next_time = isfinite(next) ? next : 0.0;
  return result3(c, status);
}

MV_EXPORT fmi3Status fmi3EnterContinuousTimeMode(fmi3Instance instance) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_EVENT), "fmi3EnterContinuousTimeMode")) return fmi3Error;
  if (c->cosimulation) return refuse3(c, "fmi3EnterContinuousTimeMode is for model exchange.");
  c->mode = M3_CONTINUOUS;
  c->unit->may_discard = 1;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3CompletedIntegratorStep(fmi3Instance instance, fmi3Boolean no_set_state, fmi3Boolean *enter_event,
                                                 fmi3Boolean *terminate) {
  Instance3 *c = instance;
  MvStatus status;
  (void)no_set_state;
  if (!allowed3(c, IN3(M3_CONTINUOUS), "fmi3CompletedIntegratorStep")) return fmi3Error;
  *enter_event = mv_drifts(c->unit) != 0;
  *terminate = c->unit->ended != 0;
  status = mv_step_done(c->unit);
  c->unit->may_discard = status != MV_ERROR;
  return result3(c, status);
}

MV_EXPORT fmi3Status fmi3SetTime(fmi3Instance instance, fmi3Float64 time) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_EVENT) | IN3(M3_CONTINUOUS), "fmi3SetTime")) return fmi3Error;
  mv_set_time(c->unit, time);
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3SetContinuousStates(fmi3Instance instance, const fmi3Float64 x[], size_t n) {
  Instance3 *c = instance;
  if (!allowed3(c, IN3(M3_EVENT) | IN3(M3_CONTINUOUS), "fmi3SetContinuousStates") || n != NX) return fmi3Error;
  mv_set_states(c->unit, x);
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetContinuousStates(fmi3Instance instance, fmi3Float64 x[], size_t n) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3GetContinuousStates") || n != NX) return fmi3Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi3Error;
  memcpy(x, c->unit->x, NX * sizeof(double));
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetContinuousStateDerivatives(fmi3Instance instance, fmi3Float64 dx[], size_t n) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3GetContinuousStateDerivatives") || n != NX) return fmi3Error;
  if ((!c->unit->started && mv_start(c->unit) == MV_ERROR) || mv_rates(c->unit) == MV_ERROR) return refused3(c);
  memcpy(dx, c->unit->dx, NX * sizeof(double));
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetEventIndicators(fmi3Instance instance, fmi3Float64 z[], size_t n) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3GetEventIndicators") || n != NINDICATOR) return fmi3Error;
  if (!c->unit->started && mv_start(c->unit) == MV_ERROR) return fmi3Error;
  return mv_indicators(c->unit, z) == MV_ERROR ? refused3(c) : fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetNominalsOfContinuousStates(fmi3Instance instance, fmi3Float64 nominal[], size_t n) {
  Instance3 *c = instance;
  if (!allowed3(c, READABLE3, "fmi3GetNominalsOfContinuousStates") || n != NX) return fmi3Error;
  memcpy(nominal, mv_nominal, NX * sizeof(double));
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetNumberOfEventIndicators(fmi3Instance instance, size_t *n) {
  if (!instance || !n) return fmi3Error;
  *n = NINDICATOR;
  return fmi3OK;
}

MV_EXPORT fmi3Status fmi3GetNumberOfContinuousStates(fmi3Instance instance, size_t *n) {
  if (!instance || !n) return fmi3Error;
  *n = NX;
  return fmi3OK;
}

/* --- co-simulation ----------------------------------------------------------------------------- */

MV_EXPORT fmi3Status fmi3EnterStepMode(fmi3Instance instance) {
  return refuse3(instance, "this unit has no event mode in co-simulation: events are handled inside a step.");
}

MV_EXPORT fmi3Status fmi3GetOutputDerivatives(fmi3Instance instance, const fmi3ValueReference vr[], size_t n, const fmi3Int32 orders[],
                                              fmi3Float64 value[], size_t values) {
  (void)vr, (void)orders, (void)value, (void)values;
  return instance && n == 0 ? fmi3OK : refuse3(instance, "this unit tells no derivatives of outputs.");
}

static int after_step3(void *owner, double t) {
  Instance3 *c = owner;
  fmi3Boolean early = fmi3False;
  fmi3Float64 at = t;
  if (!c->intermediate) return 0;
  c->intermediate(c->environment, t, fmi3False, fmi3True, fmi3True, c->may_return_early != 0, &early, &at);
  c->returned_early = early && c->may_return_early && at <= t;
  return c->returned_early;
}

MV_EXPORT fmi3Status fmi3DoStep(fmi3Instance instance, fmi3Float64 from, fmi3Float64 step, fmi3Boolean no_set_state,
                                fmi3Boolean *event_needed, fmi3Boolean *terminate, fmi3Boolean *early, fmi3Float64 *last) {
  Instance3 *c = instance;
  MvStatus status;
  (void)no_set_state;
  if (!allowed3(c, IN3(M3_STEP), "fmi3DoStep")) return fmi3Error;
  if (fabs(from - c->unit->t) > 1e-9 * fmax(fabs(from), c->unit->span))
    return refuse3(c, "the step does not begin where the last one ended.");
  if (!(step > 0.0) || from + step > c->unit->stop_time * (1.0 + 1e-12) + 1e-12 * c->unit->span)
    return refuse3(c, step > 0.0 ? "the step leads beyond the stop time." : "the step must be positive.");
  *event_needed = *early = fmi3False;
  *terminate = c->unit->ended != 0;
  *last = c->unit->t;
  if (c->unit->ended) return fmi3OK;
  c->returned_early = 0;
  status = mv_advance(c->unit, from + step, c->intermediate ? after_step3 : NULL);
  *terminate = c->unit->ended != 0;
  *early = c->returned_early != 0;
  *last = c->unit->t;
  return result3(c, status);
}

MV_EXPORT fmi3Status fmi3ActivateModelPartition(fmi3Instance instance, fmi3ValueReference clock, fmi3Float64 time) {
  (void)clock, (void)time;
  return refuse3(instance, "this unit is not for scheduled execution.");
}
