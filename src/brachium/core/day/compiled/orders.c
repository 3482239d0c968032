/* Orders of blocks made into sheets and searched by simulated annealing: see placing.py for what they mean. */

#include <math.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#include "day.h"

#define NO_PLACE INT64_MAX
#define COLD_MIN 3.0  /* minutes; then it is warmed up again, from the best order */

static const double WARM[] = {0.002, 0.005, 0.01};  /* of the best lateness, one cycle after the other */
#define COOLER 0.9998  /* a try */
#define CYCLES 3

typedef struct {
  const brachium_day *day;
  uint64_t *full;            /* a bit a minute: no technician is free, or it is closed */
  const uint64_t *closed;    /* the same before anything is placed */
  int32_t *hands, *benches;  /* minutes + 1: how many are taken; of benches, by machines that are closed again */
  int32_t *next, *ready, *held;
  int32_t holding, last_held;  /* machines on a bench that are not closed yet; minute behind which no bench is taken */
  int32_t *starts;
  int64_t late;
} sheet;

static size_t words_of(const brachium_day *day) { return (size_t)day->minutes / 64 + 1; }

static uint32_t draw(uint64_t *random) {
  uint64_t x = *random;
  x ^= x << 13;
  x ^= x >> 7;
  x ^= x << 17;
  *random = x;
  return (uint32_t)(x >> 32);
}

static int32_t below(uint64_t *random, int32_t end) { return (int32_t)(draw(random) % (uint32_t)end); }

static double unit(uint64_t *random) { return (draw(random) + 0.5) / 4294967296.0; }

/* The first minute from `at` on whose bit in `set` is `wanted`; `end` where there is none before it. */
static int32_t next_bit(const uint64_t *set, int32_t at, int32_t end, int wanted) {
  while (at < end) {
    const uint64_t word = (wanted ? set[at >> 6] : ~set[at >> 6]) >> (at & 63);
    if (word) return at + __builtin_ctzll(word);
    at = (at | 63) + 1;
  }
  return end;
}

/* The first minute from `at` on from which a technician is free so long; -1 where there is none. */
static int32_t earliest(const sheet *s, int32_t at, int32_t length) {
  const int32_t end = s->day->minutes;
  while (at + length <= end) {
    const int32_t free = next_bit(s->full, at, end, 0);
    at = next_bit(s->full, free, free + length < end ? free + length : end, 1);
    if (at - free >= length) return free;
  }
  return -1;
}

static void take_hands(sheet *s, int32_t start, int32_t length) {
  for (int32_t t = start; t < start + length && t < s->day->minutes; t++)
    if (++s->hands[t] == s->day->technicians) s->full[t >> 6] |= UINT64_C(1) << (t & 63);
}

static int opens_bench(const brachium_day *day, int32_t job, int32_t block) {
  return day->bench[block] && (block == day->first[job] || !day->bench[block - 1]);
}

static void give_bench_back(sheet *s, int32_t job, int32_t block, int32_t end) {
  int32_t opened = block, at = 0;
  while (!opens_bench(s->day, job, opened)) opened--;
  for (int32_t t = s->starts[opened]; t < end; t++) s->benches[t]++;
  if (end > s->last_held) s->last_held = end;
  while (s->held[at] != job) at++;
  for (s->holding--; at < s->holding; at++) s->held[at] = s->held[at + 1];
}

/* Place the next block of a job as early as it can be. A machine that is opened holds a bench until it is closed, be
   that when it may: so one is opened only where a bench is free from then on. 0 where it found no place. */
static int place_block(sheet *s, int32_t job) {
  const brachium_day *day = s->day;
  const int32_t block = s->next[job], fixed = day->fixed[block];
  const int opens = opens_bench(day, job, block);
  int32_t at = s->ready[job];
  if (opens) {
    while (s->holding >= day->benches)  /* another one has to be closed first */
      if (!place_block(s, s->held[0])) return 0;
    int32_t full = s->last_held;
    while (full > at && s->benches[full - 1] + s->holding < day->benches) full--;
    if (full > at) at = full;
  }
  const int32_t start = fixed < 0 ? earliest(s, at, day->attended[block]) : fixed < at ? -1 : fixed;
  if (start < 0 || start + day->whole[block] > day->minutes) return 0;
  const int32_t end = start + day->whole[block];
  s->starts[block] = start;
  if (fixed < 0) take_hands(s, start, day->attended[block]);
  if (opens) s->held[s->holding++] = job;
  if (day->bench[block] && (block + 1 == day->first[job + 1] || !day->bench[block + 1]))
    give_bench_back(s, job, block, end);
  s->next[job]++;
  s->ready[job] = end;
  if (block + 1 == day->first[job + 1] && end > day->due[job]) s->late += end - day->due[job];
  return 1;
}

/* Lateness of an order; NO_PLACE where it is more than `most` or a block finds none. */
static int64_t place(sheet *s, const int32_t *order, int64_t most) {
  const brachium_day *day = s->day;
  const int32_t blocks = day->first[day->jobs];
  memset(s->hands, 0, ((size_t)day->minutes + 1) * sizeof(int32_t));
  memset(s->benches, 0, ((size_t)day->minutes + 1) * sizeof(int32_t));
  s->late = s->holding = s->last_held = 0;
  memcpy(s->next, day->first, (size_t)day->jobs * sizeof(int32_t));
  memcpy(s->ready, day->release, (size_t)day->jobs * sizeof(int32_t));
  memcpy(s->full, s->closed, words_of(day) * sizeof(uint64_t));
  for (int32_t b = 0; b < blocks; b++)
    if (day->fixed[b] >= 0) take_hands(s, day->fixed[b], day->attended[b]);
  for (int32_t turn = 0; turn < blocks; turn++) {
    const int32_t job = order[turn];
    if (s->next[job] >= day->first[job + 1]) continue;  /* was placed before its turn, to free a bench */
    if (!place_block(s, job) || s->late > most) return NO_PLACE;
  }
  return s->late;
}

static void shift(int32_t *order, int32_t from, int32_t to) {
  const int32_t kept = order[from];
  if (from < to) memmove(order + from, order + from + 1, (size_t)(to - from) * sizeof(int32_t));
  else memmove(order + to + 1, order + to, (size_t)(from - to) * sizeof(int32_t));
  order[to] = kept;
}

static int32_t within(int32_t at, int32_t end) { return at < 0 ? 0 : at >= end ? end - 1 : at; }

/* All blocks of a job taken out and put in again from some turn on, close together or apart. */
static void put_in_again(int32_t *order, int32_t blocks, int32_t job, int32_t *rest, uint64_t *random) {
  int32_t others = 0, at = 0, left;
  for (int32_t i = 0; i < blocks; i++)
    if (order[i] != job) rest[others++] = order[i];
  left = blocks - others;
  int32_t wait = below(random, others + 1);
  for (int32_t taken = 0; at < blocks;) {
    if (left && (!wait || taken == others)) {
      order[at++] = job;
      left--;
      wait = unit(random) < 0.5 ? 0 : below(random, 5);
    } else {
      order[at++] = rest[taken++];
      if (wait) wait--;
    }
  }
}

static void change(const brachium_day *day, int32_t *order, int32_t *rest, uint64_t *random) {
  const int32_t blocks = day->first[day->jobs], a = below(random, blocks), kind = below(random, 20);
  if (kind < 10) {  /* one block earlier or later */
    const int32_t span = 1 + below(random, unit(random) < 0.6 ? 8 : blocks);
    shift(order, a, within(unit(random) < 0.5 ? a - span : a + span, blocks));
  } else if (kind < 13) {  /* two blocks for each other */
    const int32_t b = below(random, blocks), kept = order[a];
    order[a] = order[b];
    order[b] = kept;
  } else if (kind < 16) {  /* two machines for each other, where they have as many blocks */
    const int32_t one = below(random, day->jobs), two = below(random, day->jobs);
    if (day->first[one + 1] - day->first[one] != day->first[two + 1] - day->first[two]) return;
    for (int32_t i = 0; i < blocks; i++) order[i] = order[i] == one ? two : order[i] == two ? one : order[i];
  } else {
    put_in_again(order, blocks, below(random, day->jobs), rest, random);
  }
}

static int make_sheet(sheet *s, const brachium_day *day) {
  const size_t size = (size_t)day->minutes + 1, jobs = (size_t)day->jobs, blocks = (size_t)day->first[day->jobs];
  const size_t words = words_of(day);
  uint64_t *bits = calloc(2 * words, sizeof(uint64_t));
  int32_t *all = malloc((2 * size + 3 * jobs + blocks) * sizeof(int32_t));
  if (!bits || !all) {
    free(bits);
    free(all);
    return 0;
  }
  for (int32_t t = 0; t < day->minutes; t++)
    if (day->open[t] <= 0) bits[words + (size_t)(t >> 6)] |= UINT64_C(1) << (t & 63);
  *s = (sheet){.day = day, .full = bits, .closed = bits + words, .hands = all, .benches = all + size,
               .next = all + 2 * size, .ready = all + 2 * size + jobs, .held = all + 2 * size + 2 * jobs,
               .starts = all + 2 * size + 3 * jobs};
  return 1;
}

static void free_sheet(sheet *s) {
  free(s->full);
  free(s->hands);
}

int32_t brachium_first_order(const brachium_day *day, brachium_orders *o) {
  const size_t bytes = (size_t)day->first[day->jobs] * sizeof(int32_t);
  sheet s;
  if (!make_sheet(&s, day)) return -1;
  o->now = o->best = place(&s, o->order, NO_PLACE - 1);
  memcpy(o->starts, s.starts, bytes);
  memcpy(o->best_order, o->order, bytes);
  o->warmth = 0.0;
  free_sheet(&s);
  return 0;
}

int32_t brachium_try_orders(const brachium_day *day, brachium_orders *o, int32_t tries) {
  const size_t blocks = (size_t)day->first[day->jobs], bytes = blocks * sizeof(int32_t);
  sheet s;
  if (!make_sheet(&s, day)) return -1;
  int32_t *tried = malloc(2 * bytes);
  if (!tried) {
    free_sheet(&s);
    return -1;
  }
  for (; tries > 0 && o->best > 0; tries--) {
    if (o->warmth < COLD_MIN) {
      o->cycle = (o->cycle + 1) % CYCLES;
      o->warmth = fmax(WARM[o->cycle] * (double)(o->best == NO_PLACE ? day->minutes : o->best), COLD_MIN + 1.0);
      o->now = o->best;
      memcpy(o->order, o->best_order, bytes);
    }
    memcpy(tried, o->order, bytes);
    change(day, tried, tried + blocks, &o->random);
    const int64_t most = o->now == NO_PLACE ? NO_PLACE - 1 : o->now - (int64_t)(o->warmth * log(unit(&o->random)));
    const int64_t late = place(&s, tried, most);
    if (late != NO_PLACE || o->now == NO_PLACE) {
      o->now = late;
      memcpy(o->order, tried, bytes);
    }
    if (late < o->best) {
      o->best = late;
      memcpy(o->best_order, tried, bytes);
      memcpy(o->starts, s.starts, bytes);
    }
    o->warmth *= COOLER;
  }
  free(tried);
  free_sheet(&s);
  return 0;
}
