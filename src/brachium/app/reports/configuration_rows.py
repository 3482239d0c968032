"""Configurations between before and after, for the technician's report: what each brought against the one before."""

from __future__ import annotations

from collections.abc import Iterator

from brachium.app.view.job_view import JobView
from brachium.app.view.read_once import heat_once
from brachium.core.base.own_words import OwnWords
from brachium.core.heat.claims import ClaimKind
from brachium.core.measure.statistics import Word
from brachium.core.prove.comparison import Comparison
from brachium.core.prove.gain_words import gain_band
from brachium.core.prove.offered_causes import offered_causes
from brachium.core.prove.series import series_of
from brachium.report.content import Row


def configuration_rows(view: JobView) -> tuple[Row, ...]:
    """Empty where there are no more than two configurations. Heat fits of up to a second a pair, kept."""
    runs = view.measured.configurations
    if len(runs) < 3:
        return ()
    series = series_of(runs, view.job.machine.processor.limit_c, view.measured.known, True, True, heat_once)
    out = [Row(OwnWords(runs[0].configuration), "the first one", OwnWords(runs[0].taken_at))]
    for step in series.steps:
        rows = list(_claimed(step))
        out += rows or [Row(_name(step), "nothing that can be claimed")]
        out += [Row(_name(step), "", cause) for cause in offered_causes(step)]
    return tuple(out)


def _claimed(step: Comparison) -> Iterator[Row]:
    """What is claimed of one step: tests, then the heat path."""
    for gain in step.gains:
        if gain.result is not None and gain.judgement.word in (Word.BETTER, Word.WORSE):
            yield Row(_name(step), gain_band(gain.test, gain.result), gain.test.title)
    for name, claim in (("paste and mounting", step.heat.paste), ("fins, fan and vents", step.heat.airflow)):
        if claim is not None and claim.kind is ClaimKind.CHANGED:
            yield Row(_name(step), claim.text, name)


def _name(step: Comparison) -> OwnWords:
    return OwnWords(step.after.configuration)
