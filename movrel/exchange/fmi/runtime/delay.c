/* The past of delayed expressions: their values at accepted steps, with a cubic through four neighbours in between.
 *
 * Where an event makes a value jump, a new segment begins; the jump comes out of the delay as an event of its own. Before
 * the start every expression was what it is at the start (specification 3.7.4.1). All of it lies in the unit's state. */

#if NDELAY

/* Instants that are kept, jumps that are on their way, and numbers of one instant: time, segment, values. */
enum { HISTORY = 4096, ECHOES = 64, HISTORY_ROW = 2 + NDELAY };
/* Where things stand in u->history. */
enum { H_COUNT, H_SEGMENT, H_PASSED, H_PAST, H_TIMES = H_PAST + NDELAY, H_ECHOES = H_TIMES + NDELAY, H_ROWS = H_ECHOES + ECHOES };

static size_t history_doubles(void) { return (size_t)H_ROWS + (size_t)HISTORY * HISTORY_ROW; }

static double *history_row(const MvUnit *u, int i) { return u->history + H_ROWS + (size_t)i * HISTORY_ROW; }

/* The last kept instant not after t, or -1. */
static int last_not_after(const MvUnit *u, double t) {
  int low = -1, high = (int)u->history[H_COUNT];
  while (high - low > 1) {
    int middle = (low + high) / 2;
    if (history_row(u, middle)[0] <= t) low = middle;
    else high = middle;
  }
  return low;
}

static double past_value(const MvUnit *u, int k, double now) {
  const double *h = u->history;
  double t = now - h[H_TIMES + k], near = 1e-9 * u->span, value = 0.0;
  /* t is a difference: what differs from a jump by rounding is at the jump */
  int count = (int)h[H_COUNT], i = last_not_after(u, t + 4e-12 * fmax(fabs(now), u->span)), from, to, a, b;
  if (i < 0) return h[H_PAST + k];
  /* at a jump the side before it, until its event has passed */
  for (;;) {
    for (a = i; a > 0 && history_row(u, a)[1] == history_row(u, a - 1)[1] && t - history_row(u, a - 1)[0] <= near; --a) {
    }
    if (a == 0 || history_row(u, a)[1] == history_row(u, a - 1)[1] || t - history_row(u, a)[0] > near ||
        history_row(u, a)[0] + h[H_TIMES + k] <= h[H_PASSED])
      break;
    i = a - 1;
  }
  from = to = i;
  while (from > 0 && i - from < 3 && history_row(u, from - 1)[1] == history_row(u, i)[1]) --from;
  while (to + 1 < count && to - i < 3 && history_row(u, to + 1)[1] == history_row(u, i)[1]) ++to;
  /* of those the four about t, as far as the segment has them */
  if (from < i - 1) from = i - 1 < to - 3 ? i - 1 : (to - 3 > from ? to - 3 : from);
  if (to > from + 3) to = from + 3;
  if (t > history_row(u, to)[0] && to > from) from = to - 1; /* what is not known yet goes on in a straight line */
  for (a = from; a <= to; ++a) {
    double part = history_row(u, a)[2 + k];
    for (b = from; b <= to; ++b)
      if (b != a) part *= (t - history_row(u, b)[0]) / (history_row(u, a)[0] - history_row(u, b)[0]);
    value += part;
  }
  return value;
}

static void fill_delays(const MvUnit *u) {
  int k;
  for (k = 0; k < NDELAY; ++k) u->m[DELAY_AT + k] = past_value(u, k, u->t);
}

static double longest_delay(const MvUnit *u) {
  double longest = 0.0;
  int k;
  for (k = 0; k < NDELAY; ++k) longest = fmax(longest, u->history[H_TIMES + k]);
  return longest;
}

static double shortest_delay(const MvUnit *u) {
  double shortest = INFINITY;
  int k;
  for (k = 0; k < NDELAY; ++k) shortest = fmin(shortest, u->history[H_TIMES + k]);
  return shortest;
}

/* Makes room: what no delay reaches any more goes, then every second instant within a segment. */
static void thin_out(MvUnit *u, double t) {
  int count = (int)u->history[H_COUNT], first = last_not_after(u, t - 1.01 * longest_delay(u)) - 3, kept = 0, i;
  if (first < 0) first = 0;
  for (i = first; i < count; ++i) {
    int inside = i > first && i + 1 < count && history_row(u, i - 1)[1] == history_row(u, i)[1] &&
                 history_row(u, i + 1)[1] == history_row(u, i)[1];
    if (count - first > HISTORY / 2 && inside && (i & 1)) continue;
    memmove(history_row(u, kept++), history_row(u, i), HISTORY_ROW * sizeof(double));
  }
  u->history[H_COUNT] = kept;
}

static void remember_values(MvUnit *u, double t, const double *values) {
  double *h = u->history, *row;
  int count = (int)h[H_COUNT];
  while (count > 0 && history_row(u, count - 1)[0] >= t && history_row(u, count - 1)[1] == h[H_SEGMENT]) --count;
  h[H_COUNT] = count;
  if (count == HISTORY) {
    thin_out(u, t);
    count = (int)h[H_COUNT];
  }
  if (count == HISTORY) return; /* thousands of jumps within one delay */
  row = history_row(u, count);
  row[0] = t, row[1] = h[H_SEGMENT];
  memcpy(row + 2, values, NDELAY * sizeof(double));
  h[H_COUNT] = count + 1;
}

static double next_echo(const MvUnit *u) {
  double first = INFINITY;
  int i;
  for (i = 0; i < ECHOES; ++i) first = fmin(first, u->history[H_ECHOES + i]);
  return first;
}

static void add_echo(MvUnit *u, double t) {
  int i;
  for (i = 0; i < ECHOES; ++i)
    if (isinf(u->history[H_ECHOES + i])) {
      u->history[H_ECHOES + i] = t;
      return;
    }
}

/* Jumps up to 'limit' have come out of their delays. */
static void pass_echoes(MvUnit *u, double limit) {
  int i;
  u->history[H_PASSED] = limit;
  for (i = 0; i < ECHOES; ++i)
    if (u->history[H_ECHOES + i] <= limit) u->history[H_ECHOES + i] = INFINITY;
}

#else
#define history_doubles() ((size_t)0)
#define fill_delays(u) ((void)0)
#define next_echo(u) INFINITY
#define shortest_delay(u) INFINITY
#endif
