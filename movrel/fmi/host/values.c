#include "values.h"

#include <math.h>
#include <string.h>

static const struct {
  const char *name;
  Storage storage;
} TYPES_3[] = {{"Float64", DOUBLE}, {"Float32", FLOAT}, {"Int8", INT8},     {"UInt8", UINT8}, {"Int16", INT16},     {"UInt16", UINT16},
               {"Int32", INT32},    {"UInt32", UINT32}, {"Int64", INT64},   {"UInt64", UINT64}, {"Boolean", TRUTH8}},
  TYPES_2[] = {{"Real", DOUBLE}, {"Integer", INT32}, {"Boolean", TRUTH32}};

int storage_of(int version, const char *type) {
  size_t i;
  if (version == 2) {
    for (i = 0; i < sizeof TYPES_2 / sizeof *TYPES_2; ++i)
      if (strcmp(TYPES_2[i].name, type) == 0) return TYPES_2[i].storage;
  } else {
    for (i = 0; i < sizeof TYPES_3 / sizeof *TYPES_3; ++i)
      if (strcmp(TYPES_3[i].name, type) == 0) return TYPES_3[i].storage;
  }
  return -1;
}

size_t size_of(Storage storage) {
  static const size_t SIZES[] = {8, 4, 1, 1, 2, 2, 4, 4, 8, 8, 1, 4};
  return SIZES[storage];
}

/* The nearest whole number between two limits; no number is 0. */
static double whole(double number, double low, double high) {
  number = rint(number);
  return number >= high ? high : number > low ? number : number <= low ? low : 0.0;
}

#define EACH(TYPE, VALUE)                                   \
  for (i = 0; i < g->count; ++i) {                          \
    double number = g->numbers[i];                          \
    ((TYPE *)g->values)[i] = (TYPE)(VALUE);                 \
  }                                                         \
  break

void to_unit(Group *g) {
  size_t i;
  switch (g->storage) {
    case DOUBLE: break;
    case FLOAT: EACH(float, number);
    case INT8: EACH(int8_t, whole(number, INT8_MIN, INT8_MAX));
    case UINT8: EACH(uint8_t, whole(number, 0, UINT8_MAX));
    case INT16: EACH(int16_t, whole(number, INT16_MIN, INT16_MAX));
    case UINT16: EACH(uint16_t, whole(number, 0, UINT16_MAX));
    case INT32: EACH(int32_t, whole(number, INT32_MIN, INT32_MAX));
    case UINT32: EACH(uint32_t, whole(number, 0, UINT32_MAX));
    /* the largest doubles below the ends of 64 bits */
    case INT64: EACH(int64_t, whole(number, -9223372036854775808.0, 9223372036854774784.0));
    case UINT64: EACH(uint64_t, whole(number, 0, 18446744073709549568.0));
    case TRUTH8: EACH(uint8_t, whole(number, -1, 1) != 0.0);
    case TRUTH32: EACH(int32_t, whole(number, -1, 1) != 0.0);
  }
}

#undef EACH
#define EACH(TYPE)                                                                   \
  for (i = 0; i < g->count; ++i) g->numbers[i] = (double)((const TYPE *)g->values)[i]; \
  break

void from_unit(Group *g) {
  size_t i;
  switch (g->storage) {
    case DOUBLE: break;
    case FLOAT: EACH(float);
    case INT8: EACH(int8_t);
    case UINT8: case TRUTH8: EACH(uint8_t);
    case INT16: EACH(int16_t);
    case UINT16: EACH(uint16_t);
    case INT32: case TRUTH32: EACH(int32_t);
    case UINT32: EACH(uint32_t);
    case INT64: EACH(int64_t);
    case UINT64: EACH(uint64_t);
  }
}
