"""A strong lower bound of the lateness of any order: technicians' minutes and benches at a price.

Lagrangean relaxation: that no more technicians and benches are taken at a minute than there are is given up, and every
minute taken is charged a price instead. Then each machine finds its own cheapest way through the day by itself
(dynamic programming over its blocks), and the sum of these, less what the prices bring in, is below the lateness of
every order that keeps the numbers, whatever the prices (weak duality). Prices are moved where too many want the same
minute (Polyak's subgradient step against the best order known; Held, Wolfe and Crowder 1974), until little is gained.
What is over behind the horizon is at least as late as the horizon, and is charged no price: so the bound holds for
orders that end later, too.

Times are whole minutes; arrays are (machines, minutes).
"""

from __future__ import annotations

import time
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import ceil

import numpy as np

from brachium.core.base.arrays import FloatArray
from brachium.core.day.blocks import DayJob, ShopDay

FAR = 1e12
HALVE_AFTER = 12  # rounds without a better bound before steps get shorter
SHORTEST_STEP = 2e-3
KEPT = 0.6  # of the direction before, in the one that is gone


@dataclass(frozen=True)
class PricedBound:
    """`least` minutes of lateness that no order avoids, found in so many rounds of prices."""

    least: int
    rounds: int


class _Ways:
    """The cheapest way of every machine through the day at given prices, all machines at once."""

    def __init__(self, jobs: Sequence[DayJob], shop: ShopDay, horizon: int) -> None:
        self.jobs, self.begin = list(jobs), shop.now
        self.minutes = horizon - shop.now
        self.depth = max(len(j.blocks) for j in jobs)
        shape = (len(self.jobs), self.depth)
        self.attended, self.whole = np.zeros(shape, dtype=int), np.zeros(shape, dtype=int)
        self.there = np.zeros(shape, dtype=bool)
        self.bench_from, self.bench_to = np.zeros(shape, dtype=bool), np.zeros(shape, dtype=bool)
        self.allowed = np.full((*shape, self.minutes + 1), FAR)
        self._fill(shop)
        ends = np.arange(self.minutes + 1) + shop.now
        due = np.array([j.due if j.due is not None else FAR for j in self.jobs])
        self.late = np.maximum(ends[None, :] - due[:, None], 0.0)
        self.beyond = np.maximum(horizon - due, 0.0)

    def _fill(self, shop: ShopDay) -> None:
        """Blocks stand at the right, so that the last of every machine is in the last column."""
        open_at = np.zeros(self.minutes + 1, dtype=int)
        for start, end in shop.hours:
            open_at[max(start - self.begin, 0) : max(min(end - self.begin, self.minutes), 0)] = 1
        opened = np.concatenate(([0], np.cumsum(open_at)))
        at = np.arange(self.minutes + 1)
        for row, job in enumerate(self.jobs):
            shift = self.depth - len(job.blocks)
            for k, block in enumerate(job.blocks):
                column = shift + k
                self.there[row, column] = True
                self.attended[row, column] = block.attended
                self.whole[row, column] = block.attended + block.unattended
                until = np.minimum(at + block.attended, self.minutes + 1)
                fits = (opened[until] - opened[at] == block.attended) & (at + self.whole[row, column] <= self.minutes)
                if k == 0:
                    fits &= at + self.begin >= job.release
                if block.fixed is not None:
                    fits &= at + self.begin == block.fixed
                self.allowed[row, column, fits] = 0.0
                self.bench_from[row, column] = block.bench and (k == 0 or not job.blocks[k - 1].bench)
                self.bench_to[row, column] = block.bench and (k == len(job.blocks) - 1 or not job.blocks[k + 1].bench)

    def cheapest(self, hand: FloatArray, bench: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
        """(cost of each machine, technicians taken, benches taken at every minute) at these prices a minute."""
        size = self.minutes + 1
        hands, benches = (np.concatenate(([0.0], np.cumsum(p))) for p in (hand, bench))
        at = np.arange(size)
        after = self.late.copy()  # cost of everything behind, by the minute at which this block is over
        choices = []
        for column in range(self.depth - 1, -1, -1):
            ends = np.minimum(at[None, :] + self.attended[:, column, None], size)
            over = np.minimum(at[None, :] + self.whole[:, column, None], size - 1)
            cost = self.allowed[:, column] + hands[ends] - hands[at][None, :]
            cost += np.take_along_axis(after, over, axis=1)
            cost -= np.where(self.bench_from[:, column, None], benches[at][None, :], 0.0)
            cost += np.where(self.bench_to[:, column, None], benches[over], 0.0)
            best = np.minimum.accumulate(cost[:, ::-1], axis=1)[:, ::-1]  # of starting now or later
            choices.append(cost)
            after = np.where(self.there[:, column, None], np.minimum(best, self.beyond[:, None]), after)
        return after[:, 0], *self._taken(choices[::-1])

    def _taken(self, costs: list[FloatArray]) -> tuple[FloatArray, FloatArray]:
        """Follow the cheapest ways forward."""
        size = self.minutes + 1
        hands, benches = np.zeros(size + 1), np.zeros(size + 1)
        ready = np.zeros(len(self.jobs), dtype=int)
        minutes, rows = np.arange(size)[None, :], np.arange(len(self.jobs))
        left = np.zeros(len(self.jobs), dtype=bool)
        for column, cost in enumerate(costs):
            open_costs = np.where(minutes >= ready[:, None], cost, 2.0 * FAR)
            start = open_costs.argmin(axis=1)
            left |= self.there[:, column] & (open_costs[rows, start] >= self.beyond)
            there = self.there[:, column] & ~left
            end = start + self.attended[:, column]
            over = np.minimum(start + self.whole[:, column], size)
            np.add.at(hands, start[there], 1.0)
            np.add.at(hands, np.minimum(end[there], size), -1.0)
            np.add.at(benches, start[self.bench_from[:, column] & there], 1.0)
            np.add.at(benches, over[self.bench_to[:, column] & there], -1.0)
            ready = np.where(there, np.minimum(over, size - 1), ready)
        return np.cumsum(hands)[:size], np.cumsum(benches)[:size]


def priced_bound(
    jobs: Sequence[DayJob], shop: ShopDay, best: int, seconds: float, horizon: int,
    stopped: Callable[[], bool] = lambda: False,
) -> PricedBound:  # fmt: skip
    """`best` is the lateness of an order that is known; up to the `horizon` minutes have a price."""
    jobs = [j for j in jobs if j.blocks]
    if not jobs or best <= 0:
        return PricedBound(0, 0)
    ways = _Ways(jobs, shop, horizon)
    many, places = max(shop.technicians, 1), max(shop.benches, 1)
    size = ways.minutes + 1
    hand, bench = np.zeros(size), np.zeros(size)
    way_hand, way_bench = np.zeros(size), np.zeros(size)
    top_hand, top_bench = hand, bench
    least, step, idle, rounds = 0.0, 1.0, 0, 0
    end = time.monotonic() + seconds
    while time.monotonic() < end and not stopped() and step > SHORTEST_STEP:
        rounds += 1
        cost, hands, benches = ways.cheapest(hand, bench)
        value = float(cost.sum() - many * hand.sum() - places * bench.sum())
        if value > least + 1e-6:
            idle = idle if value < least + 0.1 else 0
            least, top_hand, top_bench = value, hand, bench
        else:
            idle += 1
        if best - least < 1.0:
            break
        if idle >= HALVE_AFTER:
            step, idle, hand, bench = step / 2.0, 0, top_hand, top_bench
            way_hand, way_bench = np.zeros(size), np.zeros(size)
            continue
        way_hand, way_bench = hands - many + KEPT * way_hand, benches - places + KEPT * way_bench
        length = float((way_hand**2).sum() + (way_bench**2).sum())
        pace = step * (best - value) / max(length, 1e-9)
        hand = np.maximum(hand + pace * way_hand, 0.0)
        bench = np.maximum(bench + pace * way_bench, 0.0)
    return PricedBound(ceil(least - 1e-6), rounds)
