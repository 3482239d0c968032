"""Machines with one hidden cause: for practice, and to try the ranking of causes on.

Everything is drawn from a seed: kind of machine, its healthy physics, the cause and how strong it is, what was noticed
when it was taken in. What a check answers follows from the physics where it can be computed (is it cooler, does the
clock rise), and from a stated share of misjudged looks where a person looks.
"""

from __future__ import annotations

from dataclasses import dataclass, fields, replace

import numpy as np

from brachium.core.base.units import GB, GIB
from brachium.core.cause.kinds import BESIDE, DRIVES, GRAPHICS, HEAT, KINDS, POWER
from brachium.core.condition.findings import Finding, Severity
from brachium.core.condition.trials import TestResult, TrialOutcome
from brachium.core.drives.readings import HealthReading
from brachium.core.machine.kinds import MachineKind
from brachium.core.machine.machine import DriveBay, Fitted, Identity, Machine, MemoryPlatform, ModuleSlot, Processor
from brachium.core.machine.memory_part import Buffering
from brachium.core.machine.parts import BayForm, Drive, DriveInterface, MemoryForm, MemoryGeneration, MemoryModule
from brachium.core.machine.scanned.scan import (
    Scan,
    ScannedDevice,
    ScannedDrive,
    ScannedField,
    ScannedPlace,
    ScannedSupply,
)
from brachium.core.measure.conditions import Conditions
from brachium.core.measure.own_tests import How, OwnResult
from brachium.core.record.job import PRACTICE_PREFIX
from brachium.devices.simulated.drive import SimulatedDrive
from brachium.devices.simulated.faults import Faults, with_faults
from brachium.devices.simulated.machine import IDLE_UTIL, OwnTask, SimulatedSpec
from brachium.devices.simulated.physics import Cooling, FanCurve, Silicon, Thermals, steady_rises_k

HEALTHY = ""
PAST_LIMIT_K = 15.0
BASE_SHARE = 0.6  # base clock of the highest
PORTABLE_ONLY = ("battery", "adapter")
CABLED_ONLY = ("cable", "link", "gpu_width", "supply")
FLASH_ONLY, DISK_ONLY = ("worn", "hot_drive"), ("disk", "shingled")
OWN_DRIVER, BASIC_DRIVER = "orrin 24.1", "basic display"


@dataclass(frozen=True)
class PracticeMachine:
    """A machine with its record, what was noticed, its simulated self, and the cause that is hidden in it."""

    seed: int
    cause: str
    machine: Machine
    spec: SimulatedSpec
    healthy: Thermals
    faults: Faults
    scan: Scan | None
    findings: tuple[Finding, ...]
    tried: tuple[TestResult, ...]
    health: tuple[HealthReading, ...]
    own_results: tuple[OwnResult, ...]
    weak_adapter: str
    second: str = ""  # another cause beside it

    @property
    def causes(self) -> tuple[str, ...]:
        """What is wrong with it; empty = nothing."""
        return tuple(c for c in (self.cause, self.second) if c)


def _noticeable(healthy: Thermals, faults: Faults) -> Faults:
    """The faults of the heat path, made worse until they show: the chip would pass its limit under full load
    by so much that it gets there within minutes, while the case is still warming."""
    chip = healthy.silicon
    for _ in range(25):
        sick = with_faults(healthy, faults)
        power = sick.silicon.idle_w + sick.silicon.dynamic_w + 1.5 * sick.silicon.leakage_w
        rise = sum(steady_rises_k(sick.cooling, power, sick.fan.target_rpm(200.0)))
        heat = faults.paste * faults.dust * faults.place * faults.design * faults.pipe / faults.fan
        if heat == 1.0 or healthy.room_c + rise > chip.limit_c + PAST_LIMIT_K:
            return faults
        factors = {"paste": 1.12, "dust": 1.12, "place": 1.12, "design": 1.12, "pipe": 1.15, "fan": 0.85}
        faults = replace(faults, **{k: getattr(faults, k) * f for k, f in factors.items() if getattr(faults, k) != 1.0})
    return faults


def causes_for(kind: MachineKind) -> tuple[str, ...]:
    """The causes that a kind of machine can have."""
    portable = kind is MachineKind.LAPTOP
    return tuple(k.id for k in KINDS if k.id not in (CABLED_ONLY if portable else PORTABLE_ONLY))


def practice_machine_of(simulated_as: str) -> PracticeMachine:
    """The machine of that name; one that ends with `+` has a second cause. Raises ValueError where it is none."""
    number = simulated_as.removeprefix(PRACTICE_PREFIX)
    return make_paired_machine(int(number[:-1])) if number.endswith("+") else make_practice_machine(int(number))


def make_practice_machine(seed: int, cause: str | None = None) -> PracticeMachine:
    """The machine of a seed; `cause` "" = well, None = drawn too (one in seven is well)."""
    rng = np.random.default_rng([6021, seed])
    kind = MachineKind.LAPTOP if rng.random() < 0.5 else MachineKind.TOWER
    if cause is None:
        choices = causes_for(kind)
        cause = HEALTHY if rng.random() < 1 / 7 else str(choices[rng.integers(len(choices))])
    elif cause in CABLED_ONLY:
        kind = MachineKind.TOWER
    elif cause in PORTABLE_ONLY:
        kind = MachineKind.LAPTOP
    return _Maker(seed, kind, cause, rng).make()


# causes of which a machine has one at most: they hold the same part
ONE_OF = (
    HEAT, POWER, ("memory", "bits", "channels", "slow_memory", "bad_memory"), (*DRIVES, "disk"), (*GRAPHICS, "cap"),
    BESIDE, ("slow_chip", "no_decode"),
)  # fmt: skip


def make_paired_machine(seed: int) -> PracticeMachine:
    """The machine of a seed with a second cause beside its own, in another part of it; one that is well stays so."""
    one = make_practice_machine(seed)
    rng = np.random.default_rng([6021, seed, 2])
    taken = next((group for group in ONE_OF if one.cause in group), (one.cause,))
    left = [c for c in causes_for(one.machine.kind) if c not in taken]
    if one.cause == HEALTHY:
        return one
    second = str(left[rng.integers(len(left))])
    return _Maker(seed, one.machine.kind, one.cause, rng, second).make()


class _Maker:
    def __init__(self, seed: int, kind: MachineKind, cause: str, rng: np.random.Generator, second: str = "") -> None:
        self._seed, self._kind, self._cause, self._rng = seed, kind, cause, rng
        self._causes = (cause, second) if second else (cause,)
        self._portable = kind is MachineKind.LAPTOP

    def make(self) -> PracticeMachine:
        thermals = self._thermals()
        faults = _noticeable(thermals, self._faults())
        machine = self._machine(thermals)
        spec = self._spec(machine, with_faults(thermals, faults))
        return PracticeMachine(
            self._seed, self._cause, machine, spec, thermals, faults, self._scan(machine, thermals),
            self._findings(),
            self._tried(), self._health(machine), self._frames(), self._adapter(machine),
            self._causes[1] if len(self._causes) > 1 else "",
        )  # fmt: skip

    def _among(self, low: float, high: float) -> float:
        return float(self._rng.uniform(low, high))

    def _is(self, *causes: str) -> bool:
        return any(c in causes for c in self._causes)

    def _thermals(self) -> Thermals:
        """A healthy machine that stays some kelvin below its limit under full load."""
        dynamic = self._among(22.0, 36.0) if self._portable else self._among(52.0, 80.0)
        scale = 33.0 / dynamic
        limit = float(self._rng.choice([90.0, 95.0, 100.0]))
        cooling = Cooling(
            paste_k_w=self._among(0.42, 0.56) * scale, pipe_k_w=0.14 * scale, fins_k_w=self._among(0.68, 0.86) * scale,
            fins_to_chassis_k_w=6.0 * scale, chassis_to_room_k_w=1.8 * scale, die_j_k=7.0 / scale,
            plate_j_k=38.0 / scale, fins_j_k=self._among(130.0, 190.0) / scale, chassis_j_k=900.0 / scale,
        )  # fmt: skip
        silicon = Silicon(max_mhz=self._among(2800.0, 4200.0), dynamic_w=dynamic, limit_c=limit,
                          critical_c=limit + 15.0, power_limit_w=2.5 * dynamic)  # fmt: skip
        fan = FanCurve(high_c=limit - 10.0, high_rpm=self._among(3800.0, 4900.0))
        return Thermals(silicon, replace(cooling, fan_ref_rpm=0.9 * fan.high_rpm), fan, self._among(19.0, 26.0))

    def _faults(self) -> Faults:
        """Of all its causes: heat and power are two parts of it."""
        found = [self._fault(c) for c in self._causes]
        out = found[0]
        for other in found[1:]:
            out = replace(out, **{f.name: getattr(other, f.name) for f in fields(Faults)
                                  if getattr(other, f.name) != f.default})  # fmt: skip
        return out

    def _fault(self, cause: str) -> Faults:
        return {
            "paste": Faults(paste=self._among(2.6, 4.0)), "fins": Faults(dust=self._among(1.9, 2.6)),
            "fan": Faults(fan=self._among(0.20, 0.42)), "place": Faults(place=self._among(1.9, 2.5)),
            "cooler": Faults(design=self._among(1.65, 2.0)), "battery": Faults(battery_missing=True),
            "adapter": Faults(power=self._among(0.5, 0.66)), "governor": Faults(clock=self._among(0.5, 0.8)),
            "pipe": Faults(pipe=self._among(4.0, 8.0)), "boost_off": Faults(clock=self._among(0.62, 0.85)),
            "external": Faults(power=self._among(0.25, 0.45)),
            "regulators": Faults(power=self._among(0.60, 0.75), neighbours_w=self._among(3.0, 7.0)),
        }.get(cause, Faults())  # fmt: skip

    def _machine(self, thermals: Thermals) -> Machine:
        form = MemoryForm.SO_DIMM if self._portable else MemoryForm.DIMM
        module = MemoryModule(
            "Plover 4 GiB DDR4-2400", form, MemoryGeneration.DDR4, 4 * GIB, 2400, (1.2,), Buffering.UNBUFFERED, False
        )
        slots = tuple(
            ModuleSlot(f"slot-{k}", f"Memory slot {k}", form, MemoryGeneration.DDR4, k - 1, 16 * GIB) for k in (1, 2)
        )
        bay = DriveBay("bay-1", "Drive bay", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 600.0)
        drive = self._drive()
        small = MemoryModule(
            "Plover 2 GiB DDR4-2400", form, MemoryGeneration.DDR4, 2 * GIB, 2400, (1.2,), Buffering.UNBUFFERED, False
        )
        one = MemoryModule(
            "Plover 8 GiB DDR4-2400", form, MemoryGeneration.DDR4, 8 * GIB, 2400, (1.2,), Buffering.UNBUFFERED, False
        )
        fitted: tuple[Fitted, ...] = (Fitted("slot-1", module), Fitted("slot-2", module))
        if self._is("memory"):
            fitted = (Fitted("slot-1", small), Fitted("slot-2", small))
        if self._is("channels"):
            fitted = (Fitted("slot-1", one),)
        full = thermals.silicon
        return Machine(
            self._kind, Identity("Brindlecote", "Practice", f"BC-{self._seed:05d}", 2016, "1.07", "Linux, 64-bit"),
            Processor("Kestrion P4", 4, 8, round(full.idle_w + full.dynamic_w + full.leakage_w), full.limit_c,
                      base_mhz=BASE_SHARE * full.max_mhz),
            MemoryPlatform(2, 2400, 2400, 32 * GIB, 32 * GIB, False), slots, (bay,),
            (*fitted, Fitted("bay-1", drive)), fan_max_rpm=round(thermals.fan.high_rpm, -1),
        )  # fmt: skip

    def _drive(self) -> Drive:
        flash = (self._is(*FLASH_ONLY) or self._rng.random() < 0.75) and not self._is(*DISK_ONLY)
        if flash:
            return Drive("Sandpiper 250 GB SSD", DriveInterface.SATA, BayForm.IN_2_5, 7.0, 250 * GB, False, 510.0,
                         510.0, 0.10)  # fmt: skip
        return Drive("Sandpiper 500 GB disk, 7200 /min", DriveInterface.SATA, BayForm.IN_2_5, 9.5, 500 * GB, True,
                     130.0, 62.0, 12.0)  # fmt: skip

    def _spec(self, machine: Machine, thermals: Thermals) -> SimulatedSpec:
        drive = machine.configuration().drives()["bay-1"]
        behaves = SimulatedDrive.of(drive, 150.0 if self._is("link") else 600.0)
        if self._is("dying"):
            behaves = replace(behaves, long_factor=self._among(0.10, 0.40), small_factor=self._among(0.10, 0.40))
        if self._is("cable"):
            behaves = replace(behaves, long_factor=self._among(0.12, 0.40), small_factor=self._among(0.2, 0.45))
        if self._is("full", "drive_mode"):
            behaves = replace(behaves, small_factor=self._among(0.2, 0.45))
        if self._is("shingled"):
            behaves = replace(behaves, small_factor=self._among(0.12, 0.35))
        if self._is("worn"):
            behaves = replace(behaves, long_factor=self._among(0.15, 0.45), small_factor=self._among(0.15, 0.45))
        if self._is("hot_drive"):
            behaves = replace(behaves, long_factor=self._among(0.15, 0.45))
        size = machine.configuration().memory_bytes() / GIB
        channels = 1 if self._is("channels", "slow_memory") else 2
        bad = int(self._rng.integers(1, 40)) if self._is("bad_memory") and self._rng.random() < 0.75 else 0
        return SimulatedSpec(
            thermals, behaves, min(size, 3.2) if self._is("bits") else size, 19_200.0 * channels, 45_000.0,
            threads=8, task=self._task(drive), conditions=self._conditions(thermals.room_c), seed=self._seed,
            bad_words=bad, idle_util=self._beside(), graphics=True,
        )  # fmt: skip

    def _task(self, drive: Drive) -> OwnTask:
        short = self._is("memory", "bits")
        touches = self._among(25_000.0, 60_000.0) if drive.rotational else self._among(1.6e6, 3.5e6)
        return OwnTask(
            self._work_s(), self._among(6.2, 6.9) if short else self._among(2.5, 5.0), touches,
            self._among(2500.0, 5000.0) if self._is("disk") else self._among(50.0, 300.0),
            self._graphics_busy(), self._among(70.0, 160.0) if self._is("network") else 0.0,
        )  # fmt: skip

    def _beside(self) -> float:
        """Utilisation while nothing should work."""
        if self._is("background"):
            return self._among(0.08, 0.30)
        return self._among(0.12, 0.40) if self._is("updates") else IDLE_UTIL

    def _work_s(self) -> float:
        """Processor seconds of the owner's task at full clock."""
        if self._is("slow_chip"):
            return self._among(140.0, 220.0)
        return self._among(95.0, 130.0) if self._is("no_decode") else 60.0

    def _graphics_busy(self) -> float:
        """Share of the task in which graphics works."""
        if self._is("graphics", "gpu_memory"):
            return self._among(0.95, 0.99)
        if self._is("gpu_driver", "gpu_width"):
            return self._among(0.93, 0.97) if self._rng.random() < 0.5 else self._among(0.55, 0.8)
        return self._among(0.1, 0.5)

    def _conditions(self, room_c: float) -> Conditions:
        saving = self._is("governor") and self._rng.random() < 0.85
        return Conditions(
            room_c=room_c, room_note="at the intake", boot_medium="installed system", mains=True,
            battery_fitted=None if not self._portable else not self._is("battery"),
            power_profile="power saving" if saving else "balanced", fan_mode="automatic", panel_on=True,
            boost=self._boost(), graphics_driver=self._driver(),
            system="Linux 6.1", free_space_frac=self._among(0.02, 0.10) if self._is("full") else self._among(0.2, 0.7),
        )  # fmt: skip

    def _boost(self) -> bool | None:
        """Seven machines in ten say whether boost is on."""
        return not self._is("boost_off") if self._rng.random() < 0.7 else None

    def _driver(self) -> str:
        if self._rng.random() >= 0.7:
            return ""
        return BASIC_DRIVER if self._is("gpu_driver") else OWN_DRIVER

    def _scan(self, machine: Machine, thermals: Thermals) -> Scan | None:
        """Four machines in five were scanned."""
        if self._rng.random() < 0.2:
            return None
        size = machine.configuration().memory_bytes()
        usable = 3.2 * GIB if self._is("bits") else 0.96 * size
        clock = int(thermals.silicon.max_mhz)
        fields = (ScannedField("memory.usable_bytes", int(usable), "", "/proc/meminfo"),
                  ScannedField("processor.max_mhz", clock, str(clock), "cpufreq"))  # fmt: skip
        lost = self._is("bad_memory") and self._rng.random() < 0.4
        places = tuple(
            ScannedPlace(k, 0 if lost and k == 1 else m.size_bytes)
            for k, m in enumerate(machine.configuration().modules().values())
        )
        return Scan(fields, places, (self._scanned_drive(),), supplies=self._supplies(), devices=self._cards())

    def _supplies(self) -> tuple[ScannedSupply, ...]:
        return (ScannedSupply(max_w=65),) if self._portable and not self._is("adapter") else ()

    def _cards(self) -> tuple[ScannedDevice, ...]:
        lanes = "gen 3 x4" if self._is("gpu_width") else "gen 3 x16"
        return () if self._portable else (ScannedDevice("0000:01:00.0", "0x030000", lanes, "gen 3 x16"),)

    def _scanned_drive(self) -> ScannedDrive:
        slow = self._is("link") or (self._is("cable") and self._rng.random() < 0.5)
        warm = int(self._among(68.0, 78.0)) if self._is("hot_drive") else int(self._among(32.0, 52.0))
        return ScannedDrive("sda", "SATA", link="1.5 Gbps" if slow else "6.0 Gbps", link_max="6.0 Gbps",
                            temperature_c=warm if self._rng.random() < 0.6 else None)  # fmt: skip

    def _findings(self) -> tuple[Finding, ...]:
        out = [Finding("screw", "bottom", Severity.SLIGHT)] if self._rng.random() < 0.3 else []
        for cause, kind, chance, stray in (("place", "vent", 0.5, 0.03), ("fins", "felt", 0.7, 0.08),
                                           ("fan", "fan", 0.65, 0.04), ("dying", "noise", 0.35, 0.02),
                                           ("cable", "cable", 0.3, 0.02)):  # fmt: skip
            if self._rng.random() < (chance if self._is(cause) else stray):
                out.append(Finding(kind, "drives" if kind == "cable" else "case", Severity.CLEAR))
        return tuple(out)

    def _tried(self) -> tuple[TestResult, ...]:
        out = [TestResult("starts", TrialOutcome.WORKS)]
        stops = self._is("start_setting") and self._rng.random() < 0.88
        out.append(TestResult("system", TrialOutcome.FAILS if stops else TrialOutcome.WORKS))
        restarts = self._is("supply") and self._rng.random() < 0.85
        if restarts or self._rng.random() < 0.5:
            out.append(TestResult("stays", TrialOutcome.FAILS if restarts else TrialOutcome.WORKS))
        if self._portable:
            out.append(TestResult("battery", TrialOutcome.ABSENT if self._is("battery") else TrialOutcome.WORKS))
            if not self._is("adapter"):
                out.append(TestResult("adapter", TrialOutcome.WORKS))
        return tuple(out)

    def _health(self, machine: Machine) -> tuple[HealthReading, ...]:
        """Three machines in five had their drive's counters read."""
        return (health_of(self._drive_cause(), self._rng),) if self._rng.random() < 0.6 else ()

    def _drive_cause(self) -> str:
        return next((c for c in self._causes if c in ("dying", "cable", "worn")), self._cause)

    def _frames(self) -> tuple[OwnResult, ...]:
        if self._is("cap"):
            return (OwnResult("frames", "before", 60.0, How.FRAMES, invalid="capped at 60 frames a second"),)
        stutters = int(self._rng.integers(12, 60)) if self._is("gpu_memory") else int(self._rng.integers(0, 5))
        free = OwnResult("frames", "before", self._among(45.0, 110.0), How.FRAMES, note=f"{stutters} stutters")
        return (free,) if self._rng.random() < (0.6 if self._is("gpu_memory") else 0.3) else ()

    def _adapter(self, machine: Machine) -> str:
        return "45 W on its label" if self._is("adapter") and self._rng.random() < 0.6 else ""


def health_of(cause: str, rng: np.random.Generator, later: bool = False) -> HealthReading:
    """Counters of the system drive; `later` = after some minutes of load."""
    counters = {"reallocated": int(rng.integers(0, 3)) if cause != "dying" else int(rng.integers(12, 400)),
                "pending": int(rng.integers(1, 60)) if cause == "dying" else 0, "uncorrectable": 0,
                "interface": int(rng.integers(20, 900)) if cause == "cable" else 0, "hours": 14_000}  # fmt: skip
    if later and cause == "cable":
        counters["interface"] += 300
    if cause == "worn":
        counters["used_pct"] = int(rng.integers(70, 100))
    return HealthReading("bay-1", "later" if later else "as taken in", counters, "simulated")
