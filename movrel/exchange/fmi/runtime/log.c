/* What a unit tells its importer. */
#include <stdarg.h>
#include <stdio.h>

void mv_say(MvUnit *u, MvCategory category, MvStatus status, const char *format, ...) {
  char text[1024];
  va_list arguments;
  if (!u->logger || !(u->logged >> category & 1u)) return;
  va_start(arguments, format);
  vsnprintf(text, sizeof text, format, arguments);
  va_end(arguments);
  u->logger(u->owner, category, status, text);
}

static const char *const mv_log_names[MV_LOG_COUNT] = {"logEvents", "logSteps", "logStatusWarning", "logStatusError"};

int mv_ask_for_log(MvUnit *u, int on, size_t n, const char *const names[]) {
  unsigned asked = n == 0 ? MV_LOGGED : 0u;
  size_t i;
  int k;
  for (i = 0; i < n; ++i) {
    unsigned named = strcmp(names[i], "logAll") == 0 ? MV_LOGGED : 0u;
    for (k = 0; k < MV_LOG_COUNT; ++k)
      if (strcmp(names[i], mv_log_names[k]) == 0) named = MV_LOGGED & 1u << k;
    if (!named) {
      mv_say(u, MV_LOG_ERROR, MV_ERROR, "there is no log category '%s'.", names[i]);
      return 0;
    }
    asked |= named;
  }
  u->logged = (on ? asked : n ? u->logged & ~asked : 0u) | 1u << MV_LOG_ERROR;
  return 1;
}
