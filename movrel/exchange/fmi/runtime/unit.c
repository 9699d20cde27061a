/* The working of a unit: start, implicit equations, events. The functions and tables of the model stand before this text. */
#define MV_PIVOTS(n) (3 * (n)) /* what the factors of n rows keep beside the matrix */

/* Rounds of event iteration before a model is said not to settle. */
enum { ITERATION_LIMIT = 100, NEWTON_LIMIT = 50, HALVINGS = 12 };
/* A relation changes when it is contradicted by more than this share of the terms that it compares. */
static const double HYSTERESIS = 1e-10;
static const double ROUNDING = 1e-12;
/* Largest residual, as a share of its terms, that counts as solved where Newton's method stands still. */
static const double RESIDUAL_LIMIT = 1e-6;
/* Share of its largest size below which what is left of a number is of no interest. */
static const double OF_LARGEST = 1e-3;

/* --- memory ------------------------------------------------------------------------------------ */

static size_t state_doubles(void) {
  return NX + NP + NM + 5 * (size_t)NS + 2 * (size_t)NG + NSAMPLE + 4 * (size_t)NX + history_doubles();
}

static void lay_out(MvUnit *u) {
  double *d = u->state;
  u->x = d, d += NX;
  u->p = d, d += NP;
  u->m = d, d += NM;
  u->w = d, d += NS;
  u->hold = d, d += NG;
  u->rests = d, d += NG;
  u->next_sample = d, d += NSAMPLE;
  u->dense = d, d += 4 * (size_t)NX;
  u->unknown_size = d, d += NS;
  u->largest_unknown = d, d += NS;
  u->term_size = d, d += NS;
  u->largest_term = d, d += NS;
  u->history = d;
}

#define LARGEST MV_AT_LEAST_ONE(LARGEST_BLOCK)
#define DRIFT_DOUBLES (NCONSTRAINT * ((size_t)NX + NCONSTRAINT + 1) + NX)

static size_t work_doubles(void) {
  size_t n = NX, s = NS, b = LARGEST;
  return s + NY + n + 2 * (size_t)NG + NACTIONS + 3 * (size_t)NG + NS0 + NY0 + NG + 2 * b * b + 5 * b + 2 * n * n + NJACOBIAN +
         (n + s) * (n + s) + s * n + 10 * n + NM + 3 * (size_t)NTIMED + NP + NY + s + 64 + LARGEST_OUTPUT + DRIFT_DOUBLES;
}

static void lay_out_work(MvUnit *u) {
  double *d = u->work;
  size_t n = NX, s = NS, b = LARGEST;
  u->s = d, d += s;
  u->y = d, d += NY;
  u->dx = d, d += n;
  u->g = d, d += NG;
  u->scale = d, d += NG;
  u->acting = d, d += NACTIONS;
  u->first = d, d += NG;
  u->present = d, d += 2 * (size_t)NG;
  u->start_s = d, d += NS0;
  u->start_y = d, d += NY0 + NG;
  u->matrix = d, d += 2 * b * b;
  u->vector = d, d += b;
  u->trial = d, d += 3 * b;
  u->size_of_terms = d, d += b;
  u->jac = d, d += 2 * n * n;
  u->casadi = d, d += NJACOBIAN;
  u->big = d, d += (n + s) * (n + s) + s * n;
  u->stage = d, d += 8 * n;
  u->rate = d, d += n;
  u->weight = d, d += n;
  u->old_m = d, d += NM;
  u->coming = d, d += NTIMED;
  u->sink = d, d += MV_AT_LEAST_ONE(LARGEST_OUTPUT);
  u->drift = d, d += DRIFT_DOUBLES;
  u->lines = d;
}

MvUnit *mv_new(void *owner, MvLogger logger) {
  MvUnit *u = calloc(1, sizeof *u);
  if (!u) return NULL;
  u->owner = owner;
  u->logger = logger;
  u->logged = 1u << MV_LOG_ERROR;
  u->state_size = state_doubles();
  u->state = calloc(MV_AT_LEAST_ONE(u->state_size), sizeof(double));
  u->work = calloc(work_doubles(), sizeof(double));
  u->pivot = calloc(MV_PIVOTS(MV_AT_LEAST_ONE(NX + NS + LARGEST_BLOCK)), sizeof(int));
  u->forced = calloc(MV_AT_LEAST_ONE(NG), sizeof(int));
  u->seen = calloc(ITERATION_LIMIT + 50 * (size_t)NG, sizeof(unsigned long long));
  if (!u->state || !u->work || !u->pivot || !u->forced || !u->seen) {
    mv_free(u);
    return NULL;
  }
  lay_out(u);
  lay_out_work(u);
  mv_reset(u);
  return u;
}

int mv_open(MvUnit *u, const char *resources) { return (void)u, (void)resources, 1; } /* it needs none */

void mv_free(MvUnit *u) {
  if (!u) return;
  free(u->state);
  free(u->work);
  free(u->pivot);
  free(u->forced);
  free(u->seen);
  free(u);
}

static void forget(MvUnit *u) { u->solved = u->valued = u->rated = 0; }

void mv_reset(MvUnit *u) {
  memset(u->state, 0, u->state_size * sizeof(double));
  memcpy(u->p, mv_default_p, NP * sizeof(double));
  u->m[NM - 1] = 1.0;
  u->t = u->start_time = 0.0;
  u->stop_time = INFINITY;
  u->tolerance = MV_TOLERANCE;
  u->span = MV_STOP - MV_START;
  u->last_step = 0.0;
  memset(&u->stretch, 0, sizeof u->stretch);
  u->may_discard = u->discarded = 0;
  u->bound = u->started = u->initialised = u->ended = u->inputs_changed = u->inputs_held = u->no_start_event = 0;
  u->counted_steps = u->counted_rates = 0;
  forget(u);
}

void mv_setup(MvUnit *u, double start, double stop, double tolerance) {
  u->t = u->start_time = start;
  u->stop_time = stop;
  if (isfinite(stop) && stop > start) u->span = stop - start;
  if (tolerance > 0.0) u->tolerance = tolerance;
  u->started = 0;
  forget(u);
}

/* --- functions of the model -------------------------------------------------------------------- */

typedef int (*MvFunction)(const double **, double **, long long *, double *, int);

static void call_at(MvFunction f, const MvUnit *u, const double *x, const double *s, double *a, double *b, double *c) {
  const double *arguments[5] = {&u->t, x, u->p, u->m, s};
  double *results[3];
  results[0] = a ? a : u->sink;
  results[1] = b ? b : u->sink;
  results[2] = c ? c : u->sink;
  if (NDELAY) fill_delays(u);
  f(arguments, results, NULL, NULL, 0);
}

static int all_finite(const double *values, int n) {
  int i;
  for (i = 0; i < n; ++i)
    if (!isfinite(values[i])) return 0;
  return 1;
}

/* --- linear equations -------------------------------------------------------------------------- */

/* LU factors with row exchanges, in place, row by row; 0 when the matrix is singular. 'pivot' has MV_PIVOTS(n) places:
   the exchanges, and of each row the first and the last column that are not 0, as most rows of a plant are nearly empty. */
MV_OFTEN static int factorise(double *a, int n, int *pivot) {
  int i, j, k, below = 0, *first = pivot + n, *last = first + n;
  for (i = 0; i < n; ++i) { /* exchanges of rows never widen the band below the diagonal */
    for (j = 0; j < i - below && a[i * n + j] == 0.0;) ++j;
    if (i - j > below) below = i - j;
  }
  for (k = 0; k < n; ++k) {
    int best = k, end = n - 1, lowest = k + below < n ? k + below : n - 1;
    double largest = fabs(a[k * n + k]), *from = a + k * n;
    for (i = k + 1; i <= lowest; ++i)
      if (fabs(a[i * n + k]) > largest) largest = fabs(a[i * n + k]), best = i;
    if (!(largest > 0.0) || !isfinite(largest)) return 0;
    pivot[k] = best;
    if (best != k)
      for (j = 0; j < n; ++j) {
        double kept = from[j];
        from[j] = a[best * n + j];
        a[best * n + j] = kept;
      }
    while (end > k && from[end] == 0.0) --end;
    last[k] = end;
    for (i = k + 1; i <= lowest; ++i) {
      double *row = a + i * n, factor;
      if (row[k] == 0.0) continue;
      factor = row[k] /= from[k];
      for (j = k + 1; j <= end; ++j) row[j] -= factor * from[j];
    }
  }
  for (i = 0; i < n; ++i)
    for (first[i] = 0; first[i] < i && a[i * n + first[i]] == 0.0;) ++first[i];
  return 1;
}

MV_OFTEN static void solve_factorised(const double *a, int n, const int *pivot, double *b) {
  const int *first = pivot + n, *last = first + n;
  int i, j;
  for (i = 0; i < n; ++i) {
    double kept = b[pivot[i]];
    b[pivot[i]] = b[i];
    b[i] = kept;
  }
  for (i = 1; i < n; ++i)
    for (j = first[i]; j < i; ++j) b[i] -= a[i * n + j] * b[j];
  for (i = n - 1; i >= 0; --i) {
    for (j = i + 1; j <= last[i]; ++j) b[i] -= a[i * n + j] * b[j];
    b[i] /= a[i * n + i];
  }
}

/* The same with the transposed matrix. */
static void solve_transposed(const double *a, int n, const int *pivot, double *b) {
  int i, j;
  for (i = 0; i < n; ++i) {
    for (j = 0; j < i; ++j) b[i] -= a[j * n + i] * b[j];
    b[i] /= a[i * n + i];
  }
  for (i = n - 1; i >= 0; --i)
    for (j = i + 1; j < n; ++j) b[i] -= a[j * n + i] * b[j];
  for (i = n - 1; i >= 0; --i) {
    double kept = b[pivot[i]];
    b[pivot[i]] = b[i];
    b[i] = kept;
  }
}

/* Any solution of a singular system that has one, by elimination with row exchanges; 'column' is work space. */
static int solve_singular(double *a, int n, double *b, int *column) {
  int i, j, k, rank = 0;
  double size = 0.0;
  for (i = 0; i < n; ++i) size = fmax(size, fabs(b[i]));
  for (k = 0; k < n && rank < n; ++k) {
    int best = rank;
    double kept;
    for (i = rank + 1; i < n; ++i)
      if (fabs(a[i * n + k]) > fabs(a[best * n + k])) best = i;
    if (!(fabs(a[best * n + k]) > 0.0)) continue;
    for (j = 0; j < n; ++j) {
      kept = a[rank * n + j];
      a[rank * n + j] = a[best * n + j];
      a[best * n + j] = kept;
    }
    kept = b[rank];
    b[rank] = b[best];
    b[best] = kept;
    for (i = 0; i < n; ++i)
      if (i != rank && a[i * n + k] != 0.0) {
        double factor = a[i * n + k] / a[rank * n + k];
        for (j = k; j < n; ++j) a[i * n + j] -= factor * a[rank * n + j];
        a[i * n + k] = 0.0;
        b[i] -= factor * b[rank];
      }
    column[rank++] = k;
  }
  for (i = rank; i < n; ++i)
    if (fabs(b[i]) > 1e-9 * size) return 0;
  for (i = n - 1; i >= 0; --i) {
    double value = i < rank ? b[i] / a[i * n + column[i]] : 0.0;
    b[i] = 0.0;
    if (i < rank) b[column[i]] = value; /* column[i] >= i, so nothing still needed is overwritten */
  }
  return 1;
}

/* --- implicit equations ------------------------------------------------------------------------ */

/* The largest residual as a share of the terms that it sums, or of what these were before, if that is known. */
static double worst_share(const double *residual, const double *terms, const double *before, int n) {
  double worst = 0.0;
  int i;
  for (i = 0; i < n; ++i) {
    double size = before ? fmax(terms[i], before[i]) : terms[i];
    double share = size > 0.0 ? fabs(residual[i]) / size : (residual[i] == 0.0 ? 0.0 : INFINITY);
    if (!(share <= worst)) worst = isfinite(share) ? share : INFINITY;
  }
  return worst;
}

/* Newton's method with exact derivatives; steps are halved while the residual grows. The function gives a matrix by
 * columns, the residual and the sizes of its terms; 's' holds the unknowns of all blocks. */
static int newton(MvUnit *u, MvFunction f, const double *x, double *s, int position, int n) {
  double *z = s + position, *r = u->vector, *terms = u->size_of_terms, *step = u->trial, *before = u->trial + n;
  double *columns = u->matrix, *rows = u->matrix + (size_t)n * n;
  const double *sizes = u->initialised ? u->term_size + position : NULL;
  double share, least;
  int i, j, round, halving;
  call_at(f, u, x, s, columns, r, terms);
  share = worst_share(r, terms, sizes, n);
  for (round = 0; round < NEWTON_LIMIT; ++round) {
    int still = 1;
    if (share <= 4.0 * DBL_EPSILON) return 1;
    for (i = 0; i < n; ++i) {
      for (j = 0; j < n; ++j) rows[i * n + j] = columns[j * n + i];
      step[i] = r[i];
      before[i] = z[i];
    }
    if (!all_finite(step, n) || !factorise(rows, n, u->pivot)) break;
    solve_factorised(rows, n, u->pivot, step);
    if (!all_finite(step, n)) break;
    for (i = 0; i < n; ++i)
      if (fabs(step[i]) > (sizes ? 1e-12 * u->unknown_size[position + i] : 1e-13 * fabs(before[i]))) still = 0;
    least = share;
    for (halving = 0; halving < HALVINGS; ++halving) {
      double part = ldexp(1.0, -halving);
      for (i = 0; i < n; ++i) z[i] = before[i] - part * step[i];
      call_at(f, u, x, s, columns, r, terms);
      share = all_finite(r, n) ? worst_share(r, terms, sizes, n) : INFINITY;
      if (share < least || (isfinite(share) && share <= 1e-3 && halving == 0)) break;
      if (halving == 0 && isfinite(share) && share <= 2.0 * least && least > 0.5) break;
    }
    if (still) break;
    if (halving == HALVINGS) {
      /* no descent: the full step is taken once more before giving up */
      for (i = 0; i < n; ++i) z[i] = before[i] - step[i];
      call_at(f, u, x, s, columns, r, terms);
      share = all_finite(r, n) ? worst_share(r, terms, sizes, n) : INFINITY;
      if (!isfinite(share)) break;
    }
  }
  return all_finite(z, n) && share <= RESIDUAL_LIMIT;
}

/* One search of the method below; 0 when it stalls. */
static int descend(MvUnit *u, MvFunction f, const double *x, double *s, int position, int n) {
  double *z = s + position, *r = u->vector, *terms = u->size_of_terms, *step = u->trial, *before = u->trial + n;
  double *weight = u->trial + 2 * n, *columns = u->matrix, *rows = u->matrix + (size_t)n * n, size, tried, share;
  int i, j, round;
  call_at(f, u, x, s, columns, r, terms);
  for (round = 0; round < 2 * NEWTON_LIMIT; ++round) {
    if (!all_finite(r, n) || !all_finite(columns, n * n)) return 0;
    if (worst_share(r, terms, NULL, n) <= 4.0 * DBL_EPSILON) return 1;
    size = 0.0;
    for (i = 0; i < n; ++i) {
      double sum = 0.0;
      for (j = 0; j < n; ++j) sum += fabs(columns[j * n + i]) * fmax(fabs(z[j]), 1.0);
      weight[i] = sum > 0.0 && isfinite(sum) ? 1.0 / sum : 1.0;
      size = fmax(size, fabs(r[i]) * weight[i]);
    }
    if (size <= 1e-14) return 1; /* as good as rounding allows where the equations are steep */
    for (i = 0; i < n; ++i) {
      before[i] = z[i];
      step[i] = -r[i] * weight[i];
      for (j = 0; j < n; ++j) rows[i * n + j] = columns[j * n + i] * weight[i];
    }
    if (!factorise(rows, n, u->pivot)) { /* a step of least length in its place (Levenberg) */
      for (i = 0; i < n; ++i) {
        step[i] = -r[i] * weight[i];
        for (j = 0; j < n; ++j) rows[i * n + j] = columns[j * n + i] * weight[i] + (i == j ? 1e-6 : 0.0);
      }
      if (!factorise(rows, n, u->pivot)) return 0;
    }
    solve_factorised(rows, n, u->pivot, step);
    if (!all_finite(step, n)) return 0;
    for (share = 1.0; share > 1e-8; share *= 0.5) {
      for (i = 0; i < n; ++i) z[i] = before[i] + share * step[i];
      call_at(f, u, x, s, columns, r, terms);
      tried = 0.0;
      for (i = 0; i < n; ++i) tried = fmax(tried, fabs(r[i]) * weight[i]);
      if (all_finite(r, n) && tried < (1.0 - 0.1 * share) * size) break;
    }
    if (share <= 1e-8) return size <= 1e-10 && all_finite(r, n);
  }
  return 0;
}

/* For the start, where no solution is known: the residual, each equation scaled by its row of the Jacobian, must shrink
 * (P. Deuflhard, Newton Methods for Nonlinear Problems, Springer 2011, section 3.1); then from starts that are moved. */
static int search(MvUnit *u, MvFunction f, const double *x, double *s, int position, int n) {
  double first[LARGEST];
  unsigned long long chance = 88172645463325252ULL;
  int attempt, i;
  memcpy(first, s + position, (size_t)n * sizeof(double));
  if (newton(u, f, x, s, position, n)) return 1;
  for (attempt = 0; attempt < 16; ++attempt) {
    for (i = 0; i < n; ++i) {
      /* Marsaglia's xorshift: the same starts in every run */
      chance ^= chance << 13, chance ^= chance >> 7, chance ^= chance << 17;
      s[position + i] = first[i] + attempt * 0.5 * fmax(fabs(first[i]), 1.0) * ((double)(chance >> 11) / 4503599627370496.0 - 1.0);
    }
    if (descend(u, f, x, s, position, n)) return 1;
  }
  memcpy(s + position, first, (size_t)n * sizeof(double));
  return 0;
}

static int linear(MvUnit *u, MvFunction f, const double *x, double *s, int position, int n) {
  double *columns = u->matrix, *rows = u->matrix + (size_t)n * n, *b = u->vector;
  int i, j;
  call_at(f, u, x, s, columns, b, NULL);
  for (i = 0; i < n; ++i)
    for (j = 0; j < n; ++j) rows[i * n + j] = columns[j * n + i];
  if (factorise(rows, n, u->pivot)) {
    solve_factorised(rows, n, u->pivot, b);
  } else {
    for (i = 0; i < n; ++i)
      for (j = 0; j < n; ++j) rows[i * n + j] = columns[j * n + i];
    call_at(f, u, x, s, NULL, b, NULL);
    if (!solve_singular(rows, n, b, u->pivot)) return 0;
  }
  if (!all_finite(b, n)) return 0;
  memcpy(s + position, b, (size_t)n * sizeof(double));
  return 1;
}

/* The implicit unknowns at given states, into u->s, from the last accepted ones; the number of the block that has no
 * solution, or -1. */
static int solve_blocks(MvUnit *u, const double *x) {
  int k;
  memcpy(u->s, u->w, NS * sizeof(double));
  for (k = 0; k < NBLOCK; ++k) {
    const MvBlock *b = &mv_blocks[k];
    if (!(b->linear ? linear : newton)(u, mv_block_functions[k], x, u->s, b->position, b->size)) return k;
  }
  return -1;
}

/* Why there are no values; of states that are only tried that is no error. */
static void say_unsolved(MvUnit *u, const char *format, const char *what) {
  u->discarded = u->may_discard;
  mv_say(u, u->may_discard ? MV_LOG_WARNING : MV_LOG_ERROR, u->may_discard ? MV_WARNING : MV_ERROR, format, what, u->t);
}

static MvStatus solve(MvUnit *u) {
  int block;
  if (u->solved) return MV_OK;
  block = solve_blocks(u, u->x);
  if (block >= 0) {
    say_unsolved(u, "the equations for %s have no solution at %g s.", mv_block_names[block]);
    return MV_ERROR;
  }
  u->solved = 1;
  return MV_OK;
}

#if NDELAY
/* The delayed expressions at given states; 0 where they cannot be worked out. */
static int delayed_at(MvUnit *u, const double *x, double *values) {
  if (solve_blocks(u, x) >= 0) return 0;
  call_at(mv_f_delayed, u, x, u->s, values, NULL, NULL);
  return all_finite(values, NDELAY);
}

/* Takes note of the delayed expressions at the present instant. */
static void remember(MvUnit *u) {
  double values[NDELAY];
  if (delayed_at(u, u->x, values)) remember_values(u, u->t, values);
}

/* Before the start everything was as it is at the start; a delayed expression may hold another one. */
static MvStatus begin_history(MvUnit *u) {
  const double *arguments[1] = {u->p};
  double *results[1] = {u->history + H_TIMES};
  int k, round;
  mv_f_delay_times(arguments, results, NULL, NULL, 0);
  for (k = 0; k < NDELAY; ++k)
    if (!(u->history[H_TIMES + k] > 0.0)) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "a delay time is %g s; it must be positive.", u->history[H_TIMES + k]);
      return MV_ERROR;
    }
  u->history[H_COUNT] = u->history[H_SEGMENT] = 0.0;
  u->history[H_PASSED] = -INFINITY;
  for (k = 0; k < NDELAY; ++k) u->history[H_PAST + k] = 0.0;
  for (k = 0; k < ECHOES; ++k) u->history[H_ECHOES + k] = INFINITY;
  for (round = 0; round <= NDELAY; ++round) {
    double values[NDELAY];
    if (!delayed_at(u, u->x, values)) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "a delayed expression is not a finite number at the start.");
      return MV_ERROR;
    }
    memcpy(u->history + H_PAST, values, sizeof values);
  }
  remember_values(u, u->t, u->history + H_PAST);
  return MV_OK;
}

/* An event begins, before anything jumps: jumps of the past come out of their delays now. */
static void delays_before_event(MvUnit *u, double limit, double *before) {
  if (!delayed_at(u, u->x, before)) memcpy(before, u->history + H_PAST, NDELAY * sizeof(double));
  else remember_values(u, u->t, before);
  pass_echoes(u, limit);
  forget(u);
}

/* An event is over: what jumped will come out of its delay. */
static void delays_after_event(MvUnit *u, const double *before) {
  double after[NDELAY];
  int k;
  if (!delayed_at(u, u->x, after)) return;
  u->history[H_SEGMENT] += 1.0;
  remember_values(u, u->t, after);
  for (k = 0; k < NDELAY; ++k)
    if (after[k] != before[k]) add_echo(u, u->t + u->history[H_TIMES + k]);
}
#endif

/* Rates at given states into 'dx'; 0 where they cannot be worked out. */
static int rates_at(MvUnit *u, const double *x, double *dx) {
  ++u->counted_rates;
  if (solve_blocks(u, x) >= 0) return 0;
  call_at(mv_f_rates, u, x, u->s, dx, NULL, NULL);
  return all_finite(dx, NX);
}

MvStatus mv_rates(MvUnit *u) {
  int i;
  if (u->rated) return MV_OK;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  call_at(mv_f_rates, u, u->x, u->s, u->dx, NULL, NULL);
  for (i = 0; i < NX; ++i)
    if (!isfinite(u->dx[i])) {
      say_unsolved(u, "the derivative of %s is not a finite number at %g s.", mv_state_names[i]);
      return MV_ERROR;
    }
  u->rated = 1;
  return MV_OK;
}

MvStatus mv_values(MvUnit *u) {
  if (u->valued) return MV_OK;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  call_at(mv_f_values, u, u->x, u->s, u->y, NULL, NULL);
  u->valued = 1;
  return MV_OK;
}

/* --- how large the implicit unknowns and the terms of their equations are ---------------------- */

typedef enum { SIZES_BEGIN, SIZES_NOTE, SIZES_RENEW } SizesWhen;

static void raise_size(double newest, double *size, double *largest) {
  if (isfinite(newest)) *largest = fmax(*largest, newest);
  *size = fmax(isfinite(newest) ? newest : 0.0, OF_LARGEST * *largest);
}

/* Takes the sizes at a solution: at the start from it and from what its equations feel, after an event those of the terms
 * anew, else the newest, but not less than a share of the largest (Dennis and Schnabel, Numerical Methods for Unconstrained
 * Optimization and Nonlinear Equations, 1996, 7.1 and 7.2). */
static void take_sizes(MvUnit *u, SizesWhen when) {
  int k, i, j;
  for (k = 0; k < NBLOCK; ++k) {
    const MvBlock *b = &mv_blocks[k];
    int n = b->size, at = b->position;
    const double *columns = u->matrix, *terms = u->size_of_terms;
    if (b->linear) continue;
    call_at(mv_block_functions[k], u, u->x, u->s, u->matrix, u->vector, u->size_of_terms);
    for (j = 0; j < n && when == SIZES_BEGIN; ++j) {
      double felt = INFINITY, *size = &u->unknown_size[at + j];
      for (i = 0; i < n; ++i) {
        double slope = fabs(columns[j * n + i]);
        if (slope > 0.0 && isfinite(slope) && terms[i] > 0.0 && isfinite(terms[i])) felt = fmin(felt, terms[i] / slope);
      }
      *size = mv_implicit_nominal[at + j] > 0.0 ? mv_implicit_nominal[at + j] : fabs(u->s[at + j]);
      if (!(*size > 0.0) || !isfinite(*size)) *size = isfinite(felt) && felt > 0.0 ? felt : 1.0;
      u->largest_unknown[at + j] = *size;
    }
    for (i = 0; i < n; ++i) {
      double size = isfinite(terms[i]) ? terms[i] : 0.0, felt = 0.0;
      for (j = 0; j < n && when != SIZES_NOTE; ++j) {
        double part = fabs(columns[j * n + i]) * u->unknown_size[at + j];
        if (isfinite(part)) felt += part;
      }
      size = fmax(size, felt);
      if (when == SIZES_NOTE) {
        raise_size(fabs(u->s[at + i]), &u->unknown_size[at + i], &u->largest_unknown[at + i]);
        raise_size(terms[i], &u->term_size[at + i], &u->largest_term[at + i]);
      } else if (size > 0.0) u->term_size[at + i] = u->largest_term[at + i] = size;
      else if (when == SIZES_BEGIN) u->term_size[at + i] = u->largest_term[at + i] = 1.0;
    }
  }
}

static void keep_guess(MvUnit *u, SizesWhen when) {
  if (!u->solved || !all_finite(u->s, NS)) return;
  memcpy(u->w, u->s, NS * sizeof(double));
  take_sizes(u, when);
}

/* --- values by variable ------------------------------------------------------------------------ */

static void bind(MvUnit *u) {
  if (u->bound) return;
  {
    const double *arguments[1] = {u->p};
    double *results[1] = {u->p};
    mv_f_bind(arguments, results, NULL, NULL, 0);
  }
  u->bound = 1;
}

MvStatus mv_get(MvUnit *u, int variable, double *value) {
  const MvVariable *v = &mv_variables[variable];
  MvStatus status = MV_OK;
  if (v->source == MV_TIME) {
    *value = u->t;
    return MV_OK;
  }
  if (v->source == MV_FIXED) {
    *value = v->value;
    return MV_OK;
  }
  bind(u);
  if (v->source != MV_PARAMETER && !u->started && v->start >= 0) {
    *value = v->sign * u->p[v->start];
    return MV_OK;
  }
  if ((v->source != MV_PARAMETER || mv_solved_parameter[v->index]) && !u->started) status = mv_start(u);
  if (status == MV_ERROR) return status;
  if (v->source == MV_PARAMETER) *value = v->sign * u->p[v->index];
  if (v->source == MV_STATE) *value = v->sign * u->x[v->index];
  if (v->source == MV_SOLVED) {
    status = mv_values(u);
    *value = v->sign * u->y[v->index];
  }
  if (v->source == MV_RATE) {
    status = mv_rates(u);
    *value = v->sign * u->dx[v->index];
  }
  if (v->source == MV_INDICATOR) {
    double z[MV_AT_LEAST_ONE(NINDICATOR)];
    status = mv_indicators(u, z);
    *value = z[v->index];
  }
  return status;
}

MvStatus mv_set(MvUnit *u, int variable, double value, int phase) {
  const MvVariable *v = &mv_variables[variable];
  int index = v->source == MV_PARAMETER ? v->index : v->start;
  if (v->settable == 0 || index < 0 || (phase == 2 && v->settable != 2)) {
    mv_say(u, MV_LOG_ERROR, MV_ERROR, "%s cannot be set %s.", mv_variable_names[variable],
           v->settable == 1 ? "once the run has begun" : "at all: it follows from others");
    return MV_ERROR;
  }
  if (!isfinite(value)) {
    mv_say(u, MV_LOG_ERROR, MV_ERROR, "%s cannot be set to a number that is not finite.", mv_variable_names[variable]);
    return MV_ERROR;
  }
  value *= v->sign;
  if (u->p[index] == value) return MV_OK;
  if (v->settable == 2 && phase == 2) u->inputs_changed = 1;
  u->p[index] = value;
  if (phase == 1) u->bound = u->started = 0;
  forget(u);
  return MV_OK;
}

/* --- constraints ------------------------------------------------------------------------------- */

#if NCONSTRAINT
/* Distances from the constraints, in tolerances: the one that is let be at an event, and the one that is an event. */
static const double SMALL_DRIFT = 1e-3, LARGE_DRIFT = 10.0;

/* Takes the states of a group back onto its constraints by the least correction in the scale of their tolerances (E. Eich,
 * SIAM J. Numer. Anal. 30, 1993); those that are 'fixed' stay. The first correction, in tolerances, or -1 where there is none;
 * one that is not larger than 'least' is not made. */
static double project(MvUnit *u, int group, const int *fixed, double least) {
  double *h = u->drift, *columns = h + NCONSTRAINT, *normal = columns + (size_t)NCONSTRAINT * NX;
  double *step = normal + (size_t)NCONSTRAINT * NCONSTRAINT, first = 0.0;
  int begin = group ? mv_constraints_end[group - 1] : 0, n = mv_constraints_end[group] - begin, i, j, k, round;
  for (round = 0; round < NEWTON_LIMIT; ++round) {
    double size = 0.0;
    if (solve(u) == MV_ERROR) return -1.0;
    call_at(mv_f_constraints, u, u->x, u->s, h, columns, NULL);
    memset(normal, 0, (size_t)n * n * sizeof(double));
    for (j = 0; j < NX; ++j) {
      const double *a = columns + (size_t)j * NCONSTRAINT + begin;
      step[j] = mv_group_of_state[j] != group || (fixed && fixed[j]) ? 0.0 : mv_nominal[j] + fabs(u->x[j]);
      for (i = 0; i < n; ++i)
        for (k = 0; k < n; ++k) normal[i * n + k] += a[i] * a[k] * step[j] * step[j];
    }
    if (!all_finite(normal, n * n) || !all_finite(h + begin, n) || !factorise(normal, n, u->pivot)) return -1.0;
    solve_factorised(normal, n, u->pivot, h + begin);
    for (j = 0; j < NX; ++j) {
      double sum = 0.0, weight = step[j];
      for (i = 0; i < n; ++i) sum += columns[(size_t)j * NCONSTRAINT + begin + i] * h[begin + i];
      step[j] = sum * weight * weight;
      size = fmax(size, fabs(sum) * weight / u->tolerance);
    }
    if (!isfinite(size)) return -1.0;
    if (round == 0) first = size;
    if (round == 0 && size <= least) return first;
    for (j = 0; j < NX; ++j) u->x[j] -= step[j];
    forget(u);
    if (size <= 1e-4) return first; /* what is left is its square */
  }
  return -1.0;
}

/* The states onto the constraints, but for those that are 'fixed' where that is possible. */
static MvStatus keep_constraints(MvUnit *u, const int *fixed, int *changed) {
  int group;
  for (group = 0; group < NCONSTRAINTGROUP; ++group) {
    double kept[NX], moved;
    memcpy(kept, u->x, sizeof kept);
    moved = project(u, group, fixed, SMALL_DRIFT);
    if (moved < 0.0 && fixed) {
      memcpy(u->x, kept, sizeof kept);
      forget(u);
      moved = project(u, group, NULL, SMALL_DRIFT);
    }
    if (moved < 0.0) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "the constraints cannot be kept at %g s.", u->t);
      return MV_ERROR;
    }
    if (moved > SMALL_DRIFT) *changed = 1;
  }
  return MV_OK;
}

int mv_drifts(MvUnit *u) {
  int group;
  for (group = 0; group < NCONSTRAINTGROUP; ++group)
    if (project(u, group, NULL, INFINITY) > LARGE_DRIFT) return 1;
  return 0;
}
#else
int mv_drifts(MvUnit *u) {
  (void)u;
  return 0;
}
#endif

/* --- relations --------------------------------------------------------------------------------- */

static void look(MvUnit *u) { call_at(mv_f_indicators, u, u->x, u->s, u->g, u->scale, NULL); }

static double relation_holds(int i, double g) { return mv_slots[i].inclusive ? g >= 0.0 : g > 0.0; }

/* How far each relation must be contradicted before it changes: a share of what it compares, fixed between events; and whether
 * it rests at zero, where rounding alone would change it. */
static void set_hold(MvUnit *u) {
  int i;
  for (i = 0; i < NG; ++i) {
    double scale = mv_slots[i].floor ? 1.0 + u->scale[i] : u->scale[i];
    /* never nothing: what is zero now is on the held side, and leaves it when it becomes negative */
    u->hold[i] = isfinite(scale) ? fmax(HYSTERESIS * scale, DBL_MIN) : DBL_MIN;
    u->rests[i] = !(fabs(u->g[i]) > ROUNDING * u->scale[i]);
  }
}

static void indicators_of(const MvUnit *u, double *z) {
  int k;
  for (k = 0; k < NROOT; ++k) {
    int i = mv_rooted[k];
    if (mv_slots[i].floor) {
      *z++ = u->g[i] + u->hold[i];
      *z++ = u->g[i] - 1.0 - u->hold[i];
    } else {
      double held = u->m[i] != 0.0 ? u->hold[i] : -u->hold[i];
      /* what became exactly zero and stays there, as within a dead band, would never be contradicted by more than that */
      int reached = u->g[i] == 0.0 && !u->rests[i] && relation_holds(i, 0.0) != (u->m[i] != 0.0);
      *z++ = reached ? -held : u->g[i] + held;
    }
  }
}

MvStatus mv_indicators(MvUnit *u, double *z) {
  if (solve(u) == MV_ERROR) return MV_ERROR;
  look(u);
  indicators_of(u, z);
  return MV_OK;
}

static unsigned long long fingerprint(const double *m, int n) {
  unsigned long long hash = 1469598103934665603ULL;
  int i;
  for (i = 0; i < n; ++i) {
    unsigned long long bits;
    memcpy(&bits, &m[i], sizeof bits);
    hash = (hash ^ bits) * 1099511628211ULL;
  }
  return hash;
}

/* What a slot holds, given its indicator; 'first' is the indicator when the event began. */
static double next_outcome(const MvUnit *u, int i, double slack) {
  double g = u->g[i], scale = u->scale[i], first = u->first[i], held = u->m[i];
  int still = fabs(g - first) <= slack * (fabs(first) + scale);
  if (u->forced[i] && still) return u->present[i];
  if (mv_slots[i].floor) {
    int outside = g < -ROUNDING * (1.0 + scale) || g >= 1.0;
    return outside && isfinite(g) ? floor(held + g) : held;
  }
  if (isfinite(g) && (fabs(g) > ROUNDING * scale || !still || (g == 0.0 && !u->rests[i]))) return relation_holds(i, g);
  return held;
}

/* All relations that disagree change at once until that goes round in a circle, then the first that disagrees alone
 * (Murty, Linear Algebra Appl. 9, 1974). */
static MvStatus settle_relations(MvUnit *u, double slack) {
  int one_by_one = 0, count = 0, rounds = ITERATION_LIMIT + 50 * NG, i, j, changed = -1;
  if (!NG) return MV_OK;
  while (rounds-- > 0) {
    unsigned long long key = fingerprint(u->m, NG);
    double *next = u->present + NG;
    for (j = 0; j < count && u->seen[j] != key; ++j) {
    }
    if (j < count) {
      if (one_by_one) break;
      one_by_one = 1;
      count = 0;
    }
    u->seen[count++] = key;
    u->solved = 0;
    if (solve(u) == MV_ERROR) return MV_ERROR;
    look(u);
    changed = -1;
    for (i = 0; i < NG; ++i) {
      next[i] = next_outcome(u, i, slack);
      if (next[i] != u->m[i] && changed < 0) changed = i;
      if (u->forced[i] && mv_slots[i].floor) u->first[i] = NAN; /* its indicator jumps with the new value */
    }
    if (changed < 0) return MV_OK;
    for (i = changed; i < NG; ++i) {
      u->m[i] = next[i];
      if (one_by_one) break;
    }
  }
  mv_say(u, MV_LOG_ERROR, MV_ERROR, "the relations do not settle at %g s: '%s' switches itself on and off.", u->t,
         changed >= 0 ? mv_slots[changed].text : "");
  return MV_ERROR;
}

/* --- times known in advance -------------------------------------------------------------------- */

static double rounding(const MvUnit *u) { return ROUNDING * fmax(fabs(u->t), u->span); }

static double sample_time(const MvUnit *u, int i) {
  double first = 0.0, interval = 1.0;
  const double *arguments[1] = {u->p};
  double both[2 * MV_AT_LEAST_ONE(NSAMPLE)];
  double *results[1] = {both};
  mv_f_samples(arguments, results, NULL, NULL, 0);
  first = both[i];
  interval = both[NSAMPLE + i];
  return first + u->next_sample[i] * interval;
}

static MvStatus begin_sampling(MvUnit *u) {
  double both[2 * MV_AT_LEAST_ONE(NSAMPLE)];
  const double *arguments[1] = {u->p};
  double *results[1] = {both};
  int i;
  mv_f_samples(arguments, results, NULL, NULL, 0);
  for (i = 0; i < NSAMPLE; ++i) {
    if (!(both[NSAMPLE + i] > 0.0)) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "an interval of sampling is %g s; it must be positive.", both[NSAMPLE + i]);
      return MV_ERROR;
    }
    u->next_sample[i] = fmax(0.0, ceil((u->t - both[i] - rounding(u)) / both[NSAMPLE + i]));
  }
  return MV_OK;
}

/* When time alone changes a slot: instants into u->coming, what it then holds into u->lines. */
static void foresee(MvUnit *u) {
  double *g = u->lines, *rate = u->lines + NTIMED, *becomes = u->lines;
  int k;
  if (!NTIMED) return;
  call_at(mv_f_timed, u, u->x, u->s, u->lines, NULL, NULL);
  for (k = 0; k < NTIMED; ++k) {
    int i = mv_timed[k];
    double value = g[k], slope = rate[k], held = u->m[i];
    u->coming[k] = INFINITY;
    if (slope == 0.0 || !isfinite(value) || !isfinite(slope)) continue;
    if (mv_slots[i].floor) {
      u->coming[k] = u->t + fmax(slope > 0.0 ? (1.0 - value) / slope : -value / slope, 0.0);
      becomes[k] = held + (slope > 0.0 ? 1.0 : -1.0);
    } else if ((held != 0.0) != (slope > 0.0)) {
      u->coming[k] = u->t + fmax(-value / slope, 0.0);
      becomes[k] = slope > 0.0;
    }
  }
}

double mv_next_time(MvUnit *u) {
  double first = INFINITY, last;
  int i;
  foresee(u);
  if (NDELAY) first = next_echo(u);
  for (i = 0; i < NTIMED; ++i) first = fmin(first, u->coming[i]);
  for (i = 0; i < NSAMPLE; ++i) first = fmin(first, sample_time(u, i));
  /* Events that differ by rounding are one; the latest of them has them all behind it. */
  last = first;
  if (isfinite(first)) {
    double room = ROUNDING * fmax(fabs(first), u->span);
    for (i = 0; i < NTIMED; ++i)
      if (u->coming[i] <= first + room) last = fmax(last, u->coming[i]);
    for (i = 0; i < NSAMPLE; ++i)
      if (sample_time(u, i) <= first + room) last = fmax(last, sample_time(u, i));
  }
  return last;
}

/* --- events ------------------------------------------------------------------------------------ */

static double present_value(const MvUnit *u, const MvVariable *v) {
  if (v->source == MV_STATE) return v->sign * u->x[v->index];
  if (v->source == MV_PARAMETER) return v->sign * u->p[v->index];
  return v->sign * u->y[v->index];
}

static MvStatus act(MvUnit *u, int *reinitialised) {
  int k;
#if NCONSTRAINT
  int fixed[NX] = {0};
#endif
  *reinitialised = 0;
  call_at(mv_f_actions, u, u->x, u->s, u->acting, NULL, NULL);
  for (k = 0; k < NTERMINATION; ++k)
    if (u->acting[2 * NREINIT + k] != 0.0 && !u->ended) {
      u->ended = 1;
      mv_say(u, MV_LOG_EVENTS, MV_OK, "the model ends the run at %g s: %s", u->t, mv_terminations[k]);
    }
  for (k = 0; k < NEVENTASSERTION; ++k)
    if (u->acting[2 * NREINIT + NTERMINATION + k] < 0.5) {
      const MvAssertion *a = &mv_event_assertions[k];
      mv_say(u, a->warning ? MV_LOG_WARNING : MV_LOG_ERROR, a->warning ? MV_WARNING : MV_ERROR, "%s (at an event at %g s)", a->text,
             u->t);
      if (!a->warning) return MV_ERROR;
    }
  for (k = 0; k < NREINIT; ++k)
    if (u->acting[k] != 0.0) {
      double value = u->acting[NREINIT + k];
      if (u->x[mv_reinit_state[k]] != value) *reinitialised = 1;
      u->x[mv_reinit_state[k]] = value;
#if NCONSTRAINT
      fixed[mv_reinit_state[k]] = 1;
#endif
    }
#if NCONSTRAINT
  forget(u);
  if (*reinitialised && keep_constraints(u, fixed, reinitialised) == MV_ERROR) return MV_ERROR;
#endif
  return MV_OK;
}

/* Relations, discrete variables and reinits, until nothing changes any more. */
static MvStatus iterate(MvUnit *u, int *states_changed) {
  double slack = 1e-9;
  int round, k;
  for (round = 0; round < ITERATION_LIMIT; ++round) {
    int reinitialised = 0, changed = 0;
    forget(u);
    if (settle_relations(u, slack) == MV_ERROR || mv_values(u) == MV_ERROR) return MV_ERROR;
    if (!NPRE && !NACTIONS) return MV_OK;
    if (NACTIONS && act(u, &reinitialised) == MV_ERROR) return MV_ERROR;
    for (k = 0; k < NPRE; ++k) {
      /* values before the reinit of this round, but states after it */
      double value = present_value(u, &mv_pre_of[k]);
      if (value != u->m[PRE_AT + k] && !isnan(value)) changed = 1;
      u->m[PRE_AT + k] = value;
    }
    if (reinitialised) {
      slack = 0.0; /* a reinit takes a relation off the point at which it crossed */
      *states_changed = 1;
    }
    if (!changed && !reinitialised) return MV_OK;
  }
  mv_say(u, MV_LOG_ERROR, MV_ERROR, "the discrete variables do not settle at %g s.", u->t);
  return MV_ERROR;
}

/* Says which relations and roundings an event changed, and what was sampled. */
static void tell_event(MvUnit *u, int sampled, int states_changed) {
  int i;
  for (i = 0; i < NG; ++i)
    if (u->m[i] != u->old_m[i]) {
      if (mv_slots[i].floor) mv_say(u, MV_LOG_EVENTS, MV_OK, "at %g s '%s' became %g.", u->t, mv_slots[i].text, u->m[i]);
      else mv_say(u, MV_LOG_EVENTS, MV_OK, "at %g s '%s' became %s.", u->t, mv_slots[i].text, u->m[i] != 0.0 ? "true" : "false");
    }
  if (sampled) mv_say(u, MV_LOG_EVENTS, MV_OK, "at %g s something was sampled.", u->t);
  if (states_changed) mv_say(u, MV_LOG_EVENTS, MV_OK, "at %g s states were set anew.", u->t);
}

MvStatus mv_event(MvUnit *u, int *states_changed, double *next_time) {
  double limit = u->t + rounding(u);
  double *becomes = u->lines;
  int i, k, sampled = 0, changed = 0;
  MvStatus status;
#if NDELAY
  double before[NDELAY];
#endif
  memcpy(u->old_m, u->m, NM * sizeof(double));
  u->may_discard = 0;
  forget(u);
#if NCONSTRAINT
  if (keep_constraints(u, NULL, &changed) == MV_ERROR) return MV_ERROR;
#endif
  if (solve(u) == MV_ERROR) return MV_ERROR;
#if NDELAY
  delays_before_event(u, limit, before);
  if (solve(u) == MV_ERROR) return MV_ERROR;
#endif
  if (CONTINUOUS_PRE) {
    if (mv_values(u) == MV_ERROR) return MV_ERROR;
    for (k = 0; k < NPRE; ++k) u->m[PRE_AT + k] = present_value(u, &mv_pre_of[k]);
  }
  look(u);
  foresee(u);
  memcpy(u->first, u->g, NG * sizeof(double));
  memset(u->forced, 0, NG * sizeof(int));
  for (k = 0; k < NTIMED; ++k)
    if (u->coming[k] <= limit) {
      u->forced[mv_timed[k]] = 1;
      u->present[mv_timed[k]] = becomes[k];
    }
  for (i = 0; i < NG; ++i)
    if (u->forced[i]) u->m[i] = u->present[i];
  for (i = 0; i < NSAMPLE; ++i)
    if (sample_time(u, i) <= limit) {
      u->m[SAMPLE_AT + i] = 1.0;
      u->next_sample[i] += 1.0;
      sampled = 1;
    }
  status = iterate(u, &changed);
  if (status != MV_ERROR && sampled) {
    for (i = 0; i < NSAMPLE; ++i) u->m[SAMPLE_AT + i] = 0.0;
    memset(u->forced, 0, NG * sizeof(int));
    status = iterate(u, &changed);
  }
  if (status == MV_ERROR) return status;
  u->solved = 0;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  keep_guess(u, SIZES_RENEW);
#if NDELAY
  delays_after_event(u, before);
  forget(u);
  if (solve(u) == MV_ERROR) return MV_ERROR;
#endif
  look(u);
  set_hold(u);
  u->inputs_changed = 0;
  tell_event(u, sampled, changed);
  if (states_changed) *states_changed = changed;
  if (next_time) *next_time = mv_next_time(u);
  return MV_OK;
}

/* --- the start --------------------------------------------------------------------------------- */

static MvStatus solve_start(MvUnit *u, double share) {
  int k;
  u->m[NM - 1] = share;
  for (k = 0; k < NBLOCK0; ++k) {
    const MvBlock *b = &mv_start_blocks[k];
    if (!(b->linear ? linear : search)(u, mv_start_block_functions[k], u->x, u->start_s, b->position, b->size)) {
      u->m[NM - 1] = 1.0;
      return MV_ERROR;
    }
  }
  u->m[NM - 1] = 1.0;
  return MV_OK;
}

/* The implicit unknowns of the start; where that fails, by way of the simplified system (specification 3.7.4.4). */
static MvStatus solve_start_by_homotopy(MvUnit *u, const double *guess) {
  double share = 0.0, width = 0.1;
  memcpy(u->start_s, guess, NS0 * sizeof(double));
  if (solve_start(u, 1.0) == MV_OK) return MV_OK;
  if (!HOMOTOPY) return MV_ERROR;
  memcpy(u->start_s, guess, NS0 * sizeof(double));
  for (;;) {
    double kept[MV_AT_LEAST_ONE(NS0)];
    memcpy(kept, u->start_s, NS0 * sizeof(double));
    if (solve_start(u, share) == MV_ERROR) {
      memcpy(u->start_s, kept, NS0 * sizeof(double));
      width *= 0.5;
      if (share == 0.0 || width < 1e-3) return MV_ERROR;
      share = fmax(share - width, 0.0);
      continue;
    }
    if (share >= 1.0) return MV_OK;
    share = fmin(share + width, 1.0);
  }
}

static MvStatus check_parameters(MvUnit *u) {
  double margins[MV_AT_LEAST_ONE(NLIMIT)];
  const double *arguments[1] = {u->p};
  double *results[1] = {margins};
  int k;
  mv_f_limits(arguments, results, NULL, NULL, 0);
  for (k = 0; k < NLIMIT; ++k)
    if (!(margins[k] >= 0.0)) {
      const MvAssertion *a = &mv_limits[k];
      mv_say(u, a->warning ? MV_LOG_WARNING : MV_LOG_ERROR, a->warning ? MV_WARNING : MV_ERROR, "%s", a->text);
      if (!a->warning) return MV_ERROR;
    }
  return MV_OK;
}

/* Consistent values at the start time; repeated when a parameter or an input changed. */
MvStatus mv_start(MvUnit *u) {
  double guess[MV_AT_LEAST_ONE(NS0)];
  double *values = u->start_y, *g = u->start_y + NY0;
  int one_by_one = 0, count = 0, rounds = ITERATION_LIMIT + 50 * NG, i, j, k;
  if (u->started) return MV_OK;
  bind(u);
  if (check_parameters(u) == MV_ERROR) return MV_ERROR;
  {
    const double *arguments[1] = {u->p};
    double *results[1] = {guess};
    mv_f_guess(arguments, results, NULL, NULL, 0);
  }
  memset(u->m, 0, NM * sizeof(double));
  u->m[NM - 1] = 1.0;
  for (;;) {
    unsigned long long key = fingerprint(u->m, NG);
    int changed = 0;
    for (j = 0; j < count && u->seen[j] != key; ++j) {
    }
    if ((j < count && one_by_one) || rounds-- == 0) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "no consistent state of the relations was found at the start.");
      return MV_ERROR;
    }
    if (j < count) one_by_one = 1, count = 0;
    u->seen[count++] = key;
    if (solve_start_by_homotopy(u, guess) == MV_ERROR) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "the equations of the start have no solution.");
      return MV_ERROR;
    }
    call_at(mv_f_start, u, u->x, u->start_s, values, g, NULL);
    for (i = 0; i < NG && !(changed && one_by_one); ++i) {
      double held = mv_slots[i].floor ? (isfinite(g[i]) ? floor(g[i] + u->m[i]) : 0.0) : relation_holds(i, g[i]);
      if (held != u->m[i]) {
        /* a rounding's indicator is what is left of its argument; the next one is judged with the new value */
        u->m[i] = held;
        changed = 1;
      }
    }
    if (!changed) break;
  }
  for (k = 0; k < NY0; ++k)
    if (!isfinite(values[k])) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "%s is not a finite number at the start.", mv_start_names[k]);
      return MV_ERROR;
    }
  for (k = 0; k < NSOLVEDPARAMETER; ++k) u->p[mv_solved_parameters[k].to] = values[mv_solved_parameters[k].from];
  for (k = 0; k < NX; ++k) u->x[k] = values[mv_start_of_state[k]];
  for (k = 0; k < NS; ++k) u->w[k] = values[mv_start_of_implicit[k]];
  for (k = 0; k < NPRE; ++k)
    u->m[PRE_AT + k] = mv_start_of_pre[k] >= 0 ? values[mv_start_of_pre[k]] : u->p[mv_pre_of[k].index];
  u->started = 1;
  forget(u);
#if NDELAY
  return begin_history(u);
#else
  return MV_OK;
#endif
}

/* Leaves the start: sampling begins, and what happens at the first instant happens with the first event. */
MvStatus mv_initialise(MvUnit *u) {
  if (mv_start(u) == MV_ERROR || begin_sampling(u) == MV_ERROR) return MV_ERROR;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  look(u);
  set_hold(u);
  take_sizes(u, SIZES_BEGIN);
  u->initialised = 1;
  u->inputs_changed = 0;
  return mv_rates(u);
}

void mv_set_time(MvUnit *u, double t) {
  if (u->t != t) forget(u);
  u->t = t;
}

void mv_set_states(MvUnit *u, const double *x) {
  if (memcmp(u->x, x, NX * sizeof(double)) == 0) return;
  memcpy(u->x, x, NX * sizeof(double));
  forget(u);
}

/* A step was accepted: its solution is where the next search begins, and assertions are judged. */
MvStatus mv_step_done(MvUnit *u) {
  double truth[MV_AT_LEAST_ONE(NASSERTION)];
  int k;
  u->may_discard = 0;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  keep_guess(u, SIZES_NOTE);
#if NDELAY
  remember(u);
#endif
  if (!NASSERTION) return MV_OK;
  call_at(mv_f_assertions, u, u->x, u->s, truth, NULL, NULL);
  for (k = 0; k < NASSERTION; ++k)
    if (truth[k] < 0.5) {
      const MvAssertion *a = &mv_assertions[k];
      mv_say(u, a->warning ? MV_LOG_WARNING : MV_LOG_ERROR, a->warning ? MV_WARNING : MV_ERROR, "%s (at %g s)", a->text, u->t);
      if (!a->warning) return MV_ERROR;
    }
  return MV_OK;
}

/* --- derivatives in a direction ---------------------------------------------------------------- */

/* The matrix of the residuals of all implicit equations by all implicit unknowns, factorised; 0 when singular. */
static int factorise_implicit(MvUnit *u, double *d) {
  int k;
  memset(d, 0, (size_t)NS * NS * sizeof(double));
  call_at(mv_f_jacobian, u, u->x, u->s, u->casadi, NULL, NULL);
  for (k = 0; k < NJACOBIAN; ++k)
    if (mv_jacobian_row[k] >= NX && mv_jacobian_column[k] >= NX)
      d[(size_t)(mv_jacobian_row[k] - NX) * NS + (mv_jacobian_column[k] - NX)] = u->casadi[k];
  return factorise(d, NS, u->pivot);
}

MvStatus mv_forward(MvUnit *u, const double *seed_x, const double *seed_p, double *rates, double *values) {
  double s_direction[MV_AT_LEAST_ONE(NS)], residual[MV_AT_LEAST_ONE(NS)];
  const double *arguments[8] = {&u->t, u->x, u->p, u->m, u->s, seed_x, seed_p, s_direction};
  double *results[3] = {rates, values, residual};
  int i;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  memset(s_direction, 0, sizeof s_direction);
  if (NS) {
    double *only[3] = {NULL, NULL, residual};
    only[0] = only[1] = u->sink;
    if (!factorise_implicit(u, u->big)) return MV_ERROR;
    mv_f_forward(arguments, only, NULL, NULL, 0);
    solve_factorised(u->big, NS, u->pivot, residual);
    for (i = 0; i < NS; ++i) s_direction[i] = -residual[i];
  }
  mv_f_forward(arguments, results, NULL, NULL, 0);
  return MV_OK;
}

MvStatus mv_reverse(MvUnit *u, const double *seed_rates, const double *seed_values, double *x, double *p) {
  double seed_residual[MV_AT_LEAST_ONE(NS)], s[MV_AT_LEAST_ONE(NS)];
  const double *arguments[8] = {&u->t, u->x, u->p, u->m, u->s, seed_rates, seed_values, seed_residual};
  double *results[3] = {x, p, s};
  int i;
  if (solve(u) == MV_ERROR) return MV_ERROR;
  memset(seed_residual, 0, sizeof seed_residual);
  if (NS) {
    double *only[3] = {NULL, NULL, s};
    only[0] = only[1] = u->sink;
    if (!factorise_implicit(u, u->big)) return MV_ERROR;
    mv_f_reverse(arguments, only, NULL, NULL, 0);
    solve_transposed(u->big, NS, u->pivot, s);
    for (i = 0; i < NS; ++i) seed_residual[i] = -s[i];
  }
  mv_f_reverse(arguments, results, NULL, NULL, 0);
  return MV_OK;
}

/* Puts the seed of a known into the directions; 0 for what is neither a state nor settable. */
static int mv_seed(const MvVariable *v, double seed, double *x, double *p) {
  if (v->source == MV_STATE) x[v->index] += v->sign * seed;
  else if (v->source == MV_PARAMETER && v->settable) p[v->index] += v->sign * seed;
  else return 0;
  return 1;
}

static double mv_slope(const MvVariable *v, const double *x, const double *p, const double *rates, const double *values) {
  if (v->source == MV_STATE) return v->sign * x[v->index];
  if (v->source == MV_PARAMETER) return v->sign * p[v->index];
  if (v->source == MV_RATE) return v->sign * rates[v->index];
  return v->source == MV_SOLVED ? v->sign * values[v->index] : 0.0;
}

/* --- keeping and restoring --------------------------------------------------------------------- */

typedef struct {
  char mark[8];
  unsigned long long model, doubles;
  double t, start_time, stop_time, tolerance, span, last_step;
  MvStretch stretch;
  int flags[8];
} Stored;

size_t mv_stored_size(const MvUnit *u) { return sizeof(Stored) + u->state_size * sizeof(double); }

void mv_store(const MvUnit *u, unsigned char *bytes) {
  Stored head;
  memset(&head, 0, sizeof head);
  memcpy(head.mark, "MVSTATE", 8);
  head.model = MV_FINGERPRINT;
  head.doubles = u->state_size;
  head.t = u->t, head.start_time = u->start_time, head.stop_time = u->stop_time;
  head.tolerance = u->tolerance, head.span = u->span, head.last_step = u->last_step;
  head.stretch = u->stretch;
  head.flags[0] = u->bound, head.flags[1] = u->started, head.flags[2] = u->initialised;
  head.flags[3] = u->ended, head.flags[4] = u->inputs_changed, head.flags[5] = u->no_start_event;
  head.flags[6] = u->inputs_held;
  memcpy(bytes, &head, sizeof head);
  memcpy(bytes + sizeof head, u->state, u->state_size * sizeof(double));
}

MvStatus mv_restore(MvUnit *u, const unsigned char *bytes, size_t size) {
  Stored head;
  if (size != mv_stored_size(u)) return MV_ERROR;
  memcpy(&head, bytes, sizeof head);
  if (memcmp(head.mark, "MVSTATE", 8) != 0 || head.model != MV_FINGERPRINT || head.doubles != u->state_size) return MV_ERROR;
  u->t = head.t, u->start_time = head.start_time, u->stop_time = head.stop_time;
  u->tolerance = head.tolerance, u->span = head.span, u->last_step = head.last_step;
  u->stretch = head.stretch;
  u->bound = head.flags[0], u->started = head.flags[1], u->initialised = head.flags[2];
  u->ended = head.flags[3], u->inputs_changed = head.flags[4], u->no_start_event = head.flags[5];
  u->inputs_held = head.flags[6];
  memcpy(u->state, bytes + sizeof head, u->state_size * sizeof(double));
  forget(u);
  return MV_OK;
}
