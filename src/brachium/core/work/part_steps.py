"""One step for each kind of part that is fitted in one go: processor, cooler, cards, supply, board, and the rest."""

from __future__ import annotations

from brachium.core.choose.catalogue import Candidate, Group
from brachium.core.work.step import CELL, EDGES, MAINS, STATIC, Gate, Step

BEFORE_COOLER = (Group.BATTERY, Group.ADAPTER, Group.SUPPLY, Group.BOARD)
UNDER_COOLER = (Group.PROCESSOR, Group.PADS, Group.COOLER)
AFTER_COOLER = (Group.CARD, Group.RADIO, Group.FAN)

# title, what to do, tools, cautions, attended minutes, what taking it back costs
_STEPS: dict[Group, tuple[str, str, str, tuple[str, ...], float, str]] = {
    Group.PROCESSOR: (
        "Change the processor",
        "Firmware first, with the old one still fitted. Open the lever, lift it straight up by its edges; the new one "
        "drops in by its own weight, corner mark to corner mark: never press. Touch neither pins nor lands.",
        "", (STATIC,), 8, "15 min and new paste"),
    Group.PADS: ("Lay the thermal pads", "Same thickness as before, films off both sides, none stretched.", "scissors",
                 (STATIC,), 5, "10 min and new pads"),
    Group.COOLER: (
        "Fit the new cooler",
        "Mounting for this socket, back plate seated; set it down straight and tighten crosswise in two passes.", "PH2",
        (STATIC, EDGES), 12, "20 min and new paste"),
    Group.CARD: (
        "Fit the card",
        "Latch open, press it home evenly, screw the bracket. Its own supply plugs, never the processor's.", "PH2",
        (STATIC, EDGES), 6, "6 min"),
    Group.SUPPLY: (
        "Change the power supply",
        "Photograph the plugs. All of them out, four screws, the new one in; every plug to its keyed place. No plug is "
        "re-wired, no supply is opened.", "PH2", (MAINS, EDGES), 20, "20 min"),
    Group.BOARD: (
        "Change the main board",
        "Photograph everything. Count the standoffs: one under every screw place, none where there is no hole. Front "
        "plugs by their names.", "PH2, tweezers", (STATIC, EDGES), 45, "45 min", ),
    Group.ADAPTER: ("Try the new adapter", "Plugged in, recognised in the firmware, charging.", "", (), 2, "none"),
    Group.BATTERY: ("Fit the new battery", "Plug first, no screw forced; a swollen old one is isolated and handed in.",
                    "PH1", (CELL,), 6, "6 min"),
    Group.RADIO: ("Fit the radio card", "In at a slant, screw, antenna plugs straight down until they click.", "PH1",
                  (STATIC,), 5, "5 min"),
    Group.FAN: ("Fit the fan", "Arrow with the air, plug with its guide, no wire near the blades.", "PH2", (STATIC,), 6,
                "6 min"),
}  # fmt: skip


def simple_step(candidate: Candidate) -> Step:
    """The step that fits a candidate of one of these kinds."""
    title, detail, tools, cautions, minutes, undo = _STEPS[candidate.group]
    outside = candidate.group in (Group.ADAPTER,)
    return Step(
        candidate.group.value, title, detail, tools, cautions, minutes, 0, None if outside else Gate.OPENED, undo
    )
