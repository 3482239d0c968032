"""The swap grid of a machine: modules against memory slots, or drives against cables and ports."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.cause.swap_grid import Axis, GridState, solve_grid
from brachium.core.machine.machine import Machine
from brachium.core.record.checks import SwapTry

MEMORY, DRIVES = "memory", "drives"
SPARE_CABLE = "cable:spare"


@dataclass(frozen=True)
class SwapJob:
    """Axes with the names of their elements, the tries that belong to them, and what follows."""

    kind: str
    axes: tuple[Axis, ...]
    names: Mapping[str, str]
    tries: tuple[SwapTry, ...]
    state: GridState

    @property
    def together(self) -> bool:
        """Whether several rows are tried at once."""
        return self.kind == MEMORY


def swap_job(machine: Machine, tries: Sequence[SwapTry], kind: str = MEMORY, faults: int = 1) -> SwapJob | None:
    """The grid; None where there are too few elements to swap."""
    axes, names = _memory(machine) if kind == MEMORY else _drives(machine)
    if not axes or min(len(a.ids) for a in axes[:2]) < 1 or sum(len(a.ids) for a in axes) < 3:
        return None
    known = {e for a in axes for e in a.ids}
    own = tuple(t for t in tries if t.elements <= known)
    return SwapJob(kind, axes, names, own, solve_grid(axes, own, faults, kind == MEMORY))


def _memory(machine: Machine) -> tuple[tuple[Axis, ...], dict[str, str]]:
    modules = machine.configuration().modules()
    names = {f"module:{place}": phrase("Module {chr}", chr=chr(65 + k)) for k, place in enumerate(modules)}
    names |= {f"place:{s.id}": s.label for s in machine.slots}
    return (Axis("modules", tuple(k for k in names if k.startswith("module:"))),
            Axis("memory slots", tuple(f"place:{s.id}" for s in machine.slots))), names  # fmt: skip


def _drives(machine: Machine) -> tuple[tuple[Axis, ...], dict[str, str]]:
    """Every bay has its own cable and port; a spare cable is assumed to be on the bench."""
    drives = machine.configuration().drives()
    labels = {b.id: b.label for b in machine.bays}
    names = {f"drive:{p}": phrase("Drive of {labels}", labels=lower_first(labels.get(p, p))) for p in drives}
    names |= {f"cable:{p}": phrase("Cable {k}", k=k) for k, p in enumerate(drives, 1)} | {SPARE_CABLE: "Spare cable"}
    names |= {f"port:{p}": phrase("Port {k}", k=k) for k, p in enumerate(drives, 1)}
    axes = tuple(
        Axis(title, tuple(n for n in names if n.startswith(stem)))
        for title, stem in (("drives", "drive:"), ("cables", "cable:"), ("ports", "port:"))
    )
    return axes, names


def proven_faults(job: SwapJob) -> tuple[frozenset[str], frozenset[str]]:
    """(places proven dead, places whose part is proven faulty), by their ids in the record."""
    if not job.state.cleared:
        return frozenset(), frozenset()
    found = job.state.proven
    places = frozenset(e.partition(":")[2] for e in found if e.startswith(("place:", "port:")))
    parts = frozenset(e.partition(":")[2] for e in found if e.startswith(("module:", "drive:")))
    return places, parts


def grid_words(job: SwapJob) -> str:
    """What the tries prove, in words."""
    state = job.state
    if state.contradiction:
        return "These tries contradict each other: a contact that works now and then, or more than was assumed"
    if state.cleared:
        return phrase("Proven: {value} at fault", value=joined(" and ", sorted(job.names[e] for e in state.proven)))
    if not job.tries:
        return phrase(
            "{count} possibilities; about {expected_tries:.1f} tries will do",
            count=len(state.left),
            expected_tries=state.expected_tries,
        )
    return phrase(
        "{count} possibilities left, about {expected_tries:.1f} more tries",
        count=len(state.left),
        expected_tries=state.expected_tries,
    )


def proposal_words(job: SwapJob) -> str:
    """The next try in words."""
    rows = [
        joined(
            "; ",
            [phrase("{names} in {names2}", names=job.names[r[0]], names2=job.names[r[1]])]
            + [phrase("at {names}", names=lower_first(job.names[e])) for e in r[2:]],
        )
        for r in job.state.proposal
    ]
    return joined(", ", rows)
