/* Rounds of prices for technicians' and benches' minutes: see priced_minutes.py for what they mean. */

#include <math.h>
#include <stdint.h>
#include <stdlib.h>
#include <string.h>

#include "day.h"

#define FAR 1e12
#define HALVE_AFTER 12     /* rounds without a higher bound before steps get shorter */
#define SHORTER 0.7
#define SHORTEST_STEP 2e-3
#define KEPT 0.95          /* of the direction before, in the one that is gone */
#define FORGET 0.98        /* of the shares, each round */

typedef struct {
  double *hands, *benches;     /* minutes + 2: sums of the prices before each minute */
  double *after, *next;        /* minutes + 1: cost of all that is behind, by the minute */
  int32_t *choice;             /* depth x (minutes + 1): when to start from each minute on; -1 = not before the end */
  int32_t *starts[2];          /* blocks: after the night, by the night */
  double *cost[2];             /* jobs */
  int32_t *taken;              /* jobs: which of the two */
  int32_t *rank;               /* jobs: those that may be on either side, cheapest by the night first */
  double *used_hand, *used_bench;
} room;

int32_t brachium_day_version(void) { return 1; }

static int last_of_bench(const brachium_day *day, int32_t block, int32_t end) {
  return day->bench[block] && (block + 1 == end || !day->bench[block + 1]);
}

static int first_of_bench(const brachium_day *day, int32_t block, int32_t begin) {
  return day->bench[block] && (block == begin || !day->bench[block - 1]);
}

/* Cheapest way of one job that is over within [from, to]; what is over behind the last minute costs that lateness. */
static double cheapest(const brachium_day *day, room *r, int32_t job, int32_t from, int32_t to, int beyond,
                       int32_t *starts) {
  const int32_t size = day->minutes, begin = day->first[job], end = day->first[job + 1], due = day->due[job];
  const double far = beyond ? (size > due ? size - due : 0.0) : FAR;
  for (int32_t t = 0; t <= size; t++) r->after[t] = t < from || t > to ? FAR : t > due ? t - due : 0.0;
  for (int32_t b = end - 1; b >= begin; b--) {
    const int32_t attended = day->attended[b], whole = day->whole[b], fixed = day->fixed[b];
    const int32_t low = b == begin ? day->release[job] : 0;
    const int opens = first_of_bench(day, b, begin), closes = last_of_bench(day, b, end);
    int32_t *choice = r->choice + (size_t)(b - begin) * (size + 1);
    /* not closed before the last minute: the bench is held until then */
    double best = day->bench[b] && !opens ? far + r->benches[size + 1] : far;
    int32_t at = -1;
    for (int32_t s = size; s >= 0; s--) {
      if (s + whole <= to && s >= low && (day->open[s] >= attended || !attended) && (fixed < 0 || fixed == s)) {
        double cost = r->hands[s + attended] - r->hands[s] + r->after[s + whole];
        if (opens) cost -= r->benches[s];
        if (closes) cost += r->benches[s + whole];
        if (cost < best) best = cost, at = s;
      }
      r->next[s] = best;
      choice[s] = at;
    }
    double *swap = r->after;
    r->after = r->next;
    r->next = swap;
  }
  int32_t t = 0;
  for (int32_t b = begin; b < end; b++) {
    const int32_t s = t < 0 ? -1 : r->choice[(size_t)(b - begin) * (size + 1) + t];
    starts[b] = s;
    t = s < 0 ? -1 : s + day->whole[b];
  }
  return r->after[0];
}

/* Both sides of every job, and which is taken: the cheapest so many by the night. FAR where it cannot be. */
static double choose_sides(const brachium_day *day, const brachium_prices *p, room *r, int32_t *either, int32_t *take) {
  double value = 0.0;
  int32_t sure = 0, free_jobs = 0;
  for (int32_t j = 0; j < day->jobs; j++) {
    r->cost[1][j] = p->side[j] == 2 || day->cut < 0 ? FAR : cheapest(day, r, j, 0, day->cut, 0, r->starts[1]);
    r->cost[0][j] = p->side[j] == 1 ? FAR : cheapest(day, r, j, day->cut + 1, day->minutes, 1, r->starts[0]);
    if (r->cost[0][j] >= FAR / 2 || r->cost[1][j] >= FAR / 2) {
      r->taken[j] = r->cost[0][j] >= FAR / 2;
      sure += r->taken[j];
      value += r->cost[r->taken[j]][j];
      continue;
    }
    const double more = r->cost[1][j] - r->cost[0][j];
    int32_t at = free_jobs++;
    for (; at > 0 && r->cost[1][r->rank[at - 1]] - r->cost[0][r->rank[at - 1]] > more; at--) r->rank[at] = r->rank[at - 1];
    r->rank[at] = j;
    value += r->cost[0][j];
  }
  *take = p->count - sure;
  if (p->count < 0)
    for (*take = 0; *take < free_jobs && r->cost[1][r->rank[*take]] < r->cost[0][r->rank[*take]];) ++*take;
  *either = free_jobs;
  if (*take < 0 || *take > free_jobs) return FAR;
  for (int32_t i = 0; i < free_jobs; i++) {
    const int32_t j = r->rank[i];
    r->taken[j] = i < *take;
    if (r->taken[j]) value += r->cost[1][j] - r->cost[0][j];
  }
  return value;
}

/* What it would cost more to have each job on its other side, the number by the night being kept. */
static void price_other_sides(const brachium_day *day, const brachium_prices *p, const room *r, int32_t either,
                              int32_t take) {
  for (int32_t j = 0; j < day->jobs; j++) p->other[j] = r->taken[j] ? -FAR : FAR;
  for (int32_t i = 0; i < either; i++) {
    const int32_t j = r->rank[i];
    const double more = r->cost[1][j] - r->cost[0][j];
    if (p->count < 0) {
      p->other[j] = more;
      continue;
    }
    const int32_t swap = i < take ? take : take - 1;  /* the one that changes sides with it */
    if (swap < 0 || swap >= either) continue;
    const int32_t k = r->rank[swap];
    p->other[j] = more - (r->cost[1][k] - r->cost[0][k]);
  }
}

/* Technicians and benches that the ways taken need at every minute. */
static void count_used(const brachium_day *day, const room *r) {
  const int32_t size = day->minutes;
  memset(r->used_hand, 0, (size_t)(size + 2) * sizeof(double));
  memset(r->used_bench, 0, (size_t)(size + 2) * sizeof(double));
  for (int32_t j = 0; j < day->jobs; j++) {
    const int32_t *starts = r->starts[r->taken[j]];
    for (int32_t b = day->first[j]; b < day->first[j + 1] && starts[b] >= 0; b++) {
      r->used_hand[starts[b]] += 1.0;
      r->used_hand[starts[b] + day->attended[b]] -= 1.0;
      if (first_of_bench(day, b, day->first[j])) r->used_bench[starts[b]] += 1.0;
      if (last_of_bench(day, b, day->first[j + 1])) r->used_bench[starts[b] + day->whole[b]] -= 1.0;
    }
  }
  for (int32_t t = 1; t <= size; t++) {
    r->used_hand[t] += r->used_hand[t - 1];
    r->used_bench[t] += r->used_bench[t - 1];
  }
}

static void move_prices(const brachium_day *day, brachium_prices *p, const room *r, double over) {
  double length = 0.0;
  for (int32_t t = 0; t <= day->minutes; t++) {
    const double hand = day->open[t] > 0 ? r->used_hand[t] - day->technicians : 0.0;
    p->way_hand[t] = hand + KEPT * p->way_hand[t];
    p->way_bench[t] = r->used_bench[t] - day->benches + KEPT * p->way_bench[t];
    if (p->hand[t] > 0.0 || p->way_hand[t] > 0.0) length += p->way_hand[t] * p->way_hand[t];
    if (p->bench[t] > 0.0 || p->way_bench[t] > 0.0) length += p->way_bench[t] * p->way_bench[t];
  }
  const double pace = p->step * over / fmax(length, 1e-9);
  for (int32_t t = 0; t <= day->minutes; t++) {
    p->hand[t] = fmax(p->hand[t] + pace * p->way_hand[t], 0.0);
    p->bench[t] = fmax(p->bench[t] + pace * p->way_bench[t], 0.0);
  }
}

static int32_t run_rounds(const brachium_day *day, brachium_prices *p, room *r, double best, int32_t rounds) {
  const int32_t size = day->minutes;
  int32_t done = 0;
  while (done < rounds && p->least <= best - 1.0 && p->step > SHORTEST_STEP) {
    done++;
    r->hands[0] = r->benches[0] = 0.0;
    for (int32_t t = 0; t <= size; t++) {
      r->hands[t + 1] = r->hands[t] + p->hand[t];
      r->benches[t + 1] = r->benches[t] + p->bench[t];
    }
    int32_t either, take;
    double value = choose_sides(day, p, r, &either, &take);
    if (value >= FAR / 2) {  /* so many cannot be over by the night, or after it */
      p->least = FAR;
      break;
    }
    value -= day->technicians * r->hands[size + 1] + day->benches * r->benches[size + 1];
    for (int32_t j = 0; j < day->jobs; j++) p->share[j] = FORGET * p->share[j] + (1.0 - FORGET) * r->taken[j];
    if (value > p->least) {
      if (value > p->least + 0.1) p->idle = 0;
      p->least = value;
      price_other_sides(day, p, r, either, take);
    } else if (++p->idle >= HALVE_AFTER) {
      p->idle = 0;
      p->step *= SHORTER;
    }
    count_used(day, r);
    move_prices(day, p, r, best - value);
  }
  return done;
}

int32_t brachium_price_rounds(const brachium_day *day, brachium_prices *p, double best, int32_t rounds) {
  const size_t size = (size_t)day->minutes + 2, jobs = (size_t)day->jobs, blocks = (size_t)day->first[day->jobs];
  size_t depth = 1;
  for (int32_t j = 0; j < day->jobs; j++)
    if ((size_t)(day->first[j + 1] - day->first[j]) > depth) depth = (size_t)(day->first[j + 1] - day->first[j]);
  double *numbers = malloc((6 * size + 2 * jobs) * sizeof(double));
  int32_t *counts = malloc((depth * size + 2 * blocks + 2 * jobs) * sizeof(int32_t));
  int32_t done = -1;
  if (numbers && counts) {
    room r = {.hands = numbers, .benches = numbers + size, .after = numbers + 2 * size, .next = numbers + 3 * size,
              .used_hand = numbers + 4 * size, .used_bench = numbers + 5 * size,
              .cost = {numbers + 6 * size, numbers + 6 * size + jobs}, .choice = counts,
              .starts = {counts + depth * size, counts + depth * size + blocks},
              .taken = counts + depth * size + 2 * blocks, .rank = counts + depth * size + 2 * blocks + jobs};
    done = run_rounds(day, p, &r, best, rounds);
  }
  free(numbers);
  free(counts);
  return done;
}
