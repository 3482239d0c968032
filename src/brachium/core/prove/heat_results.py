"""What heat work brought, in whole sentences, the most felt first: an owner is told of it like of any test."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.heat.claims import ClaimKind, HeatVerdict
from brachium.core.heat.throttle import HeldBack, ThrottleFinding
from brachium.core.prove.assumptions import CLOCK_CHANGED


def heat_results(heat: HeatVerdict) -> tuple[str, ...]:
    """Held back no longer, the clock that it keeps now, how much cooler the chip is at the same power."""
    if heat.refusal:
        return ()
    out = []
    if heat.throttles is not None:
        before, after = heat.throttles
        if before.kind is HeldBack.THERMAL and after.kind in (HeldBack.NONE, HeldBack.BOOST_OVER):
            out.append("Heat no longer slows it down under long load.")
        if after.kind is HeldBack.THERMAL and before.kind in (HeldBack.NONE, HeldBack.BOOST_OVER):
            out.append("Heat now slows it down under long load.")
        if clocks_changed(before, after):
            out.append(
                phrase("Under long load it keeps {mhz} MHz instead of {mhz2} MHz.", mhz=_mhz(after), mhz2=_mhz(before))
            )
    total = heat.total
    if total is not None and total.kind is ClaimKind.CHANGED:
        word = "cooler" if total.value_k > 0 else "warmer"
        out.append(
            phrase("At the same power the chip is {value_k:.0f} K {word}.", value_k=abs(total.value_k), word=word)
        )
    return tuple(out)


def clocks_changed(before: ThrottleFinding, after: ThrottleFinding) -> bool:
    """Whether the sustained clock moved by more than logs of one machine do."""
    first, then = before.sustained_clock_mhz, after.sustained_clock_mhz
    return bool(first and then and abs(then / first - 1.0) > CLOCK_CHANGED)


def sustained_words(heat: HeatVerdict) -> str:
    """`sustained clock 2762, then 3319 MHz, 20 % more`; empty where a clock was not logged."""
    clocks = sustained_clocks(heat)
    return phrase("sustained clock {clocks}", clocks=clocks) if clocks else ""


def sustained_clocks(heat: HeatVerdict) -> str:
    """`2762, then 3319 MHz, 20 % more`; empty where a clock was not logged."""
    if heat.throttles is None:
        return ""
    before, after = heat.throttles
    if not before.sustained_clock_mhz or not after.sustained_clock_mhz:
        return ""
    change = after.sustained_clock_mhz / before.sustained_clock_mhz - 1.0
    word = "about the same" if not clocks_changed(before, after) else (
        phrase("{change} {which}", change=percent(abs(change)), which='more' if change > 0 else 'less'))  # fmt: skip
    return phrase("{mhz}, then {mhz2} MHz, {word}", mhz=_mhz(before), mhz2=_mhz(after), word=word)


def _mhz(found: ThrottleFinding) -> str:
    return phrase("{sustained_clock_mhz:.0f}", sustained_clock_mhz=found.sustained_clock_mhz or 0.0)
