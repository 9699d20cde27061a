/* A unit that holds units: it loads them from its resources and couples them at communication points.
 *
 * The tables of the rig stand before this text. Steps of a fixed size, side by side (Jacobi) or one after the other (Gauss and
 * Seidel), inputs held or extrapolated: R. Kuebler and W. Schiehlen, Two methods of simulator coupling, Mathematical and
 * Computer Modelling of Dynamical Systems 6 (2000). */

/* Rounds in which signals that depend on each other at one instant are exchanged before they are solved together, then steps
 * of Newton's method, and halvings of one. */
enum { EXCHANGES = 30, STEPS = 30, HALVINGS = 12 };
/* How closely signals must agree at the start, as a share of the largest that each was. */
static const double AGREEMENT = 1e-10;

static void unload(Rig *r) {
  int k;
  for (k = 0; k < NUNIT; ++k) {
    host_free(r->hosts[k]);
    free_exchanged(r->exchanged[k]);
    r->hosts[k] = NULL, r->exchanged[k] = NULL;
  }
}

/* All units as they are before their initialization. */
static MvStatus load_all(Rig *r) {
  int k;
  unload(r);
  memcpy(r->numbers, rig_numbers, sizeof rig_numbers);
  r->entered = r->has_before = 0, r->count = 0;
  for (k = 0; k < NUNIT; ++k)
    if (load_unit(r, k) || (rig_units[k].exchanged && !(r->exchanged[k] = new_exchanged(&rig_units[k])))) return MV_ERROR;
  return MV_OK;
}

/* --- signals ----------------------------------------------------------------------------------- */

static void collect(Rig *r, int k) {
  const RigUnit *u = &rig_units[k];
  int i;
  for (i = u->first_signal; i < u->first_signal + u->signals; ++i) r->outputs[i] = r->numbers[rig_signal_place[i]];
}

/* Gives a unit its inputs from some outputs; where 'width' is not 0, smooth ones as they will be so much later. */
static void give(Rig *r, int k, const double *outputs, double width) {
  const RigUnit *u = &rig_units[k];
  int i;
  for (i = u->first_link; i < u->first_link + u->links; ++i) {
    const RigLink *l = &rig_links[i];
    double value = outputs[l->source];
    if (l->smooth && width != 0.0) value += width * r->slopes[l->source];
    r->numbers[l->place] = value * l->factor + l->offset;
  }
}

/* The inputs of the rig itself, which are signals like others. */
static void take_inputs(Rig *r) {
  int i;
  for (i = 0; i < NINPUT; ++i) r->outputs[NSIGNAL - NINPUT + i] = r->unit.p[NP - NINPUT + i];
}

/* Inputs in and outputs out; those of a unit for model exchange are worked out at its states. */
static MvStatus look(Rig *r, int k) {
  Exchanged *e = r->exchanged[k];
  if (e && r->unit.initialised) return at_states(r, k, 'o', e->t, e->x) == FAULT ? MV_ERROR : MV_OK;
  return judged_call(r, k, host_do(r->hosts[k], 'x'));
}

static MvStatus exchange(Rig *r, const RigGroup *g) {
  int i;
  for (i = g->first; i < g->first + g->size; ++i) {
    int k = rig_order[i];
    if (r->reached[k] > r->unit.t + rounding(r)) continue; /* it takes several steps at once and is ahead */
    give(r, k, r->outputs, 0.0);
    if (look(r, k)) return MV_ERROR;
    collect(r, k);
  }
  return MV_OK;
}

/* Where the coupled signals of a group stand. */
static int places_of(const RigGroup *g, int *at) {
  int i, j, n = 0;
  for (i = g->first; i < g->first + g->size; ++i)
    for (j = 0; j < rig_units[rig_order[i]].coupled; ++j) at[n++] = rig_units[rig_order[i]].first_signal + j;
  return n;
}

/* By how much the signals of a group differ from a guess, as shares of their sizes; the largest, or -1 where a unit failed. */
static double difference(Rig *r, const RigGroup *g, const int *at, int n, const double *guess, double *off) {
  double worst = 0.0;
  int i;
  for (i = 0; i < n; ++i) r->outputs[at[i]] = guess[i] * r->scale[i];
  if (exchange(r, g)) return -1.0;
  for (i = 0; i < n; ++i) {
    off[i] = r->outputs[at[i]] / r->scale[i] - guess[i];
    worst = isfinite(off[i]) ? fmax(worst, fabs(off[i])) : INFINITY;
  }
  return worst;
}

/* Newton's method with differences for what exchanging does not settle. */
static MvStatus solve_group(Rig *r, const RigGroup *g, const int *at, int n, double agreement) {
  double worst = difference(r, g, at, n, r->guess, r->off), share;
  int step, i, j, halving, rows[NLOOP];
  for (step = 0; step < STEPS && worst > agreement; ++step) {
    for (j = 0; j < n; ++j) {
      double kept = r->guess[j], width = sqrt(DBL_EPSILON) * fmax(fabs(kept), 1.0);
      r->guess[j] = kept + width;
      if (difference(r, g, at, n, r->guess, r->trial) < 0.0) return MV_ERROR;
      for (i = 0; i < n; ++i) r->matrix[i * n + j] = (r->trial[i] - r->off[i]) / width;
      r->guess[j] = kept;
    }
    for (i = 0; i < n; ++i) r->shift[i] = -r->off[i];
    if (!factorised(r->matrix, n, rows)) break;
    solve_with(r->matrix, n, rows, r->shift);
    for (halving = 0, share = 1.0; halving < HALVINGS; ++halving, share *= 0.5) {
      double now;
      for (i = 0; i < n; ++i) r->trial[i] = r->guess[i] + share * r->shift[i];
      now = difference(r, g, at, n, r->trial, r->off);
      if (now < 0.0) return MV_ERROR;
      if (now < worst) break;
    }
    if (halving == HALVINGS) break;
    for (i = 0; i < n; ++i) r->guess[i] += share * r->shift[i];
    worst = difference(r, g, at, n, r->guess, r->off);
  }
  worst = difference(r, g, at, n, r->guess, r->off);
  if (worst >= 0.0 && worst <= sqrt(agreement)) return MV_OK;
  if (worst >= 0.0)
    mv_say(&r->unit, MV_LOG_ERROR, MV_ERROR, "signals of '%s' and others depend on each other at %g s and do not settle.",
           rig_units[rig_order[g->first]].name, r->unit.t);
  return MV_ERROR;
}

/* Exchanges the signals of a group until they agree; where that does not come to rest, solves for them. */
static MvStatus settle(Rig *r, const RigGroup *g, double agreement, int again) {
  int at[NSIGNAL + 1], n, i, round;
  if (!g->loops && !again) return exchange(r, g);
  n = places_of(g, at);
  for (i = 0; i < n; ++i) r->scale[i] = fabs(r->outputs[at[i]]);
  for (round = 0; round < EXCHANGES; ++round) {
    int agree = 1, finite = 1;
    for (i = 0; i < n; ++i) r->guess[i] = r->outputs[at[i]];
    if (exchange(r, g)) return MV_ERROR;
    for (i = 0; i < n; ++i) {
      double now = r->outputs[at[i]];
      finite &= isfinite(now) != 0;
      r->scale[i] = fmax(r->scale[i], fabs(now));
      agree &= fabs(now - r->guess[i]) <= agreement * r->scale[i];
    }
    if (!finite) break;
    if (agree) return MV_OK;
  }
  if (again) return MV_OK; /* what feeds through was settled before, group by group */
  for (i = 0; i < n; ++i) {
    double now = r->outputs[at[i]];
    if (!(r->scale[i] > 0.0) || !isfinite(r->scale[i])) r->scale[i] = 1.0;
    r->guess[i] = isfinite(now) ? now / r->scale[i] : 0.0;
  }
  return solve_group(r, g, at, n, agreement);
}

/* What feeds through units at the present instant, loops included. */
static MvStatus propagate(Rig *r) {
  int i;
  for (i = 0; i < NGROUP; ++i) {
    if (!rig_groups[i].feeds) continue;
    if (rig_groups[i].loops && RIG_LOOPS > 0.0 ? settle(r, &rig_groups[i], RIG_LOOPS, 0) : exchange(r, &rig_groups[i])) return MV_ERROR;
  }
  return MV_OK;
}

/* --- the start --------------------------------------------------------------------------------- */

static MvStatus enter(Rig *r, int k) {
  const MvUnit *u = &r->unit;
  Command c = {0};
  const unsigned char stops = isfinite(u->stop_time) != 0, yes = 1;
  double stop = stops ? u->stop_time : 0.0;
  put(&c, "N", 1), put(&c, &u->start_time, 8), put(&c, &stops, 1), put(&c, &stop, 8), put(&c, &yes, 1), put(&c, &u->tolerance, 8);
  if (obey_command(r, k, &c) || order(r, k, 'O')) return MV_ERROR;
  collect(r, k);
  return MV_OK;
}

MvStatus mv_start(MvUnit *u) {
  Rig *r = (Rig *)u;
  RigGroup everything = {0, NORDER, 1, 1};
  int i, k;
  if (r->entered && load_all(r)) return MV_ERROR; /* a parameter changed */
  for (i = 0; i < NTARGET; ++i) r->numbers[rig_targets[i].place] = u->p[rig_targets[i].parameter];
  take_inputs(r);
  u->t = u->start_time;
  r->entered = 1;
  for (k = 0; k < NUNIT; ++k) {
    r->reached[k] = u->t;
    if (enter(r, k)) return MV_ERROR;
    if (k == 0)
      for (i = 0; i < NTRANSFER; ++i) r->numbers[rig_transfers[i].to] = r->numbers[rig_transfers[i].from];
  }
  for (i = 0; i < NGROUP; ++i)
    if (settle(r, &rig_groups[i], AGREEMENT, 0)) return MV_ERROR;
  if (settle(r, &everything, AGREEMENT, 1)) return MV_ERROR;
  u->started = 1, u->inputs_changed = 0;
  return MV_OK;
}

/* Signals as they are with the newest inputs of the rig. */
static MvStatus bring_up_to_date(Rig *r) {
  MvUnit *u = &r->unit;
  if (!u->started) return mv_start(u);
  if (!u->inputs_changed) return MV_OK;
  u->inputs_changed = 0;
  if (!u->initialised) {
    int i;
    for (i = 0; i < NGROUP; ++i)
      if (settle(r, &rig_groups[i], AGREEMENT, 0)) return MV_ERROR;
    return MV_OK;
  }
  return propagate(r);
}

MvStatus mv_initialise(MvUnit *u) {
  Rig *r = (Rig *)u;
  int k;
  if (bring_up_to_date(r)) return MV_ERROR;
  for (k = 0; k < NUNIT; ++k) {
    if (order(r, k, 'V') || (r->exchanged[k] && begin_exchanged(r, k, r->exchanged[k]))) return MV_ERROR;
    collect(r, k);
  }
  u->initialised = 1;
  return propagate(r);
}

/* --- steps ------------------------------------------------------------------------------------- */

/* An end of a step: the stop time where it is there but for rounding. */
static double clipped(double t, double limit) { return t >= limit - 1e-9 * RIG_STEP ? limit : t; }

static MvStatus give_slopes(Rig *r, int k) {
  const RigUnit *u = &rig_units[k];
  Command c = {0};
  uint32_t n = (uint32_t)u->links;
  int i;
  if (!n) return MV_OK;
  put(&c, "D", 1), put(&c, &n, 4);
  for (i = u->first_link; i < u->first_link + u->links; ++i) put(&c, &rig_links[i].reference, 4);
  for (i = u->first_link; i < u->first_link + u->links; ++i) {
    double slope = rig_links[i].smooth ? r->slopes[rig_links[i].source] * rig_links[i].factor : 0.0;
    put(&c, &slope, 8);
  }
  return obey_command(r, k, &c);
}

/* One unit to 'target', or to an event at which it returned where everybody can go back to that. */
static MvStatus unit_step(Rig *r, int k, double t, double target) {
  const RigUnit *u = &rig_units[k];
  double *clock = r->numbers + u->clock, near = target - rounding(r);
  r->reached[k] = t;
  while (r->reached[k] < near) {
    double from = r->reached[k];
    if (RIG_INPUTS == RIG_SMOOTHED && u->takes_slopes && give_slopes(r, k)) return MV_ERROR;
    clock[0] = from, clock[1] = target - from;
    if (r->exchanged[k] ? advance_exchanged(r, k, r->exchanged[k], target) : judged_call(r, k, host_do(r->hosts[k], 's'))) return MV_ERROR;
    r->reached[k] = clock[2];
    if (clock[3] != 0.0) {
      mv_say(&r->unit, MV_LOG_EVENTS, MV_OK, "the unit '%s' ended the run at %g s.", u->name, clock[2]);
      r->unit.ended = 1;
      return MV_OK;
    }
    if (!(clock[2] > from)) {
      mv_say(&r->unit, MV_LOG_ERROR, MV_ERROR, "the unit '%s' in it did not advance from %g s.", u->name, from);
      return MV_ERROR;
    }
    if (clock[2] < near && u->may_return && RIG_GOES_BACK) return MV_OK;
  }
  r->reached[k] = target;
  return MV_OK;
}

static double end_of(const Rig *r, int k, double t, double target) {
  int many = rig_units[k].multiple;
  return many == 1 ? target : clipped(t + many * RIG_STEP, r->unit.stop_time);
}

/* Whether a unit computes in this step; one that takes several at once does so with the first of them. */
static int is_due(const Rig *r, int k, int begins_at_point) {
  int many = rig_units[k].multiple;
  return many == 1 || (begins_at_point && r->count % many == 0);
}

/* Every unit has what all gave at the beginning of the step, or what that will be in its middle. */
static MvStatus side_by_side(Rig *r, double t, double target, int at_point) {
  double half = RIG_INPUTS == RIG_HELD ? 0.0 : 0.5 * (target - t);
  int i, k;
  for (i = 0; i < NORDER; ++i) {
    k = rig_order[i];
    if (is_due(r, k, at_point)) give(r, k, r->outputs, RIG_INPUTS == RIG_SMOOTHED && rig_units[k].takes_slopes ? 0.0 : half);
  }
  for (i = 0; i < NORDER; ++i) {
    k = rig_order[i];
    if (is_due(r, k, at_point) && unit_step(r, k, t, end_of(r, k, t, target))) return MV_ERROR;
  }
  return MV_OK;
}

/* Every unit has what those before it gave at the end of the step; units without states follow at once. */
static MvStatus in_turn(Rig *r, double t, double target, int at_point) {
  int held = RIG_INPUTS == RIG_HELD, followers, i, j, k;
  memcpy(r->begun, r->outputs, NSIGNAL * sizeof(double));
  for (i = 0; i < NSIGNAL; ++i) r->seen[i] = held ? r->begun[i] : r->begun[i] + 0.5 * (target - t) * r->slopes[i];
  for (i = 0; i < NORDER; ++i) {
    const RigUnit *u = &rig_units[k = rig_order[i]];
    if (!u->stateful || !is_due(r, k, at_point)) continue;
    memcpy(r->outputs, r->seen, NSIGNAL * sizeof(double));
    for (j = 0; j < NORDER; ++j) {
      RigGroup follower = {j, 1, 0, 0};
      if (rig_units[rig_order[j]].stateful || !rig_units[rig_order[j]].links || !is_due(r, rig_order[j], at_point)) continue;
      if (exchange(r, &follower)) return MV_ERROR;
    }
    give(r, k, r->outputs, 0.0);
    if (unit_step(r, k, t, end_of(r, k, t, target))) return MV_ERROR;
    for (j = u->first_signal; u->multiple == 1 && j < u->first_signal + u->signals; ++j) {
      double now = r->numbers[rig_signal_place[j]];
      r->seen[j] = held ? now : 0.5 * (r->begun[j] + now);
    }
  }
  memcpy(r->outputs, r->begun, NSIGNAL * sizeof(double));
  for (followers = 0; followers < 2; ++followers)
    for (i = 0; i < NORDER; ++i) {
      const RigUnit *u = &rig_units[k = rig_order[i]];
      if (u->stateful == followers || !is_due(r, k, at_point)) continue;
      if (followers) {
        give(r, k, r->outputs, 0.0);
        if (unit_step(r, k, t, end_of(r, k, t, target))) return MV_ERROR;
      }
      if (u->multiple == 1) collect(r, k);
    }
  return MV_OK;
}

/* The step of each unit that is due; 'point' tells whether it ends at a communication point. */
static MvStatus advance(Rig *r, double t, double target, int at_point, int point) {
  int i, k, ends = target >= r->unit.stop_time;
  if ((RIG_SEQUENTIAL ? in_turn : side_by_side)(r, t, target, at_point)) return MV_ERROR;
  for (i = 0; i < NORDER; ++i) {
    int many = rig_units[k = rig_order[i]].multiple;
    if (many == 1 || ends || (point && (r->count + 1) % many == 0)) collect(r, k);
  }
  return MV_OK;
}

static MvStatus everybody(Rig *r, char letter) {
  int i;
  for (i = 0; i < NORDER; ++i) {
    if (order_with(r, rig_order[i], letter, 0)) return MV_ERROR;
    if (r->exchanged[rig_order[i]]) (letter == 'K' ? keep_exchanged : restore_exchanged)(r->exchanged[rig_order[i]]);
  }
  return MV_OK;
}

/* All units to 'target', or to the first event before it where all can go back; 'u->t' is where they are then. */
static MvStatus to_event(Rig *r, double target, int at_point, int point) {
  MvUnit *u = &r->unit;
  double t = u->t, early = target;
  int i, may_return = 0;
  for (i = 0; i < NUNIT; ++i) may_return |= RIG_GOES_BACK && rig_units[i].may_return;
  if (may_return) {
    if (everybody(r, 'K')) return MV_ERROR;
    memcpy(r->kept, r->outputs, NSIGNAL * sizeof(double));
  }
  if (advance(r, t, target, at_point, point)) return MV_ERROR;
  for (i = 0; i < NORDER; ++i) early = fmin(early, r->reached[rig_order[i]]);
  u->t = target;
  if (!may_return || u->ended || !(t < early && early < target - rounding(r))) return MV_OK;
  if (everybody(r, 'R')) return MV_ERROR;
  memcpy(r->outputs, r->kept, NSIGNAL * sizeof(double));
  u->t = t;
  if (advance(r, t, early, at_point, 0)) return MV_ERROR;
  u->t = early;
  mv_say(u, MV_LOG_EVENTS, MV_OK, "an event of a unit in it at %g s.", early);
  r->has_before = 0;
  memset(r->slopes, 0, NSIGNAL * sizeof(double));
  return propagate(r);
}

static void note_slopes(Rig *r) {
  double t = r->unit.t;
  int i;
  if (RIG_INPUTS == RIG_HELD) return;
  for (i = 0; r->has_before && t > r->before_time && i < NSIGNAL; ++i) r->slopes[i] = (r->outputs[i] - r->before[i]) / (t - r->before_time);
  memcpy(r->before, r->outputs, NSIGNAL * sizeof(double));
  r->before_time = t, r->has_before = 1;
}

/* One communication step, or the part of it that ends at 'target'. */
static MvStatus communication_step(Rig *r, double target, int point) {
  MvUnit *u = &r->unit;
  int at_point = fabs(u->t - (u->start_time + r->count * RIG_STEP)) <= 1e-9 * RIG_STEP;
  while (u->t < target && !u->ended) {
    if (to_event(r, target, at_point, point)) return MV_ERROR;
    at_point = 0;
  }
  if (point) ++r->count;
  if (propagate(r)) return MV_ERROR;
  note_slopes(r);
  return MV_OK;
}

MvStatus mv_advance(MvUnit *u, double target, MvAfterStep after) {
  Rig *r = (Rig *)u;
  if (bring_up_to_date(r)) return MV_ERROR;
  while (u->t < target - rounding(r) && !u->ended) {
    double next = clipped(u->start_time + (double)(r->count + 1) * RIG_STEP, target);
    int point = u->start_time + (double)(r->count + 1) * RIG_STEP <= target + 1e-9 * RIG_STEP;
    if (communication_step(r, next, point)) return MV_ERROR;
    if (after && after(u->owner, u->t)) break;
  }
  return MV_OK;
}

/* --- memory and values ------------------------------------------------------------------------- */

MvUnit *mv_new(void *owner, MvLogger logger) {
  Rig *r = calloc(1, sizeof *r);
  double *d, **vectors[] = {&r->outputs, &r->begun, &r->kept,  &r->before, &r->slopes, &r->seen,
                            &r->guess,   &r->off,   &r->trial, &r->scale,  &r->shift};
  size_t i, n = sizeof vectors / sizeof *vectors;
  if (!r) return NULL;
  r->size = NNUMBER + NP + n * (NSIGNAL + 1) + (size_t)NLOOP * NLOOP + 1;
  d = r->unit.state = calloc(r->size, sizeof *d);
  if (!d) {
    free(r);
    return NULL;
  }
  r->unit.owner = owner, r->unit.logger = logger;
  r->unit.x = d; /* there are none */
  r->numbers = d, d += NNUMBER;
  r->unit.p = d, d += NP;
  for (i = 0; i < n; ++i, d += NSIGNAL + 1) *vectors[i] = d;
  r->matrix = d;
  memcpy(r->unit.p, mv_default_p, NP * sizeof(double));
  mv_setup(&r->unit, MV_START, INFINITY, 0.0);
  return &r->unit;
}

/* Where the resources are, as a path or a URI (section 2.1.5 of FMI 2), and all units loaded; 0 where that fails. */
int mv_open(MvUnit *u, const char *resources) {
  Rig *r = (Rig *)u;
  size_t n;
  char *to;
  if (!resources) resources = "";
  if (strncmp(resources, "file:", 5) == 0) {
    resources += 5;
    if (resources[0] == '/' && resources[1] == '/') {
      resources += 2;
      while (*resources && *resources != '/') ++resources; /* the name of this machine */
    }
  }
  n = strlen(resources);
  to = r->resources = malloc(n + 2);
  if (!to) return 0;
  for (; *resources; ++resources) {
    char digits[3] = {0, 0, 0};
    if (*resources == '%' && resources[1] && resources[2]) {
      digits[0] = resources[1], digits[1] = resources[2];
      *to++ = (char)strtol(digits, NULL, 16);
      resources += 2;
    } else *to++ = *resources;
  }
  if (to == r->resources || to[-1] != '/') *to++ = '/';
  *to = 0;
  return load_all(r) == MV_OK;
}

void mv_free(MvUnit *u) {
  Rig *r = (Rig *)u;
  if (!u) return;
  unload(r);
  free(r->resources), free(u->state), free(r);
}

void mv_reset(MvUnit *u) {
  Rig *r = (Rig *)u;
  u->started = u->initialised = u->ended = u->inputs_changed = 0;
  memcpy(u->p, mv_default_p, NP * sizeof(double));
  memset(r->slopes, 0, NSIGNAL * sizeof(double));
  mv_setup(u, MV_START, INFINITY, 0.0);
  load_all(r);
}

void mv_setup(MvUnit *u, double start, double stop, double tolerance) {
  u->t = u->start_time = start, u->stop_time = stop;
  u->tolerance = tolerance > 0.0 ? tolerance : MV_TOLERANCE;
  u->span = isfinite(stop) ? stop - start : fmax(MV_STOP - MV_START, 0.0);
}

MvStatus mv_get(MvUnit *u, int variable, double *value) {
  const MvVariable *v = &mv_variables[variable];
  Rig *r = (Rig *)u;
  if (v->source == MV_TIME) *value = u->t;
  else if (v->source == MV_PARAMETER) *value = u->p[v->index];
  else if (bring_up_to_date(r)) return MV_ERROR;
  else *value = r->outputs[v->index] * v->sign + v->value;
  return MV_OK;
}

MvStatus mv_set(MvUnit *u, int variable, double value, int phase) {
  const MvVariable *v = &mv_variables[variable];
  Rig *r = (Rig *)u;
  if (v->settable < phase) {
    mv_say(u, MV_LOG_ERROR, MV_ERROR, v->settable ? "'%s' can be set before the start only." : "'%s' cannot be set.",
           mv_variable_names[variable]);
    return MV_ERROR;
  }
  if (u->p[v->index] == value) return MV_OK;
  u->p[v->index] = value;
  if (v->settable == 2) {
    take_inputs(r);
    u->inputs_changed = 1;
  } else u->started = 0;
  return MV_OK;
}

/* --- what this unit does not have: states of its own, events between steps, derivatives -------- */

static MvStatus refused_here(MvUnit *u) {
  mv_say(u, MV_LOG_ERROR, MV_ERROR, "this unit holds other units and does not offer that.");
  return MV_ERROR;
}

void mv_set_time(MvUnit *u, double t) { (void)u, (void)t; }
void mv_set_states(MvUnit *u, const double *x) { (void)u, (void)x; }
MvStatus mv_rates(MvUnit *u) { return refused_here(u); }
MvStatus mv_values(MvUnit *u) { return bring_up_to_date((Rig *)u); }
MvStatus mv_indicators(MvUnit *u, double *z) { return (void)z, refused_here(u); }
MvStatus mv_event(MvUnit *u, int *states_changed, double *next_time) { return (void)u, (void)states_changed, (void)next_time, MV_OK; }
MvStatus mv_step_done(MvUnit *u) { return (void)u, MV_OK; }
double mv_next_time(MvUnit *u) { return (void)u, INFINITY; }
int mv_drifts(MvUnit *u) { return (void)u, 0; }

MvStatus mv_forward(MvUnit *u, const double *seed_x, const double *seed_p, double *rates, double *values) {
  (void)seed_x, (void)seed_p, (void)rates, (void)values;
  return refused_here(u);
}

MvStatus mv_reverse(MvUnit *u, const double *seed_rates, const double *seed_values, double *x, double *p) {
  (void)seed_rates, (void)seed_values, (void)x, (void)p;
  return refused_here(u);
}

static int mv_seed(const MvVariable *v, double seed, double *x, double *p) { return (void)v, (void)seed, (void)x, (void)p, 0; }

static double mv_slope(const MvVariable *v, const double *x, const double *p, const double *rates, const double *values) {
  return (void)v, (void)x, (void)p, (void)rates, (void)values, 0.0;
}

/* --- states that are kept ---------------------------------------------------------------------- */

/* What is kept besides the numbers: the rig but for its pointers, and how much each unit wrote behind. */
typedef struct {
  unsigned long long fingerprint;
  MvUnit unit;
  double reached[NUNIT], next_time[NUNIT], before_time;
  long count;
  int has_before, entered;
  size_t sizes[NUNIT];
} Stored;

static size_t numbers_size(const Rig *r) { return r->size * sizeof(double); }

size_t mv_stored_size(const MvUnit *u) {
  const Rig *r = (const Rig *)u;
  size_t size = sizeof(Stored) + numbers_size(r);
  int k;
  for (k = 0; RIG_STORES && k < NUNIT; ++k) size += host_stored_size(r->hosts[k]);
  return size;
}

void mv_store(const MvUnit *u, unsigned char *bytes) {
  const Rig *r = (const Rig *)u;
  Stored s;
  unsigned char *at = bytes + sizeof s + numbers_size(r);
  int k;
  memset(&s, 0, sizeof s);
  s.fingerprint = MV_FINGERPRINT, s.unit = *u, s.before_time = r->before_time, s.count = r->count, s.has_before = r->has_before, s.entered = r->entered;
  memcpy(s.reached, r->reached, sizeof s.reached);
  memcpy(bytes + sizeof s, u->state, numbers_size(r));
  for (k = 0; RIG_STORES && k < NUNIT; ++k) {
    if (r->exchanged[k]) s.next_time[k] = r->exchanged[k]->next_time;
    s.sizes[k] = host_stored_size(r->hosts[k]);
    host_store(r->hosts[k], at, s.sizes[k]);
    at += s.sizes[k];
  }
  memcpy(bytes, &s, sizeof s);
}

MvStatus mv_restore(MvUnit *u, const unsigned char *bytes, size_t size) {
  Rig *r = (Rig *)u;
  MvUnit now = *u;
  const unsigned char *at = bytes + sizeof(Stored) + numbers_size(r);
  size_t left;
  Stored s;
  int k;
  if (!RIG_STORES) return refused_here(u);
  if (size < sizeof s + numbers_size(r)) return MV_ERROR;
  memcpy(&s, bytes, sizeof s);
  if (s.fingerprint != MV_FINGERPRINT) return MV_ERROR;
  left = size - sizeof s - numbers_size(r);
  for (k = 0; k < NUNIT; ++k) {
    if (s.sizes[k] > left) return MV_ERROR;
    if (judged_call(r, k, host_restore(r->hosts[k], at, s.sizes[k]))) return MV_ERROR;
    at += s.sizes[k], left -= s.sizes[k];
  }
  memcpy(u->state, bytes + sizeof s, numbers_size(r));
  *u = s.unit;
  u->owner = now.owner, u->logger = now.logger, u->logged = now.logged;
  u->state = now.state, u->x = now.x, u->p = now.p;
  memcpy(r->reached, s.reached, sizeof s.reached);
  r->before_time = s.before_time, r->count = s.count, r->has_before = s.has_before, r->entered = s.entered;
  for (k = 0; k < NUNIT; ++k)
    if (r->exchanged[k]) go_on_exchanged(r, k, r->exchanged[k], s.next_time[k]);
  return MV_OK;
}
