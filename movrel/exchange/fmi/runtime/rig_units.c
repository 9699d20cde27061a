/* The units that a rig holds: loading them, and telling them what to do. */
#include "commands.h"

static const double ROUNDING = 1e-12;

typedef struct Exchanged Exchanged;

typedef struct {
  MvUnit unit; /* what the interfaces know of it */
  char *resources;
  size_t size; /* of the numbers in unit.state, which are all there are */
  Host *hosts[NUNIT];
  double *numbers;                                       /* of all units, NNUMBER of them */
  double *outputs, *begun, *kept, *before, *slopes, *seen; /* of all signals, NSIGNAL each */
  double *guess, *off, *trial, *scale, *shift;             /* of those that depend on each other */
  double *matrix;                                          /* NLOOP by NLOOP */
  Exchanged *exchanged[NUNIT]; /* what is kept of those for model exchange */
  double reached[NUNIT];
  double before_time;
  long count; /* communication steps that are over */
  int has_before, entered;
} Rig;

static double rounding(const Rig *r) { return ROUNDING * fmax(fabs(r->unit.t), RIG_STEP); }

/* --- units ------------------------------------------------------------------------------------- */

/* Passes on what a unit said. */
static void tell(Rig *r, int k) {
  Host *h = r->hosts[k];
  size_t i;
  for (i = 0; i < h->message_count; ++i)
    if (h->messages[i].status == WARNING || h->messages[i].status == DISCARD)
      mv_say(&r->unit, MV_LOG_WARNING, MV_WARNING, "%s: %s", rig_units[k].name, h->messages[i].text);
  h->message_count = 0;
}

static MvStatus judged_call(Rig *r, int k, int status) {
  Host *h = r->hosts[k];
  tell(r, k);
  if (!status) return MV_OK;
  mv_say(&r->unit, MV_LOG_ERROR, MV_ERROR, "the unit '%s' in it cannot go on at %g s: %s", rig_units[k].name, r->unit.t,
         h->last_error[0] ? h->last_error : h->fault);
  return MV_ERROR;
}

static MvStatus obey(Rig *r, int k, const unsigned char *command, size_t size) {
  return judged_call(r, k, host_obey(r->hosts[k], command, size));
}

static MvStatus order(Rig *r, int k, char letter) { return obey(r, k, (const unsigned char *)&letter, 1); }

static MvStatus order_with(Rig *r, int k, char letter, unsigned number) {
  unsigned char command[5];
  uint32_t whole = number;
  command[0] = (unsigned char)letter;
  memcpy(command + 1, &whole, 4);
  return obey(r, k, command, sizeof command);
}

typedef struct {
  unsigned char *bytes;
  size_t size, room;
  int short_of; /* there was no memory left */
} Command;

static void put(Command *c, const void *bytes, size_t size) {
  if (c->size + size > c->room) {
    size_t room = 2 * (c->size + size);
    unsigned char *more = realloc(c->bytes, room);
    if (!more) {
      c->short_of = 1;
      return;
    }
    c->bytes = more, c->room = room;
  }
  memcpy(c->bytes + c->size, bytes, size);
  c->size += size;
}

static void put_text(Command *c, const char *first, const char *second) {
  uint32_t length = (uint32_t)(strlen(first) + strlen(second));
  put(c, &length, 4), put(c, first, strlen(first)), put(c, second, strlen(second) + 1);
}

static MvStatus obey_command(Rig *r, int k, Command *c) {
  MvStatus status = c->short_of ? MV_ERROR : obey(r, k, c->bytes, c->size);
  free(c->bytes);
  return status;
}

static MvStatus load_unit(Rig *r, int k) {
  const RigUnit *u = &rig_units[k];
  Command load = {0}, instantiate = {0};
  const unsigned char flags[2] = {1, (unsigned char)u->events};
  if (!(r->hosts[k] = host_new(r->numbers + u->base))) return MV_ERROR;
  put(&load, u->before_library.bytes, u->before_library.size);
  put_text(&load, r->resources, u->library);
  put(&load, u->after_library.bytes, u->after_library.size);
  if (obey_command(r, k, &load)) return MV_ERROR;
  put(&instantiate, "I", 1);
  put_text(&instantiate, u->name, ""), put_text(&instantiate, u->token, ""), put_text(&instantiate, r->resources, u->resources);
  put(&instantiate, flags, 2);
  if (obey_command(r, k, &instantiate)) return MV_ERROR;
  if (u->categories.size && obey(r, k, u->categories.bytes, u->categories.size)) return MV_ERROR;
  return u->texts.size ? obey(r, k, u->texts.bytes, u->texts.size) : MV_OK;
}
