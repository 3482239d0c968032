"""Processor and graphics on one heatsink: what each of them, and the sink they share, does to the heat of both.

Under three loads (processor alone, graphics alone, both) the rises over the room are, with powers P,
    processor  r_p P_p + r_s (P_p + P_g)
    graphics   r_g P_g + r_s (P_p + P_g)
six equations in three resistances, by weighted least squares. All loads are read at the same time after their start, so
that the sink has warmed alike. Where the two chips do not share a sink the shared part comes out near nothing.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from brachium.core.base.text import phrase, upper_first
from brachium.core.base.units import pm
from brachium.core.heat.assumptions import SIGMA_K
from brachium.core.measure.feel_tests import HEAT_REST_S
from brachium.core.measure.run import Run, Trace

PROCESSOR, GRAPHICS, BOTH = "load", "test heat_graphics", "test heat_both"
READ_S = 30.0  # mean over the last so many seconds
LEAST_W = 3.0  # of graphics power that its load must bring, to be told from nothing
FAN_TERM = 0.35  # of the shared part, per share that the fan turned differently
SHARED_K_W = 0.05  # from which on the two are said to share a sink


@dataclass(frozen=True)
class TwoLoads:
    """One load: rises of both chips over the room [K], their powers [W], fan speed [1/min] or NaN."""

    name: str
    rises_k: tuple[float, float]
    powers_w: tuple[float, float]
    fan_rpm: float


@dataclass(frozen=True)
class TwoChips:
    """Resistances [K/W] and half-widths (95 %) of processor, graphics and what they share; `loads` they rest on."""

    r_k_w: tuple[float, float, float]
    half_k_w: tuple[float, float, float]
    loads: tuple[TwoLoads, ...]

    @property
    def shares(self) -> bool:
        """Whether the two share a sink."""
        return self.r_k_w[2] - self.half_k_w[2] > SHARED_K_W

    @property
    def words(self) -> str:
        """What may be said of it."""
        p, g, s = (pm(v, h, "K/W") for v, h in zip(self.r_k_w, self.half_k_w, strict=True))
        if not self.shares:
            return phrase("Processor and graphics do not share a sink: {p} and {g} of their own.", p=p, g=g)
        both = next((x for x in self.loads if x.name == BOTH), None)
        alone = next((x for x in self.loads if x.name == PROCESSOR), None)
        more = (
            phrase(" Both loads together: processor {rises_k:.0f} K over the room", rises_k=both.rises_k[0])
            if both is not None
            else ""
        )
        more += (
            phrase(" instead of {rises_k:.0f} K alone.", rises_k=alone.rises_k[0])
            if both is not None and alone is not None
            else "."
        )
        return phrase(
            "Processor and graphics share a sink: {p} and {g} of their own, {s} shared.{more}", p=p, g=g, s=s, more=more
        )

    def rises_k(self, processor_w: float, graphics_w: float) -> tuple[float, float]:
        """Rises of both chips over the room at these powers [K]."""
        p, g, s = self.r_k_w
        whole = processor_w + graphics_w
        return p * processor_w + s * whole, g * graphics_w + s * whole


def two_chips_of(run: Run) -> TwoChips | str:
    """The resistances of a run; a sentence where they cannot be told, empty where no combined load was measured."""
    room = run.conditions.room_c
    traces = [s.trace for s in run.sessions if s.trace.phase(BOTH) is not None]
    if not traces:
        return ""
    if room is None:
        return "the room temperature is not known: no heat of both chips"
    if all(t.values("gpu_temp_c") is None or t.values("gpu_power_w") is None for t in traces):
        return "the graphics chip shows no temperature or no power: its part of the heat cannot be told"
    loads = [x for t in traces for x in _loads(t, room)]
    return _untold(loads) or solved(loads)


def _untold(loads: Sequence[TwoLoads]) -> str:
    """Why these loads cannot tell the two apart; empty where they can."""
    if {x.name for x in loads} != {PROCESSOR, GRAPHICS, BOTH}:
        return "a load of the three is missing: processor alone, graphics alone, both"
    if max(x.powers_w[1] for x in loads) < LEAST_W:
        return "the graphics load brought hardly any power: its part of the heat cannot be told"
    if any(x.powers_w[0] > x.powers_w[1] for x in loads if x.name == GRAPHICS):
        return "under the graphics load the processor's power counter shows more than the graphics': it counts both"
    return ""


def both_words(run: Run | None) -> str:
    """What a run says of processor and graphics together; empty where it measured no load of both."""
    found = two_chips_of(run) if run is not None else ""
    if isinstance(found, TwoChips):
        return found.words
    return phrase("{found}.", found=upper_first(found)) if found else ""


def solved(loads: Sequence[TwoLoads]) -> TwoChips:
    """Least squares over all loads; the sensors' own error is the least that an interval rests on."""
    rows, rises = [], []
    for x in loads:
        p, g = x.powers_w
        rows += [(p, 0.0, p + g), (0.0, g, p + g)]
        rises += list(x.rises_k)
    a, b = np.array(rows), np.array(rises)
    r, *_ = np.linalg.lstsq(a, b, rcond=None)
    free = len(rises) - 3
    sigma = max(SIGMA_K, float(np.sqrt(np.sum((a @ r - b) ** 2) / max(free, 1))))
    from scipy.special import stdtrit  # late, and not SciPy's statistics, which take a second to load

    half = float(stdtrit(max(free, 1), 0.975)) * sigma * np.sqrt(np.diag(np.linalg.inv(a.T @ a)))
    fans = np.array([x.fan_rpm for x in loads])
    apart = float((fans.max() - fans.min()) / fans.mean()) if np.isfinite(fans).all() and fans.mean() > 0 else 0.0
    wide = float(np.hypot(half[2], FAN_TERM * apart * abs(float(r[2]))))
    return TwoChips((float(r[0]), float(r[1]), float(r[2])), (float(half[0]), float(half[1]), wide), tuple(loads))


def _loads(trace: Trace, room_c: float) -> list[TwoLoads]:
    """The loads of one session, each read at the same time after its start."""
    phases = [(name, trace.phase(name)) for name in (PROCESSOR, GRAPHICS, BOTH)]
    there = [(name, p) for name, p in phases if p is not None]
    onsets = [(name, p.start_s + (0.0 if name == PROCESSOR else HEAT_REST_S), p.end_s) for name, p in there]
    length = min(end_s - onset_s for _, onset_s, end_s in onsets)
    out = []
    for name, onset_s, _ in onsets if length > READ_S else ():
        end = onset_s + length
        found = _read(trace.cut(end - READ_S, end), name, room_c)
        if found is not None:
            out.append(found)
    return out


def _read(part: Trace, name: str, room_c: float) -> TwoLoads | None:
    keys = ("temp_c", "gpu_temp_c", "power_w", "gpu_power_w")
    columns = [part.values(k) for k in keys]
    if any(c is None or not np.isfinite(c).any() for c in columns):
        return None
    t_p, t_g, p_p, p_g = (float(np.nanmean(c)) for c in columns if c is not None)
    fan = part.values("fan_rpm")
    speed = float(np.nanmean(fan)) if fan is not None and np.isfinite(fan).any() else float("nan")
    return TwoLoads(name, (t_p - room_c, t_g - room_c), (p_p, p_g), speed)
