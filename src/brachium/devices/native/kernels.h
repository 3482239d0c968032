/* What the program asks of the library; read by cffi as it stands. All times in seconds, all sizes in bytes. */

typedef struct {
  double seconds;          /* of the work itself, by the monotonic clock */
  uint64_t units;          /* loads, bytes, rounds or requests that were done */
  uint64_t checksum;       /* of what was read or worked out */
  uint64_t wrong;          /* pieces that did not hold what they should */
  int32_t error;           /* errno of what stopped it, 0 where nothing did */
} brachium_result;

int32_t brachium_version(void);

/* Memory. `words` has size/8 elements. */
void brachium_ring(uint64_t *words, uint64_t size, uint64_t step, uint64_t seed);
brachium_result brachium_chase(const uint64_t *words, double seconds);
brachium_result brachium_read(const uint64_t *words, uint64_t size, double seconds);
brachium_result brachium_write(uint64_t *words, uint64_t size, double seconds);
brachium_result brachium_copy(uint64_t *to, const uint64_t *from, uint64_t size, double seconds);

/* Processor. Each round is the same work from the same start; the checksum of a round is fixed. */
brachium_result brachium_integer(double seconds);
brachium_result brachium_branch(double seconds);
brachium_result brachium_float(double seconds);
brachium_result brachium_hash(double seconds);

/* Drive: an open file past the cache, blocks of `block` bytes that carry their number. `mixed` = every third request
   writes. `flush` = each write is followed by a flush to the drive. `ring` 1 = by io_uring, 0 = by threads. */
brachium_result brachium_requests(int32_t fd, uint64_t size, uint32_t block, int32_t depth, int32_t mixed, int32_t ring,
                                  uint64_t seed, double seconds);
brachium_result brachium_stream(int32_t fd, uint64_t size, uint32_t block, int32_t depth, int32_t ring, double seconds);
brachium_result brachium_flushes(int32_t fd, uint64_t size, uint32_t block, double seconds);
int32_t brachium_has_ring(void);
