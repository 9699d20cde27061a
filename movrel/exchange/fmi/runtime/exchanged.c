/* Integration of units for model exchange within a rig, from event to event: RODAS with differences for the slopes. */
#include "rodas.h"

/* Events within one step of the rig after which a unit is said not to go on; points within a step at which its indicators are
 * looked at. */
enum { EVENTS = 100000, LOOKS = 4, LOOKS_WITHOUT_STATES = 10 };

typedef enum { TRIED, TOO_LARGE, NO_VALUES, FAULT } Outcome;

struct Exchanged {
  double t, next_time, width; /* where it is, its next event that is known in advance, and a good width for a step */
  double kept_t, kept_next;
  double *x, *rate, *nominal, *slope, *factors, *k[6], *stage, *by_time, *dense, *start_z, *low_z, *high_z, *kept_x;
  double *numbers;
  int states;
};

static void free_exchanged(Exchanged *e) {
  if (!e) return;
  free(e->numbers), free(e);
}

static Exchanged *new_exchanged(const RigUnit *u) {
  Exchanged *e = calloc(1, sizeof *e);
  size_t n = (size_t)u->states + 1, m = (size_t)u->indicators + 1, i;
  double *d, **vectors[] = {&e->x, &e->rate, &e->nominal, &e->stage, &e->by_time, &e->kept_x};
  if (!e) return NULL;
  e->states = u->states;
  d = e->numbers = calloc(12 * n + 4 * n + 2 * n * n + 3 * m, sizeof *d);
  if (!d) {
    free(e);
    return NULL;
  }
  for (i = 0; i < 6; ++i, d += n) *vectors[i] = d;
  for (i = 0; i < 6; ++i, d += n) e->k[i] = d;
  e->dense = d, d += 4 * n;
  e->slope = d, d += n * n;
  e->factors = d, d += n * n;
  e->start_z = d, d += m;
  e->low_z = d, d += m;
  e->high_z = d;
  return e;
}

/* A command about some states at an instant. */
static Outcome at_states(Rig *r, int k, int code, double t, const double *x) {
  const RigUnit *u = &rig_units[k];
  double *clock = r->numbers + u->clock;
  clock[0] = t;
  memcpy(r->numbers + u->x, x, (size_t)u->states * sizeof(double));
  if (judged_call(r, k, host_do(r->hosts[k], code))) return FAULT;
  return code != 'c' && clock[2] != 0.0 ? NO_VALUES : TRIED;
}

static Outcome rates_of(Rig *r, int k, double t, const double *x, double *rate) {
  const RigUnit *u = &rig_units[k];
  Outcome outcome = at_states(r, k, 'r', t, x);
  int i;
  if (outcome != TRIED) return outcome;
  for (i = 0; i < u->states; ++i)
    if (!isfinite(rate[i] = r->numbers[u->dx + i])) return NO_VALUES;
  return TRIED;
}

static Outcome indicators_of_unit(Rig *r, int k, double t, const double *x, double *z) {
  const RigUnit *u = &rig_units[k];
  Outcome outcome = at_states(r, k, 'z', t, x);
  if (outcome == TRIED) memcpy(z, r->numbers + u->z, (size_t)u->indicators * sizeof(double));
  return outcome;
}

/* Lower and upper factors in place, with the row that each was exchanged with; 0 for a singular matrix. */
static int factorised(double *a, int n, int *rows) {
  int c, i, j;
  for (c = 0; c < n; ++c) {
    int pivot = c;
    for (i = c + 1; i < n; ++i)
      if (fabs(a[i * n + c]) > fabs(a[pivot * n + c])) pivot = i;
    rows[c] = pivot;
    if (a[pivot * n + c] == 0.0) return 0;
    for (j = 0; pivot != c && j < n; ++j) {
      double kept = a[c * n + j];
      a[c * n + j] = a[pivot * n + j], a[pivot * n + j] = kept;
    }
    for (i = c + 1; i < n; ++i) {
      a[i * n + c] /= a[c * n + c];
      for (j = c + 1; j < n; ++j) a[i * n + j] -= a[i * n + c] * a[c * n + j];
    }
  }
  return 1;
}

static void solve_with(const double *a, int n, const int *rows, double *b) {
  int i, j;
  for (i = 0; i < n; ++i) {
    double kept = b[rows[i]];
    b[rows[i]] = b[i], b[i] = kept;
  }
  for (i = 1; i < n; ++i)
    for (j = 0; j < i; ++j) b[i] -= a[i * n + j] * b[j];
  for (i = n - 1; i >= 0; --i) {
    for (j = i + 1; j < n; ++j) b[i] -= a[i * n + j] * b[j];
    b[i] /= a[i * n + i];
  }
}

/* d rate / d x and d rate / d t at the present states, by differences. */
static Outcome slopes_of_rates(Rig *r, int k, Exchanged *e, double h) {
  int n = rig_units[k].states, i, j;
  double dt = sqrt(DBL_EPSILON) * fmax(fabs(e->t), h);
  Outcome outcome = rates_of(r, k, e->t + dt, e->x, e->by_time);
  if (outcome != TRIED) return outcome;
  for (i = 0; i < n; ++i) e->by_time[i] = (e->by_time[i] - e->rate[i]) / dt;
  memcpy(e->stage, e->x, (size_t)n * sizeof(double));
  for (j = 0; j < n; ++j) {
    double width = sqrt(DBL_EPSILON) * fmax(fabs(e->x[j]), e->nominal[j]);
    e->stage[j] = e->x[j] + width;
    outcome = rates_of(r, k, e->t, e->stage, e->k[0]);
    if (outcome != TRIED) return outcome;
    for (i = 0; i < n; ++i) e->slope[i * n + j] = (e->k[0][i] - e->rate[i]) / width;
    e->stage[j] = e->x[j];
  }
  return TRIED;
}

/* One step of width h from the present states; its polynomial goes into 'dense', 'error' is a share of what is allowed. */
static Outcome rodas_step(Rig *r, int k, Exchanged *e, double h, double *error) {
  const double A[6][5] = {{0}, {A21}, {A31, A32}, {A41, A42, A43}, {A51, A52, A53, A54}, {A51, A52, A53, A54, 1.0}};
  const double C[6][5] = {{0}, {C21}, {C31, C32}, {C41, C42, C43}, {C51, C52, C53, C54}, {C61, C62, C63, C64, C65}};
  const double AT[6] = {0.0, C2, C3, C4, 1.0, 1.0}, DT[6] = {D1, D2, D3, D4, 0.0, 0.0};
  int n = rig_units[k].states, rows[MV_AT_LEAST_ONE(RIG_STATES)], i, j, s;
  double sum = 0.0;
  for (i = 0; i < n * n; ++i) e->factors[i] = -e->slope[i];
  for (i = 0; i < n; ++i) e->factors[i * (n + 1)] += 1.0 / (h * GAMMA);
  if (!factorised(e->factors, n, rows)) return NO_VALUES;
  for (s = 0; s < 6; ++s) {
    double *now = e->k[s];
    Outcome outcome = TRIED;
    for (i = 0; i < n; ++i) {
      e->stage[i] = e->x[i];
      for (j = 0; j < s; ++j) e->stage[i] += A[s][j] * e->k[j][i];
    }
    if (s == 0) memcpy(now, e->rate, (size_t)n * sizeof(double));
    else outcome = rates_of(r, k, e->t + AT[s] * h, e->stage, now);
    if (outcome != TRIED) return outcome;
    for (i = 0; i < n; ++i) {
      now[i] += h * DT[s] * e->by_time[i];
      for (j = 0; j < s; ++j) now[i] += C[s][j] / h * e->k[j][i];
    }
    solve_with(e->factors, n, rows, now);
  }
  for (i = 0; i < n; ++i) {
    double end = e->stage[i] + e->k[5][i], *c = e->dense + 4 * (size_t)i, share;
    share = e->k[5][i] / (r->unit.tolerance * (e->nominal[i] + fmax(fabs(e->x[i]), fabs(end))));
    sum += share * share;
    c[0] = e->x[i], c[1] = end;
    c[2] = D21 * e->k[0][i] + D22 * e->k[1][i] + D23 * e->k[2][i] + D24 * e->k[3][i] + D25 * e->k[4][i];
    c[3] = D31 * e->k[0][i] + D32 * e->k[1][i] + D33 * e->k[2][i] + D34 * e->k[3][i] + D35 * e->k[4][i];
  }
  *error = n ? sqrt(sum / n) : 0.0;
  if (!isfinite(*error)) return NO_VALUES;
  return *error <= 1.0 ? TRIED : TOO_LARGE;
}

/* The states within the newest step, at a share of its way. */
static void within(const Exchanged *e, int n, double share, double *x) {
  double rest = 1.0 - share;
  int i;
  for (i = 0; i < n; ++i) {
    const double *c = e->dense + 4 * (size_t)i;
    x[i] = c[0] * rest + share * (c[1] + rest * (c[2] + share * c[3]));
  }
}

static int any_crossed(const double *a, const double *b, int m) {
  int i;
  for (i = 0; i < m; ++i)
    if ((a[i] > 0.0) != (b[i] > 0.0)) return 1;
  return 0;
}

/* The share of the newest step, of width h, just behind the first crossing in it; 1 where there is none. */
static Outcome first_crossing(Rig *r, int k, Exchanged *e, double h, int looks, double *share, int *happened) {
  int n = rig_units[k].states, m = rig_units[k].indicators, i;
  double low = 0.0, high = 1.0;
  Outcome outcome;
  *share = 1.0, *happened = 0;
  if (!m) return TRIED;
  if ((outcome = indicators_of_unit(r, k, e->t, e->x, e->start_z)) != TRIED) return outcome;
  for (i = 1; i <= looks; ++i) {
    high = (double)i / looks;
    within(e, n, high, e->stage);
    if ((outcome = indicators_of_unit(r, k, e->t + high * h, e->stage, e->high_z)) != TRIED) return outcome;
    if (any_crossed(e->start_z, e->high_z, m)) break;
    low = high;
  }
  if (i > looks) return TRIED;
  while ((high - low) * h > 4.0 * DBL_EPSILON * fmax(fabs(e->t), h)) {
    double middle = 0.5 * (low + high);
    if (!(middle > low) || !(middle < high)) break;
    within(e, n, middle, e->stage);
    if ((outcome = indicators_of_unit(r, k, e->t + middle * h, e->stage, e->low_z)) != TRIED) return outcome;
    if (any_crossed(e->start_z, e->low_z, m)) high = middle;
    else low = middle;
  }
  *share = high, *happened = 1;
  return TRIED;
}

/* The event iteration of the unit, which may change its states. */
static MvStatus settle_events(Rig *r, int k, Exchanged *e) {
  const RigUnit *u = &rig_units[k];
  if (order(r, k, 'E')) return MV_ERROR;
  e->next_time = r->hosts[k]->outcome.has_next ? r->hosts[k]->outcome.next : INFINITY;
  if (r->hosts[k]->outcome.terminate) r->unit.ended = 1;
  memcpy(e->x, r->numbers + u->x, (size_t)u->states * sizeof(double));
  if (u->states && judged_call(r, k, host_nominals(r->hosts[k], e->nominal))) return MV_ERROR;
  return MV_OK;
}

/* The initialization is over. */
static MvStatus begin_exchanged(Rig *r, int k, Exchanged *e) {
  e->t = r->unit.t, e->width = 0.0;
  return settle_events(r, k, e);
}

static void keep_exchanged(Exchanged *e) {
  e->kept_t = e->t, e->kept_next = e->next_time;
  memcpy(e->kept_x, e->x, (size_t)e->states * sizeof(double));
}

static void restore_exchanged(Exchanged *e) {
  e->t = e->kept_t, e->next_time = e->kept_next;
  memcpy(e->x, e->kept_x, (size_t)e->states * sizeof(double));
}

/* Goes on with the states that are among the numbers of the rig. */
static void go_on_exchanged(Rig *r, int k, Exchanged *e, double next_time) {
  e->t = r->unit.t, e->next_time = next_time, e->width = 0.0;
  memcpy(e->x, r->numbers + rig_units[k].x, (size_t)e->states * sizeof(double));
}

/* Behind a step: the unit may want an event, or end the run. */
static MvStatus completed(Rig *r, int k, Exchanged *e, int *happened) {
  const double *clock = r->numbers + rig_units[k].clock;
  if (at_states(r, k, 'c', e->t, e->x) == FAULT) return MV_ERROR;
  *happened |= clock[2] != 0.0;
  if (clock[3] != 0.0) r->unit.ended = 1;
  return MV_OK;
}

/* One step towards 'limit'; 'happened' tells that it ends at an event. */
static MvStatus step_towards(Rig *r, int k, Exchanged *e, double limit, int *happened) {
  int n = rig_units[k].states, tried;
  double longest = limit - e->t, smallest = 8.0 * DBL_EPSILON * fmax(fabs(e->t), RIG_STEP), share = 1.0;
  double h = n && e->width > 0.0 ? fmin(e->width, longest) : longest;
  Outcome outcome = rates_of(r, k, e->t, e->x, e->rate);
  if (outcome == TRIED) outcome = slopes_of_rates(r, k, e, h);
  if (outcome != TRIED) {
    if (outcome == NO_VALUES) mv_say(&r->unit, MV_LOG_ERROR, MV_ERROR, "'%s' has no values at %g s.", rig_units[k].name, e->t);
    return MV_ERROR;
  }
  for (tried = 0;; ++tried) {
    double error = 0.0;
    outcome = rodas_step(r, k, e, h, &error);
    if (outcome == TRIED) outcome = first_crossing(r, k, e, h, n ? LOOKS : LOOKS_WITHOUT_STATES, &share, happened);
    if (outcome == TRIED) {
      double factor = fmin(6.0, fmax(0.2, 0.9 / pow(fmax(error, 1e-10), 0.25)));
      int whole = h >= longest * (1.0 - 1e-10);
      within(e, n, share, e->stage);
      memcpy(e->x, e->stage, (size_t)n * sizeof(double));
      e->t = share < 1.0 || !whole ? e->t + share * h : limit;
      e->width = whole && !tried ? fmax(e->width, h * factor) : h * (tried ? fmin(factor, 1.0) : factor);
      return completed(r, k, e, happened);
    }
    if (outcome == FAULT) return MV_ERROR;
    h *= outcome == TOO_LARGE ? fmax(0.2, 0.9 / pow(error, 0.25)) : 0.25;
    if (h < smallest) {
      mv_say(&r->unit, MV_LOG_ERROR, MV_ERROR, "the solver finds no step of '%s' that is small enough at %g s.", rig_units[k].name, e->t);
      return MV_ERROR;
    }
  }
}

/* The unit to 'target' with the inputs that are there, events settled on the way. */
static MvStatus advance_exchanged(Rig *r, int k, Exchanged *e, double target) {
  const RigUnit *u = &rig_units[k];
  double *clock = r->numbers + u->clock;
  long events = 0;
  int happened = 1; /* the inputs jumped */
  while (!r->unit.ended) {
    double limit;
    if (happened || e->t >= e->next_time) {
      memcpy(r->numbers + u->x, e->x, (size_t)u->states * sizeof(double));
      if (order(r, k, 'G') || settle_events(r, k, e)) return MV_ERROR;
      if (++events > EVENTS) {
        mv_say(&r->unit, MV_LOG_ERROR, MV_ERROR, "'%s' has more than %d events before %g s.", u->name, EVENTS, target);
        return MV_ERROR;
      }
    }
    happened = 0;
    if (e->t >= target || r->unit.ended) break;
    limit = fmin(target, fmax(e->next_time, e->t));
    if (limit - e->t <= 64.0 * DBL_EPSILON * fmax(fabs(e->t), RIG_STEP)) e->t = limit;
    else if (step_towards(r, k, e, limit, &happened)) return MV_ERROR;
  }
  if (at_states(r, k, 'o', e->t, e->x) == FAULT) return MV_ERROR;
  clock[2] = e->t, clock[3] = r->unit.ended;
  return MV_OK;
}
