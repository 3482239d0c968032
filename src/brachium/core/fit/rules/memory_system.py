"""Memory rules of system and chipset: MEM-OS, MEM-REMAP."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.units import GIB, gib
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine
from brachium.core.fit.assumptions import DEVICE_WINDOW
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.rules.memory import all_modules
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.memory_part import MemoryGeneration

BITS = Gap("platform.system.bits", "system's word size", (32, 64), "look at the system's own information page", 1,
           "bit")  # fmt: skip
EXTENSION = Gap("platform.system.extension", "address extension of the 32-bit system", (True, False),
                "ask the system how much memory it may use", 3)  # fmt: skip
REMAP = Gap("memory.remaps", "chipset's memory remapping", (True, False), "look into the firmware set-up", 4)
SMALL = 3 * GIB  # up to here no window and no word size matters


def system_ceiling(ground: FitGround, subject: Subject) -> Verdict:
    size = ground.config.memory_bytes()
    system, planned = ground.machine.platform.system, ground.around.system
    says_small = "Every system uses this much."
    if size <= SMALL:
        return Answers("MEM-OS", subject, says_small).fits(phrase("{size}, any system uses it", size=gib(size)))
    bits = planned.bits if planned is not None else ground.need(system.bits or _told(ground), BITS)
    ceiling = planned.ceiling_bytes if planned is not None else system.ceiling_bytes
    if bits == 32 and planned is None:
        extended = ground.need(system.extension, EXTENSION)
        ceiling = min(ceiling or 64 * GIB, 64 * GIB) if extended else int(DEVICE_WINDOW * GIB)
    share = ground.machine.memory.graphics_share_bytes
    facts = (
        Fact("planned total", gib(size), Origin.PLANNED),
        on_machine(ground, "system", f"{bits}-bit", "platform.system.bits"),
        on_machine(ground, "system's ceiling", gib(ceiling) if ceiling else "none known", "platform.system.ceiling"),
        on_machine(ground, "graphics reserve", gib(share) if share else None, "memory.graphics_share_bytes"),
    )
    text = (
        "A 32-bit system without address extension uses 3 to 3.5 GiB, with it as far as its edition allows, one "
        "process still under 4 GiB; editions have ceilings; integrated graphics reserve a share."
    )
    says = Answers("MEM-OS", subject, text, facts)
    if ceiling is not None and size > ceiling:
        change = "A 64-bit system." if bits == 32 else "Another edition of the system."
        return says.limited(
            phrase("the system uses {ceiling} of {size}", ceiling=gib(ceiling, 1), size=gib(size)),
            gib(ceiling, 1),
            change,
        )
    return says.fits(phrase("the {bits}-bit system uses all of it", bits=bits))


def _told(ground: FitGround) -> int | None:
    """The word size where the system's recorded name states it."""
    name = ground.machine.identity.system
    return 64 if "64-bit" in name else 32 if "32-bit" in name else None


def _old_chipsets(ground: FitGround) -> tuple[Subject, ...]:
    """Chipsets before the controller moved into the processor; all later ones remap."""
    old = any(s.generation is MemoryGeneration.DDR2 for s in ground.machine.slots)
    return all_modules(ground) if old else ()


def remap(ground: FitGround, subject: Subject) -> Verdict:
    size = ground.config.memory_bytes()
    text = "A chipset that cannot move memory above the device window hides what lies beneath it from any system."
    if size <= SMALL:
        return Answers("MEM-REMAP", subject, text).fits(phrase("{size} lies below the device window", size=gib(size)))
    moves = ground.need(ground.machine.memory.remaps, REMAP)
    facts = (
        Fact("planned total", gib(size), Origin.PLANNED),
        on_machine(ground, "chipset remaps", moves, "memory.remaps"),
    )
    says = Answers("MEM-REMAP", subject, text, facts)
    if not moves:
        hidden = phrase("about {device_window:g} GiB usable of {size}", device_window=DEVICE_WINDOW, size=gib(size))
        return says.limited(
            hidden, phrase("{device_window:g} GiB", device_window=DEVICE_WINDOW), "Nothing: the chipset cannot do it."
        )
    return says.fits("remapped above the device window")


MEMORY_SYSTEM_RULES: tuple[Rule, ...] = (
    Rule("MEM-OS", "What the system uses", all_modules, system_ceiling),
    Rule("MEM-REMAP", "Device window", _old_chipsets, remap),
)
