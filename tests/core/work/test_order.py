"""The order of tasks: fewest openings and fewest layers off, against every order of small cases."""

from __future__ import annotations

from itertools import permutations

import numpy as np
import pytest

from brachium.core.work.order import CircularTasks, Task, segments
from brachium.core.work.step import Mode, Step

LAYERS = ({"cover"}, {"cover", "cage"}, {"cover", "cooler"}, {"cover", "cooler", "board"})


def task(name: str, mode: Mode, layers: frozenset[str] = frozenset(), after: tuple[str, ...] = ()) -> Task:
    return Task(Step(name, name, "", mode=mode), layers, frozenset(after))


def random_tasks(rng: np.random.Generator) -> list[Task]:
    """Up to six tasks, open or closed, each after some of the earlier ones."""
    out: list[Task] = []
    for k in range(int(rng.integers(2, 7))):
        opened = bool(rng.random() < 0.6)
        layers = frozenset(LAYERS[int(rng.integers(len(LAYERS)))]) if opened else frozenset()
        after = tuple(t.id for t in out if rng.random() < 0.3)
        out.append(task(f"t{k}", Mode.OPEN if opened else Mode.RUNNING, layers, after))
    return out


def cost_of_order(order: tuple[Task, ...]) -> tuple[int, int]:
    """(openings, layers taken off) of doing tasks one after the other, all layers of a stretch at once."""
    stretches: list[set[str]] = []
    opened = False
    for t in order:
        if t.open and not opened:
            stretches.append(set())
        if t.open:
            stretches[-1] |= t.layers
        opened = t.open
    return len(stretches), sum(len(s) for s in stretches)


def cost_of(parts: list[list[Task]]) -> tuple[int, int]:
    opened = [p for k, p in enumerate(parts) if k % 2 == 1 and p]
    return len(opened), sum(len({x for t in p for x in t.layers}) for p in opened)


@pytest.mark.parametrize("seed", range(60))
def test_no_order_needs_fewer_openings_and_few_need_fewer_layers(seed: int) -> None:
    tasks = random_tasks(np.random.default_rng(seed))
    parts = segments(tasks)
    where = {t.id: k for k, part in enumerate(parts) for t in part}
    assert sorted(where) == sorted(t.id for t in tasks)
    for t in tasks:
        assert (where[t.id] % 2 == 1) is t.open
        assert all(where[b] < where[t.id] or (where[b] == where[t.id]) for b in t.after)
    valid = [
        order for order in permutations(tasks)
        if all(set(t.after) <= {o.id for o in order[:k]} for k, t in enumerate(order))
    ]  # fmt: skip
    best = min(cost_of_order(order) for order in valid)
    found = cost_of(parts)
    assert found[0] == best[0], "as few openings as can be"
    assert found[1] <= best[1] + 1, "and at most one layer more than the best of all orders"


def test_tasks_under_one_layer_come_together_in_the_opening_that_must_be() -> None:
    """Firmware wants the machine closed after the cell and before the processor; the cleaning joins the processor."""
    cover, cooler = frozenset({"cover"}), frozenset({"cover", "cooler"})
    tasks = [
        task("cell", Mode.OPEN, cover), task("firmware", Mode.RUNNING, after=("cell",)), task("clean", Mode.OPEN,
                                                                                              cooler),
        task("processor", Mode.OPEN, cooler, ("firmware",)), task("clone", Mode.RUNNING), task("memory", Mode.OPEN,
                                                                                               cover),
    ]  # fmt: skip
    parts = [[t.id for t in part] for part in segments(tasks)]
    assert parts[0] == ["clone"] and parts[1] == ["cell"] and parts[2] == ["firmware"]
    assert set(parts[3]) == {"clean", "processor", "memory"}


def test_a_circle_is_named() -> None:
    with pytest.raises(CircularTasks, match="a, b"):
        segments([task("a", Mode.RUNNING, after=("b",)), task("b", Mode.RUNNING, after=("a",))])
    assert segments([]) == [[]]
