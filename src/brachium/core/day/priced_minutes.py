"""A strong lower bound of the lateness of any order: technicians' minutes and benches at a price, night by night.

Lagrangean relaxation: that no more technicians and benches are taken at a minute than there are is given up, and every
minute taken is charged a price instead. Then each machine finds its own cheapest way through the day by itself
(dynamic programming over its blocks), and the sum of these, less what the prices bring in, is below the lateness of
every order that keeps the numbers, whatever the prices (weak duality). Prices are moved where too many want the same
minute (Polyak's subgradient step against the best order known, with a direction that is kept; Held, Wolfe and Crowder
1974). What is over behind the horizon is at least as late as the horizon, and is charged no price: so the bound holds
for orders that end later, too.

What that gives away most is the night: a machine that is done in it by half costs half the night. So the orders are
parted by how many machines are done by a night (of that number, the relaxed problem takes the cheapest), then by
whether one machine is; each part has prices of its own, and the lowest bound of all parts holds (branch and bound, best
first). The rounds are compiled (`compiled/prices.c`); times are whole minutes.
"""

from __future__ import annotations

import heapq
import threading
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import count, pairwise
from math import ceil

import numpy as np

from brachium.core.base.arrays import FloatArray, IntArray
from brachium.core.day.blocks import DayJob, ShopDay
from brachium.core.day.compiled.arrays import DayArrays

ROUNDS, ROUND_SIZE = 25, 150_000  # between two looks, of so many blocks times minutes: some 15 ms; fewer of larger ones
FIRST_ROUNDS = 100  # before orders are parted by number
PATIENCE = 8  # such turns that gain less than a minute each, then a part is parted further
AGAIN = 3  # times that a part which cannot be parted begins with long steps again, by the best order known then
NIGHT_MIN = 180  # closed so long, a machine that is not done costs by leaps
STEP, NEXT_STEP = 1.0, 0.5  # at first; of a part of a part
EITHER, BY_NIGHT, AFTER = 0, 1, 2
ANY_NUMBER = -1


@dataclass(frozen=True)
class _Prices:
    """Of every minute, and where they were going."""

    hand: FloatArray
    bench: FloatArray
    way_hand: FloatArray
    way_bench: FloatArray

    @staticmethod
    def none(minutes: int) -> _Prices:
        return _Prices(*(np.zeros(minutes + 1) for _ in range(4)))

    def copy(self) -> _Prices:
        return _Prices(self.hand.copy(), self.bench.copy(), np.zeros_like(self.hand), np.zeros_like(self.bench))


@dataclass
class _Part:
    """Some of the orders: with so many machines by the night, some of them named; and how late they are at least."""

    number: int
    side: IntArray
    prices: _Prices
    share: FloatArray
    other: FloatArray
    step: float = STEP
    least: float = 0.0
    idle: int = 0
    rounds: int = 0
    waited: int = 0
    begun_again: int = 0

    def child(self, *, number: int | None = None, job: int = 0, side: int = EITHER, step: float = STEP) -> _Part:
        sides = self.side.copy()
        sides[job] = side or sides[job]
        return replace(
            self, number=self.number if number is None else number, side=sides, prices=self.prices.copy(),
            share=self.share.copy(), other=self.other.copy(), step=step, idle=0, waited=0,
        )  # fmt: skip


def nights(shop: ShopDay, horizon: int) -> list[tuple[int, int]]:
    """(when it closes, when it opens again) of each night that begins after now and ends before the horizon."""
    return [
        (closes, opens)
        for (_, closes), (opens, _) in pairwise(shop.hours)
        if opens - closes >= NIGHT_MIN and closes > shop.now and opens < horizon
    ]


def first_night(shop: ShopDay, horizon: int) -> tuple[int, int] | None:
    return next(iter(nights(shop, horizon)), None)


@dataclass
class _Night:
    """The parts of all orders by one night: those to go on with, the lowest first, and those that give no more."""

    arrays: DayArrays
    parts: list[tuple[float, int, _Part]] = field(default_factory=list)
    spent: list[_Part] = field(default_factory=list)

    @property
    def least(self) -> float:
        """The lowest bound of all parts; without end where no part can be better than what is known."""
        return min([p.least for p in self.spent] + [least for least, _, _ in self.parts[:1]], default=float("inf"))


class PricedSearch:
    """The bound, better the longer it is gone on with. `best` may be lowered by another thread while it runs, and
    `least` and `likely_by_night` be read."""

    def __init__(self, jobs: Sequence[DayJob], shop: ShopDay, best: int, horizon: int) -> None:
        """`best` is the lateness of an order that is known; minutes up to `horizon` have a price.

        Raises OSError where the kernels are not built.
        """
        self.best = best
        self._jobs = [j for j in jobs if j.blocks]
        self._serial = count()
        cuts: list[int | None] = [opens for _, opens in nights(shop, horizon)]
        self._nights = [_Night(DayArrays(self._jobs, shop, horizon, cut)) for cut in cuts or [None]]
        many = len(self._jobs)
        for night in self._nights:
            prices = _Prices.none(night.arrays.minutes)
            sides = np.zeros(many, dtype=np.int32)
            self._keep(night, _Part(ANY_NUMBER, sides, prices, np.full(many, 0.5), np.zeros(many)))
        self._found = 0.0
        self.settled = threading.Event()

    @property
    def least(self) -> int:
        """Minutes of lateness that no order avoids; not above the best that is known."""
        return min(max(ceil(min(self._found, self.best) - 1e-6), 0), self.best)

    @property
    def _worth(self) -> float:
        """Lateness is whole minutes: where a bound is above this, nothing is better than the best that is known."""
        return self.best - 1.0 + 1e-6

    def likely_by_night(self) -> list[frozenset[str]]:
        """Machines done by the first night, by the parts that may hold a better order; the lowest bound first."""
        night = self._nights[0]
        parts = [*night.spent, *(p for _, _, p in list(night.parts))]
        parts = [p for p in parts if p.number != ANY_NUMBER and p.least < self._worth]
        out = []
        for part in sorted(parts, key=lambda p: p.least):
            wish = np.where(part.side == EITHER, part.share, np.where(part.side == BY_NIGHT, 2.0, -1.0))
            rows = np.argsort(-wish, kind="stable")[: part.number]
            out.append(frozenset(self._jobs[row].id for row in rows))
        return list(dict.fromkeys(out))

    def run(self, stopped: Callable[[], bool], most_rounds: int | None = None) -> int:
        """Until it is stopped, or nothing more can be gained; gives the rounds."""
        done = 0
        while self.least < self.best and not stopped() and (most_rounds is None or done < most_rounds):
            open_nights = [n for n in self._nights if n.parts]
            if not open_nights:
                break
            young = [n for n in open_nights if n.parts[0][2].rounds < FIRST_ROUNDS]
            night = young[0] if young else max(open_nights, key=lambda n: n.least)
            done += self._turn(night, stopped)
            self._found = max(self._found, *(n.least for n in self._nights))
        self.settled.set()
        return done

    def _turn(self, night: _Night, stopped: Callable[[], bool]) -> int:
        """Some rounds of the lowest part, or what it parts into."""
        part = heapq.heappop(night.parts)[2]
        before = part.least
        size = int(night.arrays.first[-1]) * night.arrays.minutes
        most = max(min(ROUNDS, ROUNDS * ROUND_SIZE // size), 1)
        done = self._rounds(night, part, most)
        part.waited = part.waited + 1 if part.least < before + 1.0 else 0
        parts_by_number = part.number == ANY_NUMBER and part.rounds >= FIRST_ROUNDS
        if parts_by_number or part.waited >= PATIENCE * ROUNDS // most or done < most:
            for child in self._parted(night, part):
                if not stopped():  # without a round of its own a part has its parent's bound
                    done += self._rounds(night, child, 1)
                self._keep(night, child)
        else:
            self._keep(night, part)
        return done

    def _parted(self, night: _Night, part: _Part) -> Iterator[_Part]:
        if part.least >= self._worth:
            return
        if part.number == ANY_NUMBER and night.arrays.day.cut >= 0:
            for number in range(len(self._jobs) + 1):
                yield part.child(number=number)
            return
        reach = self._worth - part.least
        surely = (part.side == EITHER) & (np.abs(part.other) >= reach)
        part.side[surely] = np.where(part.other[surely] < 0, BY_NIGHT, AFTER)
        either = np.flatnonzero(part.side == EITHER)
        if not either.size or night.arrays.day.cut < 0:
            if part.begun_again < AGAIN:
                part.begun_again, part.waited, part.step = part.begun_again + 1, 0, STEP
                self.settled.set()  # what follows gains little
                self._keep(night, part)
            else:
                night.spent.append(part)
            return
        job = int(either[np.argmin(np.abs(part.share[either] - 0.5))])
        for side in (BY_NIGHT, AFTER):
            yield part.child(job=job, side=side, step=NEXT_STEP)

    def _rounds(self, night: _Night, part: _Part, most: int) -> int:
        arrays, prices = night.arrays, part.prices
        state = arrays.ffi.new(
            "brachium_prices *",
            {
                "hand": arrays.pointer(prices.hand), "bench": arrays.pointer(prices.bench),
                "way_hand": arrays.pointer(prices.way_hand), "way_bench": arrays.pointer(prices.way_bench),
                "step": part.step, "least": part.least, "idle": part.idle, "count": part.number,
                "side": arrays.pointer(part.side), "share": arrays.pointer(part.share),
                "other": arrays.pointer(part.other),
            },
        )  # fmt: skip
        done = arrays.check(arrays.library.brachium_price_rounds(arrays.day, state, float(self.best), most))
        part.step, part.least, part.idle = state.step, max(part.least, state.least), state.idle
        part.rounds += done
        return done

    def _keep(self, night: _Night, part: _Part) -> None:
        """Parts that cannot be better than what is known are let go."""
        if part.least < self._worth:
            heapq.heappush(night.parts, (part.least, next(self._serial), part))
