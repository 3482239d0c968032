"""One step for each kind of part that is fitted in one go: processor, cooler, cards, supply, board, and the rest."""

from __future__ import annotations

from collections.abc import Collection

from brachium.core.base.text import joined, phrase
from brachium.core.machine.cooling_parts import Pad, PadOn
from brachium.core.machine.machine import Machine
from brachium.core.plan.candidates import Candidate, Group
from brachium.core.work.hazards import Tag
from brachium.core.work.step import Mode, Motion, Step
from brachium.core.work.step_kinds.fitting import processor_words

# title, what to do, tools, what is done in it, attended minutes, what taking it back costs
_STEPS: dict[Group, tuple[str, str, str, tuple[Tag, ...], float, str]] = {
    Group.PROCESSOR: (
        "Change the processor",
        "", "", (Tag.INSIDE,), 8, "15 min and new paste"),
    Group.PADS: ("Lay the thermal pads", "Same thickness as before, films off both sides, none stretched.", "scissors",
                 (Tag.INSIDE,), 5, "10 min and new pads"),
    Group.COOLER: (
        "Fit the new cooler",
        "Mounting for this socket, back plate seated; set it down straight and tighten crosswise in two passes.", "PH2",
        (Tag.INSIDE, Tag.COOLER), 12, "20 min and new paste"),
    Group.CARD: (
        "Fit the card",
        "Latch open, press it home evenly, screw the bracket. Its own supply plugs, never the processor's.", "PH2",
        (Tag.INSIDE, Tag.COOLER), 6, "6 min"),
    Group.SUPPLY: (
        "Change the power supply",
        "Photograph the plugs. All of them out, four screws, the new one in; every plug to its keyed socket, none by "
        "force.", "PH2", (Tag.INSIDE, Tag.SUPPLY), 20, "20 min"),
    Group.BOARD: (
        "Change the main board", "", "PH2, tweezers",
        (Tag.INSIDE, Tag.COOLER, Tag.SHARP), 25, "45 min"),
    Group.ADAPTER: ("Try the new adapter", "Plugged in, recognised in the firmware, charging.", "", (), 2, "none"),
    Group.BATTERY: ("Fit the new battery", "The old one out by its screws; glued, by pulling its tabs flat and slowly, "
                    "never levered or heated. Plug and position as the old one, no screw forced; a swollen old one is "
                    "isolated and handed in.", "PH0 or PH1, plastic pick", (Tag.INSIDE, Tag.CELL, Tag.ADHESIVE), 6,
                    "6 min"),
    Group.RADIO: ("Fit the radio card", "In at a slant, screw, antenna plugs straight down until they click.", "PH1",
                  (Tag.INSIDE,), 5, "5 min"),
    Group.FAN: ("Fit the fan", "Arrow with the air, plug with its guide, no wire near the blades.", "PH2",
                (Tag.INSIDE,), 6,
                "6 min"),
}  # fmt: skip


SIMPLE = tuple(_STEPS)
_LIT = {Group.PADS: ("cooling",), Group.COOLER: ("cooling",)}
_MOTIONS = {Group.RADIO: Motion.SLANT, Group.SUPPLY: Motion.SLIDE, Group.ADAPTER: Motion.SLIDE}


_PADS_ON = {
    PadOn.MEMORY: ("Lay the pads on the memory", "Memory stays in its slot. Films off both sides; the pad reaches the "
                   "plate and gives, no chip is bent. The cooler stays on."),
    PadOn.DRIVE: ("Lay the pad on the drive", "On its controller, film off both sides, under its plate or the cover; "
                  "the label of the drive stays on. The cooler stays on."),
}  # fmt: skip


def board_words(groups: Collection[Group]) -> str:
    """What goes over from the old board to the new one; what is new has its own step."""
    goes = {Group.PROCESSOR: "processor", Group.COOLER: "cooler with its back plate", Group.MEMORY: "memory"}
    carried = [name for group, name in goes.items() if group not in groups]
    later = [name for group, name in goes.items() if group in groups]
    over = phrase("Carried over, none by force: {carried}.", carried=joined(", ", carried)) if carried else ""
    new = phrase("{later}: new, each in its own step.", later=joined(", ", later).capitalize()) if later else ""
    beside = "Photograph everything. The new board beside the old one, on something that does not charge."
    last = ("Count the standoffs of the case: one under every screw hole of this board, none where it has no hole. "
            "Firmware battery in.")  # fmt: skip
    return joined(" ", (words for words in (beside, over, new, last) if words))


def simple_step(
    machine: Machine, candidate: Candidate, groups: Collection[Group] = (), opened: bool = True
) -> Step:  # fmt: skip
    """The step that fits a candidate of one of these kinds; `groups` are those of the whole plan, `opened`: the machine
    is open for it."""
    title, detail, tools, tags, minutes, undo = _STEPS[candidate.group]
    if candidate.group is Group.PROCESSOR:
        title = "Put the new processor in" if Group.BOARD in groups else title
        detail = processor_words(machine, Group.BOARD in groups)
    if candidate.group is Group.BOARD:
        detail = board_words(groups)
    aside = next((a.part.pad_on for a in candidate.assignments if isinstance(a.part, Pad) and a.part.pad_on), None)
    if aside in _PADS_ON:
        title, detail = _PADS_ON[aside]
    mode = Mode.RUNNING if candidate.group is Group.ADAPTER else Mode.OPEN
    if candidate.group is Group.BATTERY and not opened:
        mode, tags = Mode.BENCH, (Tag.CELL, Tag.UNPLUG)
        detail = phrase("Shut down, adapter off; the old one out from outside, the new one in. {detail}", detail=detail)
    return Step(
        candidate.group.value, title, detail, tools, (), minutes, 0, None, undo, mode=mode, tags=frozenset(tags),
        places=_LIT.get(candidate.group, candidate.places), motion=_MOTIONS.get(candidate.group, Motion.IN),
    )  # fmt: skip
