"""The buyer's sheet: honest specification, tests passed, figures measured, known faults, what is in the box.

Nothing of the former owner: no name of the record, no wishes, notes, data or money.
"""

from __future__ import annotations

from datetime import date

import numpy as np

from brachium.app.view.finished_machine import as_finished
from brachium.app.view.job_view import JobView
from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import joined, lower_first, phrase, upper_first
from brachium.core.base.units import drive_size, gib, number, percent
from brachium.core.condition.findings import kind_of
from brachium.core.condition.trials import TrialOutcome, tests_for
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_rates import bandwidth_mb_s
from brachium.core.machine.part_words import part_title
from brachium.core.machine.parts import Drive, MemoryModule
from brachium.core.machine.power_parts import Adapter, Battery
from brachium.report.content import BuyerContent, Row


def buyer_content(view: JobView, today: str = "") -> BuyerContent:
    """Gather the buyer's sheet; the machine as it is after the work."""
    job = view.job
    done = {d.step_id for d in job.steps_done}
    finished = bool(view.work.steps) and all(s.id in done for s in view.work.steps)
    machine = job.machine
    if finished:
        machine = as_finished(view)
    identity = machine.identity
    titles = {t.id: t.title for t in tests_for(machine.kind)}
    passed = tuple(titles.get(t.id, t.id) for t in job.tried if t.outcome is TrialOutcome.WORKS)
    if finished and any(s.id == "memory-test" for s in view.work.steps):
        passed = (*passed, "Memory: one full pass after the work")
    return BuyerContent(
        joined(' ', (p for p in (identity.maker, identity.model) if p)) or machine.kind.value, machine.kind.value,
        today or date.today().isoformat(), specification(machine), passed, _measured(view), _faults(view, titles),
        _included(machine), job.remarks.get("buyer", ""),
    )  # fmt: skip


def specification(machine: Machine) -> tuple[Row, ...]:
    """What is in it; sizes as the system shows them."""
    config, identity = machine.configuration(), machine.identity
    rows = [Row("year", str(identity.year))] if identity.year else []
    rows += [_processor_row(machine), _memory_row(machine)]
    for place, drive in config.drives().items():
        size = phrase(
            "{size_bytes}, shown as {size_bytes2}",
            size_bytes=drive_size(drive.size_bytes),
            size_bytes2=gib(drive.size_bytes, 0),
        )
        rows.append(Row(lower_first(machine.place_label(place)), size, part_title(drive)))
    battery = next((p for p in config.parts.values() if isinstance(p, Battery)), None)
    if battery is not None and battery.full_wh and battery.design_wh:
        share = percent(battery.full_wh / battery.design_wh)
        rows.append(
            Row(
                "battery",
                phrase("{full_wh:.0f} Wh when full", full_wh=battery.full_wh),
                phrase("{share} of its design", share=share),
            )
        )
    rows += [Row("card", part_title(c)) for c in config.cards().values()]
    if identity.firmware:
        rows.append(Row("firmware", OwnWords(identity.firmware)))
    return tuple(rows)


def _processor_row(machine: Machine) -> Row:
    chip = machine.configuration().processor() or machine.processor
    counts = (
        phrase("{cores} cores", cores=chip.cores) if chip.cores else "",
        phrase("{threads} threads", threads=chip.threads) if chip.threads else "",
    )
    return Row(
        "processor", OwnWords(chip.name) if chip.name else "not recorded", joined(", ", (c for c in counts if c))
    )


def _memory_row(machine: Machine) -> Row:
    config = machine.configuration()
    modules = [p for p in config.parts.values() if isinstance(p, MemoryModule)]
    width = bandwidth_mb_s(machine, config)
    most = phrase("; {width:.1f} GB/s at most", width=width / 1000) if width else ""
    return Row("memory", gib(config.memory_bytes()), joined("; ", (part_title(m) for m in modules)) + most)


def _measured(view: JobView) -> tuple[Row, ...]:
    """Medians of the last run that counts, with its conditions."""
    run = view.measured.after or view.measured.before
    if run is None:
        return ()
    rows = [
        Row(
            t.title,
            phrase("{float} {unit}", float=number(float(np.median(np.concatenate(run.results(t.key))))), unit=t.unit),
        )
        for t in run.tests
        if run.results(t.key) and t.key != "own_task"
    ]
    room = run.conditions.room_c
    return (
        *rows,
        Row("measured", run.taken_at[:10], phrase("room {room:.0f} °C", room=room) if room is not None else ""),
    )


def _faults(view: JobView, titles: dict[str, str]) -> tuple[str, ...]:
    """Findings that stay, tests that failed, dead slots, limits of the machine."""
    job = view.job
    done = {c.group.value for c in view.choice.chosen()}
    stays = [f for f in job.findings if not (kind_of(f).id in ("dust", "lint", "felt") and "cleaning" in done)]
    out = [phrase("{title}, {severity}", title=kind_of(f).title, severity=f.severity.words) for f in stays]
    out += [
        phrase("{titles}: failed when it came in", titles=titles.get(t.id, t.id))
        for t in job.tried
        if t.outcome is TrialOutcome.FAILS
    ]
    out += [
        phrase("{titles}: missing when it came in", titles=titles.get(t.id, t.id))
        for t in job.tried
        if t.outcome is TrialOutcome.ABSENT
    ]
    out += [phrase("{place_label} is dead", place_label=job.machine.place_label(p)) for p in job.machine.bad_places]
    out += [upper_first(v.sentence) for v in view.choice.whole if v.level > 0 and v.gap is None]
    return tuple(dict.fromkeys(out))


def _included(machine: Machine) -> tuple[str, ...]:
    parts = machine.configuration().parts.values()
    out = [phrase("the {kind}", kind=machine.kind.value)]
    out += [part_title(p) for p in parts if isinstance(p, Adapter)]
    drives = [p for p in parts if isinstance(p, Drive)]
    if not drives:
        out.append("no drive")
    return tuple(out)
