"""Reports in other languages and currencies: every word, every figure, nothing that a person typed."""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import fields, is_dataclass, replace
from decimal import Decimal
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from brachium.app.bench.run_roles import AFTER, BEFORE
from brachium.app.demo.demo_shop import ARCHIVES
from brachium.app.reports.buyer_report import buyer_content
from brachium.app.reports.full_report import report_content
from brachium.app.reports.offer import offer_content
from brachium.app.reports.owner_report import DONE, PLAIN, owner_content
from brachium.app.view.job_view import JobView, compute_view
from brachium.app.view.measured import JobRuns
from brachium.core.base.own_words import OwnWords
from brachium.core.base.text import phrase
from brachium.core.base.units import ratio_band
from brachium.core.cause.kinds import KINDS as CAUSES
from brachium.core.condition.findings import KINDS as FINDINGS
from brachium.core.condition.trials import tests_for as trials_for
from brachium.core.condition.zones import ZONES
from brachium.core.figures.base.drawing import Drawing, Text
from brachium.core.machine.kinds import MachineKind
from brachium.core.measure.workloads import TESTS
from brachium.core.record.own_wording import LEFT_OUT, wording_problem
from brachium.core.work.doing.trouble import KINDS as TROUBLES
from brachium.demo.shop import demo_catalogue
from brachium.formats.job_archive import read_archive
from brachium.report import html
from brachium.report.speech import Speech
from brachium.speech.languages import languages

OTHERS = [code for code in languages() if code != "en"]
TEMPLATES = Path(html.__file__).parent / "templates"


def demo_views() -> list[JobView]:
    out = []
    for path in sorted(ARCHIVES.glob("*.zip")):
        archive = read_archive(path)
        runs = {r.role: r.run for r in archive.runs}
        out.append(compute_view(archive.job, JobRuns(runs.get(BEFORE), runs.get(AFTER)), demo_catalogue()))
    return out


def texts(value: object) -> list[str]:
    """Every text in a content, also those inside figures."""
    if isinstance(value, str):
        return [value]
    if isinstance(value, Drawing):
        return [i.text for i in value.items if isinstance(i, Text)]
    if isinstance(value, tuple):
        return [t for v in value for t in texts(v)]
    if is_dataclass(value) and not isinstance(value, type):
        return [t for f in fields(value) for t in texts(getattr(value, f.name))]
    return []


def figures(text: str, decimal: str) -> Counter[str]:
    return Counter(re.findall(r"\d+(?:\.\d+)?", text.replace(decimal, ".")))


@pytest.mark.parametrize("code", OTHERS)
def test_every_report_of_the_demo_shop_is_told_with_the_same_figures(code: str, finished_view: JobView) -> None:
    speech = Speech(languages()[code])
    for view in (finished_view, *demo_views()):
        contents = [owner_content(view, "d"), buyer_content(view, "d"), report_content(view, "d")]
        if view.choice.weighed is not None and (view.job.plan or view.choice.weighed.front.recommended.ids):
            contents.append(offer_content(view, "d"))  # type: ignore[arg-type]
        for content in contents:
            assert speech.untold(content) == (), (view.job.id, type(content).__name__)
            before, after = texts(content), texts(speech.content(content))
            assert len(before) == len(after)
            for old, new in zip(before, after, strict=True):
                dates = re.sub(r"\d{4}-\d\d-\d\d", "", old), re.sub(r"\d\d[./]\d\d[./]\d{4}", "", new)
                assert figures(dates[0], ".") == figures(dates[1], speech.language.decimal), (old, new)


@pytest.mark.parametrize("code", OTHERS)
def test_whatever_a_report_can_name_has_its_words(code: str) -> None:
    language = languages()[code]
    headings = {h for path in TEMPLATES.glob("*.j2") for h in re.findall(r'say\("([^"%]+)"\)', path.read_text())}
    assert len(headings) > 20
    named = [
        *headings, *DONE.values(), *PLAIN.values(), *(t.title for t in TESTS), *(f.title for f in FINDINGS),
        *(t.title for t in TROUBLES),
        *(t.title for kind in MachineKind for t in trials_for(kind)), *(k.value for k in MachineKind),
        *(z.title for zones in ZONES.values() for z in zones),
        *(f"{c.title[:1].lower()}{c.title[1:]}" for c in CAUSES),
    ]  # fmt: skip
    assert [t for t in named if language.told(t)[1] or (language.say(t) == t and t.islower() and " " in t)] == []


def test_what_was_typed_and_what_has_no_words_stay_as_they_are() -> None:
    german = Speech(languages()["de"])
    assert german.say(OwnWords("1.18")) == "1.18" and german.say("1.18 V") == "1,18 V"
    assert german.say(OwnWords("plays the jingle within 2 s")) == "plays the jingle within 2 s"
    assert german.told("the flux is askew by 3.5 K") == ("the flux is askew by 3.5 K", False)
    assert german.untold((OwnWords("so typed"), "so computed")) == ("so computed",)


@given(st.integers(0, 400), st.decimals(0, 300, places=2), st.decimals(0, 300, places=1))
def test_numbers_of_any_size_fill_the_places(percent: int, low: Decimal, high: Decimal) -> None:
    german, french = languages()["de"], languages()["fr"]
    sentence = phrase("Your work takes {total} of the time that it took before.", total=f"{percent} %")
    assert german.told(sentence) == (f"Ihre Arbeit braucht noch {percent} % der früheren Zeit.", ())
    band = ratio_band(float(low), float(high), float(high))
    assert french.say(band) == band.replace(" to ", " à ").replace(".", ",")


@given(st.decimals("0.01", 99_999, places=2), st.decimals("0.05", 20, places=3))
def test_amounts_are_converted_to_the_cent(amount: Decimal, rate: Decimal) -> None:
    speech = Speech(currency="GBP", rate=rate, rate_day="2026-11-20")
    said = speech.say(phrase("{text} in all", text=f"{amount} EUR"))
    told = Decimal(re.findall(r"(\d+(?:\.\d+)?) GBP", said)[0])
    assert abs(told - amount / rate) <= Decimal("0.005")
    footnote = speech.footnote((f"{amount} EUR",))
    assert f"{rate:f} EUR for 1 GBP" in footnote and "2026-11-20" in footnote
    assert speech.footnote(("nothing",)) == "" and Speech().footnote((f"{amount} EUR",)) == ""


def test_sentences_are_worded_by_hand_and_left_out(finished_view: JobView) -> None:
    content = owner_content(finished_view, "2026-11-25")
    wording = {content.headline: "Half the waiting: 51 %.", content.watch[0]: LEFT_OUT}
    said = Speech(wording=wording).content(content)
    assert said.headline == "Half the waiting: 51 %." and said.watch == content.watch[1:]
    german = Speech(languages()["de"], wording=wording)
    assert german.content(content).headline.startswith("Ihre Arbeit"), "a wording belongs to the text that it replaces"
    other = replace(content, headline=phrase("Your work takes {total} of the time that it took before.", total="60 %"))
    assert Speech(wording=wording).content(other).headline == other.headline, "other figures, the program's words"


@given(st.lists(st.integers(1, 99), min_size=1, max_size=4), st.integers(100, 999))
def test_no_wording_changes_a_figure(numbers: list[int], wrong: int) -> None:
    text = "from " + " to ".join(f"{n} %" for n in numbers)
    turned = "first " + " and ".join(f"{n} %" for n in reversed(numbers))
    assert wording_problem(text, turned, True) == ""
    assert "missing" in wording_problem(text, turned.replace(str(numbers[0]), "some"), True)
    assert f"{wrong} is not" in wording_problem(text, f"{turned}, {wrong}", True)
    assert "has to be said" in wording_problem(text, LEFT_OUT, True) and wording_problem(text, LEFT_OUT, False) == ""
