/* Shared by every kernel: the clock, random numbers, and functions that exist once for each width of vectors. */
#define _GNU_SOURCE
#include <errno.h>
#include <stdint.h>
#include <string.h>
#include <time.h>
#include "kernels.h"

/* The same source compiled for wider vectors too; the loader takes the widest that this processor has. */
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__)
#define WIDE __attribute__((target_clones("avx512f", "avx2", "default")))
#else
#define WIDE
#endif

static inline double now_s(void) {
  struct timespec t;
  clock_gettime(CLOCK_MONOTONIC, &t);
  return (double)t.tv_sec + 1e-9 * (double)t.tv_nsec;
}

/* splitmix64 (Steele, Lea, Flood 2014) */
static inline uint64_t next_random(uint64_t *state) {
  uint64_t z = (*state += 0x9E3779B97F4A7C15ULL);
  z = (z ^ (z >> 30)) * 0xBF58476D1CE4E5B9ULL;
  z = (z ^ (z >> 27)) * 0x94D049BB133111EBULL;
  return z ^ (z >> 31);
}

/* First word of a block of the test file, as the Python side writes it. */
static inline uint64_t block_word(uint64_t index) { return index * 0x9E3779B97F4A7C15ULL + 0x1234567ULL; }
