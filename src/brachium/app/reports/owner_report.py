"""The owner's page: what was done, what it brought in plain words with three figures, what it cost, what to watch."""

from __future__ import annotations

from datetime import date

from brachium.app.view.figures import stair_of
from brachium.app.view.job_view import JobView
from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import joined, phrase, upper_first
from brachium.core.base.units import money, percent
from brachium.core.figures.base.drawing import Drawing
from brachium.core.figures.lists.attribution_list import attribution_list
from brachium.core.figures.lists.gain_ledger import gain_ledger
from brachium.core.measure.statistics import Word
from brachium.core.plan.candidates import Group
from brachium.core.prove.comparison import Comparison, Gain
from brachium.core.prove.gain_words import is_level, level_db, level_unit, level_word
from brachium.core.prove.heat_results import heat_results
from brachium.report.content import OwnerContent, Row

WIDTH, MOST_TESTS, MOST_LINES = 660.0, 4, 5
REACHED = {True: "reached", False: "not reached"}
PLAIN = {
    "start_up": "It starts", "own_task": "Your own task is done", "sustained": "Long work with all threads is done",
    "cpu_all": "Short work with all threads is done", "cpu_single": "Work with one thread is done",
    "mem_bandwidth": "Memory moves data", "drive_seq": "Large files are read", "drive_rand_q1": "Small files are read",
    "drive_rand_q32": "Many small files at once are read",
}  # fmt: skip
DONE = {
    Group.MEMORY: "more memory fitted", Group.DRIVE: "a faster drive fitted", Group.PASTE: "thermal paste renewed",
    Group.CLEANING: "fan and fins cleaned", Group.PROCESSOR: "another processor fitted",
    Group.COOLER: "another cooler fitted", Group.FAN: "a fan fitted", Group.CARD: "a card fitted",
    Group.SUPPLY: "the power supply changed", Group.BOARD: "the main board changed", Group.BATTERY: "a battery fitted",
    Group.ADAPTER: "an adapter supplied", Group.RADIO: "a radio card fitted", Group.PADS: "thermal pads renewed",
    Group.VOLTAGE: "the processor's voltage lowered",
}  # fmt: skip


def owner_content(view: JobView, today: str = "") -> OwnerContent:
    """Gather the owner's page."""
    job, comparison = view.job, view.proof.comparison
    identity = job.machine.identity
    done = tuple(dict.fromkeys(DONE[c.group] for c in view.choice.chosen())) or ("nothing was changed",)
    targets = tuple(
        Row(OwnWords(t.target.words), REACHED[t.met] if t.met is not None else t.words, t.figures)
        for t in view.proof.targets
    )
    return OwnerContent(
        job.name, joined(' ', (p for p in (identity.maker, identity.model) if p)), today or date.today().isoformat(),
        _headline(comparison, view), done, brought(comparison), targets, money(view.choice.cost.total), _watch(view),
        _cannot(view), _figures(view), job.remarks.get("owner", ""),
    )  # fmt: skip


def _headline(comparison: Comparison | None, view: JobView) -> str:
    if comparison is None or comparison.refusal:
        return "What the work brought was not measured in a way that could be compared."
    found = view.proof.attribution
    if found is not None and found.total > 1.02:
        return phrase("Your work takes {total} of the time that it took before.", total=percent(1.0 / found.total))
    return "We found no difference that can be claimed." if not brought(comparison) else "It works better than before."


def tellable(comparison: Comparison | None) -> tuple[Gain, ...]:
    """The tests that an owner is told of: better or worse for sure, the everyday ones first, four at most."""
    if comparison is None:
        return ()
    sure = {g.test.key: g for g in comparison.gains
            if g.result is not None and g.judgement.word in (Word.BETTER, Word.WORSE)}  # fmt: skip
    return tuple(sure[k] for k in (*PLAIN, *(k for k in sure if k not in PLAIN)) if k in sure)[:MOST_TESTS]


def brought(comparison: Comparison | None) -> tuple[str, ...]:
    """What is better or worse, in plain words, what heat work brought first; what cannot be told is left out."""
    heat = heat_results(comparison.heat) if comparison is not None and not comparison.refusal else ()
    return (*heat, *(_plain(gain) for gain in tellable(comparison)))[:MOST_LINES]


def _plain(gain: Gain) -> str:
    ratio = gain.result.ratio if gain.result is not None else 1.0
    what = PLAIN.get(gain.test.key, gain.test.title)
    if is_level(gain.test):
        by = level_db(ratio)
        return phrase(
            "{what}: {by:.0f} {level_unit} {level_word} than before.",
            what=what,
            by=abs(by),
            level_unit=level_unit(gain.test),
            level_word=level_word(gain.test, by),
        )
    if gain.test.key not in PLAIN:
        return phrase(
            "{what}: {ratio} {which} than before.",
            what=what,
            ratio=percent(abs(ratio - 1)),
            which="better" if ratio > 1 else "worse",
        )
    if ratio >= 2:
        times = (
            "more than a hundred"
            if ratio > 100
            else phrase("{ratio:.0f}", ratio=ratio)
            if ratio >= 10
            else phrase("{ratio:.1f}", ratio=ratio)
        )
        return phrase("{what} {times} times as fast.", what=what, times=times)
    return phrase(
        "{what} {ratio} {which} than before.",
        what=what,
        ratio=percent(abs(ratio - 1)),
        which="faster" if ratio > 1 else "slower",
    )


def _watch(view: JobView) -> tuple[str, ...]:
    out = []
    services = {s for c in view.choice.chosen() for s in c.services}
    if services:
        out.append("Keep the vents free; have fan and fins checked in a year or two.")
    drive = any(c.group is Group.DRIVE for c in view.choice.chosen())
    if drive and not view.job.erasures:
        out.append("Your old drive still holds your data: keep it safe, or let us erase it with a record.")
    if drive:
        out.append("A new drive does not replace a backup.")
    return tuple(out)


def _cannot(view: JobView) -> tuple[str, ...]:
    """What the machine cannot do, or what nobody knows."""
    out = [
        phrase("{target}: not reached ({figures}).", target=t.target.words, figures=t.figures)
        for t in view.proof.targets
        if t.met is False
    ]
    out += [
        phrase("{target}: {words}.", target=t.target.words, words=t.words) for t in view.proof.targets if t.met is None
    ]
    out += [phrase("{sentence}.", sentence=upper_first(v.sentence)) for v in view.choice.whole if v.level > 0]
    return tuple(dict.fromkeys(out))[:4]


def _figures(view: JobView) -> tuple[tuple[str, Drawing], ...]:
    comparison = view.proof.comparison
    if comparison is None or comparison.refusal:
        return ()
    out: list[tuple[str, Drawing]] = []
    if tellable(comparison):
        out.append(("What changed", gain_ledger(tellable(comparison), WIDTH)))
    if view.proof.attribution is not None and view.proof.attribution.parts:
        out.append(("What each change brought", attribution_list(view.proof.attribution, WIDTH)))
    stair = stair_of(comparison, 380.0, 150.0)
    if stair is not None:
        out.append(("Temperature drops, before and after", stair))
    return tuple(out)
