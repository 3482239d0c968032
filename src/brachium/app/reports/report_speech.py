"""How the reports of a job speak: in the shop's language and currency or its own, with its sentences worded by hand."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from typing import TYPE_CHECKING

from brachium.app.shop.kept import settings_of
from brachium.core.base.problems import ExpectedProblem
from brachium.core.base.text import joined, phrase
from brachium.core.base.units import OWN_CURRENCY
from brachium.core.record.job import Job
from brachium.report.speech import Speech
from brachium.speech.language import ENGLISH
from brachium.speech.languages import languages

if TYPE_CHECKING:
    from brachium.app.shop.reading import ShopReading
    from brachium.app.shop.workspace import Workspace


def speech_of(workspace: ShopReading, job: Job) -> Speech:
    """A language that does not ship, or a currency without a rate, counts as not set."""
    every, settings = languages(), settings_of(workspace)
    rates = settings.rates
    code = next((c for c in (job.report_language, settings.report_language) if c in every), ENGLISH)
    asked = (job.report_currency, settings.report_currency)
    currency = next((c for c in asked if c == OWN_CURRENCY or c in rates), OWN_CURRENCY)
    return Speech(every[code], currency, rates.get(currency, Decimal(1)), settings.rates_day, job.wording)


def not_as_asked(workspace: ShopReading, job: Job) -> str:
    """What of a job's own language and currency cannot be had here, in words; empty where all can."""
    out = []
    if job.report_language and job.report_language not in languages():
        out.append(
            phrase(
                "No words for the language “{report_language}” are here: the shop default is used.",
                report_language=job.report_language,
            )
        )
    if job.report_currency not in ("", OWN_CURRENCY, *settings_of(workspace).rates):
        out.append(
            phrase(
                "No rate is set for {report_currency}: amounts are in {currency}.",
                report_currency=job.report_currency,
                currency=speech_of(workspace, job).currency,
            )
        )
    return joined(" ", out)


def with_asked(workspace: Workspace, job: Job, language: str, currency: str) -> Speech:
    """As asked for by name; empty = as the job has it. Raises ExpectedProblem naming what there is."""
    every, rates = languages(), settings_of(workspace).rates
    if language and language not in every:
        raise ExpectedProblem(
            phrase("no language “{language}” ships", language=language),
            "--language",
            phrase("One of: {every}.", every=joined(", ", every)),
        )
    if currency and currency != OWN_CURRENCY and currency not in rates:
        there = joined(", ", (OWN_CURRENCY, *rates))
        raise ExpectedProblem(
            phrase("no rate is set for {currency}", currency=currency),
            "--currency",
            phrase("Set it in Settings; there is {there}.", there=there),
        )
    return speech_of(workspace, replace(job, report_language=language or job.report_language,
                                        report_currency=currency or job.report_currency))  # fmt: skip
