"""Forty work plans of ten kinds of machine, as text: read line by line once, compared ever since."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from textwrap import wrap

from brachium.core.machine.kinds import MachineKind
from brachium.core.record.drive_records import Transfer, Way
from brachium.core.work.hazards import HAZARDS
from brachium.core.work.seen import NOTHING_SEEN, Seen
from brachium.core.work.step import Mode, Step
from brachium.core.work.step_kinds.proof import after_run_step
from brachium.core.work.steps import steps_for
from tests.support.every_plan import builds, task

FOLDER = Path(__file__).parent.parent / "data" / "plans"
K = MachineKind


@dataclass(frozen=True)
class Golden:
    """A plan: kind of machine, its build by name, tasks, what has to be done first, how the system moves."""

    kind: MachineKind
    build: str
    tasks: tuple[str, ...]
    needs: tuple[str, ...] = ()
    way: Way = Way.COPY
    failing: tuple[str, ...] = ()
    seen: Seen = NOTHING_SEEN

    @property
    def name(self) -> str:
        words = f"{self.kind.value} {self.build} {' '.join(self.tasks)}"
        return "-".join(words.lower().replace(",", "").split())


FIRMWARE, IMAGE, CELL = "firmware 2.0", "image of the failing drive", "new CMOS battery"
PAIR, ARRAY = "cache pair dissolved by its own tool", "array backed up, then dissolved by its own tool"
GOLDEN: tuple[Golden, ...] = (
    Golden(K.TOWER, "unsaid", ("memory",)),
    Golden(K.TOWER, "unsaid", ("drive",), (IMAGE,), failing=("bay-1",), seen=Seen({"bay-1": 240})),
    Golden(K.TOWER, "screws", ("processor", "cooler"), (FIRMWARE, CELL)),
    Golden(K.TOWER, "worst", ("board", "processor", "memory", "card")),
    Golden(K.SMALL_DESKTOP, "unsaid", ("drive", "memory"), way=Way.FRESH),
    Golden(K.SMALL_DESKTOP, "unsaid", ("clean",), seen=Seen(found=frozenset({"tar"}))),
    Golden(K.SMALL_DESKTOP, "worst", ("memory", "paste")),
    Golden(K.SMALL_DESKTOP, "screws", ("supply", "card", "drive", "clean"), (PAIR,)),
    Golden(K.MINI_PC, "unsaid", ("memory", "drive")),
    Golden(K.MINI_PC, "unsaid", ("clean", "paste")),
    Golden(K.MINI_PC, "board out", ("paste",)),
    Golden(K.MINI_PC, "screws", ("memory", "drive", "radio", "voltage")),
    Golden(K.ALL_IN_ONE, "unsaid", ("drive",)),
    Golden(K.ALL_IN_ONE, "worst", ("drive", "clean")),
    Golden(K.ALL_IN_ONE, "unsaid", ("memory", "paste")),
    Golden(K.ALL_IN_ONE, "board out", ("drive", "memory", "paste", "clean")),
    Golden(K.LAPTOP, "unsaid", ("memory",)),
    Golden(K.LAPTOP, "battery outside", ("drive", "paste", "clean", "memory")),
    Golden(K.LAPTOP, "worst", ("battery",)),
    Golden(K.LAPTOP, "board out", ("clean", "paste")),
    Golden(K.TABLET, "unsaid", ("battery",)),
    Golden(K.TABLET, "worst", ("battery", "paste")),
    Golden(K.TABLET, "screws", ("drive",)),
    Golden(K.TABLET, "unsaid", ("drive", "battery", "clean", "paste")),
    Golden(K.HANDHELD, "unsaid", ("drive",), way=Way.FRESH),
    Golden(K.HANDHELD, "screws", ("paste", "clean")),
    Golden(K.HANDHELD, "unsaid", ("adapter",)),
    Golden(K.HANDHELD, "worst", ("drive", "battery", "paste", "voltage")),
    Golden(K.WORKSTATION, "unsaid", ("card", "supply")),
    Golden(K.WORKSTATION, "worst", ("memory", "processor"), (FIRMWARE,)),
    Golden(K.WORKSTATION, "screws", ("board",)),
    Golden(K.WORKSTATION, "unsaid", ("drive", "memory", "card", "supply"), (ARRAY,)),
    Golden(K.STORAGE_BOX, "unsaid", ("drive",), (ARRAY,)),
    Golden(K.STORAGE_BOX, "unsaid", ("fan", "clean")),
    Golden(K.STORAGE_BOX, "worst", ("memory",)),
    Golden(K.STORAGE_BOX, "screws", ("supply", "fan", "drive", "memory")),
    Golden(K.RETRO, "unsaid", ("card",)),
    Golden(K.RETRO, "unsaid", ("clean", "memory"), (CELL,)),
    Golden(K.RETRO, "screws", ("supply",)),
    Golden(K.RETRO, "worst", ("drive", "card", "memory", "clean"), (CELL,)),
)

# what is said in a step, and who is to be asked where practice varies
ASK: tuple[tuple[str, str], ...] = (
    ("a pea in the middle", "paste on a spreader: pea, cross, line or spread; the shop's own way is recorded with it"),
    ("cover the whole bare die", "paste on a bare die: spread or a dot; the maker of the paste"),
    ("blower", "cleaning: blower, hand pump, can or vacuum; the shop's own cautions"),
    ("Copy the system", "copy or a fresh installation: the owner"),
    ("Update to firmware", "update or leave it: the maker of the board, for the part that goes in"),
    ("Warm the edge", "how hot, and where the cell lies: the maker's service papers of the model"),
    ("glued edge is warmed", "how it is held: the maker's service papers of the model"),
    ("Change the power supply", "anything beyond plugs and four screws: licensed people"),
    ("Lower the processor's voltage", "whether at all: the owner"),
    ("licence is told", "the licence on another board: who sold it"),
    ("dissolve it", "the array: who set it up"),
    ("Take an image", "whether the data is worth a specialist before the first read: the owner"),
)


def plan_text(golden: Golden) -> str:
    """The plan as it is read: what is done in which state, minutes, words, tools, cautions by their ids."""
    machine = builds(golden.kind)[golden.build]
    chosen = tuple(task(machine, n) for n in golden.tasks)
    steps = steps_for(machine, chosen, golden.needs, Transfer(golden.way), None, golden.failing, golden.seen)
    whole = (*steps, after_run_step(()))
    said = " ".join(f"{s.title} {s.detail} {s.tools}" for s in whole)
    asked = [words for text, words in ASK if text in said]
    attended, away = sum(s.attended_min for s in whole), sum(s.unattended_min for s in whole)
    head = [
        f"{golden.kind.value}, build {golden.build}: {', '.join(golden.tasks)}",
        *([f"first: {'; '.join(golden.needs)}"] if golden.needs else []),
        f"{attended:g} min of hands, {away:g} min by itself",
        *(f"ask: {a}" for a in asked),
        "",
    ]
    return "\n".join([*head, *(line for k, s in enumerate(whole, 1) for line in _lines(k, s))]) + "\n"


def _lines(number: int, step: Step) -> list[str]:
    state = {Mode.OPEN: "open", Mode.RUNNING: "running", Mode.BENCH: "bench"}[step.mode]
    away = f" + {step.unattended_min:g}" if step.unattended_min else ""
    marks = " NO RETURN" if step.no_return else ""
    ids = [next(h.id for h in HAZARDS if h.words == c) for c in step.cautions]
    first = f"{number}. {step.title} [{state}, {step.attended_min:g}{away} min]{marks}"
    body = wrap(step.detail, 110, initial_indent="   ", subsequent_indent="   ")
    tail = [f"   get: {step.tools}"] if step.tools else []
    return [first, *body, *tail, *([f"   ! {', '.join(ids)}"] if ids else [])]
