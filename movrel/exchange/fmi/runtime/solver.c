/* Integration inside a unit for co-simulation, with location of events.
 *
 * Variable steps: the Rosenbrock method RODAS, see rodas.h. Fixed steps: the classical method of order 4 (W. Kutta, Z. Math. Phys. 46, 1901) with a cubic Hermite polynomial between its points. */

#include "rodas.h"

/* Tries of a step after which its rates are suspected to jump where it begins. */
enum { STUBBORN = 12 };

/* Points within a step at which relations are looked at, so that what crosses and comes back is not missed; and those within
 * a whole run, were it one step. */
enum { LOOKS = 4, GRID = 200 };
/* How far an angle in a relation may move in one step, in rad, and the share of a step over which its speed is measured. */
static const double TURN = 0.5, NUDGE = 1e-6;

static double dense_at(const MvUnit *u, int i, double t) {
  const double *c = u->dense + 4 * (size_t)i;
  double s = (t - u->stretch.from) / u->stretch.width, rest = 1.0 - s;
  return c[0] * rest + s * (c[1] + rest * (c[2] + s * c[3]));
}

static void states_at(const MvUnit *u, double t, double *x) {
  int i;
  for (i = 0; i < NX; ++i) x[i] = u->stretch.kind ? dense_at(u, i, t) : u->x[i];
}

/* d dx / d x row by row into u->jac, the implicit unknowns following the states; 0 where it cannot be had. */
static int jacobian(MvUnit *u) {
  double *d = u->big, *c = d + (size_t)NS * NS, *b = c + (size_t)NS * NX, *j = u->jac, column[MV_AT_LEAST_ONE(NS)];
  int k, row, i, n;
  memset(j, 0, (size_t)NX * NX * sizeof(double));
  memset(u->big, 0, ((size_t)NS * NS + 2 * (size_t)NS * NX) * sizeof(double));
  call_at(mv_f_jacobian, u, u->x, u->s, u->casadi, NULL, NULL);
  if (!all_finite(u->casadi, NJACOBIAN)) return 0;
  for (k = 0; k < NJACOBIAN; ++k) {
    row = mv_jacobian_row[k], n = mv_jacobian_column[k];
    if (row < NX && n < NX) j[(size_t)row * NX + n] = u->casadi[k];
    else if (row < NX) b[(size_t)row * NS + (n - NX)] = u->casadi[k];
    else if (n < NX) c[(size_t)(row - NX) * NX + n] = u->casadi[k];
    else d[(size_t)(row - NX) * NS + (n - NX)] = u->casadi[k];
  }
  if (!NS) return 1;
  if (!factorise(d, NS, u->pivot)) return 0;
  for (n = 0; n < NX; ++n) {
    int any = 0;
    for (i = 0; i < NS; ++i) column[i] = c[(size_t)i * NX + n], any |= column[i] != 0.0;
    if (!any) continue;
    solve_factorised(d, NS, u->pivot, column);
    for (row = 0; row < NX; ++row) {
      double sum = 0.0;
      for (i = 0; i < NS; ++i) sum += b[(size_t)row * NS + i] * column[i];
      j[(size_t)row * NX + n] -= sum;
    }
  }
  return 1;
}

/* Rates at another instant, the public time staying as it is. */
static int rates_then(MvUnit *u, double t, const double *x, double *dx) {
  double kept = u->t;
  int fine;
  u->t = t;
  fine = rates_at(u, x, dx);
  u->t = kept;
  return fine;
}

typedef enum { STEP_TAKEN, STEP_TOO_LARGE, STEP_IMPOSSIBLE } StepResult;

/* One step of width h from u->t; the polynomial goes into u->dense, 'error' is the estimate as a share of what is allowed.
 * 'aside' begins with the rates just behind u->t, as where they jump at that very instant. */
static StepResult rosenbrock_step(MvUnit *u, double h, int aside, double *error) {
  double *k1 = u->stage, *k2 = k1 + NX, *k3 = k2 + NX, *k4 = k3 + NX, *k5 = k4 + NX, *k6 = k5 + NX, *y = k6 + NX, *ft = y + NX;
  double *dy = u->rate, *e = u->jac + (size_t)NX * NX, sum = 0.0, dt = sqrt(DBL_EPSILON) * fmax(fabs(u->t), h);
  const double *slope = u->jac;
  int i;
  if (TIME_IN_RATES) {
    u->rated = u->rated && !aside;
    if (aside && !rates_then(u, u->t + dt, u->x, u->dx)) return STEP_IMPOSSIBLE;
    if (!rates_then(u, u->t + (aside ? 2.0 : 1.0) * dt, u->x, ft)) return STEP_IMPOSSIBLE;
    for (i = 0; i < NX; ++i) ft[i] = (ft[i] - u->dx[i]) / dt;
  } else {
    memset(ft, 0, NX * sizeof(double));
  }
  for (i = 0; i < NX * NX; ++i) e[i] = -slope[i];
  for (i = 0; i < NX; ++i) e[(size_t)i * (NX + 1)] += 1.0 / (h * GAMMA);
  if (!factorise(e, NX, u->pivot)) return STEP_IMPOSSIBLE;
  for (i = 0; i < NX; ++i) k1[i] = u->dx[i] + h * D1 * ft[i];
  solve_factorised(e, NX, u->pivot, k1);
  for (i = 0; i < NX; ++i) y[i] = u->x[i] + A21 * k1[i];
  /* the implicit unknowns use u->pivot too: the factors are kept apart from their exchanges */
  {
    int exchanges[MV_PIVOTS(MV_AT_LEAST_ONE(NX))];
    memcpy(exchanges, u->pivot, MV_PIVOTS(NX) * sizeof(int));
    if (!rates_then(u, u->t + C2 * h, y, dy)) return STEP_IMPOSSIBLE;
    for (i = 0; i < NX; ++i) k2[i] = dy[i] + h * D2 * ft[i] + C21 / h * k1[i];
    solve_factorised(e, NX, exchanges, k2);
    for (i = 0; i < NX; ++i) y[i] = u->x[i] + A31 * k1[i] + A32 * k2[i];
    if (!rates_then(u, u->t + C3 * h, y, dy)) return STEP_IMPOSSIBLE;
    for (i = 0; i < NX; ++i) k3[i] = dy[i] + h * D3 * ft[i] + (C31 * k1[i] + C32 * k2[i]) / h;
    solve_factorised(e, NX, exchanges, k3);
    for (i = 0; i < NX; ++i) y[i] = u->x[i] + A41 * k1[i] + A42 * k2[i] + A43 * k3[i];
    if (!rates_then(u, u->t + C4 * h, y, dy)) return STEP_IMPOSSIBLE;
    for (i = 0; i < NX; ++i) k4[i] = dy[i] + h * D4 * ft[i] + (C41 * k1[i] + C42 * k2[i] + C43 * k3[i]) / h;
    solve_factorised(e, NX, exchanges, k4);
    for (i = 0; i < NX; ++i) y[i] = u->x[i] + A51 * k1[i] + A52 * k2[i] + A53 * k3[i] + A54 * k4[i];
    if (!rates_then(u, u->t + h, y, dy)) return STEP_IMPOSSIBLE;
    for (i = 0; i < NX; ++i) k5[i] = dy[i] + (C51 * k1[i] + C52 * k2[i] + C53 * k3[i] + C54 * k4[i]) / h;
    solve_factorised(e, NX, exchanges, k5);
    for (i = 0; i < NX; ++i) y[i] += k5[i];
    if (!rates_then(u, u->t + h, y, dy)) return STEP_IMPOSSIBLE;
    for (i = 0; i < NX; ++i) k6[i] = dy[i] + (C61 * k1[i] + C62 * k2[i] + C63 * k3[i] + C64 * k4[i] + C65 * k5[i]) / h;
    solve_factorised(e, NX, exchanges, k6);
  }
  for (i = 0; i < NX; ++i) {
    double end = y[i] + k6[i], share = k6[i] / (u->tolerance * (mv_nominal[i] + fmax(fabs(u->x[i]), fabs(end))));
    double *c = u->dense + 4 * (size_t)i;
    sum += share * share;
    c[0] = u->x[i];
    c[1] = end;
    c[2] = D21 * k1[i] + D22 * k2[i] + D23 * k3[i] + D24 * k4[i] + D25 * k5[i];
    c[3] = D31 * k1[i] + D32 * k2[i] + D33 * k3[i] + D34 * k4[i] + D35 * k5[i];
  }
  *error = NX ? sqrt(sum / MV_AT_LEAST_ONE(NX)) : 0.0;
  if (!isfinite(*error)) return STEP_IMPOSSIBLE;
  return *error <= 1.0 ? STEP_TAKEN : STEP_TOO_LARGE;
}

/* One step of the classical method; the polynomial has the values and rates of both ends. */
static StepResult classical_step(MvUnit *u, double h) {
  double *k2 = u->stage, *k3 = k2 + NX, *k4 = k3 + NX, *y = k4 + NX, *end = y + NX, *rate = u->rate;
  int i;
  for (i = 0; i < NX; ++i) y[i] = u->x[i] + 0.5 * h * u->dx[i];
  if (!rates_then(u, u->t + 0.5 * h, y, k2)) return STEP_IMPOSSIBLE;
  for (i = 0; i < NX; ++i) y[i] = u->x[i] + 0.5 * h * k2[i];
  if (!rates_then(u, u->t + 0.5 * h, y, k3)) return STEP_IMPOSSIBLE;
  for (i = 0; i < NX; ++i) y[i] = u->x[i] + h * k3[i];
  if (!rates_then(u, u->t + h, y, k4)) return STEP_IMPOSSIBLE;
  for (i = 0; i < NX; ++i) end[i] = u->x[i] + h / 6.0 * (u->dx[i] + 2.0 * k2[i] + 2.0 * k3[i] + k4[i]);
  if (!rates_then(u, u->t + h, end, rate)) return STEP_IMPOSSIBLE;
  for (i = 0; i < NX; ++i) {
    double *c = u->dense + 4 * (size_t)i, from = h * u->dx[i], to = h * rate[i], rise = end[i] - u->x[i];
    c[0] = u->x[i];
    c[1] = end[i];
    c[2] = from - rise;
    c[3] = 2.0 * rise - from - to;
  }
  return STEP_TAKEN;
}

/* --- events within a step ---------------------------------------------------------------------- */

enum { INDICATORS = MV_AT_LEAST_ONE(NINDICATOR) };

/* Indicators at an instant of the stretch; 0 where the equations have no solution there. */
static int indicators_at(MvUnit *u, double t, double *z) {
  double kept = u->t;
  int fine;
  states_at(u, t, u->weight);
  u->t = t;
  fine = solve_blocks(u, u->weight) < 0;
  if (fine) {
    call_at(mv_f_indicators, u, u->weight, u->s, u->g, u->scale, NULL);
    indicators_of(u, z);
    fine = all_finite(z, NINDICATOR);
  }
  u->t = kept;
  return fine;
}

static int crossed(const double *before, const double *after) {
  int k;
  for (k = 0; k < NINDICATOR; ++k)
    if ((before[k] > 0.0) != (after[k] > 0.0)) return 1;
  return 0;
}

/* Where a straight line through both ends first crosses zero. */
static double estimate(double low, const double *a, double high, const double *b) {
  double first = high;
  int k;
  for (k = 0; k < NINDICATOR; ++k)
    if ((a[k] > 0.0) != (b[k] > 0.0) && a[k] != b[k]) first = fmin(first, low + (high - low) * (a[k] / (a[k] - b[k])));
  return first;
}

enum { KINKS = MV_AT_LEAST_ONE(NKINK) };

/* What is zero where indicators have kinks, at the instant at which they were worked out last. */
static void kinks_there(MvUnit *u, double t, double *k) {
#if NKINK
  double kept = u->t;
  u->t = t;
  call_at(mv_f_kinks, u, u->weight, u->s, k, NULL, NULL);
  u->t = kept;
#else
  (void)u, (void)t, (void)k;
#endif
}

/* Whether an indicator has another sign than at the start where it has a kink between two instants of the stretch, at whose
   ends 'before' and 'after' are zero at kinks; then that instant with the indicators there. An indicator turns at once where
   abs(x) has its kink, whatever the ends tell. */
static int kink_crosses(MvUnit *u, const double *start, double from, double to, const double *before, const double *after,
                        double *at, double *z) {
  double now[KINKS];
  int k;
  for (k = 0; k < NKINK; ++k) {
    double low = from, high = to;
    if (!(before[k] * after[k] < 0.0)) continue;
    while (high - low > 1e-9 * (to - from)) {
      double middle = 0.5 * (low + high);
      if (!(middle > low) || !(middle < high) || !indicators_at(u, middle, z)) break;
      kinks_there(u, middle, now);
      if ((now[k] > 0.0) == (before[k] > 0.0)) low = middle;
      else high = middle;
    }
    if (indicators_at(u, high, z) && crossed(start, z)) {
      *at = high;
      return 1;
    }
  }
  return 0;
}

/* Shortens the stretch to just behind the first crossing in it; 0 where the indicators cannot be worked out. */
static int locate(MvUnit *u) {
  double start[INDICATORS], low_z[INDICATORS], high_z[INDICATORS], middle_z[INDICATORS];
  double low = u->stretch.from, high = low, end = u->stretch.to, middle;
  double low_kinks[KINKS] = {0}, high_kinks[KINKS] = {0};
  int k, side = 0, repeats = 0, looks;
  if (!NINDICATOR) return 1;
  looks = u->span > 0.0 ? (int)fmin(ceil(GRID * (end - low) / u->span), GRID) : LOOKS;
  if (looks < LOOKS) looks = LOOKS;
  if (!indicators_at(u, low, start)) return 0;
  memcpy(low_z, start, sizeof start);
  kinks_there(u, low, low_kinks);
  for (k = 1; k <= looks; ++k) {
    high = k == looks ? end : u->stretch.from + (end - u->stretch.from) * k / looks;
    if (!indicators_at(u, high, high_z)) return 0;
    if (crossed(start, high_z)) break;
    kinks_there(u, high, high_kinks);
    if (kink_crosses(u, start, low, high, low_kinks, high_kinks, &middle, middle_z)) {
      high = middle;
      memcpy(high_z, middle_z, sizeof middle_z);
      break;
    }
    low = high;
    memcpy(low_z, high_z, sizeof high_z);
    memcpy(low_kinks, high_kinks, sizeof high_kinks);
  }
  if (k > looks) return 1;
  while (high - low > 4.0 * DBL_EPSILON * fmax(fabs(high), end - u->stretch.from)) {
    double part = 0.02 * (high - low);
    middle = estimate(low, low_z, high, high_z);
    if (repeats > 1 || !(middle > low) || !(middle < high)) middle = 0.5 * (low + high), repeats = 0;
    else middle = side > 0 ? fmax(middle - part, low + 0.5 * (middle - low)) : fmin(middle + part, high - 0.5 * (high - middle));
    if (!(middle > low) || !(middle < high)) middle = 0.5 * (low + high);
    if (!(middle > low) || !(middle < high)) break;
    if (!indicators_at(u, middle, middle_z)) return 0;
    if (crossed(start, middle_z)) {
      repeats = side > 0 ? repeats + 1 : 0;
      side = 1;
      high = middle;
      memcpy(high_z, middle_z, sizeof middle_z);
    } else {
      repeats = side < 0 ? repeats + 1 : 0;
      side = -1;
      low = middle;
      memcpy(low_z, middle_z, sizeof middle_z);
    }
  }
  u->stretch.to = high;
  u->stretch.ends_in_event = 1;
  return 1;
}

/* --- the stretch ------------------------------------------------------------------------------- */

/* A first step from the sizes of states and rates (as in Hairer, Norsett and Wanner, Solving ODEs I, section II.4). */
static double first_step(const MvUnit *u, double longest) {
  double size = 0.0, rate = 0.0;
  int i;
  for (i = 0; i < NX; ++i) {
    double weight = u->tolerance * (mv_nominal[i] + fabs(u->x[i]));
    size += (u->x[i] / weight) * (u->x[i] / weight);
    rate += (u->dx[i] / weight) * (u->dx[i] / weight);
  }
  if (!(size > 1e-10) || !(rate > 1e-10)) return 1e-3 * longest;
  return fmin(0.01 * sqrt(size / rate), longest);
}

/* How long a step may be so that no sine in a relation turns unseen. */
static double phase_limit(MvUnit *u, double h) {
#if NPHASE
  double now[NPHASE], then[NPHASE], kept = u->t, fastest = 0.0, way = NUDGE * h;
  int i;
  call_at(mv_f_phases, u, u->x, u->s, now, NULL, NULL);
  for (i = 0; i < NX; ++i) u->weight[i] = u->x[i] + way * u->dx[i];
  u->t += way;
  call_at(mv_f_phases, u, u->weight, u->s, then, NULL, NULL);
  u->t = kept;
  for (i = 0; i < NPHASE; ++i)
    if (isfinite(then[i] - now[i])) fastest = fmax(fastest, fabs(then[i] - now[i]) / way);
  return fastest > 0.0 ? fmin(h, TURN / fastest) : h;
#else
  (void)u;
  return h;
#endif
}

/* Integrates one step from u->t, not beyond 'limit', and finds the first event in it. */
static MvStatus make_stretch(MvUnit *u, double limit) {
  double next = mv_next_time(u), longest, h, error = 0.0;
  double smallest = 8.0 * DBL_EPSILON * fmax(fabs(u->t), u->span);
  int timed = 0, shortened = 0, tried;
  if (next <= limit) limit = next, timed = 1;
  if (NDELAY && u->t + shortest_delay(u) < limit) limit = u->t + shortest_delay(u), timed = 0; /* no step asks for itself */
  longest = limit - u->t;
  memset(&u->stretch, 0, sizeof u->stretch);
  u->stretch.from = u->t;
  if (longest <= smallest) { /* the event is now */
    u->stretch.to = limit;
    u->stretch.width = 1.0;
    u->stretch.ends_in_event = timed;
    return MV_OK;
  }
  if (mv_rates(u) == MV_ERROR) return MV_ERROR;
  if (FIXED_STEP > 0.0) h = FIXED_STEP;
  else if (!NX) h = NINDICATOR ? u->span / 500.0 : longest;
  else h = u->last_step > 0.0 ? u->last_step : first_step(u, fmin(longest, u->span));
  if (!(FIXED_STEP > 0.0)) h = phase_limit(u, fmin(h, longest));
  if (NX && !(FIXED_STEP > 0.0) && !jacobian(u)) {
    mv_say(u, MV_LOG_ERROR, MV_ERROR, "the equations are singular at %g s.", u->t);
    return MV_ERROR;
  }
  for (tried = 0;; ++tried) {
    StepResult result = STEP_TAKEN;
    int last = h >= longest * (1.0 - 1e-10);
    double width = last ? longest : h;
    if (!last && !(FIXED_STEP > 0.0) && width > 0.5 * longest) width = 0.5 * longest; /* two even steps rather than a tiny rest */
    shortened = width < h;
    u->stretch.width = width;
    u->stretch.to = last ? limit : u->t + width;
    u->stretch.kind = 1;
    u->stretch.ends_in_event = timed && last;
    if (FIXED_STEP > 0.0) result = classical_step(u, width);
    else if (NX) result = rosenbrock_step(u, width, tried > STUBBORN, &error);
    if (result == STEP_TAKEN && locate(u)) {
      double factor = fmin(6.0, fmax(0.2, 0.9 / pow(fmax(error, 1e-10), 0.25)));
      ++u->counted_steps;
      mv_say(u, MV_LOG_STEPS, MV_OK, "a step from %g s to %g s%s.", u->t, u->stretch.to, u->stretch.ends_in_event ? ", to an event" : "");
      if (NX && !(FIXED_STEP > 0.0)) {
        double proposed = width * (tried ? fmin(factor, 1.0) : factor);
        u->last_step = shortened ? fmax(proposed, u->last_step) : proposed;
      }
      forget(u);
      return MV_OK;
    }
    h = result == STEP_TOO_LARGE ? width * fmax(0.2, 0.9 / pow(error, 0.25)) : 0.25 * width;
    if (h < smallest) {
      u->stretch.kind = 0;
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "the solver finds no step that is small enough at %g s.", u->t);
      return MV_ERROR;
    }
  }
}

#if NDELAY
/* Takes note of delayed expressions within a step that is over, where its polynomial knows the states. */
static void remember_within(MvUnit *u) {
  double values[NDELAY], kept = u->t;
  int k;
  for (k = 0; k < 3; ++k) {
    int count = (int)u->history[H_COUNT];
    u->t = u->stretch.from + (u->stretch.to - u->stretch.from) * (k + 1) / LOOKS;
    if (!(u->t > history_row(u, count - 1)[0])) continue;
    states_at(u, u->t, u->weight);
    if (delayed_at(u, u->weight, values)) remember_values(u, u->t, values);
  }
  u->t = kept;
}
#endif

static void go_to(MvUnit *u, double t) {
  states_at(u, t, u->weight);
  memcpy(u->x, u->weight, NX * sizeof(double));
  u->t = t;
  forget(u);
}

/* Goes on to 'target'. Steps reach beyond it, and are read within, as long as the inputs stay as they are: a step that
   was taken with inputs that have changed since is dropped. */
MvStatus mv_advance(MvUnit *u, double target, MvAfterStep after) {
  long events = 0;
  if (u->inputs_changed) {
    u->inputs_held = 0;
    memset(&u->stretch, 0, sizeof u->stretch);
    if (mv_event(u, NULL, NULL) == MV_ERROR) return MV_ERROR;
  }
  while (!u->ended) {
    int pending = u->stretch.to > u->stretch.from || u->stretch.ends_in_event;
    if (!pending) {
      double farthest = fmax(target, fmin(u->stop_time, u->t + u->span));
      if (u->t >= target) break;
      if (make_stretch(u, NINPUT && !u->inputs_held ? target : farthest) == MV_ERROR) return MV_ERROR;
      continue;
    }
    if (u->stretch.to > target) {
      go_to(u, target);
      break;
    }
#if NDELAY
    remember_within(u);
#endif
    go_to(u, u->stretch.to);
    {
      int event = u->stretch.ends_in_event;
      memset(&u->stretch, 0, sizeof u->stretch);
      if (event) {
        if (mv_event(u, NULL, NULL) == MV_ERROR) return MV_ERROR;
        if (++events > 1000000L) {
          mv_say(u, MV_LOG_ERROR, MV_ERROR, "there are more than a million events before %g s.", target);
          return MV_ERROR;
        }
      }
#if NCONSTRAINT
      else if (keep_constraints(u, NULL, &event) == MV_ERROR) return MV_ERROR;
#endif
    }
    if (mv_step_done(u) == MV_ERROR) return MV_ERROR;
    if (after && u->t < target && after(u->owner, u->t)) break;
  }
  u->inputs_held = 1;
  return MV_OK;
}
