/* Between doubles in shared memory and values of the types of the standard. */
#ifndef MOVREL_VALUES_H
#define MOVREL_VALUES_H

#include "host.h"

/* How a type of a version is stored; -1 for one that is not numeric. */
int storage_of(int version, const char *type);
size_t size_of(Storage storage);
/* Rounds the doubles of a group to values of its type, and the other way. */
void to_unit(Group *g);
void from_unit(Group *g);

#endif
