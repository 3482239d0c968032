"""Answers of a rule about one subject: the five verdicts with their reason filled in."""

from __future__ import annotations

from dataclasses import dataclass, replace

from brachium.core.base.text import joined, phrase
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.fit.engine import FitGround, Subject
from brachium.core.fit.verdict import Level, Verdict
from brachium.core.machine.parts import Part


@dataclass(frozen=True)
class Answers:
    """One rule about one subject, with why the rule exists and the numbers that went in."""

    rule: str
    subject: Subject
    text: str
    facts: tuple[Fact, ...] = ()

    def fits(self, sentence: str, result: str = "", open_: bool = False) -> Verdict:
        """`open_`: how well it does hangs on something that is not recorded."""
        return replace(self._say(Level.FITS, sentence, result, ""), open=open_)

    def limited(self, sentence: str, result: str, change: str) -> Verdict:
        return self._say(Level.LIMITED, sentence, result, change)

    def needs(self, precondition: str, change: str, sentence: str = "", after: tuple[str, ...] = ()) -> Verdict:
        """`after` are preconditions that must be met before this one."""
        words = sentence or phrase("needs first: {precondition}", precondition=precondition)
        because = Because(words, self.rule, self.text, self.facts, "needs first", change)
        places = self.subject.places
        return Verdict(self.rule, Level.NEEDS_FIRST, places, words, because, precondition, after=after)

    def refused(self, sentence: str, change: str) -> Verdict:
        return self._say(Level.REFUSED, sentence, "refused", change)

    def unknown(self, sentence: str, change: str) -> Verdict:
        """The evidence is too thin; a missing fact is the engine's to say."""
        return self._say(Level.NOT_KNOWN, sentence, "not known", change)

    def _say(self, level: Level, sentence: str, result: str, change: str) -> Verdict:
        because = Because(sentence, self.rule, self.text, self.facts, result, change)
        return Verdict(self.rule, level, self.subject.places, sentence, because)


def on_part(label: str, value: object, unit: str = "") -> Fact:
    """A fact of the part, from its label."""
    return Fact(label, _words(value, unit), Origin.LABEL)


def on_machine(ground: FitGround, label: str, value: object, key: str, unit: str = "") -> Fact:
    """A fact of the machine, with where it came from."""
    return Fact(label, _words(value, unit), ground.machine.origin(key))


def _words(value: object, unit: str) -> str:
    if value is None:
        return "not recorded"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        value = phrase("{value:g}", value=value)
    elif isinstance(value, tuple):
        value = joined(", ", (str(v) for v in value)) or "none"
    return phrase("{value} {unit}", value=value, unit=unit).rstrip()


def key_of(ground: FitGround, place: str, part: Part, attribute: str) -> str:
    """The key of a gap about a part: its place in the record where it sits there today, else the part's own."""
    return (
        f"parts.{place}.{attribute}"
        if ground.today.parts.get(place) == part
        else phrase("{attribute} of {part}", attribute=attribute, part=part.name)
    )


def either_side(threshold: float) -> tuple[float, ...]:
    """Values that stand for all that a number could have where only its side of a threshold matters."""
    return (0.5 * threshold, threshold, 2.0 * threshold)
