/* Bare loops beside the program's own kernels: written apart from them, for the table in docs/workloads.md. Prints
   `name value` lines. Usage: loops memory | loops latency BYTES | loops drive FILE BYTES DEPTH */
#define _GNU_SOURCE
#include <fcntl.h>
#include <linux/io_uring.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <sys/mman.h>
#include <sys/syscall.h>
#include <time.h>
#include <unistd.h>

static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec + 1e-9 * t.tv_nsec; }

typedef uint64_t v8 __attribute__((vector_size(64), aligned(64)));

__attribute__((target_clones("avx512f", "avx2", "default"))) static uint64_t sum(const v8 *p, size_t n) {
  v8 a = {0}, b = {0}, c = {0}, d = {0};
  for (size_t k = 0; k < n; k += 4) { a += p[k]; b += p[k + 1]; c += p[k + 2]; d += p[k + 3]; }
  a += b + c + d;
  uint64_t s = 0;
  for (int k = 0; k < 8; k++) s += a[k];
  return s;
}

static void memory(void) {
  size_t size = 64 << 20;
  char *p = mmap(0, size, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  char *q = mmap(0, size, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  memset(p, 1, size); memset(q, 2, size);
  volatile uint64_t keep = 0;
  double t = now(); int n = 0;
  do { keep += sum((v8 *)p, size / 64); n++; } while (now() - t < 1.0);
  printf("read %.4f\n", n * (double)size / (now() - t) / 1e9);
  t = now(); n = 0;
  do { memset(p, n, size); n++; } while (now() - t < 1.0);
  printf("write-memset %.4f\n", n * (double)size / (now() - t) / 1e9);
  t = now(); n = 0;
  do { uint64_t *w = (uint64_t *)p; for (size_t k = 0; k < size / 8; k++) w[k] = n + 1; __asm__ volatile("" ::: "memory"); n++; } while (now() - t < 1.0);
  printf("write-loop %.4f\n", n * (double)size / (now() - t) / 1e9);
  t = now(); n = 0;
  do { memcpy(q, p, size); n++; } while (now() - t < 1.0);
  printf("copy %.4f\n", 2 * n * (double)size / (now() - t) / 1e9);
}

static void latency(size_t size) {
  size_t lines = size / 64;
  uint32_t *order = malloc(lines * 4);
  void **p = mmap(0, size, PROT_READ | PROT_WRITE, MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
  for (size_t k = 0; k < lines; k++) order[k] = k;
  srandom(5);
  for (size_t k = lines - 1; k > 0; k--) { size_t j = ((uint64_t)random() << 31 ^ random()) % (k + 1); uint32_t o = order[k]; order[k] = order[j]; order[j] = o; }
  for (size_t k = 0; k < lines; k++) p[order[k] * 8] = &p[order[(k + 1) % lines] * 8];
  void **at = p;
  double t = now(); uint64_t n = 0;
  do { for (int k = 0; k < 8192; k++) { at = *at; at = *at; at = *at; at = *at; } n += 4 * 8192; } while (now() - t < 0.5);
  double took = now() - t;
  if (!at) puts("");
  printf("latency %.4f\n", 1e9 * took / n);
}

static void drive(const char *file, uint64_t size, unsigned depth) {
  int fd = open(file, O_RDONLY | O_DIRECT);
  struct io_uring_params p; memset(&p, 0, sizeof p);
  int r = syscall(__NR_io_uring_setup, depth, &p);
  char *sq = mmap(0, p.sq_off.array + p.sq_entries * 4, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_POPULATE, r, IORING_OFF_SQ_RING);
  char *cq = mmap(0, p.cq_off.cqes + p.cq_entries * sizeof(struct io_uring_cqe), PROT_READ | PROT_WRITE, MAP_SHARED | MAP_POPULATE, r, IORING_OFF_CQ_RING);
  struct io_uring_sqe *s = mmap(0, p.sq_entries * sizeof *s, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_POPULATE, r, IORING_OFF_SQES);
  unsigned *tail = (unsigned *)(sq + p.sq_off.tail), *mask = (unsigned *)(sq + p.sq_off.ring_mask), *array = (unsigned *)(sq + p.sq_off.array);
  unsigned *chead = (unsigned *)(cq + p.cq_off.head), *ctail = (unsigned *)(cq + p.cq_off.tail), *cmask = (unsigned *)(cq + p.cq_off.ring_mask);
  struct io_uring_cqe *c = (void *)(cq + p.cq_off.cqes);
  char *buf; if (posix_memalign((void **)&buf, 4096, depth * 4096)) return;
  uint64_t x = 88172645463325252ULL, done = 0; unsigned put = 0;
#define ASK(slot) do { x ^= x << 13; x ^= x >> 7; x ^= x << 17; unsigned a = *tail & *mask; memset(&s[a], 0, sizeof s[a]); \
  s[a].opcode = IORING_OP_READ; s[a].fd = fd; s[a].addr = (uint64_t)(uintptr_t)(buf + (slot) * 4096); s[a].len = 4096; \
  s[a].off = x % (size / 4096) * 4096; s[a].user_data = (slot); array[a] = a; __atomic_store_n(tail, *tail + 1, __ATOMIC_RELEASE); put++; } while (0)
  for (unsigned k = 0; k < depth; k++) ASK(k);
  double t = now();
  while (now() - t < 2.0) {
    int n = syscall(__NR_io_uring_enter, r, put, 1, IORING_ENTER_GETEVENTS, 0, 0);
    if (n > 0) put -= n;
    unsigned h = *chead;
    while (h != __atomic_load_n(ctail, __ATOMIC_ACQUIRE)) { unsigned slot = c[h & *cmask].user_data; h++; done++; ASK(slot); }
    __atomic_store_n(chead, h, __ATOMIC_RELEASE);
  }
  printf("reads %.1f\n", done / (now() - t));
}

int main(int n, char **v) {
  if (n > 1 && !strcmp(v[1], "memory")) memory();
  else if (n > 2 && !strcmp(v[1], "latency")) latency(strtoull(v[2], 0, 10));
  else if (n > 4 && !strcmp(v[1], "drive")) drive(v[2], strtoull(v[3], 0, 10), atoi(v[4]));
  return 0;
}
