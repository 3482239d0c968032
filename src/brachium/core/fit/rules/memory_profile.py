"""Memory rule MEM-PROFILE: a rate above the standard ones is reached only with the module's profile."""

from __future__ import annotations

from brachium.core.base.text import Text, phrase
from brachium.core.base.why import Fact, Origin
from brachium.core.fit.answers import Answers, on_machine, on_part
from brachium.core.fit.engine import FitGround, Rule, Subject
from brachium.core.fit.verdict import Verdict
from brachium.core.machine.memory_part import MemoryGeneration, MemoryModule
from brachium.core.machine.memory_rates import memory_speed_mts

STANDARD_MTS = {
    MemoryGeneration.DDR: 400, MemoryGeneration.DDR2: 1066, MemoryGeneration.DDR3: 2133, MemoryGeneration.DDR4: 3200,
    MemoryGeneration.DDR5: 8800,
}  # fmt: skip
"""Fastest standard rate of a generation [MT/s] (JEDEC JESD79, -2, -3F, -4D, -5C)."""


def standard_mts(module: MemoryModule) -> int | None:
    """Rate of a module without its profile [MT/s], at most; None where its rated one is a standard rate."""
    top, rated = STANDARD_MTS.get(module.generation), module.speed_mts
    own = module.standard_mts if module.standard_mts is not None else top
    return own if own is not None and rated is not None and rated > own else None


def _profiled(ground: FitGround) -> tuple[Subject, ...]:
    return tuple(
        s for s in ground.fresh(MemoryModule) if isinstance(s.part, MemoryModule) and standard_mts(s.part) is not None
    )  # fmt: skip


def profile(ground: FitGround, subject: Subject) -> Verdict:
    module = subject.part
    assert isinstance(module, MemoryModule)
    standard, runs = standard_mts(module) or 0, memory_speed_mts(ground.machine, ground.config)
    takes = ground.machine.memory.takes_profiles
    facts = (on_part("rated", module.speed_mts, "MT/s"), on_part("without a profile, at most", standard, "MT/s"),
             Fact("all modules can run at", phrase("{runs} MT/s", runs=runs) if runs else "not known", Origin.COMPUTED),
             on_machine(ground, "firmware sets profiles", takes, "memory.takes_profiles"))  # fmt: skip
    text = "Above the standard rates of its generation a module runs only with the profile that it carries."
    says = Answers("MEM-PROFILE", subject, text, facts)
    if runs is not None and runs <= standard:
        return says.fits(phrase("{runs} MT/s needs no profile", runs=runs))
    rate = runs or module.speed_mts
    if takes is False:
        words = phrase("the firmware sets no profiles: {standard} MT/s, not {rate}", standard=standard, rate=rate)
        return says.limited(
            words, phrase("{standard} MT/s", standard=standard), "A module whose rate is a standard one."
        )
    if takes is None:
        sentence = Text("at most {standard} MT/s until a memory profile is set, where the firmware has one",
                        {"standard": standard})  # fmt: skip
        return says.fits(sentence, open_=True)
    needs = Text("memory profile for {rate} MT/s set and the memory tested", {"rate": rate})
    return says.needs(needs, phrase("A module whose standard rate is {rate} MT/s.", rate=rate))


PROFILE_RULES: tuple[Rule, ...] = (Rule("MEM-PROFILE", "Memory profile", _profiled, profile, ("memory", "processor")),)
