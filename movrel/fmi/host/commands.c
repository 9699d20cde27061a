/* What the process or library in which a unit runs does when it is told to. */
#include "commands.h"

#include <dlfcn.h>
#include <math.h>
#include <stdarg.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>

#include "values.h"

/* --- faults and messages ------------------------------------------------------------------------- */

int fail(Host *h, const char *format, ...) {
  va_list arguments;
  va_start(arguments, format);
  vsnprintf(h->fault, sizeof h->fault, format, arguments);
  va_end(arguments);
  return -1;
}

void note_message(Host *h, int status, const char *category, const char *text) {
  Message *m;
  if (!h) return;
  if (status >= ERROR) snprintf(h->last_error, sizeof h->last_error, "%s", text ? text : "");
  if (!h->messages) h->messages = calloc(MESSAGES, sizeof *h->messages);
  if (!h->messages) return;
  if (h->message_count == MESSAGES) {
    ++h->dropped;
    if (status < ERROR) return;
    --h->message_count; /* why something failed is kept in any case */
  }
  m = &h->messages[h->message_count++];
  m->status = status;
  snprintf(m->category, sizeof m->category, "%s", category ? category : "");
  snprintf(m->text, sizeof m->text, "%s", text ? text : "");
}

static Function looked_up(Host *h, const char *name) {
  char whole[200];
  void *address;
  Function function;
  snprintf(whole, sizeof whole, "%s%s", h->binding->prefix, name);
  address = dlsym(h->library, whole);
  if (!address) {
    fail(h, "the unit lacks the function %s", whole);
    return NULL;
  }
  memcpy(&function, &address, sizeof function);
  return function;
}

Function function_of(Host *h, const char *name) {
  Function function;
  size_t i;
  for (i = 0; i < h->function_count; ++i)
    if (h->functions[i].name == name) return h->functions[i].function;
  function = looked_up(h, name);
  if (function && h->function_count < FUNCTIONS) {
    h->functions[h->function_count].name = name;
    h->functions[h->function_count++].function = function;
  }
  return function;
}

int judged(Host *h, const char *name, int status) {
  static const char *const STATUS[] = {"OK", "Warning", "Discard", "Error", "Fatal", "Pending"};
  h->discarded |= status == DISCARD;
  if (status == OK || status == WARNING || status == DISCARD) return 0;
  if (status >= 0 && status < 6) return fail(h, "%s%s returned %s", h->binding->prefix, name, STATUS[status]);
  return fail(h, "%s%s returned the number %d, which is no status", h->binding->prefix, name, status);
}

/* Calls a function that has no arguments but the instance. */
static int plain(Host *h, const char *name) {
  typedef int (*Plain)(void *);
  Plain call = (Plain)function_of(h, name);
  return call ? judged(h, name, call(h->instance)) : -1;
}

/* Calls a function for a column of numbers. */
static int column(Host *h, const char *name, double *numbers, size_t n) {
  typedef int (*Column)(void *, double *, size_t);
  Column call;
  if (!n) return 0;
  call = (Column)function_of(h, name);
  return call ? judged(h, name, call(h->instance, numbers, n)) : -1;
}

/* --- the answer ---------------------------------------------------------------------------------- */

static void say(Host *h, const char *text, size_t n) {
  if (h->answer_length + n + 1 > h->answer_room) {
    size_t room = 2 * (h->answer_length + n + 1);
    char *longer = realloc(h->answer, room);
    if (!longer) return;
    h->answer = longer, h->answer_room = room;
  }
  memcpy(h->answer + h->answer_length, text, n);
  h->answer[h->answer_length += n] = 0;
}

static void says(Host *h, const char *format, ...) {
  char text[200];
  int n;
  va_list arguments;
  va_start(arguments, format);
  n = vsnprintf(text, sizeof text, format, arguments);
  va_end(arguments);
  say(h, text, (size_t)n < sizeof text ? (size_t)n : sizeof text - 1);
}

static void say_text(Host *h, const char *text) {
  char escaped[8];
  say(h, "\"", 1);
  for (; *text; ++text) {
    if (*text == '"' || *text == '\\') {
      escaped[0] = '\\', escaped[1] = *text;
      say(h, escaped, 2);
    } else if ((unsigned char)*text < 32) {
      snprintf(escaped, sizeof escaped, "\\u%04x", (unsigned char)*text);
      say(h, escaped, 6);
    } else say(h, text, 1);
  }
  say(h, "\"", 1);
}

static void say_number(Host *h, double number) {
  if (isnan(number)) says(h, "NaN");
  else if (isinf(number)) says(h, number > 0 ? "Infinity" : "-Infinity");
  else says(h, "%.17g", number);
}

static void say_messages(Host *h) {
  size_t i;
  says(h, "\"messages\":[");
  for (i = 0; i < h->message_count; ++i) {
    says(h, i ? ",[%d," : "[%d,", h->messages[i].status);
    say_text(h, h->messages[i].category);
    says(h, ",");
    say_text(h, h->messages[i].text);
    says(h, "]");
  }
  says(h, "],\"dropped\":%lu", (unsigned long)h->dropped);
  h->message_count = h->dropped = 0;
}

const char *host_answer(const Host *h, size_t *length) {
  *length = h->answer_length;
  return h->answer ? h->answer : "";
}

/* The answer says what went wrong, and what the unit said. */
static int refused(Host *h) {
  h->answer_length = 0;
  says(h, "{\"fault\":");
  say_text(h, h->fault);
  says(h, ",");
  say_messages(h);
  says(h, "}");
  return -1;
}

/* --- values -------------------------------------------------------------------------------------- */

typedef int (*Values2)(void *, const uint32_t *, size_t, void *);
typedef int (*Values3)(void *, const uint32_t *, size_t, void *, size_t);

static int transfer(Host *h, Group *g, int set) {
  Function *call = set ? &g->set : &g->get;
  char name[20];
  int status;
  if (!g->length) return 0;
  snprintf(name, sizeof name, set ? "Set%s" : "Get%s", g->type);
  if (!*call && !(*call = looked_up(h, name))) return -1;
  if (set) to_unit(g);
  status = h->binding->counts_values ? ((Values3)*call)(h->instance, g->references, g->length, g->values, g->count)
                                     : ((Values2)*call)(h->instance, g->references, g->length, g->values);
  if (status != OK && judged(h, name, status)) return -1;
  if (!set) from_unit(g);
  return 0;
}

static int transfer_all(Host *h, int group, int set) {
  size_t i;
  for (i = 0; i < h->group_count[group]; ++i)
    if (transfer(h, &h->groups[group][i], set)) return -1;
  return 0;
}

/* --- what happens in every step ------------------------------------------------------------------ */

/* Settles the events of a unit for co-simulation, and goes back to stepping. */
static int step_mode(Host *h, int enter, int *ended) {
  EventOutcome outcome;
  int round;
  if (enter && plain(h, "EnterEventMode")) return -1;
  h->event_pending = 0;
  for (round = 0; round < ROUNDS; ++round) {
    if (h->binding->new_discrete_states(h, &outcome)) return -1;
    *ended |= outcome.terminate;
    if (!outcome.again || *ended) return plain(h, "EnterStepMode");
  }
  return fail(h, "the unit asks for more than %d rounds of event iteration", ROUNDS);
}

static int step(Host *h) {
  double reached;
  int ended;
  if (transfer_all(h, INPUTS, 1) || h->binding->step(h, h->clock[0], h->clock[1], &reached, &ended)) return -1;
  if (h->event_pending && !ended && step_mode(h, 1, &ended)) return -1;
  h->clock[2] = reached, h->clock[3] = ended;
  return transfer_all(h, OUTPUTS, 0);
}

/* The instant in the clock, with the states in x. */
static int at_point(Host *h) {
  typedef int (*SetTime)(void *, double);
  SetTime call = (SetTime)function_of(h, "SetTime");
  if (!call || judged(h, "SetTime", call(h->instance, h->clock[0]))) return -1;
  return column(h, "SetContinuousStates", h->x, h->states) ? -1 : transfer_all(h, CONTINUOUS, 1);
}

static int rates(Host *h) { return h->states ? h->binding->derivatives(h) : 0; }

static int indicators(Host *h) { return column(h, "GetEventIndicators", h->z, h->indicators); }

static int carried_out(Host *h, int code) {
  int event, end;
  switch (code) {
    case 's': return step(h);
    case 'x': return transfer_all(h, INPUTS, 1) ? -1 : transfer_all(h, OUTPUTS, 0);
    case 'r': return at_point(h) ? -1 : rates(h);
    case 'z': return at_point(h) ? -1 : indicators(h);
    case 'o': return at_point(h) ? -1 : transfer_all(h, OUTPUTS, 0);
    case 'a': return at_point(h) || rates(h) || transfer_all(h, OUTPUTS, 0) ? -1 : indicators(h);
    case 'c':
      if (at_point(h) || h->binding->completed_step(h, &event, &end)) return -1;
      h->clock[2] = event, h->clock[3] = end;
      return 0;
    default: return fail(h, "there is no command '%c'", code);
  }
}

int host_do(Host *h, int code) {
  h->discarded = h->last_error[0] = 0;
  if (carried_out(h, code)) return refused(h);
  if (strchr("rzoa", code)) h->clock[2] = h->discarded;
  return 0;
}

/* --- what happens seldom ------------------------------------------------------------------------- */

/* The arguments of a command; 'short_of' tells that it ended too early. */
typedef struct {
  const unsigned char *at, *end;
  int short_of;
} Arguments;

static const unsigned char *next_bytes(Arguments *a, size_t n) {
  static const unsigned char NOTHING[8];
  const unsigned char *at = a->at;
  if ((size_t)(a->end - at) < n) {
    a->short_of = 1;
    return NOTHING;
  }
  a->at += n;
  return at;
}

static unsigned next_byte(Arguments *a) { return *next_bytes(a, 1); }

static uint32_t next_count(Arguments *a) {
  uint32_t value;
  memcpy(&value, next_bytes(a, 4), 4);
  return value;
}

static double next_number(Arguments *a) {
  double value;
  memcpy(&value, next_bytes(a, 8), 8);
  return value;
}

/* Texts end with a zero within the command, so they need no copy. */
static const char *next_text(Arguments *a) {
  uint32_t length = next_count(a);
  const unsigned char *at;
  if ((size_t)(a->end - a->at) < (size_t)length + 1) {
    a->short_of = 1;
    return "";
  }
  at = next_bytes(a, (size_t)length + 1);
  return at[length] ? "" : (const char *)at;
}

static uint32_t *next_references(Arguments *a, size_t *n) {
  uint32_t *references;
  const unsigned char *at;
  *n = next_count(a);
  if ((size_t)(a->end - a->at) / 4 < *n) {
    a->short_of = 1;
    *n = 0;
  }
  at = next_bytes(a, 4 * *n);
  references = malloc((*n ? *n : 1) * sizeof *references);
  if (references) memcpy(references, at, 4 * *n);
  else *n = 0;
  return references;
}

static int load(Host *h, Arguments *a) {
  int version = (int)next_byte(a);
  const char *library;
  uint32_t groups, i;
  h->binding = version == 2 ? &BINDING_2 : &BINDING_3;
  h->cosimulation = (int)next_byte(a);
  h->x = h->numbers + next_count(a), h->dx = h->numbers + next_count(a);
  h->z = h->numbers + next_count(a), h->clock = h->numbers + next_count(a);
  h->states = next_count(a), h->indicators = next_count(a);
  library = next_text(a);
  groups = next_count(a);
  for (i = 0; i < groups && !a->short_of; ++i) {
    unsigned which = next_byte(a) % GROUPS;
    const char *type = next_text(a);
    int storage = storage_of(version, type);
    Group g = {0}, *more;
    g.references = next_references(a, &g.length);
    g.count = next_count(a);
    g.numbers = h->numbers + next_count(a);
    if (storage < 0) {
      free(g.references);
      return fail(h, "there is no type %s", type);
    }
    g.storage = (Storage)storage;
    snprintf(g.type, sizeof g.type, "%s", type);
    g.values = storage == DOUBLE ? (void *)g.numbers : calloc(g.count ? g.count : 1, size_of(g.storage));
    more = realloc(h->groups[which], (h->group_count[which] + 1) * sizeof g);
    if (!more || !g.values || !g.references) return fail(h, "there is no memory left");
    h->groups[which] = more;
    more[h->group_count[which]++] = g;
  }
  h->library = dlopen(library, RTLD_NOW | RTLD_LOCAL);
  return h->library ? 0 : fail(h, "its binary cannot be loaded: %s", dlerror());
}

static int enter(Host *h, Arguments *a) {
  double start = next_number(a), stop, tolerance;
  int has_stop = (int)next_byte(a), has_tolerance;
  stop = next_number(a);
  has_tolerance = (int)next_byte(a);
  tolerance = next_number(a);
  if (h->binding->setup(h, start, has_stop ? &stop : NULL, has_tolerance ? &tolerance : NULL)) return -1;
  if (transfer_all(h, PARAMETERS, 1)) return -1;
  return h->binding->enter_initialization(h, start, has_stop ? &stop : NULL, has_tolerance ? &tolerance : NULL);
}

static int leave(Host *h) {
  int ended = 0;
  if (plain(h, "ExitInitializationMode")) return -1;
  return h->cosimulation && h->event_mode ? step_mode(h, 0, &ended) : 0;
}

/* The event iteration of model exchange, and back to continuous time. */
static int event(Host *h) {
  EventOutcome outcome = {0};
  int round, states_changed = 0, terminate = 0;
  for (round = 0; round < ROUNDS; ++round) {
    if (h->binding->new_discrete_states(h, &outcome)) return -1;
    states_changed |= outcome.states_changed, terminate |= outcome.terminate;
    if (!outcome.again || terminate) break;
  }
  if (round == ROUNDS) return fail(h, "the unit asks for more than %d rounds of event iteration", ROUNDS);
  if (plain(h, "EnterContinuousTimeMode") || column(h, "GetContinuousStates", h->x, h->states) || transfer_all(h, OUTPUTS, 0)) return -1;
  outcome.states_changed = states_changed, outcome.terminate = terminate;
  h->outcome = outcome;
  says(h, "{\"states_changed\":%s,\"terminate\":%s,\"next_time\":", states_changed ? "true" : "false", terminate ? "true" : "false");
  if (outcome.has_next) say_number(h, outcome.next);
  else says(h, "null");
  says(h, "}");
  return 0;
}

int host_nominals(Host *h, double *sizes) { return column(h, "GetNominalsOfContinuousStates", sizes, h->states); }

static int nominals(Host *h) {
  double *sizes = calloc(h->states ? h->states : 1, sizeof *sizes);
  int status = sizes ? host_nominals(h, sizes) : fail(h, "there is no memory left");
  size_t i;
  if (!status) {
    says(h, "{\"nominals\":[");
    for (i = 0; i < h->states; ++i) {
      if (i) says(h, ",");
      say_number(h, sizes[i]);
    }
    says(h, "]}");
  }
  free(sizes);
  return status;
}

/* Keeps the state of the unit under a number, or brings it back. */
static int whole_state(Host *h, Arguments *a, int keep) {
  typedef int (*Get)(void *, void **);
  typedef int (*Set)(void *, void *);
  size_t number = next_count(a);
  char name[20];
  Function call;
  if (number > 100000) return fail(h, "there is no room for so many states");
  if (number >= h->kept_count) {
    void **more = realloc(h->kept, (number + 1) * sizeof *more);
    if (!more) return fail(h, "there is no memory left");
    memset(more + h->kept_count, 0, (number + 1 - h->kept_count) * sizeof *more);
    h->kept = more, h->kept_count = number + 1;
  }
  snprintf(name, sizeof name, "%s%s", keep ? "Get" : "Set", h->binding->state_words);
  call = looked_up(h, name);
  if (!call) return -1;
  if (keep) return judged(h, name, ((Get)call)(h->instance, &h->kept[number]));
  if (judged(h, name, ((Set)call)(h->instance, h->kept[number]))) return -1;
  return transfer_all(h, OUTPUTS, 0);
}

/* Calls a function of the unit about a state; the names differ in case between the versions. */
static Function about_state(Host *h, const char *before, const char *after) {
  char name[40];
  snprintf(name, sizeof name, "%s%s%s", before, h->binding->state_words, after);
  return looked_up(h, name);
}

typedef int (*AboutState)(void *, void **);

static int free_state(Host *h, void *state) {
  AboutState call = (AboutState)about_state(h, "Free", "");
  return call ? judged(h, "Free…", call(h->instance, &state)) : -1;
}

size_t host_stored_size(Host *h) {
  typedef int (*Size)(void *, void *, size_t *);
  AboutState get = (AboutState)about_state(h, "Get", "");
  Size call = (Size)about_state(h, "Serialized", "Size");
  void *state = NULL;
  size_t size = 0;
  if (!get || !call || judged(h, "Get…", get(h->instance, &state))) return 0;
  if (judged(h, "Serialized…Size", call(h->instance, state, &size))) size = 0;
  free_state(h, state);
  return size;
}

int host_store(Host *h, unsigned char *bytes, size_t size) {
  typedef int (*Write)(void *, void *, unsigned char *, size_t);
  AboutState get = (AboutState)about_state(h, "Get", "");
  Write call = (Write)about_state(h, "Serialize", "");
  void *state = NULL;
  int status;
  if (!get || !call || judged(h, "Get…", get(h->instance, &state))) return -1;
  status = judged(h, "Serialize…", call(h->instance, state, bytes, size));
  return free_state(h, state) ? -1 : status;
}

int host_restore(Host *h, const unsigned char *bytes, size_t size) {
  typedef int (*Read)(void *, const unsigned char *, size_t, void **);
  typedef int (*Set)(void *, void *);
  Read call = (Read)about_state(h, h->binding->deserialize, "");
  Set set = (Set)about_state(h, "Set", "");
  void *state = NULL;
  int status;
  h->last_error[0] = 0;
  if (!call || !set || judged(h, "Deserialize…", call(h->instance, bytes, size, &state))) return -1;
  status = judged(h, "Set…", set(h->instance, state));
  return free_state(h, state) ? -1 : status;
}

static int slopes(Host *h, Arguments *a) {
  size_t n, i;
  uint32_t *references = next_references(a, &n);
  double *numbers = malloc((n ? n : 1) * sizeof *numbers);
  int status;
  for (i = 0; numbers && i < n; ++i) numbers[i] = next_number(a);
  status = references && numbers ? h->binding->input_slopes(h, references, n, numbers) : fail(h, "there is no memory left");
  free(references), free(numbers);
  return status;
}

static int texts(Host *h, Arguments *a, int set) {
  typedef int (*Texts2)(void *, const uint32_t *, size_t, const char **);
  typedef int (*Texts3)(void *, const uint32_t *, size_t, const char **, size_t);
  const char *name = set ? "SetString" : "GetString";
  size_t n, i;
  uint32_t *references = next_references(a, &n);
  size_t count = next_count(a);
  const char **values = count < 1000000 ? calloc(count ? count : 1, sizeof *values) : NULL;
  Function call = function_of(h, name);
  int status = -1;
  if (!references || !values) fail(h, "there is no memory left");
  else if (call) {
    for (i = 0; set && i < count; ++i) values[i] = next_text(a);
    status = judged(h, name,
                    h->binding->counts_values ? ((Texts3)call)(h->instance, references, n, values, count)
                                              : ((Texts2)call)(h->instance, references, n, values));
  }
  if (!status && !set) {
    says(h, "{\"texts\":[");
    for (i = 0; i < count; ++i) {
      char text[LENGTH + 1];
      snprintf(text, sizeof text, "%s", values[i] ? values[i] : "");
      if (i) says(h, ",");
      say_text(h, text);
    }
    says(h, "]}");
  }
  free(references), free(values);
  return status;
}

/* Asks for some categories of messages; a unit without the function says what it likes. */
static int categories(Host *h, Arguments *a) {
  typedef int (*Choose)(void *, int, size_t, const char *const *);
  Choose call = (Choose)looked_up(h, "SetDebugLogging");
  size_t n = next_count(a), i;
  const char **names = n < 10000 ? calloc(n ? n : 1, sizeof *names) : NULL;
  if (!names) return fail(h, "there is no memory left");
  for (i = 0; i < n; ++i) names[i] = next_text(a);
  if (call) call(h->instance, 1, n, names);
  free(names);
  return 0;
}

static void free_instance(Host *h) {
  typedef void (*Free)(void *);
  Free call = h->instance ? (Free)function_of(h, "FreeInstance") : NULL;
  if (call) call(h->instance);
  h->instance = NULL;
}

static int obeyed(Host *h, Arguments *a) {
  const char *name, *token, *resources;
  int letter = (int)next_byte(a), logging;
  if (letter != 'L' && !h->library) return fail(h, "no unit is loaded");
  switch (letter) {
    case 'L': return load(h, a);
    case 'I':
      name = next_text(a), token = next_text(a), resources = next_text(a);
      logging = (int)next_byte(a);
      h->event_mode = (int)next_byte(a);
      return h->binding->instantiate(h, name, token, resources, logging);
    case 'N': return enter(h, a);
    case 'S': return enter(h, a) || transfer_all(h, INPUTS, 1) ? -1 : leave(h);
    case 'X': return carried_out(h, 'x');
    case 'V': return leave(h);
    case 'E': return event(h);
    case 'M': return nominals(h);
    case 'O': return transfer_all(h, OUTPUTS, 0);
    case 'T': return transfer_all(h, PARAMETERS, 1);
    case 'D': return slopes(h, a);
    case 'K': return whole_state(h, a, 1);
    case 'R': return whole_state(h, a, 0);
    case 'G': return plain(h, "EnterEventMode") ? -1 : transfer_all(h, INPUTS, 1);
    case 'Q': return plain(h, "Terminate");
    case 'F': free_instance(h); return 0;
    case 'm': says(h, "{"), say_messages(h), says(h, "}"); return 0;
    case 'W': return texts(h, a, 1);
    case 'U': return texts(h, a, 0);
    case 'C': return categories(h, a);
    default: return fail(h, "there is no command '%c'", letter);
  }
}

int host_obey(Host *h, const unsigned char *command, size_t size) {
  Arguments a = {command, command + size, 0};
  int status;
  h->answer_length = 0, h->last_error[0] = 0;
  status = obeyed(h, &a);
  if (!status && a.short_of) status = fail(h, "a command ended too early");
  if (status) return refused(h);
  if (!h->answer_length) says(h, "{}");
  return 0;
}

Host *host_new(double *numbers) {
  Host *h = calloc(1, sizeof *h);
  if (h) h->numbers = numbers;
  return h;
}

void host_free(Host *h) {
  size_t i, k;
  if (!h) return;
  if (h->library) free_instance(h);
  for (k = 0; k < GROUPS; ++k) {
    for (i = 0; i < h->group_count[k]; ++i) {
      Group *g = &h->groups[k][i];
      free(g->references);
      if (g->storage != DOUBLE) free(g->values);
    }
    free(h->groups[k]);
  }
  free(h->kept), free(h->messages), free(h->answer), free(h->callbacks);
  free(h);
}
