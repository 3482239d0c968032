"""Memory rules of size: MEM-SLOT, MEM-TOTAL. What runs in the machine today proves at least as much as it is."""

from __future__ import annotations

from brachium.core.base.text import Text, lower_first, phrase
from brachium.core.base.units import GIB, gib
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.evidence import claim_for, probability
from brachium.core.fit.rules.memory import all_modules, module_in, modules_of, stays
from brachium.core.fit.verdict import Gap, Verdict
from brachium.core.machine.memory_part import MemoryModule
from brachium.core.machine.memory_rates import working_modules

SIZES = tuple(n * GIB for n in (1, 2, 4, 8, 16, 32, 64, 128, 256))
PUBLISHED = Gap("memory.published_max_bytes", "published memory maximum", (*SIZES, 512 * GIB, 1024 * GIB, 2048 * GIB),
                "look into the machine's handbook", 5)  # fmt: skip
CONTROLLER = Gap("memory.controller_max_bytes", "controller's memory limit",
                 (*SIZES, 512 * GIB, 1024 * GIB, 2048 * GIB), "look up the processor's data sheet", 5)  # fmt: skip


def proven_module(ground: FitGround, like: MemoryModule) -> MemoryModule | None:
    """The largest module of that generation which runs on this board today."""
    if ground.before_board():
        return None
    found = [m for m in working_modules(ground.machine, ground.today).values() if m.generation is like.generation]
    return max(found, key=lambda m: m.size_bytes, default=None)


def slot_size(ground: FitGround, subject: Subject) -> Verdict:
    slot, module = module_in(ground, subject)
    gap = Gap(f"slots.{slot.id}.max_bytes", phrase("largest module for {slot}", slot=lower_first(slot.label)), SIZES,
              "look into the board's handbook", 5)  # fmt: skip
    text = "The largest module that the controller addresses in one slot."
    size = gib(module.size_bytes)
    facts = (on_part("module", size), on_machine(ground, phrase("{slot} takes up to", slot=slot.label),
             gib(slot.max_bytes) if slot.max_bytes else None, f"slots.{slot.id}"))  # fmt: skip
    says = Answers("MEM-SLOT", subject, text, facts)
    if slot.max_bytes is None:
        if stays(ground, subject):
            return says.fits("runs here today")
        proven = proven_module(ground, module)
        if proven is not None and module.size_bytes <= proven.size_bytes:
            return says.fits(Text("{size}, no larger than what runs here today", {"size": size}))
        published = ground.need(ground.machine.memory.published_max_bytes, PUBLISHED)
        each = published // max(len(ground.machine.slots), 1)
        if module.size_bytes <= each:
            return says.fits(Text("{size}, the published maximum gives each slot {each}",
                                      {"size": size, "each": gib(each)}))  # fmt: skip
        if ground.machine.memory.published_max_bytes is None:  # one fact at a time: that one settles more
            return says.unknown(Text("whether one slot takes {size}", {"size": size}), "The published maximum.")
    limit = ground.need(slot.max_bytes, gap)
    if module.size_bytes > limit:
        return says.refused(
            phrase("{size} is over its {limit}", size=size, limit=gib(limit)),
            phrase("A module of at most {limit}.", limit=gib(limit)),
        )
    return says.fits(phrase("{size} of at most {limit}", size=size, limit=gib(limit)))


def total(ground: FitGround, subject: Subject) -> Verdict:
    memory = ground.machine.memory
    size = sum(m.size_bytes for m in working_modules(ground.machine, ground.config).values())
    today = sum(m.size_bytes for m in working_modules(ground.machine, ground.today).values())
    facts = (
        Fact("planned total", gib(size), Origin.PLANNED),
        _limit(ground, "published maximum", memory.published_max_bytes, "memory.published_max_bytes"),
        _limit(ground, "controller's limit", memory.controller_max_bytes, "memory.controller_max_bytes"),
    )
    text = "A published maximum is often only what was tested; the controller's limit is what can be addressed."
    says = Answers("MEM-TOTAL", subject, text, facts)
    known = memory.controller_max_bytes
    if known is not None and size > known:
        return says.refused(
            phrase("{size} is over the controller's {known}", size=gib(size), known=gib(known)),
            phrase("At most {known} in all.", known=gib(known)),
        )
    if size <= today and not ground.before_board():
        return says.fits(Text("{size}, no more than runs here today", {"size": gib(size)}))
    published = ground.need(memory.published_max_bytes, PUBLISHED)
    if size <= published:
        return says.fits(phrase("{size} of at most {published}", size=gib(size), published=gib(published)))
    claim = claim_for(ground.around.claims, total_claim(size), ground.machine.identity.model)
    if probability(claim.sources) >= ground.around.threshold:
        return says.fits(
            phrase(
                "{size} is over the published {published}, but proven in this model",
                size=gib(size),
                published=gib(published),
            ),
            phrase("{count} sources", count=len(claim.sources)),
        )
    limit = ground.need(known, CONTROLLER)
    if size > limit:
        return says.refused(
            phrase("{size} is over the controller's {limit}", size=gib(size), limit=gib(limit)),
            phrase("At most {limit} in all.", limit=gib(limit)),
        )
    return says.unknown(phrase("{size} is over the published {published}", size=gib(size), published=gib(published)),
                        "A report of the same model running this much.")  # fmt: skip


def _limit(ground: FitGround, label: str, size: int | None, key: str) -> Fact:
    return on_machine(ground, label, gib(size) if size is not None else None, key)


def total_claim(size_bytes: int) -> str:
    """What evidence for a memory total is kept under."""
    return phrase("{size_bytes} in all", size_bytes=gib(size_bytes))


SIZE_RULES: tuple[Rule, ...] = (
    Rule("MEM-SLOT", "Largest module for a slot", modules_of, slot_size),
    Rule("MEM-TOTAL", "Memory in all", all_modules, total),
)
