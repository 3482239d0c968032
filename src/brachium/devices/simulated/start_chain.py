"""A machine that does not start: the chain from the socket to the system, one link of it broken.

Every link needs the ones before it; what a person sees follows from the first that fails, what a check answers from
what the machine does with something taken away or exchanged. Nothing here knows what the search for causes assumes.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from brachium.core.cause.start import symptoms as shown
from brachium.core.machine.kinds import MachineKind

# what is broken, by what may be exchanged or taken away to mend it
LINKS = (
    "mains", "dead_adapter", "charge", "flat_battery", "dead_supply", "button", "short", "board", "plug", "processor",
    "seat", "module", "card", "monitor", "screen", "settings", "device", "drive_lead", "dead_drive", "order", "loader",
    "driver", "cooling", "weak_supply",
)  # fmt: skip
PORTABLE_LINKS = ("dead_adapter", "flat_battery", "screen")
CABLED_LINKS = ("monitor", "dead_supply", "weak_supply", "button", "card", "short", "processor")


@dataclass(frozen=True)
class StartChain:
    """One broken link; `plug` names the plug that is loose, `variant` 0..1 settles what differs from one machine to
    the next."""

    broken: str
    portable: bool
    plug: str = ""
    variant: float = 0.5

    def symptom(self) -> str:
        """What a person sees when it is switched on."""
        v = self.variant
        if self.broken == "plug":
            return {"board": shown.NOTHING, "processor": shown.NO_PICTURE, "card": shown.BEEPS if v < 0.4 else
                    shown.NO_PICTURE, "drive": shown.FIRMWARE, "fan": shown.A_MOMENT}[self.plug]  # fmt: skip
        either = {
            "short": (0.6, shown.A_MOMENT, shown.NOTHING), "board": (0.55, shown.NOTHING, shown.NO_PICTURE),
            "dead_supply": (0.85, shown.NOTHING, shown.A_MOMENT), "charge": (0.7, shown.NOTHING, shown.NO_PICTURE),
            "flat_battery": (0.6, shown.NOTHING, shown.A_MOMENT), "seat": (0.5, shown.BEEPS, shown.NO_PICTURE),
            "module": (0.5, shown.BEEPS, shown.NO_PICTURE if v < 0.8 else shown.UNDER_LOAD),
            "card": (0.5, shown.NO_PICTURE, shown.BEEPS), "processor": (0.7, shown.NO_PICTURE, shown.A_MOMENT),
            "settings": (0.7, shown.FIRMWARE, shown.NO_PICTURE), "dead_drive": (0.65, shown.FIRMWARE, shown.LOADER),
            "device": (0.75, shown.FIRMWARE, shown.NO_PICTURE), "driver": (0.8, shown.LOADER, shown.UNDER_LOAD),
            "cooling": (0.8, shown.UNDER_LOAD, shown.A_MOMENT), "weak_supply": (0.8, shown.UNDER_LOAD, shown.A_MOMENT),
            "loader": (0.85, shown.LOADER, shown.FIRMWARE),
        }  # fmt: skip
        always = {
            "mains": shown.NOTHING, "dead_adapter": shown.NOTHING, "button": shown.NOTHING,
            "monitor": shown.NO_PICTURE, "screen": shown.NO_PICTURE, "drive_lead": shown.FIRMWARE,
            "order": shown.FIRMWARE,
        }  # fmt: skip
        if self.broken in always:
            return always[self.broken]
        share, often, else_ = either[self.broken]
        return often if v < share else else_


def make_chain(seed: int, broken: str | None = None) -> tuple[StartChain, MachineKind]:
    """The machine of a seed; `broken` None = drawn too."""
    rng = np.random.default_rng([3301, seed])
    portable = bool(rng.random() < 0.5)
    links = tuple(x for x in LINKS if x not in (CABLED_LINKS if portable else PORTABLE_LINKS))
    chosen = broken if broken is not None else str(rng.choice(links))
    if chosen in CABLED_LINKS or chosen in PORTABLE_LINKS:
        portable = chosen in PORTABLE_LINKS
    plug = str(rng.choice(("drive", "fan") if portable else ("board", "processor", "card", "drive", "fan")))
    chain = StartChain(chosen, portable, plug, float(rng.random()))
    return chain, MachineKind.LAPTOP if portable else MachineKind.TOWER


# what a check takes away or exchanges, so that a machine with this link broken starts
MENDS: dict[str, tuple[str, ...]] = {
    "start_hold": ("charge",), "start_outside": ("device",), "start_monitor": ("monitor", "screen"),
    "start_plugs": ("plug",), "start_button": ("button",), "start_reseat": ("seat",),
    "start_one_module": ("module", "seat"), "start_card": ("card",), "start_no_battery": ("flat_battery",),
    "start_minimum": ("card", "device", "module", "seat"), "start_other_supply": ("dead_supply", "weak_supply"),
    "start_defaults": ("settings", "order"), "start_repair": ("loader",), "start_least": ("driver",),
    "start_elsewhere": ("drive_lead",),
}  # fmt: skip
# what a look shows: the broken links that it shows
SHOWS: dict[str, tuple[str, ...]] = {
    "start_mains": ("mains",), "start_adapter": ("dead_adapter",), "start_socket": ("short",),
    "start_known": ("processor",), "start_cell": ("settings",), "start_from": ("order",),
    "start_read": ("dead_drive",), "start_warm": ("cooling",), "start_memory": ("module",),
}  # fmt: skip
MISJUDGED = 0.03  # share of looks and tries that a person judges wrongly
CODES = {"seat": 1, "module": 1, "card": 2, "board": 3, "processor": 3, "dead_supply": 4, "flat_battery": 4}
NO_STICK = ("seat", "module", "processor", "board", "short", "monitor", "screen", "card")


def answer_of(chain: StartChain, check: str, states: tuple[str, ...]) -> str:
    """What a check says of the machine: one of its states."""
    rng = np.random.default_rng([977, int(chain.variant * 1e9), sum(map(ord, check))])
    wrong = bool(rng.random() < MISJUDGED)
    if check == "start_symptom":
        return chain.symptom()
    if check == "start_code":
        heard = chain.symptom() == shown.BEEPS or rng.random() < 0.1
        return states[CODES.get(chain.broken, 0) if heard and not wrong else 0]
    return states[int(_second_answer(chain, check) != wrong)]


def _second_answer(chain: StartChain, check: str) -> bool:
    """Whether the second answer of a check is the true one."""
    if check == "start_listed":
        dead = chain.broken == "dead_drive" and chain.variant < 0.65
        return dead or chain.broken == "drive_lead" or (chain.broken == "plug" and chain.plug == "drive")
    if check == "start_stick":
        return not _stops_a_stick(chain)
    if check == "start_other_board":
        return chain.broken != "board"
    return chain.broken in MENDS.get(check, ()) or chain.broken in SHOWS.get(check, ())


def _stops_a_stick(chain: StartChain) -> bool:
    """Whether a live system from a stick stops as well."""
    far = chain.symptom() in (shown.FIRMWARE, shown.LOADER, shown.UNDER_LOAD)
    return not far or chain.broken in ("module", "weak_supply", "cooling", "device", "settings")
