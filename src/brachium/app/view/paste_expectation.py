"""What a fresh layer of paste is expected to bring on a machine, and what it brought: history against the fit."""

from __future__ import annotations

from dataclasses import dataclass
from math import isfinite

from brachium.app.view.job_view import JobView
from brachium.core.base.text import phrase
from brachium.core.heat.claims import ClaimKind
from brachium.core.learn.repastes import LEAST, Expectation, expectation
from brachium.core.machine.parts import Service
from brachium.core.record.work.repaste import Repaste
from brachium.core.work.paste import paste_amount


@dataclass(frozen=True)
class LayerFound:
    """Both in words; `measured` empty before there is a pair of runs that says it."""

    expected: str
    measured: str


def layer_found(view: JobView) -> LayerFound:
    """Expectation from the shop's own repastes by kind of machine; the measured fall with whether it lies inside."""
    job = view.job
    history = tuple(r for r in view.work.repastes if r.job_id != job.id)
    measured = repaste_of(view, "")
    watts = measured.at_w if measured is not None else load_watts(view)
    found = expectation(history, job.machine.kind, watts) if watts else None
    if found is not None:
        words = phrase("Expected from this shop's repastes: {found}.", found=found.words)
    elif watts is None:
        words = "Without a before-run with power nothing is predicted in kelvin."
    else:
        words = phrase(
            "Nothing is predicted yet: {count} of {least} repastes are on this shop's record.",
            count=len(history),
            least=LEAST,
        )
    if measured is None:
        return LayerFound(words, "")
    brought = phrase(
        "Measured: {change_k:.1f} ± {half_k:.1f} K at {at_w:.0f} W",
        change_k=measured.change_k,
        half_k=measured.half_k,
        at_w=measured.at_w,
    )
    return LayerFound(
        words,
        phrase(
            "{brought}{against}.{bound}",
            brought=brought,
            against=_against(found, measured.change_k),
            bound=_bound(view),
        ),
    )


def load_watts(view: JobView) -> float | None:
    """Power of the before-run's load [W]; None where none was logged."""
    base = view.causes.figures.base if view.causes.figures is not None else None
    return None if base is None else base.idle_w + base.dynamic_w


def _against(found: Expectation | None, change_k: float) -> str:
    if found is None:
        return ""
    if change_k < found.low_k:
        return ", less than 9 of 10 such repastes brought: look at the mounting"
    return ", more than expected" if change_k > found.high_k else ", as expected"


def _bound(view: JobView) -> str:
    """The measured step from chip to plate against the least that the fresh layer can have."""
    job = view.job
    area, layer = job.machine.platform.contacts.area_mm2, job.paste
    heat = view.proof.comparison.heat if view.proof.comparison is not None else None
    if not area or layer is None or not layer.conductivity or heat is None or heat.stairs is None:
        return ""
    least = paste_amount(area, layer.contact, conductivity=layer.conductivity).least_k_w or 0.0
    step = heat.stairs[1].chip_to_sink_k
    return phrase(
        " Of the {step:.1f} K from chip to plate the layer itself takes at least {least:.1f} K; die, plate "
        "and both boundaries take the rest.",
        step=step,
        least=least * heat.power_ref_w,
    )


def repaste_of(view: JobView, when: str) -> Repaste | None:
    """What the repaste of a job brought, where the pair of runs says it; None without one."""
    services = {s for c in view.choice.chosen() for s in c.services}
    heat = view.proof.comparison.heat if view.proof.comparison is not None else None
    claim = heat.paste if heat is not None else None
    if heat is None or claim is None or Service.NEW_PASTE not in services:
        return None
    if claim.kind is ClaimKind.CANNOT_SEPARATE or not (isfinite(claim.value_k) and isfinite(heat.power_ref_w)):
        return None
    half = claim.half_width_k if isfinite(claim.half_width_k) else 0.0
    return Repaste(view.job.id, view.job.machine.kind, when, claim.value_k, half, heat.power_ref_w)
