/* What the day sheet asks of the library; read by cffi as it stands. All times in whole minutes from the day's begin. */

typedef struct {
  int32_t jobs, minutes, technicians, benches;
  int32_t cut;              /* "by the night" = over at this minute or before; -1 = machines are not told apart */
  const int32_t *first;     /* jobs + 1: the blocks of job j are first[j] to first[j + 1] - 1 */
  const int32_t *attended;  /* of every block */
  const int32_t *whole;     /* of every block, with what runs by itself after it */
  const int32_t *bench;     /* of every block: 1 = the machine is open */
  const int32_t *fixed;     /* of every block: its start where a person put it, or -1 */
  const int32_t *release;   /* of every job */
  const int32_t *due;       /* of every job; behind any minute where nothing is promised */
  const int32_t *open;      /* minutes + 1: how many minutes from this one on are open without a break; where it is
                               closed, below 0: how many until it opens, or past the last minute */
} brachium_day;

typedef struct {
  double *hand, *bench;          /* minutes + 1: the price of a technician's, of a bench's minute */
  double *way_hand, *way_bench;  /* minutes + 1: where the prices were going */
  double step, least;            /* least: the highest bound that was found */
  int32_t idle;                  /* rounds without a higher one */
  int32_t count;                 /* so many machines are over by the night; -1 = any number */
  const int32_t *side;           /* of every job: 0 = either, 1 = over by the night, 2 = over after it */
  double *share;                 /* of every job: in which part of the rounds it was over by the night */
  double *other;                 /* of every job at the highest bound: what the other side would cost more; its sign
                                    is below 0 where the side that was taken is "by the night" */
} brachium_prices;

/* So many rounds of prices, or fewer where the bound leaves no whole minute below `best`; gives how many, -1 where
   memory is short. */
int32_t brachium_price_rounds(const brachium_day *day, brachium_prices *prices, double best, int32_t rounds);

typedef struct {
  int32_t *order, *best_order;  /* of every block: whose next block is placed at this turn */
  int32_t *starts;              /* of every block in the best order */
  int64_t now, best;            /* lateness of both; INT64_MAX where a block finds no place */
  double warmth;
  int32_t cycle;
  uint64_t random;
} brachium_orders;

/* Place `order` as it stands; its lateness and starts become the best. -1 where memory is short. */
int32_t brachium_first_order(const brachium_day *day, brachium_orders *orders);

/* So many more orders by simulated annealing. -1 where memory is short. */
int32_t brachium_try_orders(const brachium_day *day, brachium_orders *orders, int32_t tries);

int32_t brachium_day_version(void);
