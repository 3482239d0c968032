"""Going on with a run that was cut off: what of it stands, what is still to be measured, and the two made one.

A session whose load and cool-down are whole keeps them, and only the missing repeats are measured; one that was cut
off before that is measured again from its start. After a restart the missing repeats make a session of their own,
because a session's offset goes with the start of the machine.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field, replace

from brachium.core.base.arrays import FloatArray, frozen, time_axis
from brachium.core.base.late_numpy import np
from brachium.core.base.text import phrase
from brachium.core.measure.run import MeasuredSession, Phase, PhaseStep, Protocol, Run, Series, Trace

STOPPED = "stopped: "
CALM = ("settle", "idle")
GAP_S = 60.0


@dataclass(frozen=True)
class Rest:
    """What is left to do: number of sessions, phases of the first, repeats it has, and what of the old run stands."""

    sessions: int
    phases: tuple[PhaseStep, ...]
    have: Mapping[str, int] = field(default_factory=dict)
    kept: tuple[MeasuredSession, ...] = ()
    same_start: bool = False


def can_continue(run: Run) -> bool:
    """Cut off by a crash or a person. A run that stopped itself, for heat or a failed memory test, had its reason."""
    return not run.complete and bool(run.sessions) and not any(n.startswith(STOPPED) for n in run.notes)


def rest_of(run: Run, protocol: Protocol, boot_id: str) -> Rest:
    """What is left of a run that `can_continue`; `boot_id` is the machine's present start."""
    cut = run.sessions[-1]
    whole = run.sessions[:-1]
    left = max(protocol.sessions - len(whole), 1)
    if not _phases_whole(cut, protocol):
        return Rest(left, protocol.phases, {}, whole)
    have = Counter(r.test for r in cut.repeats)
    same = bool(boot_id) and boot_id == cut.boot_id
    calm = () if same else tuple(p for p in protocol.phases if p.name in CALM)
    return Rest(left, calm, have, run.sessions, same)


def continue_run(run: Run, later: Run, rest: Rest) -> Run:
    """The cut-off run and what was measured after it, as one run."""
    kept, more = rest.kept, later.sessions
    if rest.same_start and kept and more:
        kept, more = (*kept[:-1], _merged(kept[-1], more[0])), more[1:]
    sessions = tuple(replace(s, number=k) for k, s in enumerate((*kept, *more), 1))
    gap = phrase(
        "continued after it was cut off; the gap of {gap_s:.0f} s in its traces stands for a time not known",
        gap_s=GAP_S,
    )
    fresh = phrase("continued after it was cut off, {taken_at}", taken_at=later.taken_at)
    notes = tuple(n for n in run.notes if "cut off" not in n)
    return replace(
        later, sessions=sessions, taken_at=run.taken_at, configuration=run.configuration,
        protocol=replace(later.protocol, sessions=len(sessions)), checks=run.checks + later.checks,
        notes=tuple(dict.fromkeys((*notes, gap if rest.same_start else fresh, *later.notes))),
    )  # fmt: skip


def _phases_whole(session: MeasuredSession, protocol: Protocol) -> bool:
    """Whether everything before the short tests was gone through to its end."""
    last = protocol.phases[-1].name
    names = [p.name for p in session.trace.phases]
    return last in names and names.index(last) < len(names) - 1


def _merged(first: MeasuredSession, second: MeasuredSession) -> MeasuredSession:
    a, b = first.trace, second.trace
    shift = float(a.time_s[-1]) + GAP_S - float(b.time_s[0])
    phases = (*a.phases, *(Phase(p.name, p.start_s + shift, p.end_s + shift) for p in b.phases))
    known = {s.key: s for s in (*b.series, *a.series)}
    series = tuple(
        Series(k, s.unit, s.source, frozen(np.concatenate([_values(a, k), _values(b, k)]))) for k, s in known.items()
    )
    trace = Trace(time_axis([*a.time_s, *(b.time_s + shift)]), series, phases)
    return MeasuredSession(first.number, trace, first.repeats + second.repeats, first.boot_id)


def _values(trace: Trace, key: str) -> FloatArray:
    found = trace.values(key)
    return found if found is not None else np.full(trace.time_s.size, np.nan)
