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
    needs: str = ""  # what a machine has to have for it, as checks.needs_met names it

    @property
    def group(self) -> str:
        return self.alike or self.id


KINDS: tuple[CauseKind, ...] = (
    CauseKind("place", "Its vents get no air where it stands", -3.2, "stand it free"),
    CauseKind("fins", "Fins and vents hold the air up", -2.6, "clean fan and fins"),
    CauseKind("fan", "The fan does not reach its speed", -3.6, "replace the fan"),
    CauseKind("paste", "Too little heat reaches the heatsink", -2.8, "new paste, mount it anew"),
    CauseKind("pipe", "The heat pipe no longer carries", -4.0, "another heatsink with its pipe"),
    CauseKind("cooler", "The processor is beyond what its cooler was built for", -4.0, "a larger cooler, or accept it"),
    CauseKind("battery", "No good battery: it holds itself back", -3.2, "a battery", needs="battery"),
    CauseKind("adapter", "The adapter is too weak", -3.8, "an adapter of the right rating", needs="adapter"),
    CauseKind("governor", "The power profile holds the clock down", -3.4, "another power profile"),
    CauseKind("boost_off", "Boost is switched off", -4.0, "switch it on, in firmware and system"),
    CauseKind("external", "A signal from outside holds it down, or a sensor is wrong", -4.1,
              "take away what signals, or the sensor at fault"),
    CauseKind("regulators", "Voltage stage or graphics chip run hot", -4.4, "pads and air on them"),
    CauseKind("slow_chip", "The processor is too slow for the use", -3.8, "a faster processor, or another machine"),
    CauseKind("channels", "A memory channel is empty", -2.6, "an equal module in the empty slot"),
    CauseKind("memory", "Memory is too small for the task", -2.4, "more memory"),
    CauseKind("slow_memory", "Memory runs below its width or speed", -4.0, "equal modules in the right slots"),
    CauseKind("bits", "A 32-bit system leaves memory unused", -4.2, "a 64-bit system"),
    CauseKind("bad_memory", "A memory module or its slot is faulty", -3.8,
              "find it with the swap grid, then replace or leave it empty", at_risk=True),
    CauseKind("disk", "The hard disk is too slow for the work", -2.4, "a solid-state drive"),
    CauseKind("dying", "The drive is dying", -3.6, "image it before anything else, then replace it", at_risk=True),
    CauseKind("cable", "The drive's cable or plug is bad", -3.8, "another cable, plugged anew", at_risk=True),
    CauseKind("worn", "The solid-state drive is worn, full of slow cells or never trimmed", -4.0,
              "trim it; replace it where that does not help", needs="flash"),
    CauseKind("hot_drive", "The drive's controller gets hot and slows down", -4.2, "a pad, a heatsink or air on it",
              needs="flash"),
    CauseKind("shingled", "The disk writes in shingles", -4.2, "a disk without them, or a solid-state drive",
              needs="disk"),
    CauseKind("drive_mode", "The controller runs drives in a compatible mode", -4.4,
              "the mode of its own, system prepared first"),
    CauseKind("link", "A link came up narrower or slower than it could", -3.8, "another port, or its setting"),
    CauseKind("full", "The system drive is nearly full", -3.2, "free a fifth of it"),
    CauseKind("graphics", "The graphics limits", -3.4, "faster graphics, or lower settings"),
    CauseKind("gpu_driver", "The graphics driver is missing or old", -3.8, "the chip's own driver"),
    CauseKind("gpu_memory", "Graphics memory is full", -4.0, "lower textures, or a card with more"),
    CauseKind("gpu_width", "The graphics card runs on fewer lanes than it could", -4.2, "seat it anew, another slot",
              needs="card"),
    CauseKind("no_decode", "A video format or encryption works without hardware help", -4.2,
              "a program or format that the chip helps with"),
    CauseKind("network", "The network port is slower than the use", -4.2, "a faster port, cable or switch"),
    CauseKind("cap", "A frame cap hides what the machine could do", -3.8, "take the cap off before measuring"),
    CauseKind("background", "Other programs work beside", -3.0, "let them finish, or keep them from starting"),
    CauseKind("updates", "Updates or an index never come to an end", -3.8, "repair or reset what never ends"),
    CauseKind("start_setting", "A start setting of the firmware is wrong", -4.2,
              "boot order, boot mode, secure boot, date"),
    CauseKind("supply", "The supply gives way under load", -4.2, "a supply of the right rating", needs="supply"),
)  # fmt: skip
BY_ID = {k.id: k for k in KINDS}
HEAT = ("place", "fins", "fan", "paste", "pipe", "cooler")
POWER = ("battery", "adapter", "governor", "boost_off", "external", "regulators")
DRIVES = ("dying", "cable", "link", "full", "worn", "hot_drive", "shingled", "drive_mode")
GRAPHICS = ("graphics", "gpu_driver", "gpu_memory", "gpu_width")
BESIDE = ("background", "updates")
