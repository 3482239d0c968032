"""What can hold a machine back: the kinds of causes, how common each is, what is done about it.

`base` is the log-odds (natural) that a machine taken in for being slow or hot has this cause, before anything is known
of it: -3 is about one machine in twenty. `alike` names the group of causes that no listed check tells apart further;
naming any one of a group names the cause. The figures are the shop's starting assumptions, not measurements.
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class CauseKind:
    """One kind. `remedy` is what is done about it, `service` the plan's work or part that does it (may be empty)."""

    id: str
    title: str
    base: float
    remedy: str
    alike: str = ""
    at_risk: bool = False  # the owner's data may be lost: comes before anything that only costs time

    @property
    def group(self) -> str:
        return self.alike or self.id


KINDS: tuple[CauseKind, ...] = (
    CauseKind("place", "Its vents get no air where it stands", -3.2, "stand it free"),
    CauseKind("fins", "Fins and vents hold the air up", -2.6, "clean fan and fins"),
    CauseKind("fan", "The fan does not reach its speed", -3.6, "replace the fan"),
    CauseKind("paste", "Too little heat reaches the heatsink", -2.8, "new paste, mount it anew"),
    CauseKind("cooler", "The processor is beyond what its cooler was built for", -4.0, "a larger cooler, or accept it"),
    CauseKind("battery", "No good battery: it holds itself back", -3.2, "a battery"),
    CauseKind("adapter", "The adapter is too weak", -3.8, "an adapter of the right rating"),
    CauseKind("governor", "The power profile holds the clock down", -3.4, "another power profile"),
    CauseKind("channels", "A memory channel is empty", -2.6, "an equal module in the empty place"),
    CauseKind("memory", "Memory is too small for the task", -2.4, "more memory"),
    CauseKind("slow_memory", "Memory runs below its width or speed", -4.0, "equal modules in the right places"),
    CauseKind("bits", "A 32-bit system leaves memory unused", -4.2, "a 64-bit system"),
    CauseKind("bad_memory", "A memory module or its place is faulty", -3.8,
              "find it with the swap grid, then replace or leave it empty", at_risk=True),
    CauseKind("disk", "The disk's arm is too slow for the work", -2.4, "a solid-state drive"),
    CauseKind("dying", "The drive is dying", -3.6, "image it before anything else, then replace it", at_risk=True),
    CauseKind("cable", "The drive's cable or plug is bad", -3.8, "another cable, plugged anew", at_risk=True),
    CauseKind("link", "A link came up narrower or slower than it could", -3.8, "another port, or its setting"),
    CauseKind("full", "The system drive is nearly full", -3.2, "free a fifth of it"),
    CauseKind("graphics", "The graphics limits", -3.4, "faster graphics, or lower settings"),
    CauseKind("cap", "A frame cap hides what the machine could do", -3.8, "take the cap off before measuring"),
    CauseKind("background", "Other programs work beside", -3.0, "let them finish, or keep them from starting"),
)  # fmt: skip
BY_ID = {k.id: k for k in KINDS}
HEAT = ("place", "fins", "fan", "paste", "cooler")
POWER = ("battery", "adapter", "governor")
