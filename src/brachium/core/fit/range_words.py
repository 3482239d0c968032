"""One verdict of many: what stays the same whatever a missing fact is, and the range of what does not.

No value that was only tried on is ever said as if it held: numbers that differ from outcome to outcome become a range
(`runs at 1066 to 1600 MT/s`), words that differ are left out, and the sentence says what it hangs on.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import replace

from brachium.core.base.text import Span, Text, joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.verdict import Gap, Level, Verdict

NUMBER = re.compile(r"(?<![A-WYZa-wyz0-9.])(\d+(?:\.\d+)?)( [TGM]i?B\b)?")
SIZES = {"": 1.0, " TB": 1e12, " GB": 1e9, " MB": 1e6, " TiB": 2.0**40, " GiB": 2.0**30, " MiB": 2.0**20}
WHATEVER = {
    Level.FITS: "fits whatever the {label} is",
    Level.LIMITED: "works, limited; how far hangs on the {label}, which is not recorded",
    Level.NEEDS_FIRST: "something is needed first; what, hangs on the {label}, which is not recorded",
    Level.REFUSED: "does not fit, whatever the {label} is",
}
NOT_RECORDED = "not recorded"


def one_of_many(outcomes: Sequence[Verdict], gaps: Sequence[Gap]) -> Verdict:
    """The verdict of outcomes of one level, which were got by trying every value of the gaps on."""
    first = outcomes[0]
    labels = joined(" and ", dict.fromkeys(g.label for g in gaps))
    sentence = _sentence([o.sentence for o in outcomes], first.level, labels)
    reasons = [o.because for o in outcomes]
    needs = {o.precondition for o in outcomes}
    because = Because(
        sentence,
        first.rule,
        first.because.text,
        _facts(reasons, gaps),
        range_of([b.result for b in reasons]) or "",
        first.because.would_change
        if len({b.would_change for b in reasons}) == 1
        else phrase("Recording the {labels}.", labels=labels),
        (
            *first.because.notes,
            phrase("Not recorded: the {labels}. The verdict is the same whatever it is.", labels=labels),
        ),
    )
    return replace(first, sentence=sentence, because=because, open=len({o.sentence for o in outcomes}) > 1,
                   precondition=first.precondition if len(needs) == 1 else sentence)  # fmt: skip


def range_of(sentences: Sequence[str]) -> str | None:
    """The sentences as one, numbers that differ as `least to most`; None where their words differ."""
    if len(set(sentences)) == 1:
        return sentences[0]
    texts = [s for s in sentences if isinstance(s, Text)]
    if len(texts) == len(sentences):
        return _one_text(texts)
    frames = {NUMBER.sub("{}", s.replace("{", "{{").replace("}", "}}")) for s in sentences}
    if len(frames) > 1:
        return None
    spans = [_span(c) for c in zip(*(NUMBER.findall(s) for s in sentences), strict=True)]
    return spans[0] if frames == {"{}"} else frames.pop().format(*spans)


def _one_text(texts: Sequence[Text]) -> str | None:
    """Sentences of one template as one, value by value."""
    first = max(texts, key=lambda t: t.number)
    if len({(t.template, t.case, *sorted(t.values)) for t in texts}) > 1:
        return None
    values: dict[str, object] = {}
    for name in first.values:
        found = [t.values[name] for t in texts]
        if len(set(found)) == 1:
            values[name] = found[0]
        elif all(isinstance(v, int | float) for v in found):
            values[name] = Span(min(found), max(found))  # type: ignore[type-var,arg-type]
        elif all(isinstance(v, str) for v in found):
            values[name] = range_of([str(v) for v in found])
        if values.get(name) is None:
            return None
    return Text(first.template, values, first.one, first.number, first.case)


def _span(numbers: Sequence[tuple[str, str]]) -> str:
    """The least and the most of numbers, each with its unit of size or none."""
    low, high = min(numbers, key=_size), max(numbers, key=_size)
    if low == high:
        return "".join(low)
    return (
        phrase("{low} to {high}{high2}", low=low[0], high=high[0], high2=high[1])
        if low[1] == high[1]
        else phrase("{low} to {high}", low=joined("", low), high=joined("", high))
    )


def _size(number: tuple[str, str]) -> float:
    return float(number[0]) * SIZES[number[1]]


def _sentence(sentences: Sequence[str], level: Level, labels: str) -> str:
    if len(set(sentences)) == 1:
        return sentences[0]
    whole = range_of(sentences)
    if whole is None:
        return Text(WHATEVER[level], {"label": labels})
    return Text("{range}, by the {label}, which is not recorded", {"range": whole, "label": labels})


def _facts(reasons: Sequence[Because], gaps: Sequence[Gap]) -> tuple[Fact, ...]:
    """What went into every outcome alike; what was tried stands as not recorded."""
    out = []
    for fact in reasons[0].facts:
        values = {f.value for b in reasons for f in b.facts if f.label == fact.label}
        if len(values) == 1 and all(fact.label in [f.label for f in b.facts] for b in reasons):
            out.append(fact)
    named = {f.label for f in out}
    return (*out, *(Fact(g.label, NOT_RECORDED, Origin.ASSUMED) for g in gaps if g.label not in named))
