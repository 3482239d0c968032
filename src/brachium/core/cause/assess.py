"""Find cause in one place: what the before-run, the record and the checks say, ranked, with the next check."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from brachium.core.base.text import joined, lower_first, phrase
from brachium.core.base.units import minutes, percent
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.cause.assumptions import LEAST_SHARE, LOADED_BY, PROVES, SLOW_MEMORY_COST, STORAGE_COST, UNLIKELY
from brachium.core.cause.check import Check
from brachium.core.cause.checks import BY_ID, LADDER, needs_met, possible
from brachium.core.cause.first_checks import COMPLAINT
from brachium.core.cause.kinds import DRIVES, GRAPHICS, HEAT, POWER
from brachium.core.cause.known import Known
from brachium.core.cause.ranking import NextCheck, Observation, Ranked, next_checks, rank
from brachium.core.cause.read_signs import observations
from brachium.core.heat.throttle import HeldBack
from brachium.core.machine.machine import Machine
from brachium.core.machine.memory_rates import channel_sizes, possible_channels
from brachium.core.measure.waiting import Limit, limits_of
from brachium.core.record.checks import CheckDone
from brachium.core.use.profile import UseProfile


@dataclass(frozen=True)
class Assessment:
    """`ranked` holds every cause, the one to see to first in front; `seen` every sign that could be read."""

    ranked: tuple[Ranked, ...]
    checks: tuple[NextCheck, ...]
    seen: tuple[Observation, ...]
    limits: tuple[Limit, ...]
    headline: str
    least: float = UNLIKELY  # chance from which a cause is worth showing

    @property
    def called(self) -> tuple[Ranked, ...]:
        """Causes sure enough to act on."""
        return tuple(r for r in self.ranked if r.called)

    @property
    def open(self) -> tuple[Ranked, ...]:
        """Causes worth showing: called, or not yet unlikely."""
        return tuple(r for r in self.ranked if r.chance >= self.least)

    def cause(self, cause_id: str) -> Ranked:
        return next(r for r in self.ranked if r.kind.id == cause_id)

    @property
    def next(self) -> NextCheck | None:
        return self.checks[0] if self.checks else None


def assess(known: Known, profile: UseProfile, done: Sequence[CheckDone] = ()) -> Assessment:
    """Everything that Find cause shows."""
    limits = limits_of(known.run, known.machine.processor.threads or 1) if known.run is not None else ()
    known = _with_limits(known, limits)
    answered = tuple(_answer(d) for d in done if d.check in BY_ID and not _says_nothing(d, known))
    seen = (*observations(known), *answered)
    ranked = rank(seen, cost_of_checks(known, profile, limits), needs_met(known.machine))
    dying = bool(known.failing) or any(r.kind.id == "dying" and r.chance >= LOADED_BY for r in ranked)
    said = {(o.sign, state) for o in seen for state in (o.state, "")}
    worth = [c for c in possible(known.machine, dying) if not said.intersection(c.moot)]
    checks = next_checks(ranked, worth, frozenset(d.check for d in done))
    return Assessment(ranked, checks, seen, limits, headline(known, ranked, not_looked_at(seen, profile)))


def _with_limits(known: Known, limits: tuple[Limit, ...]) -> Known:
    return replace(known, limits=limits)


def _says_nothing(done: CheckDone, known: Known) -> bool:
    """Counters that stand still do not clear a drive whose sectors already wait to be given up."""
    return bool(known.failing) and (done.check, done.answer) == ("counters_rise", "nothing rises")


def _answer(done: CheckDone) -> Observation:
    origin = Origin.TYPED if done.check == COMPLAINT.id else Origin.MEASURED  # an owner's words are no reading
    return Observation(done.check, done.answer, done.note or done.when, origin, True)


def cost_of_checks(known: Known, profile: UseProfile, limits: tuple[Limit, ...]) -> dict[str, float]:
    """Share of the owner's time that each cause would cost, as far as the run and the profile say (0..1)."""
    figures, shares = known.figures, profile.shares
    if figures is None:
        return {}
    lost = 1.0 - figures.sustained_clock_mhz / max(figures.full_clock_mhz, 1.0)
    load = next((x for x in limits if x.name == "load"), None)
    heat = shares["all"] * max(lost, load.shares["held"] if load is not None else 0.0)
    storage = shares["random"] + shares["sequential"]
    slow_disk = STORAGE_COST * storage * (1.0 - figures.stall_share)
    waiting = max(figures.stall_share, slow_disk)
    machine = known.machine
    sizes, possible = channel_sizes(machine, machine.configuration()), possible_channels(machine)
    idle = 1.0 - len(sizes) / possible if sizes is not None and possible else 0.0  # unknown channels accuse nobody
    channels = shares["memory"] * idle * (1.0 - figures.stall_share)
    task = next((x for x in limits if x.name == "test own_task"), None)
    return {
        **dict.fromkeys(HEAT, heat), **dict.fromkeys(POWER, heat),
        "memory": figures.stall_share, "bits": figures.stall_share, "channels": channels,
        "slow_memory": SLOW_MEMORY_COST * shares["memory"], "disk": slow_disk,
        **dict.fromkeys(DRIVES, waiting),
        **dict.fromkeys(GRAPHICS, task.shares["graphics"] if task is not None else 0.0),
        "slow_chip": shares["all"] + shares["single"], "network": shares.get("network", 0.0),
    }  # fmt: skip


LOOKED_AT: tuple[tuple[str, tuple[str, ...], tuple[str, ...]], ...] = (
    ("processor", ("single", "all"), ("held", "task_processor", "band_processor", "watch_processor")),
    ("memory", ("memory",), ("memory_use", "rate", "stall", "band_memory", "task_alone")),
    ("drives", ("random", "sequential"), ("drive_rate", "stall", "health", "band_drive", "other_drive")),
    ("graphics", ("graphics",), ("graphics", "watch_graphics", "cap", "cap_off")),
    ("network", ("network",), ("task_free", "net_speed")),
)


def not_looked_at(seen: Sequence[Observation], profile: UseProfile) -> tuple[str, ...]:
    """Resources that the use takes some of its time of, and that no sign or check looked at."""
    signs = {o.sign for o in seen}
    return tuple(
        name for name, resources, told_by in LOOKED_AT
        if sum(profile.shares.get(r, 0.0) for r in resources) >= LEAST_SHARE and not signs & set(told_by)
    )  # fmt: skip


def headline(known: Known, ranked: Sequence[Ranked], unseen: Sequence[str] = ()) -> str:
    """One sentence: what holds the machine back, or that nothing shows; `unseen` was not looked at."""
    called = [r for r in ranked if r.called]
    reading = known.figures.reading if known.figures is not None else None
    hot = reading is not None and reading.throttle is not None and reading.throttle.kind is HeldBack.THERMAL
    if hot and not any(r.kind.id in HEAT for r in called):
        first = "Heat holds the chip back; which part of the way out is to be found"
        return phrase("{first}, and {count} more", first=first, count=len(called)) if called else first
    if not called:
        left = phrase(" yet; not checked: {unseen}", unseen=joined(", ", unseen)) if unseen else ""
        return (
            phrase("Nothing found{left}", left=left) if unseen else "Nothing that was measured holds this machine back"
        )
    return called[0].kind.title


def strength(cause: Ranked) -> str:
    """How sure, in words."""
    if cause.chance >= 0.9:
        return "shown"
    if cause.called:
        return "likely"
    return "possible" if cause.chance >= UNLIKELY else "unlikely"


def because_of(cause: Ranked, following: NextCheck | None = None) -> Because:
    """What speaks for and against a cause, as data for the Because panel."""
    facts = [
        Fact(
            phrase(
                "{title}: {state}{more}",
                title=lower_first(w.title),
                state=w.state,
                more=phrase(" ({figure})", figure=w.figure) if w.figure else "",
            ),
            phrase("{log_odds:+.1f}", log_odds=w.log_odds),
            w.origin,
        )
        for w in cause.weights
    ]
    facts.insert(0, Fact("before anything was known", phrase("{base:+.1f}", base=cause.kind.base), Origin.ASSUMED))
    change = ""
    if following is not None:
        change = phrase(
            "Next: {check}, {attended_min}.",
            check=lower_first(following.check.title),
            attended_min=minutes(following.check.attended_min),
        )
    return Because(
        phrase(
            "{kind}: {strength}, {chance}",
            kind=cause.kind.title,
            strength=strength(cause),
            chance=percent(cause.chance),
        ),
        "log-odds of evidence",
        phrase(
            "Remedy: {remedy}. Each line is what a sign says for (+) or against (-) it, in natural log-odds "
            "against a machine that is well; rivals for the same signs share what is left.",
            remedy=cause.kind.remedy,
        ),
        tuple(facts),
        phrase("together {log_odds:+.1f}", log_odds=cause.log_odds),
        change,
    )


@dataclass(frozen=True)
class Rung:
    """A step of the overheating ladder: the check, whether it was made and what it said, whether to stop here."""

    check: Check
    answer: str
    state: str


def ladder(made: Mapping[str, str], machine: Machine, met: bool = False) -> tuple[Rung, ...]:
    """The overheating ladder, cheapest first. It stops at the first rung whose answer explains the heat, and where a
    configuration has `met` what the owner asked for."""
    out: list[Rung] = []
    stopped = met
    allowed = {c.id for c in possible(machine)}
    for check in (c for c in LADDER if c.id in allowed):
        answer = made.get(check.id, "")
        found = bool(answer) and answer != check.sign.states[0]
        here = not answer and not stopped and not any(r.state == "next" for r in out)
        state = "found" if found else "made" if answer else "stop" if stopped else "next" if here else "later"
        out.append(Rung(check, answer, state))
        stopped = stopped or (found and check.sign.weight(answer, _main(check)) > PROVES)
    return tuple(out)


def _main(check: Check) -> str:
    """The cause that a check of the ladder speaks of most; empty where it speaks of none."""
    return max(check.sign.given, key=lambda c: max(check.sign.weight(s, c) for s in check.sign.states), default="")
