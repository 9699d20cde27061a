/* The functions of FMI 2.0 (sections 2.1, 3.2 and 4.2 of the standard), and the few calls in which the versions differ. */
typedef void *Component;
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
  va_list values;
  (void)environment;
  fprintf(stderr, "%s %d %s: ", instance, status, category);
  va_start(values, text);
  vfprintf(stderr, text, values);
  va_end(values);
  fprintf(stderr, "\n");
}

#define DECLARE(name, result, arguments) static result(*name) arguments
DECLARE(GetTypesPlatform, const char *, (void));
DECLARE(GetVersion, const char *, (void));
DECLARE(SetDebugLogging, int, (Component, int, size_t, const char *const[]));
DECLARE(Instantiate, Component, (const char *, int, const char *, const char *, const Callbacks *, int, int));
DECLARE(FreeInstance, void, (Component));
DECLARE(SetupExperiment, int, (Component, int, double, double, int, double));
DECLARE(EnterInitializationMode, int, (Component));
DECLARE(ExitInitializationMode, int, (Component));
DECLARE(Terminate, int, (Component));
DECLARE(Reset, int, (Component));
DECLARE(GetReal, int, (Component, const unsigned[], size_t, double[]));
DECLARE(SetReal, int, (Component, const unsigned[], size_t, const double[]));
DECLARE(GetInteger, int, (Component, const unsigned[], size_t, int[]));
DECLARE(GetBoolean, int, (Component, const unsigned[], size_t, int[]));
DECLARE(GetString, int, (Component, const unsigned[], size_t, const char *[]));
DECLARE(SetInteger, int, (Component, const unsigned[], size_t, const int[]));
DECLARE(SetBoolean, int, (Component, const unsigned[], size_t, const int[]));
DECLARE(SetString, int, (Component, const unsigned[], size_t, const char *const[]));
DECLARE(GetFMUstate, int, (Component, void **));
DECLARE(SetFMUstate, int, (Component, void *));
DECLARE(FreeFMUstate, int, (Component, void **));
DECLARE(SerializedFMUstateSize, int, (Component, void *, size_t *));
DECLARE(SerializeFMUstate, int, (Component, void *, char[], size_t));
DECLARE(DeSerializeFMUstate, int, (Component, const char[], size_t, void **));
DECLARE(GetDirectionalDerivative, int, (Component, const unsigned[], size_t, const unsigned[], size_t, const double[], double[]));
DECLARE(EnterEventMode, int, (Component));
DECLARE(NewDiscreteStates, int, (Component, EventInfo *));
DECLARE(EnterContinuousTimeMode, int, (Component));
DECLARE(CompletedIntegratorStep, int, (Component, int, int *, int *));
DECLARE(SetTime, int, (Component, double));
DECLARE(SetContinuousStates, int, (Component, const double[], size_t));
DECLARE(GetDerivatives, int, (Component, double[], size_t));
DECLARE(GetEventIndicators, int, (Component, double[], size_t));
DECLARE(GetContinuousStates, int, (Component, double[], size_t));
DECLARE(GetNominalsOfContinuousStates, int, (Component, double[], size_t));
DECLARE(SetRealInputDerivatives, int, (Component, const unsigned[], size_t, const int[], const double[]));
DECLARE(GetRealOutputDerivatives, int, (Component, const unsigned[], size_t, const int[], double[]));
DECLARE(DoStep, int, (Component, double, double, int));
DECLARE(CancelStep, int, (Component));
DECLARE(GetStatus, int, (Component, int, int *));
DECLARE(GetRealStatus, int, (Component, int, double *));
DECLARE(GetIntegerStatus, int, (Component, int, int *));
DECLARE(GetBooleanStatus, int, (Component, int, int *));
DECLARE(GetStringStatus, int, (Component, int, const char **));

static void load(const char *path) {
  void *library = dlopen(path, RTLD_NOW | RTLD_LOCAL);
  if (!library) {
    fprintf(stderr, "%s\n", dlerror());
    exit(3);
  }
#define LOAD(name)                                            \
  if (!(*(void **)&name = dlsym(library, "fmi2" #name))) {    \
    fprintf(stderr, "fmi2" #name " is missing\n");            \
    exit(3);                                                  \
  }
  LOAD(GetTypesPlatform) LOAD(GetVersion) LOAD(SetDebugLogging) LOAD(Instantiate) LOAD(FreeInstance) LOAD(SetupExperiment)
  LOAD(EnterInitializationMode) LOAD(ExitInitializationMode) LOAD(Terminate) LOAD(Reset) LOAD(GetReal) LOAD(SetReal)
  LOAD(GetInteger) LOAD(GetBoolean) LOAD(GetString) LOAD(SetInteger) LOAD(SetBoolean) LOAD(SetString) LOAD(GetFMUstate)
  LOAD(SetFMUstate) LOAD(FreeFMUstate) LOAD(SerializedFMUstateSize) LOAD(SerializeFMUstate) LOAD(DeSerializeFMUstate)
  LOAD(GetDirectionalDerivative) LOAD(EnterEventMode) LOAD(NewDiscreteStates) LOAD(EnterContinuousTimeMode)
  LOAD(CompletedIntegratorStep) LOAD(SetTime) LOAD(SetContinuousStates) LOAD(GetDerivatives) LOAD(GetEventIndicators)
  LOAD(GetContinuousStates) LOAD(GetNominalsOfContinuousStates) LOAD(SetRealInputDerivatives) LOAD(GetRealOutputDerivatives)
  LOAD(DoStep) LOAD(CancelStep) LOAD(GetStatus) LOAD(GetRealStatus) LOAD(GetIntegerStatus) LOAD(GetBooleanStatus)
  LOAD(GetStringStatus)
}

/* --- what differs between the versions; see importer.c ----------------------------------------- */

static int get_reals(Component c, const unsigned *vr, int count, double *out) { return GetReal(c, vr, (size_t)count, out); }
static int rates_of(Component c, double *dx, int count) { return GetDerivatives(c, dx, (size_t)count); }
static int state_of(Component c, void **state) { return GetFMUstate(c, state); }
static int set_state(Component c, void *state) { return SetFMUstate(c, state); }
static int free_state(Component c, void **state) { return FreeFMUstate(c, state); }
static int size_of_state(Component c, void *state, size_t *size) { return SerializedFMUstateSize(c, state, size); }
static int bytes_of_state(Component c, void *state, char *bytes, size_t size) { return SerializeFMUstate(c, state, bytes, size); }
static int state_from(Component c, const char *bytes, size_t size, void **state) { return DeSerializeFMUstate(c, bytes, size, state); }
static const char *VERSION = "2.0";

static Component make(const char *name, int type, const char *token) {
  static const Callbacks callbacks = {logger, calloc, free, NULL, NULL};
  const char *resources = getenv("RESOURCES"); /* of a unit that has any */
  char place[4096];
  snprintf(place, sizeof place, "file://%s", resources ? resources : "/nowhere");
  return Instantiate(name, type, token, place, &callbacks, 0, 0);
}

static int start_up(Component c, double start, double stop) {
  int status = SetupExperiment(c, 1, 1e-8, start, 1, stop);
  if (status <= 1) status = EnterInitializationMode(c);
  return status <= 1 ? ExitInitializationMode(c) : status;
}

static int enter_again(Component c, double start, double stop) {
  (void)start, (void)stop;
  return EnterInitializationMode(c);
}

static int update(Component c, int *again, int *terminate, int *defined, double *next) {
  EventInfo info;
  int status = NewDiscreteStates(c, &info);
  *again = info.again, *terminate = info.terminate, *defined = info.defined, *next = info.next;
  return status;
}

static int completed(Component c, int *wants, int *terminate) { return CompletedIntegratorStep(c, 1, wants, terminate); }

static int step_to(Component c, double t, double h, double *reached, int *ended) {
  int status = DoStep(c, t, h, 1);
  *reached = t + h, *ended = 0;
  if (status != 2) return status;
  status = GetRealStatus(c, 2, reached);
  return status <= 1 ? GetBooleanStatus(c, 3, ended) : status;
}

static int slope_of(Component c, const unsigned *unknown, int unknowns, unsigned known, double *slope) {
  double seed = 1;
  return GetDirectionalDerivative(c, unknown, (size_t)unknowns, &known, 1, &seed, slope);
}

static int slope_by_adjoint(Component c, unsigned unknown, const unsigned *known, int knowns, double *slope) {
  (void)c, (void)unknown, (void)known, (void)knowns, (void)slope;
  return -1; /* not in this version */
}

/* The functions that the standard has besides, called as far as a unit without inputs allows. */
static void besides(Component a, int type) {
  const char *text;
  int status, ended;
  if (strcmp(GetTypesPlatform(), "default") != 0) exit(7);
  REFUSED(GetString(a, &NOWHERE, 1, &text));
  MUST(GetInteger(a, NULL, 0, NULL));
  MUST(GetBoolean(a, NULL, 0, NULL));
  MUST(SetReal(a, NULL, 0, NULL));
  MUST(SetInteger(a, NULL, 0, NULL));
  MUST(SetBoolean(a, NULL, 0, NULL));
  MUST(SetString(a, NULL, 0, NULL));
  if (type != 1) return;
  MUST(SetRealInputDerivatives(a, NULL, 0, NULL, NULL));
  MUST(GetRealOutputDerivatives(a, NULL, 0, NULL, NULL));
  REFUSED(CancelStep(a));
  MUST(GetStatus(a, 0, &status));
  MUST(GetBooleanStatus(a, 3, &ended));
  REFUSED(GetIntegerStatus(a, 0, &status));
  MUST(GetStringStatus(a, 1, &text));
}
