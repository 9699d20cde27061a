/* The functions of FMI 3.0 (sections 2.2, 3.2 and 4.2 of the standard), and the few calls in which the versions differ. */
typedef void *Component;
typedef uint32_t VR;
typedef void (*Logger)(void *, int, const char *, const char *);
typedef void (*Intermediate)(void *, double, bool, bool, bool, bool, bool *, double *);

static void logger(void *environment, int status, const char *category, const char *text) {
  (void)environment;
  fprintf(stderr, "%d %s: %s\n", status, category, text);
}

#define DECLARE(name, result, arguments) static result(*name) arguments
DECLARE(GetVersion, const char *, (void));
DECLARE(SetDebugLogging, int, (Component, bool, size_t, const char *const[]));
DECLARE(InstantiateModelExchange, Component, (const char *, const char *, const char *, bool, bool, void *, Logger));
DECLARE(InstantiateCoSimulation, Component, (const char *, const char *, const char *, bool, bool, bool, bool, const VR[], size_t, void *, Logger, Intermediate));
DECLARE(InstantiateScheduledExecution, Component, (const char *, const char *, const char *, bool, bool, void *, Logger, void (*)(void *), void (*)(void), void (*)(void)));
DECLARE(FreeInstance, void, (Component));
DECLARE(EnterInitializationMode, int, (Component, bool, double, double, bool, double));
DECLARE(ExitInitializationMode, int, (Component));
DECLARE(EnterEventMode, int, (Component));
DECLARE(Terminate, int, (Component));
DECLARE(Reset, int, (Component));
#define TYPED(name, type)                                                    \
  DECLARE(Get##name, int, (Component, const VR[], size_t, type[], size_t));  \
  DECLARE(Set##name, int, (Component, const VR[], size_t, const type[], size_t));
TYPED(Float32, float) TYPED(Float64, double) TYPED(Int8, int8_t) TYPED(UInt8, uint8_t) TYPED(Int16, int16_t) TYPED(UInt16, uint16_t)
TYPED(Int32, int32_t) TYPED(UInt32, uint32_t) TYPED(Int64, int64_t) TYPED(UInt64, uint64_t) TYPED(Boolean, bool)
TYPED(String, char *)
DECLARE(GetBinary, int, (Component, const VR[], size_t, size_t[], const uint8_t *[], size_t));
DECLARE(SetBinary, int, (Component, const VR[], size_t, const size_t[], const uint8_t *const[], size_t));
DECLARE(GetClock, int, (Component, const VR[], size_t, bool[]));
DECLARE(SetClock, int, (Component, const VR[], size_t, const bool[]));
DECLARE(GetNumberOfVariableDependencies, int, (Component, VR, size_t *));
DECLARE(GetVariableDependencies, int, (Component, VR, size_t[], VR[], size_t[], int[], size_t));
DECLARE(GetFMUState, int, (Component, void **));
DECLARE(SetFMUState, int, (Component, void *));
DECLARE(FreeFMUState, int, (Component, void **));
DECLARE(SerializedFMUStateSize, int, (Component, void *, size_t *));
DECLARE(SerializeFMUState, int, (Component, void *, uint8_t[], size_t));
DECLARE(DeserializeFMUState, int, (Component, const uint8_t[], size_t, void **));
DECLARE(GetDirectionalDerivative, int, (Component, const VR[], size_t, const VR[], size_t, const double[], size_t, double[], size_t));
DECLARE(GetAdjointDerivative, int, (Component, const VR[], size_t, const VR[], size_t, const double[], size_t, double[], size_t));
DECLARE(EnterConfigurationMode, int, (Component));
DECLARE(ExitConfigurationMode, int, (Component));
DECLARE(GetIntervalDecimal, int, (Component, const VR[], size_t, double[], int[]));
DECLARE(GetIntervalFraction, int, (Component, const VR[], size_t, uint64_t[], uint64_t[], int[]));
DECLARE(GetShiftDecimal, int, (Component, const VR[], size_t, double[]));
DECLARE(GetShiftFraction, int, (Component, const VR[], size_t, uint64_t[], uint64_t[]));
DECLARE(SetIntervalDecimal, int, (Component, const VR[], size_t, const double[]));
DECLARE(SetIntervalFraction, int, (Component, const VR[], size_t, const uint64_t[], const uint64_t[]));
DECLARE(SetShiftDecimal, int, (Component, const VR[], size_t, const double[]));
DECLARE(SetShiftFraction, int, (Component, const VR[], size_t, const uint64_t[], const uint64_t[]));
DECLARE(EvaluateDiscreteStates, int, (Component));
DECLARE(UpdateDiscreteStates, int, (Component, bool *, bool *, bool *, bool *, bool *, double *));
DECLARE(EnterContinuousTimeMode, int, (Component));
DECLARE(CompletedIntegratorStep, int, (Component, bool, bool *, bool *));
DECLARE(SetTime, int, (Component, double));
DECLARE(SetContinuousStates, int, (Component, const double[], size_t));
DECLARE(GetContinuousStateDerivatives, int, (Component, double[], size_t));
DECLARE(GetEventIndicators, int, (Component, double[], size_t));
DECLARE(GetContinuousStates, int, (Component, double[], size_t));
DECLARE(GetNominalsOfContinuousStates, int, (Component, double[], size_t));
DECLARE(GetNumberOfEventIndicators, int, (Component, size_t *));
DECLARE(GetNumberOfContinuousStates, int, (Component, size_t *));
DECLARE(EnterStepMode, int, (Component));
DECLARE(GetOutputDerivatives, int, (Component, const VR[], size_t, const int32_t[], double[], size_t));
DECLARE(DoStep, int, (Component, double, double, bool, bool *, bool *, bool *, double *));
DECLARE(ActivateModelPartition, int, (Component, VR, double));

static void load(const char *path) {
  void *library = dlopen(path, RTLD_NOW | RTLD_LOCAL);
  if (!library) {
    fprintf(stderr, "%s\n", dlerror());
    exit(3);
  }
#define LOAD(name)                                            \
  if (!(*(void **)&name = dlsym(library, "fmi3" #name))) {    \
    fprintf(stderr, "fmi3" #name " is missing\n");            \
    exit(3);                                                  \
  }
#define LOAD_TYPED(name) LOAD(Get##name) LOAD(Set##name)
  LOAD(GetVersion) LOAD(SetDebugLogging) LOAD(InstantiateModelExchange) LOAD(InstantiateCoSimulation)
  LOAD(InstantiateScheduledExecution) LOAD(FreeInstance) LOAD(EnterInitializationMode) LOAD(ExitInitializationMode)
  LOAD(EnterEventMode) LOAD(Terminate) LOAD(Reset)
  LOAD_TYPED(Float32) LOAD_TYPED(Float64) LOAD_TYPED(Int8) LOAD_TYPED(UInt8) LOAD_TYPED(Int16) LOAD_TYPED(UInt16)
  LOAD_TYPED(Int32) LOAD_TYPED(UInt32) LOAD_TYPED(Int64) LOAD_TYPED(UInt64) LOAD_TYPED(Boolean) LOAD_TYPED(String)
  LOAD_TYPED(Binary) LOAD_TYPED(Clock) LOAD(GetNumberOfVariableDependencies) LOAD(GetVariableDependencies)
  LOAD(GetFMUState) LOAD(SetFMUState) LOAD(FreeFMUState) LOAD(SerializedFMUStateSize) LOAD(SerializeFMUState)
  LOAD(DeserializeFMUState) LOAD(GetDirectionalDerivative) LOAD(GetAdjointDerivative) LOAD(EnterConfigurationMode)
  LOAD(ExitConfigurationMode) LOAD_TYPED(IntervalDecimal) LOAD_TYPED(IntervalFraction) LOAD_TYPED(ShiftDecimal)
  LOAD_TYPED(ShiftFraction) LOAD(EvaluateDiscreteStates) LOAD(UpdateDiscreteStates) LOAD(EnterContinuousTimeMode)
  LOAD(CompletedIntegratorStep) LOAD(SetTime) LOAD(SetContinuousStates) LOAD(GetContinuousStateDerivatives)
  LOAD(GetEventIndicators) LOAD(GetContinuousStates) LOAD(GetNominalsOfContinuousStates) LOAD(GetNumberOfEventIndicators)
  LOAD(GetNumberOfContinuousStates) LOAD(EnterStepMode) LOAD(GetOutputDerivatives) LOAD(DoStep) LOAD(ActivateModelPartition)
}

/* --- what differs between the versions; see importer.c ----------------------------------------- */

static int get_reals(Component c, const unsigned *vr, int count, double *out) {
  return GetFloat64(c, vr, (size_t)count, out, (size_t)count);
}
static int rates_of(Component c, double *dx, int count) { return GetContinuousStateDerivatives(c, dx, (size_t)count); }
static int state_of(Component c, void **state) { return GetFMUState(c, state); }
static int set_state(Component c, void *state) { return SetFMUState(c, state); }
static int free_state(Component c, void **state) { return FreeFMUState(c, state); }
static int size_of_state(Component c, void *state, size_t *size) { return SerializedFMUStateSize(c, state, size); }
static int bytes_of_state(Component c, void *state, char *bytes, size_t size) {
  return SerializeFMUState(c, state, (uint8_t *)bytes, size);
}
static int state_from(Component c, const char *bytes, size_t size, void **state) {
  return DeserializeFMUState(c, (const uint8_t *)bytes, size, state);
}
static const char *VERSION = "3.0";

static int intermediate_calls;
static double early_at = INFINITY;

static void intermediate(void *environment, double t, bool may_set, bool may_get, bool finished, bool may_return, bool *early, double *at) {
  (void)environment, (void)may_set;
  if (!may_get || !finished) exit(7);
  ++intermediate_calls;
  *early = may_return && t >= early_at;
  *at = t;
}

static Component make(const char *name, int type, const char *token) {
  const char *resources = getenv("RESOURCES"); /* of a unit that has any */
  char place[4096];
  snprintf(place, sizeof place, "%s/", resources ? resources : "/nowhere");
  if (type == 0) return InstantiateModelExchange(name, token, place, false, false, NULL, logger);
  return InstantiateCoSimulation(name, token, place, false, false, false, true, NULL, 0, NULL, logger, intermediate);
}

static int enter_again(Component c, double start, double stop) { return EnterInitializationMode(c, true, 1e-8, start, true, stop); }

static int start_up(Component c, double start, double stop) {
  int status = enter_again(c, start, stop);
  return status <= 1 ? ExitInitializationMode(c) : status;
}

static int update(Component c, int *again, int *terminate, int *defined, double *next) {
  bool more, end, nominals, states, known;
  int status = UpdateDiscreteStates(c, &more, &end, &nominals, &states, &known, next);
  *again = more, *terminate = end, *defined = known;
  return status;
}

static int completed(Component c, int *wants, int *terminate) {
  bool event, end;
  int status = CompletedIntegratorStep(c, true, &event, &end);
  *wants = event, *terminate = end;
  return status;
}

static int step_to(Component c, double t, double h, double *reached, int *ended) {
  bool event, end, early;
  int status = DoStep(c, t, h, true, &event, &end, &early, reached);
  *ended = status <= 1 && end;
  return status;
}

static int slope_of(Component c, const unsigned *unknown, int unknowns, unsigned known, double *slope) {
  double seed = 1;
  return GetDirectionalDerivative(c, unknown, (size_t)unknowns, &known, 1, &seed, 1, slope, (size_t)unknowns);
}

static int slope_by_adjoint(Component c, unsigned unknown, const unsigned *known, int knowns, double *slope) {
  double seed = 1;
  return GetAdjointDerivative(c, &unknown, 1, known, (size_t)knowns, &seed, 1, slope, (size_t)knowns);
}

/* The functions that the standard has besides, called as far as a unit without inputs allows. */
static void besides(Component a, int type) {
  size_t count;
  const char *text;
  bool event, end, early;
  double reached;
  if (InstantiateScheduledExecution("x", "", "", false, false, NULL, logger, NULL, NULL, NULL)) exit(7);
#define NONE(name) MUST(Get##name(a, NULL, 0, NULL, 0)); MUST(Set##name(a, NULL, 0, NULL, 0));
  NONE(Float32) NONE(Float64) NONE(Int8) NONE(UInt8) NONE(Int16) NONE(UInt16) NONE(Int32) NONE(UInt32) NONE(Int64) NONE(UInt64)
  NONE(Boolean)
  MUST(GetBinary(a, NULL, 0, NULL, NULL, 0));
  MUST(SetBinary(a, NULL, 0, NULL, NULL, 0));
  MUST(GetClock(a, NULL, 0, NULL));
  MUST(SetClock(a, NULL, 0, NULL));
  MUST(SetString(a, NULL, 0, NULL, 0));
  REFUSED(GetString(a, &NOWHERE, 1, (char **)&text, 1));
  MUST(GetIntervalDecimal(a, NULL, 0, NULL, NULL));
  MUST(GetIntervalFraction(a, NULL, 0, NULL, NULL, NULL));
  MUST(GetShiftDecimal(a, NULL, 0, NULL));
  MUST(GetShiftFraction(a, NULL, 0, NULL, NULL));
  MUST(SetIntervalDecimal(a, NULL, 0, NULL));
  MUST(SetIntervalFraction(a, NULL, 0, NULL, NULL));
  MUST(SetShiftDecimal(a, NULL, 0, NULL));
  MUST(SetShiftFraction(a, NULL, 0, NULL, NULL));
  REFUSED(GetNumberOfVariableDependencies(a, 0, &count));
  REFUSED(GetVariableDependencies(a, 0, NULL, NULL, NULL, NULL, 0));
  REFUSED(EnterConfigurationMode(a));
  REFUSED(ExitConfigurationMode(a));
  REFUSED(ActivateModelPartition(a, 0, 0.0));
  MUST(GetNumberOfContinuousStates(a, &count));
  MUST(GetNumberOfEventIndicators(a, &count));
  REFUSED(EnterStepMode(a));
  if (type != 1) {
    MUST(EvaluateDiscreteStates(a));
    return;
  }
  MUST(GetOutputDerivatives(a, NULL, 0, NULL, NULL, 0));
  REFUSED(DoStep(a, 0.0, -1.0, true, &event, &end, &early, &reached));
}
