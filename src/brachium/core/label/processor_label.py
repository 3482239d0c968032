"""What a person says of a processor: cores, threads, clocks, power, socket, limit temperature, graphics."""

from __future__ import annotations

import re
from dataclasses import dataclass, field, fields

from brachium.core.label.words import LabelWords, Understood

COUNTS = {"single": 1, "one": 1, "dual": 2, "two": 2, "triple": 3, "quad": 4, "four": 4, "six": 6, "hexa": 6,
          "eight": 8, "octa": 8}  # fmt: skip
CLOCK_MHZ = (1, 10_000)
POWER_W = (0.5, 500)
LIMIT_C = (50, 125)


@dataclass(frozen=True)
class ProcessorLabel:
    """Fields of a line; None = left open. Clocks [MHz], design and boost power [W], limit temperature [degC]."""

    name: str | None = None
    cores: int | None = None
    threads: int | None = None
    base_mhz: float | None = None
    boost_mhz: float | None = None
    power_w: float | None = None
    boost_power_w: float | None = None
    socket: str | None = None
    soldered: bool | None = None
    limit_c: float | None = None
    graphics: bool | None = None
    count: int = 1
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the line does not say; a soldered processor has no socket."""
        not_its = ("socket",) if self.soldered else ()
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None and f.name not in not_its)


def read_processor_label(text: str) -> ProcessorLabel:
    """`35w 2c4t socket pg-9`, `quad core 2.4-3.2 GHz 45 W soldered`, `cpu "K-400" 4 cores`. Never raises."""
    return _Reader(text).label()


class _Reader(LabelWords):
    """A processor's line, one statement after the other."""

    def label(self) -> ProcessorLabel:
        for read in (self._name, self._stated_limit, self._cores, self._clocks, self._power, self._socket, self._words):
            read()
        return ProcessorLabel(**self.said, not_understood=self.not_understood, understood=self.understood)  # type: ignore[arg-type]

    def _name(self) -> None:
        self.take(r"[\"“]([^\"“”]{2,40})[\"”]", lambda m: self.say(name=m[1].strip()))

    def _cores(self) -> None:
        self.take(r"\b(two|2)(?:\s*x)?\s+(?:processors|cpus)\b", lambda _: self.say(count=2))
        self._counts()

    def _counts(self) -> None:
        """`2c4t`, `2c/4t`, `4 cores, 8 threads`, `quad-core`."""
        self.take(r"(?<![\w.])(\d{1,3})\s*c(?:ores?)?\s*[/,+ ]?\s*(\d{1,3})\s*t(?:hreads?)?(?!\w)",
                  lambda m: self._counted(int(m[1]), int(m[2])))  # fmt: skip
        self.take(r"(?<![\w.])(\d{1,3})[- ]?(?:cores?|c)(?!\w)", lambda m: self._counted(int(m[1]), None))
        self.take(r"(?<![\w.])(\d{1,3})[- ]?(?:threads?|t)(?!\w)", lambda m: self._counted(None, int(m[1])))
        names = "|".join(COUNTS)
        self.take(rf"\b({names})[- ]?cores?\b", lambda m: self._counted(COUNTS[m[1].lower()], None))

    def _counted(self, cores: int | None, threads: int | None) -> bool:
        """Counts that can be: a core runs one to eight threads."""
        known = cores if cores is not None else self.said.get("cores")
        if 0 in (cores, threads) or (isinstance(known, int) and threads and not known <= threads <= 8 * known):
            return False
        self.say(cores=cores, threads=threads)
        return True

    def _clocks(self) -> None:
        """`2.4 GHz`, `2.4-3.2 GHz`, `boost 3.2 GHz`, `800 MHz`."""
        figure, unit = r"(\d{1,5}(?:[.,]\d{1,3})?)", r"\s*([GM])Hz\b"
        self.take(rf"\b(?:turbo|boost|up to|max)\s*{figure}{unit}", lambda m: self._clock("boost_mhz", m[1], m[2]))
        self.take(rf"(?<![\w.,]){figure}\s*(?:[GM]Hz)?\s*(?:-|/|to|\.\.)\s*{figure}{unit}",
                  lambda m: self._clock("base_mhz", m[1], m[3]) and self._clock("boost_mhz", m[2], m[3]))  # fmt: skip
        self.take(rf"(?<![\w.,]){figure}{unit}", lambda m: self._clock("base_mhz", m[1], m[2]))

    def _clock(self, name: str, figure: str, unit: str) -> bool:
        mhz = float(figure.replace(",", ".")) * (1000 if unit.upper() == "G" else 1)
        if not CLOCK_MHZ[0] <= mhz <= CLOCK_MHZ[1]:
            return False
        self.say(**{name: mhz})
        return True

    def _power(self) -> None:
        figure = r"(\d{1,3}(?:[.,]\d)?)\s*W(?:atts?)?\b"
        self.take(rf"\b(?:turbo|boost|up to|max)\s*{figure}", lambda m: self._watts("boost_power_w", m))
        self.take(rf"\b(?:tdp|design(?: power)?)?\s*(?<![\w.,]){figure}", lambda m: self._watts("power_w", m))

    def _watts(self, name: str, m: re.Match[str]) -> bool:
        if not POWER_W[0] <= _figure(m) <= POWER_W[1]:
            return False
        self.say(**{name: _figure(m)})
        return True

    def _socket(self) -> None:
        self.take(r"\bsocket(?:\s+|\s*[:=]\s*)([A-Z]{0,4}[- ]?\d{1,5}[A-Z]{0,2}|[A-Z]{1,4}(?:[-+]\d{0,4})?)(?![\w-])",
                  lambda m: self.say(socket=m[1].upper(), soldered=False))  # fmt: skip
        self.take(r"(?<![\w-])([A-Z]{1,4}[-+]?\d{1,5}[A-Z]{0,2})\s+socket\b",
                  lambda m: self.say(socket=m[1].upper(), soldered=False))  # fmt: skip
        self.take(r"\bsoldered\b|\bBGA\b", lambda _: self.say(soldered=True))
        self.take(r"\bsocketed\b", lambda _: self.say(soldered=False))

    def _stated_limit(self) -> None:
        """`limit 100C`, `95 °C`: before the cores, which carry a C too."""
        self.take(r"\b(?:limit|max|tj(?:[- ]?max)?)\s*(\d{2,3}(?:[.,]\d)?)\s*(?:°\s*C|C|degC)?\b", self._limit)
        self._bare_limit()

    def _bare_limit(self) -> None:
        self.take(r"(?<![\w.,])(\d{2,3}(?:[.,]\d)?)\s*(?:°\s*C|degC)\b", self._limit)

    def _limit(self, m: re.Match[str]) -> bool:
        if not LIMIT_C[0] <= _figure(m) <= LIMIT_C[1]:
            return False
        self.say(limit_c=_figure(m))
        return True

    def _words(self) -> None:
        self.take_words((
            (r"(?:no|without|w/o)\s+(?:i?gpu|(?:integrated\s+)?graphics)", {"graphics": False}),
            (r"(?:with\s+)?(?:igpu|integrated\s+(?:graphics|gpu))|with\s+graphics", {"graphics": True}),
            (r"cpus?|processors?|proc|tdp|chip", {}),
        ))  # fmt: skip


def _figure(match: re.Match[str]) -> float:
    return float(match[1].replace(",", "."))
