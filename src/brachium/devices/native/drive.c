/* Drive: requests past the cache by io_uring, or by threads where the kernel has none; every block carries its number.
   Written blocks keep the number that they had, so that the file stays whole whenever it is stopped. */
#include "common.h"

#include <fcntl.h>
#include <linux/io_uring.h>
#include <pthread.h>
#include <stdlib.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <sys/syscall.h>
#include <unistd.h>

#define MOST_DEPTH 256

typedef struct {
  int fd;
  unsigned *sq_tail, *sq_mask, *sq_array, *cq_head, *cq_tail, *cq_mask;
  struct io_uring_sqe *sqes;
  struct io_uring_cqe *cqes;
  void *sq_map, *cq_map;
  size_t sq_size, cq_size, sqe_size;
} ring_t;

static int ring_open(ring_t *r, unsigned entries) {
  struct io_uring_params p;
  memset(&p, 0, sizeof p);
  memset(r, 0, sizeof *r);
  r->fd = (int)syscall(__NR_io_uring_setup, entries, &p);
  if (r->fd < 0) return errno;
  r->sq_size = p.sq_off.array + p.sq_entries * sizeof(unsigned);
  r->cq_size = p.cq_off.cqes + p.cq_entries * sizeof(struct io_uring_cqe);
  r->sqe_size = p.sq_entries * sizeof(struct io_uring_sqe);
  r->sq_map = mmap(0, r->sq_size, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_POPULATE, r->fd, IORING_OFF_SQ_RING);
  r->cq_map = mmap(0, r->cq_size, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_POPULATE, r->fd, IORING_OFF_CQ_RING);
  r->sqes = mmap(0, r->sqe_size, PROT_READ | PROT_WRITE, MAP_SHARED | MAP_POPULATE, r->fd, IORING_OFF_SQES);
  if (r->sq_map == MAP_FAILED || r->cq_map == MAP_FAILED || r->sqes == MAP_FAILED) { close(r->fd); return ENOMEM; }
  char *sq = r->sq_map, *cq = r->cq_map;
  r->sq_tail = (unsigned *)(sq + p.sq_off.tail);
  r->sq_mask = (unsigned *)(sq + p.sq_off.ring_mask);
  r->sq_array = (unsigned *)(sq + p.sq_off.array);
  r->cq_head = (unsigned *)(cq + p.cq_off.head);
  r->cq_tail = (unsigned *)(cq + p.cq_off.tail);
  r->cq_mask = (unsigned *)(cq + p.cq_off.ring_mask);
  r->cqes = (struct io_uring_cqe *)(cq + p.cq_off.cqes);
  return 0;
}

static void ring_close(ring_t *r) {
  munmap(r->sq_map, r->sq_size);
  munmap(r->cq_map, r->cq_size);
  munmap(r->sqes, r->sqe_size);
  close(r->fd);
}

int32_t brachium_has_ring(void) {
  ring_t r;
  if (ring_open(&r, 4)) return 0;
  ring_close(&r);
  return 1;
}

static void ring_put(ring_t *r, int fd, int write, void *buffer, uint32_t block, uint64_t offset, uint64_t slot) {
  unsigned tail = *r->sq_tail, at = tail & *r->sq_mask;
  struct io_uring_sqe *e = &r->sqes[at];
  memset(e, 0, sizeof *e);
  e->opcode = write ? IORING_OP_WRITE : IORING_OP_READ;
  e->fd = fd;
  e->addr = (uint64_t)(uintptr_t)buffer;
  e->len = block;
  e->off = offset;
  e->user_data = slot;
  r->sq_array[at] = at;
  __atomic_store_n(r->sq_tail, tail + 1, __ATOMIC_RELEASE);
}

/* What every way of asking shares: where the next block is, and what a block must hold. */
typedef struct {
  int fd, mixed, streaming;
  uint64_t size, seed, next, turn;
  uint32_t block;
} task_t;

typedef struct { uint64_t index; int write; } request_t;

static request_t next_request(task_t *t) {
  uint64_t blocks = t->size / t->block;
  request_t q;
  if (t->streaming) {
    q.index = t->next;
    t->next = (t->next + 1) % blocks;
    q.write = 0;
  } else {
    q.index = next_random(&t->seed) % blocks;
    q.write = t->mixed && t->turn++ % 3 == 2;
  }
  return q;
}

/* The number at the start of a block of 4096 bytes; a larger block begins with that of its first one. */
static uint64_t number_at(const task_t *t, uint64_t index) { return block_word(index * (t->block / 4096)); }

static brachium_result by_ring(task_t *t, int depth, double seconds) {
  brachium_result out = {0};
  ring_t r;
  char *buffers = 0;
  request_t asked[MOST_DEPTH];
  if ((out.error = ring_open(&r, (unsigned)depth))) return out;
  if (posix_memalign((void **)&buffers, 4096, (size_t)depth * t->block)) { ring_close(&r); out.error = ENOMEM; return out; }
  memset(buffers, 0, (size_t)depth * t->block);
  int waiting = 0, put = 0;
  double start = now_s();
  for (int k = 0; k < depth; k++) {
    asked[k] = next_request(t);
    asked[k].write = 0; /* a buffer is filled by a read before it is written back */
    ring_put(&r, t->fd, 0, buffers + (size_t)k * t->block, t->block, asked[k].index * t->block, (uint64_t)k);
    put++; waiting++;
  }
  while (waiting && !out.error) {
    int sent = (int)syscall(__NR_io_uring_enter, r.fd, put, 1, IORING_ENTER_GETEVENTS, 0, 0);
    if (sent < 0) { if (errno == EINTR) continue; out.error = errno; break; }
    put -= sent;
    unsigned head = *r.cq_head;
    out.seconds = now_s() - start;
    int over = out.seconds >= seconds;
    while (head != __atomic_load_n(r.cq_tail, __ATOMIC_ACQUIRE)) {
      struct io_uring_cqe *c = &r.cqes[head & *r.cq_mask];
      int slot = (int)c->user_data;
      char *buffer = buffers + (size_t)slot * t->block;
      if (c->res < 0) out.error = -c->res;
      else if ((uint32_t)c->res != t->block) out.error = EIO;
      else if (!asked[slot].write) {
        uint64_t word;
        memcpy(&word, buffer, 8);
        out.wrong += word != number_at(t, asked[slot].index);
      }
      head++;
      out.units++; waiting--;
      if (!over && !out.error) {
        request_t q = next_request(t);
        if (q.write) q.index = asked[slot].index; /* what was just read goes back to where it came from */
        asked[slot] = q;
        ring_put(&r, t->fd, q.write, buffer, t->block, q.index * t->block, (uint64_t)slot);
        put++; waiting++;
      }
    }
    __atomic_store_n(r.cq_head, head, __ATOMIC_RELEASE);
  }
  out.seconds = now_s() - start;
  ring_close(&r); /* ends what is still under way before its buffers go */
  free(buffers);
  return out;
}

typedef struct { task_t task; brachium_result result; double start, seconds; } thread_t;

static void *one_thread(void *given) {
  thread_t *me = given;
  task_t *t = &me->task;
  char *buffer = 0;
  uint64_t last = 0;
  if (posix_memalign((void **)&buffer, 4096, t->block)) { me->result.error = ENOMEM; return 0; }
  int filled = 0;
  do {
    request_t q = next_request(t);
    ssize_t moved;
    if (q.write && filled) moved = pwrite(t->fd, buffer, t->block, (off_t)(last * t->block));
    else {
      moved = pread(t->fd, buffer, t->block, (off_t)(q.index * t->block));
      uint64_t word;
      memcpy(&word, buffer, 8);
      me->result.wrong += word != number_at(t, q.index);
      last = q.index; filled = 1;
    }
    if (moved != (ssize_t)t->block) { me->result.error = moved < 0 ? errno : EIO; break; }
    me->result.units++;
  } while (now_s() - me->start < me->seconds);
  free(buffer);
  return 0;
}

static brachium_result by_threads(task_t *t, int depth, double seconds) {
  brachium_result out = {0};
  pthread_t threads[MOST_DEPTH];
  static thread_t all[MOST_DEPTH];
  double start = now_s();
  int started = 0;
  for (int k = 0; k < depth; k++) {
    memset(&all[k], 0, sizeof all[k]);
    all[k].task = *t;
    all[k].task.seed = t->seed + 977 * (uint64_t)k;
    all[k].task.next = t->size / t->block / (uint64_t)depth * (uint64_t)k; /* streams from as many places */
    all[k].start = start;
    all[k].seconds = seconds;
    if (pthread_create(&threads[k], 0, one_thread, &all[k])) break;
    started++;
  }
  for (int k = 0; k < started; k++) {
    pthread_join(threads[k], 0);
    out.units += all[k].result.units;
    out.wrong += all[k].result.wrong;
    if (all[k].result.error) out.error = all[k].result.error;
  }
  if (!started) out.error = EAGAIN;
  out.seconds = now_s() - start;
  return out;
}

/* Only a file can be asked: a closed handle may be something else by now, and that would be waited for without end. */
static int not_a_file(int fd) {
  struct stat seen;
  if (fstat(fd, &seen)) return errno;
  return S_ISREG(seen.st_mode) ? 0 : EINVAL;
}

static brachium_result asked(task_t *t, int depth, int ring, double seconds) {
  brachium_result bad = {0};
  if ((bad.error = not_a_file(t->fd))) return bad;
  bad.error = EINVAL;
  if (depth < 1 || depth > MOST_DEPTH || t->block < 4096 || t->block % 4096 || t->size < t->block) return bad;
  return ring ? by_ring(t, depth, seconds) : by_threads(t, depth, seconds);
}

brachium_result brachium_requests(int32_t fd, uint64_t size, uint32_t block, int32_t depth, int32_t mixed, int32_t ring,
                                  uint64_t seed, double seconds) {
  task_t t = {.fd = fd, .mixed = mixed, .size = size, .seed = seed, .block = block};
  return asked(&t, depth, ring, seconds);
}

brachium_result brachium_stream(int32_t fd, uint64_t size, uint32_t block, int32_t depth, int32_t ring, double seconds) {
  task_t t = {.fd = fd, .streaming = 1, .size = size, .block = block};
  return asked(&t, depth, ring, seconds);
}

/* One block after the other is written back as it was read and flushed to the drive: what a database waits for. */
brachium_result brachium_flushes(int32_t fd, uint64_t size, uint32_t block, double seconds) {
  brachium_result out = {0};
  task_t t = {.fd = fd, .streaming = 1, .size = size, .block = block};
  char *buffer = 0;
  if ((out.error = not_a_file(fd))) return out;
  if (posix_memalign((void **)&buffer, 4096, block)) { out.error = ENOMEM; return out; }
  double start = now_s();
  do {
    uint64_t index = next_request(&t).index, word;
    if (pread(fd, buffer, block, (off_t)(index * block)) != (ssize_t)block) { out.error = errno ? errno : EIO; break; }
    memcpy(&word, buffer, 8);
    out.wrong += word != number_at(&t, index);
    if (pwrite(fd, buffer, block, (off_t)(index * block)) != (ssize_t)block || fdatasync(fd)) { out.error = errno; break; }
    out.units++;
    out.seconds = now_s() - start;
  } while (out.seconds < seconds);
  out.seconds = now_s() - start;
  free(buffer);
  return out;
}
