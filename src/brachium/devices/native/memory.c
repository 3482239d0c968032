/* Memory: dependent loads over a ring of lines in random order, and streams that read, write and copy. */
#include "common.h"

/* One cycle through every line in random order (Sattolo 1986): each line holds the address of the next, so that no load
   can begin before the one before it has ended, and no prefetcher can foresee it. `step` is the distance of two lines
   in words. */
void brachium_ring(uint64_t *words, uint64_t size, uint64_t step, uint64_t seed) {
  uint64_t lines = size / 8 / step;
  if (lines < 1) lines = 1;
  for (uint64_t k = 0; k < lines; k++) words[k * step] = (uint64_t)(uintptr_t)(words + k * step);
  for (uint64_t k = lines - 1; k > 0; k--) {
    uint64_t other = next_random(&seed) % k;
    uint64_t kept = words[k * step];
    words[k * step] = words[other * step];
    words[other * step] = kept;
  }
}

brachium_result brachium_chase(const uint64_t *words, double seconds) {
  brachium_result out = {0};
  const uint64_t *at = words;
#define NEXT at = (const uint64_t *)(uintptr_t)*at
  double start = now_s();
  do {
    for (int k = 0; k < 4096; k++) { NEXT; NEXT; NEXT; NEXT; NEXT; NEXT; NEXT; NEXT; }
    out.units += 8 * 4096;
    out.seconds = now_s() - start;
  } while (out.seconds < seconds);
  out.checksum = (uint64_t)(at - words);
  return out;
}

/* Eight words at a time, as one vector or as several where the processor's are narrower. Blocks are whole pages. */
typedef uint64_t eight __attribute__((vector_size(64), aligned(64)));

WIDE static uint64_t sum_of(const uint64_t *words, uint64_t count) {
  const eight *p = (const eight *)words;
  eight a = {0}, b = {0}, c = {0}, d = {0};
  for (uint64_t k = 0; k + 4 <= count / 8; k += 4) { a += p[k]; b += p[k + 1]; c += p[k + 2]; d += p[k + 3]; }
  a += b + c + d;
  uint64_t sum = 0;
  for (int k = 0; k < 8; k++) sum += a[k];
  return sum;
}

/* Plain stores of 16 bytes: no wider ones and no library call wrote faster where it was tried. */
static void fill_with(uint64_t *words, uint64_t count, uint64_t value) {
  for (uint64_t k = 0; k < count; k++) words[k] = value;
}

brachium_result brachium_read(const uint64_t *words, uint64_t size, double seconds) {
  brachium_result out = {0};
  uint64_t wanted = sum_of(words, size / 8);
  double start = now_s();
  do {
    uint64_t sum = sum_of(words, size / 8);
    out.wrong += sum != wanted;
    out.checksum = sum;
    out.units += size;
    out.seconds = now_s() - start;
  } while (out.seconds < seconds);
  return out;
}

brachium_result brachium_write(uint64_t *words, uint64_t size, double seconds) {
  brachium_result out = {0};
  uint64_t value = 0;
  double start = now_s();
  do {
    value = next_random(&out.checksum) | 1;
    fill_with(words, size / 8, value);
    out.units += size;
    out.seconds = now_s() - start;
  } while (out.seconds < seconds);
  for (uint64_t k = 0; k < size / 8; k += 512) out.wrong += words[k] != value;
  return out;
}

brachium_result brachium_copy(uint64_t *to, const uint64_t *from, uint64_t size, double seconds) {
  brachium_result out = {0};
  double start = now_s();
  do {
    memcpy(to, from, size);
    out.units += 2 * size;
    out.seconds = now_s() - start;
  } while (out.seconds < seconds);
  out.checksum = sum_of(to, size / 8);
  out.wrong = out.checksum != sum_of(from, size / 8);
  return out;
}
