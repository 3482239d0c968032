/* Processor: integer, branch, floating and hash work in the inner caches. Each round is exact and ends in the same
   checksum, so that a wrong one is a finding about the machine. */
#include "common.h"

#include <math.h>

#define ELEMENTS 4096
#define ROUND_CHECK 16 /* rounds between two looks at the clock */

typedef uint64_t (*round_of_work)(void);

static brachium_result repeated(round_of_work work, double seconds) {
  brachium_result out = {0};
  out.checksum = work();
  double start = now_s();
  do {
    for (int k = 0; k < ROUND_CHECK; k++) out.wrong += work() != out.checksum;
    out.units += ROUND_CHECK;
    out.seconds = now_s() - start;
  } while (out.seconds < seconds);
  return out;
}

/* xorshift64 (Marsaglia 2003) and a multiply on a block: what compilers make of plain integer code. */
WIDE static uint64_t integer_round(void) {
  static _Thread_local uint64_t x[ELEMENTS];
  for (int k = 0; k < ELEMENTS; k++) x[k] = (uint64_t)(k + 1) * 0x9E3779B97F4A7C15ULL;
  for (int r = 0; r < 24; r++)
    for (int k = 0; k < ELEMENTS; k++) {
      uint64_t v = x[k];
      v ^= v << 13; v ^= v >> 7; v ^= v << 17;
      x[k] = v + (v >> 32) * 31;
    }
  uint64_t sum = 0;
  for (int k = 0; k < ELEMENTS; k++) sum ^= x[k] + (uint64_t)k;
  return sum;
}

/* Insertion into short sorted runs of random numbers: branches that no predictor knows. */
static uint64_t branch_round(void) {
  uint64_t seed = 7, sum = 0;
  uint32_t run[48];
  for (int outer = 0; outer < 64; outer++) {
    int n = 0;
    for (int k = 0; k < 48; k++) {
      uint32_t v = (uint32_t)next_random(&seed);
      int at = n++;
      while (at > 0 && run[at - 1] > v) { run[at] = run[at - 1]; at--; }
      run[at] = v;
    }
    sum = sum * 31 + run[outer % 48];
  }
  return sum;
}

/* Multiply, add, square root and divide in double precision: exact by IEEE 754 without contraction. The logistic map
   keeps every value moving, so that one wrong bit is seen at the end. */
WIDE static uint64_t float_round(void) {
  static _Thread_local double f[ELEMENTS];
  for (int k = 0; k < ELEMENTS; k++) f[k] = 0.1 + 0.8 * (double)k / ELEMENTS;
  for (int r = 0; r < 16; r++)
    for (int k = 0; k < ELEMENTS; k++) {
      double v = 3.9 * f[k] * (1.0 - f[k]);
      double s = sqrt(v);
      f[k] = s / (1.0 + 0.02 * s);
    }
  uint64_t sum = 0, bits;
  for (int k = 0; k < ELEMENTS; k++) { memcpy(&bits, &f[k], 8); sum ^= bits + (uint64_t)k; }
  return sum;
}

/* A byte-wise hash with a table look-up a byte, each waiting for the one before (FNV-1a with a table step). */
static uint64_t hash_round(void) {
  static uint32_t table[256];
  static int ready = 0;
  if (!ready) { uint64_t s = 3; for (int k = 0; k < 256; k++) table[k] = (uint32_t)next_random(&s); ready = 1; }
  uint64_t h = 0xcbf29ce484222325ULL, v = 1;
  for (int k = 0; k < 16384; k++) {
    v = v * 6364136223846793005ULL + 1442695040888963407ULL;
    h = (h ^ (v >> 56)) * 0x100000001b3ULL;
    h ^= table[h & 255];
  }
  return h;
}

brachium_result brachium_integer(double seconds) { return repeated(integer_round, seconds); }
brachium_result brachium_branch(double seconds) { return repeated(branch_round, seconds); }
brachium_result brachium_float(double seconds) { return repeated(float_round, seconds); }
brachium_result brachium_hash(double seconds) { return repeated(hash_round, seconds); }

int32_t brachium_version(void) { return 1; }
