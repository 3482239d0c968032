"""What the label of a memory module says, typed as it comes to hand.

The label is an open standard (JEDEC JESD21-C clause 4.20, module labels): size, ranks and chip width, generation and
voltage, bandwidth or rate, kind of module, latency, raw card. Spaces, case and parts may be lost; what the label leaves
open stays open, and words that mean nothing here are given back, never dropped.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field, fields

from brachium.core.label.memory_grades import (
    DDR3_CAS,
    LOW_VOLTS,
    RATES_MTS,
    VOLTS,
    bandwidth_mb_s,
    bin_of,
    bins_of,
    cas_of,
    rate_mts,
)
from brachium.core.label.words import LabelWords, Understood
from brachium.core.machine.memory_part import Buffering, MemoryForm, MemoryGeneration

FORM, GENERATION = MemoryForm, MemoryGeneration
LARGEST_MIB = 1 << 20  # 1 TiB: nothing of the kind is sold, so the figure is misread
KINDS: dict[str, tuple[MemoryForm, Buffering, bool]] = {
    "S": (FORM.SO_DIMM, Buffering.UNBUFFERED, False), "U": (FORM.DIMM, Buffering.UNBUFFERED, False),
    "E": (FORM.DIMM, Buffering.UNBUFFERED, True), "T": (FORM.SO_DIMM, Buffering.UNBUFFERED, True),
    "R": (FORM.DIMM, Buffering.REGISTERED, True), "P": (FORM.DIMM, Buffering.REGISTERED, True),
    "L": (FORM.DIMM, Buffering.LOAD_REDUCED, True), "F": (FORM.DIMM, Buffering.FULLY_BUFFERED, True),
}  # fmt: skip
COUNTS = {"two": 2, "three": 3, "four": 4, "six": 6, "eight": 8}
PART = (r"(?:\s?[-_]\s?(?:\d{1,5}|(?!CL?\d)[A-Z]{1,2}\d{0,2}|XT)"
        r"|\s(?:\d{1,3}|(?!CL?\d|X\d)[A-Z]{1,2}\d{1,2}|[SUERLTPF](?!o-?dimm)))")  # fmt: skip
GRADE = (r"\bPC\s*-?(?:(?P<gen>[2345])(?=\s?(?:LV|L|U|[-_ ])\s?[-_]?\s?\d{3}|\d{4}))?\s?(?P<low>LV|L|U)?\s?[-_]?\s?"
         rf"(?P<number>\d{{2,5}})(?P<rest>(?:\s?(?!so-?\s?dimm)[A-Z]{{0,2}}){PART}*)(?!\w|[.,/]\d)")  # fmt: skip


@dataclass(frozen=True)
class ModuleLabel:
    """Fields of a label; None = the label leaves it open. Size [MiB] of one module, rate [MT/s], CAS latency [clocks].

    `volts` is the lowest supply that the label names. `not_understood` holds words in the order in which they stand.
    """

    form: MemoryForm | None = None
    generation: MemoryGeneration | None = None
    size_mib: int | None = None
    ranks: int | None = None
    chip_width: int | None = None
    buffering: Buffering | None = None
    ecc: bool | None = None
    speed_mts: int | None = None
    volts: float | None = None
    cas: float | None = None
    access_ns: int | None = None
    count: int = 1
    not_understood: tuple[str, ...] = ()
    understood: Understood = field(default=(), compare=False)

    @property
    def left_open(self) -> tuple[str, ...]:
        """Names of the fields that the label does not say; an access time is of serial channels alone."""
        return tuple(f.name for f in fields(self) if getattr(self, f.name) is None and f.name != "access_ns")


def read_module_label(text: str) -> ModuleLabel:
    """Every field that a label states. Never raises; text that is no label at all comes back as not understood."""
    return _Reader(text).label()


class _Reader(LabelWords):
    """A module's label, one statement after the other."""

    def __init__(self, text: str) -> None:
        super().__init__(text)
        self.graded = False  # a grade as PC3-12800 was read, not a seller's words

    def label(self) -> ModuleLabel:
        for read in (self._ranks, self._size, self._grade, self._serial_channel, self._ddr, self._timings,
                     self._volts, lambda: self.take_words(_WORDS), self._bare_rate, self._loose_kind):  # fmt: skip
            read()
        self._usual_volts()
        return ModuleLabel(**self.said, not_understood=self.not_understood, understood=self.understood)  # type: ignore[arg-type]

    def _ranks(self) -> None:
        """`2Rx8`, `1 R x 16`, `4DRx4`, `2S2Rx4`: package ranks, then how they are stacked, then chip width [bits]."""
        stacked = r"(?:[DS]\d?)?"
        self.take(rf"(?<![\w.])([1248])\s*{stacked}R\s*[x*]\s*(4|8|16|32)(?!\d)",
                   lambda m: self.say(ranks=int(m[1]), chip_width=int(m[2])))  # fmt: skip
        self.take(r"(?<![\w])x(4|8|16|32)(?![\w])", lambda m: self.say(chip_width=int(m[1])))
        names = {"single": 1, "dual": 2, "double": 2, "quad": 4}
        self.take(r"\b(single|dual|double|quad)[- ]?rank(?:ed)?\b", lambda m: self.say(ranks=names[m[1].lower()]))

    def _size(self) -> None:
        """`4GB`, `512 MB`, `2x8GB`, `2x4`, `256MB/16`; MB and GB of memory are binary by custom."""

        def found(m: re.Match[str]) -> bool:
            mib = float(m["size"].replace(",", ".")) * (1 if (m["unit"] or "G")[0].upper() == "M" else 1024)
            if not 1 <= mib <= LARGEST_MIB or mib != int(mib):
                return False
            self.say(size_mib=int(mib), count=int(m["count"]) if m["count"] else None)
            return True

        self.take(r"(?<![\w.,-])(?P<total>\d{1,4})\s*G(?:i?B)?\b(?P<between>[^()]{0,40})"
                  r"\((?P<count>[1-9])\s*x\s*(?P<size>\d{1,3})\s*(?:G(?:i?B)?)?\)", self._total)  # fmt: skip
        unit = r"\s*(?P<unit>[GM](?:i?B|igs?)?)(?:/\d{1,2})?"
        self.take(rf"(?<![\w.,-])(?:(?P<count>[1-9])\s*x\s*)?(?P<size>\d{{1,6}}(?:[.,]\d+)?){unit}(?![\w])", found)
        if "size_mib" not in self.said:
            whole = r"(?<![\w.,-])(?P<count>[1-9])\s*x\s*(?P<size>\d{1,3})(?P<unit>)(?![\w.-])"
            self.take(whole, found)
        self.take(r"\bkit of ([2-8])\b", lambda m: self.say(count=int(m[1])))
        self.take(rf"(?<![\w.])([2-8]|{'|'.join(COUNTS)})\s+(?:sticks|modules)\s+of\b", self._count)
        self.take(rf"\b({'|'.join(COUNTS)})(?=\s+$|\s+(?:PC|DDR|sticks|modules|x?\d))", self._count)
        self.take(r"\bin ([2-8]) (?:sticks|modules)\b", self._shared_out)

    def _total(self, m: re.Match[str]) -> bool:
        """`16GB DDR4 (2x8GB)`: the whole and how it is divided; what stands between stays to be read."""
        count, size = int(m["count"]), int(m["size"])
        if count * size != int(m["total"]):
            return False
        self.say(size_mib=1024 * size, count=count)
        self.rest += f" {m['between']}"
        return True

    def _count(self, m: re.Match[str]) -> None:
        self.say(count=COUNTS.get(m[1].lower()) or int(m[1]))

    def _shared_out(self, m: re.Match[str]) -> bool:
        """`6gb in 3 sticks`: the size is that of all of them."""
        size, count = self.said.get("size_mib"), int(m[1])
        if not isinstance(size, int) or size % count or "count" in self.said:
            return False
        self.said["size_mib"] = size // count
        self.say(count=count)
        return True

    def _grade(self) -> None:
        """`PC3L-12800S-11-13-B4`, `PC4-2400T-SA1-11`, `PC2-6400S-666-12`, `PC2700U-25330`: by the rules of each."""

        def found(m: re.Match[str]) -> bool:
            digit, low, number = m["gen"], (m["low"] or "").upper(), int(m["number"])
            generation = GENERATION(f"DDR{digit}") if digit else _first_generation(number)
            mts = rate_mts(generation, number)
            if mts is None:
                return False
            self.say(generation=generation, speed_mts=mts)
            self.graded = True
            if low and generation is GENERATION.DDR3:
                self.say(volts=LOW_VOLTS[low])
            self._after_rate(generation, mts, m["rest"].upper())
            return True

        self.take(GRADE, found)

    def _after_rate(self, generation: MemoryGeneration, mts: int, rest: str) -> None:
        """The parts after the rate; parts that are none of the label's are put back into the text."""
        letters, parts = _split(rest)
        if generation in (GENERATION.DDR4, GENERATION.DDR5):
            unread = self._bins(generation, mts, letters, parts)
        else:
            unread = self._old_parts(generation, mts, letters, parts)
        self.rest += " " + " ".join(unread)

    def _bins(self, generation: MemoryGeneration, mts: int, letters: str, parts: list[str]) -> list[str]:
        """DDR4, DDR5: the bin stands at the rate, the kind opens the next part (`SA1`), revisions follow."""
        unread = []
        if letters in bins_of(generation, mts):
            self.say(cas=cas_of(generation, mts, letters))
        elif letters in KINDS:
            self._kind(letters)
        elif letters:
            unread.append(letters)
        for k, part in enumerate(parts):
            card = re.fullmatch(r"([SUERLT])([A-Z][0-9X]?)?", part)
            if card is not None and "form" not in self.said and k < 2:
                self._kind(card[1])
            elif not re.fullmatch(r"\d{2}|\d{4}|XT|[A-Z][0-9X]", part):
                unread.append(part)
        return unread

    def _old_parts(self, generation: MemoryGeneration, mts: int, letters: str, parts: list[str]) -> list[str]:
        """Up to DDR3: the kind stands at the rate; latency, revision of the data, raw card follow."""
        unread = [] if letters in KINDS or not letters else [letters]
        if letters in KINDS:
            self._kind(letters)
        for k, part in enumerate(parts):
            if k == 0 and part in KINDS and "form" not in self.said:
                self._kind(part)
            elif part.isdigit():
                cas = _latency(generation, mts, part) if "cas" not in self.said else None
                self.say(cas=cas)
                if cas is None and len(part) > (3 if generation is GENERATION.SDR else 2):
                    unread.append(part)
        return unread

    def _kind(self, letter: str) -> None:
        form, buffering, ecc = KINDS[letter]
        self.say(form=form, buffering=buffering, ecc=ecc)

    def _serial_channel(self) -> None:
        """`800-40`: rate and access time [ns] of a serial channel."""
        self.take(r"(?<![\w-])(600|700|800|1066)-(\d\d)(?:ns)?(?![\w-])",
                   lambda m: self.say(generation=GENERATION.RDRAM, form=FORM.RIMM, speed_mts=int(m[1]),
                                     access_ns=int(m[2])))  # fmt: skip
        if self.said.get("generation") is GENERATION.RDRAM:
            self.say(form=FORM.RIMM)

    def _ddr(self) -> None:
        """`DDR3L-1600`, `ddr4 2400`, `DDR 400`."""

        def found(m: re.Match[str]) -> bool:
            generation = GENERATION(f"DDR{m['gen'] or ''}")
            self.say(generation=generation)
            if (m["low"] or "").upper() == "L" and generation is GENERATION.DDR3:
                self.say(volts=LOW_VOLTS["L"])
            if m["number"]:
                mts = rate_mts(generation, int(m["number"]))
                letters = (m["bin"] or "").upper()
                if mts is None or (letters and letters not in bins_of(generation, mts)):
                    self.rest += f" {m['number']}{letters}"
                    return True
                self.say(speed_mts=mts, cas=cas_of(generation, mts, letters))
            return True

        self.take(r"(?<!LP)\bDDR\s?-?(?:(?P<gen>[2345])(?!\d))?\s?(?P<low>L(?![A-Z]))?"
                   r"(?:[- ]?(?P<number>\d{3,5})(?:\s*(?:MHz|MT/?s)|(?P<bin>[A-Z]{1,2}))?)?(?!\w)", found)  # fmt: skip
        self.take(r"\bLPDDR(?P<gen>[2345])X?(?:[- ](?P<number>\d{4}))?(?!\w)",
                   lambda m: self.say(generation=GENERATION(f"LPDDR{m['gen']}"), form=FORM.SOLDERED,
                                       speed_mts=int(m["number"]) if m["number"] else None))  # fmt: skip
        self.take(r"\b(?:SDR|SDRAM)\b", lambda _: self.say(generation=GENERATION.SDR))
        self.take(r"\bR(?:D|-?D)RAM\b", lambda _: self.say(generation=GENERATION.RDRAM, form=FORM.RIMM))

    def _timings(self) -> None:
        """`CL11`, `9-9-9-24`."""
        self.take(r"\bCL?\s?=?\s?(\d{1,2})(?:[.,](\d))?(?![\w])", lambda m: self.say(cas=_clocks(m[1], m[2])))
        self.take(r"(?<![\w-])(\d{1,2})(?:[.,](5))?-\d{1,2}-\d{1,2}(?:-\d{1,2})?(?![\w-])",
                   lambda m: self.say(cas=_clocks(m[1], m[2])))  # fmt: skip

    def _volts(self) -> None:
        """`1.35V`, `1.5 V`, `1.35/1.5V`: the lowest stands."""
        figure = r"(1|2|3)[.,](\d{1,2})"
        self.take(rf"(?<![\w.,]){figure}\s*V?\s*/\s*{figure}\s*V\b",
                   lambda m: self.say(volts=min(float(f"{m[1]}.{m[2]}"), float(f"{m[3]}.{m[4]}"))))  # fmt: skip
        self.take(rf"(?<![\w.,]){figure}\s*V\b", lambda m: self.say(volts=float(f"{m[1]}.{m[2]}")))

    def _bare_rate(self) -> None:
        """A number that is a rate of the generation, or carries MHz or MT/s."""
        generation = self.said.get("generation")

        def found(m: re.Match[str]) -> bool:
            number = int(m[1])
            if isinstance(generation, MemoryGeneration):
                mts = rate_mts(generation, number)
                if mts is None or not (m[2] or mts in RATES_MTS[generation]):
                    return False
                self.say(speed_mts=mts)
            elif m[2] and 66 <= number <= 10_000:
                self.say(speed_mts=number)
            else:
                return False
            return True

        if "speed_mts" not in self.said:
            self.take(r"(?<![\w.,-])(\d{3,5})(\s*(?:MHz|MT/?s))?(?![\w.,-])", found)

    def _loose_kind(self) -> None:
        """A card part of its own (`SA1`, `UB1-11`) where the rate stands elsewhere."""
        if "form" not in self.said and self.said.get("generation") in (GENERATION.DDR4, GENERATION.DDR5):
            self.take(r"(?<![\w-])([SUERLT])[A-Z]\d(?:-\d{2,4})?(?![\w-])", lambda m: self._kind(m[1].upper()))

    def _usual_volts(self) -> None:
        """The one voltage of a generation; DDR3 came in two, and only a grade (PC3, PC3L) tells them apart."""
        generation = self.said.get("generation")
        if isinstance(generation, MemoryGeneration) and (generation is not GENERATION.DDR3 or self.graded):
            self.say(volts=VOLTS.get(generation))


_WORDS: tuple[tuple[str, dict[str, object]], ...] = (
    (r"LR-?DIMM|load[- ]?reduced(?:\s+DIMM)?",
     {"form": FORM.DIMM, "buffering": Buffering.LOAD_REDUCED, "ecc": True}),
    (r"FB-?DIMM|fully[- ]?buffered(?:\s+DIMM)?",
     {"form": FORM.DIMM, "buffering": Buffering.FULLY_BUFFERED, "ecc": True}),
    (r"R-?DIMM", {"form": FORM.DIMM, "buffering": Buffering.REGISTERED, "ecc": True}),
    (r"U-?DIMM", {"form": FORM.DIMM, "buffering": Buffering.UNBUFFERED}),
    (r"so-?\s?dimms?", {"form": FORM.SO_DIMM}),
    (r"dimms?", {"form": FORM.DIMM}),
    (r"soldered", {"form": FORM.SOLDERED}),
    (r"rimms?", {"form": FORM.RIMM, "generation": GENERATION.RDRAM}),
    (r"unbuffered|unbuff|un-buffered", {"buffering": Buffering.UNBUFFERED}),
    (r"registered|reg|buffered", {"buffering": Buffering.REGISTERED, "ecc": True}),
    (r"(?:non|no|without)[- ]?ecc", {"ecc": False}),
    (r"ecc", {"ecc": True}),
    (r"(?:144|200|204|260|262)[- ]?pins?", {"form": FORM.SO_DIMM}),
    (r"(?:168|184|240|288)[- ]?pins?", {"form": FORM.DIMM}),
    (r"memory|ram|sticks?|modules?", {}),
)  # fmt: skip


def _first_generation(number: int) -> MemoryGeneration:
    """PC100 is single data rate, PC800 a serial channel, PC2700 the first of double data rate."""
    return GENERATION.SDR if number <= 150 else GENERATION.RDRAM if number in (600, 700, 800, 1066) else GENERATION.DDR


def _split(rest: str) -> tuple[str, list[str]]:
    """(letters at the rate, the parts after it); a lone letter after a space belongs to the rate."""
    words = [w for w in re.split(r"[-_ ]+", rest.strip()) if w]
    if words and re.fullmatch(r"[A-Z]{1,2}", words[0]) and not rest.startswith(("-", "_")):
        return words[0], words[1:]
    return "", words


def _latency(generation: MemoryGeneration, mts: int, part: str) -> float | None:
    """CAS latency [clocks] in a part of figures: `666`, `11`, `25330` (in tenths); None for a revision."""
    if generation is GENERATION.DDR and len(part) in (4, 5):
        return _clocks(part[0], part[1])
    if len(part) == 3:
        return int(part[0])
    latency = generation is GENERATION.DDR3 and int(part) in DDR3_CAS.get(mts, ())
    return int(part) if latency or len(part) == 1 else None


def _clocks(whole: str, tenth: str | None) -> float:
    return int(whole) + int(tenth) / 10 if tenth and tenth != "0" else int(whole)


def print_module_label(label: ModuleLabel) -> str:
    """The label as the standard prints it; reading it gives the same fields. Kinds that have no letter are left out."""
    ranks = f"{label.ranks}Rx{label.chip_width}" if label.ranks and label.chip_width else ""
    letter = next((k for k, v in KINDS.items() if v == (label.form, label.buffering, label.ecc)), "")
    return " ".join(w for w in (_size_words(label), ranks, _grade_words(label, letter)) if w)


def _size_words(label: ModuleLabel) -> str:
    if label.size_mib is None:
        return ""
    size = f"{label.size_mib // 1024}GB" if label.size_mib % 1024 == 0 else f"{label.size_mib}MB"
    return f"{label.count}x{size}" if label.count > 1 else size


def _grade_words(label: ModuleLabel, letter: str) -> str:
    generation, mts = label.generation, label.speed_mts
    if generation is None or mts is None:
        return f"{generation or ''} {label.form or ''}".strip()
    number = generation.value.removeprefix("DDR")
    if generation in (GENERATION.DDR4, GENERATION.DDR5):
        return f"PC{number}-{mts}{bin_of(generation, mts, label.cas)}" + (f"-{letter}A0" if letter else "")
    low = "L" if generation is GENERATION.DDR3 and label.volts == LOW_VOLTS["L"] else ""
    head = f"PC{number}{low}-{bandwidth_mb_s(mts)}{letter}" if number else f"PC{bandwidth_mb_s(mts)}{letter}"
    return head + _latency_words(generation, label.cas)


def _latency_words(generation: MemoryGeneration, cas: float | None) -> str:
    if cas is None:
        return ""
    if generation is GENERATION.DDR:
        return f"-{round(cas * 10)}330"
    return f"-{cas:g}{cas:g}{cas:g}" if generation is GENERATION.DDR2 else f"-{cas:g}"
