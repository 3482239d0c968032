"""Signs of drives: their rates, counters, wear, warmth, links and free space."""

from __future__ import annotations

from brachium.core.base.text import phrase
from brachium.core.base.units import percent
from brachium.core.base.why import Origin
from brachium.core.cause.assumptions import DRIVE_HOT_C, DRIVE_SLOW, LIFE_USED, SPACE, SPARE_LEFT
from brachium.core.cause.known import Known, median_of, observed
from brachium.core.cause.ranking import Observation
from brachium.core.machine.scanned.scan import Scan
from brachium.core.machine.system_drive import system_drive


def drive_signs(known: Known) -> list[Observation]:
    place = system_drive(known.machine, known.machine.configuration())
    if place is None:
        return []
    bay, drive = place
    out = [observed("drive_kind", "hard disk" if drive.rotational else "flash", drive.name, Origin.CATALOGUE)]
    link = next((b.link_mb_s for b in known.machine.bays if b.id == bay), None)
    sequential, random = median_of(known.run, "drive_seq"), median_of(known.run, "drive_rand_q1")
    if sequential is not None and random is not None:
        long_slow = sequential < DRIVE_SLOW * min(drive.outer_mb_s, link or drive.outer_mb_s)
        small_slow = random < DRIVE_SLOW * 1000.0 / drive.read_latency_ms
        states = {(False, False): "as its kind gives", (True, False): "slow in long reads",
                  (False, True): "slow in small reads", (True, True): "slow in both"}  # fmt: skip
        figure = phrase("{sequential:.0f} MB/s, {random:.0f} small reads/s", sequential=sequential, random=random)
        out.append(observed("drive_rate", states[long_slow, small_slow], figure))
    out += _health(known)
    out += [*_wear(known, bay), *_warmth(known.scan)]
    out += _link(known.scan)
    free = known.run.conditions.free_space_frac if known.run is not None else None
    if free is not None:
        out.append(
            observed("space", "hardly any" if free < SPACE else "enough", phrase("{free} free", free=percent(free)))
        )
    return out


def _health(known: Known) -> list[Observation]:
    """The worst that any drive's counters say: media faults before interface errors before nothing."""
    order = ("media faults", "interface errors", "clean")
    read = [(order.index(v.sign), place, v) for place, v in known.verdicts.items() if v.sign]
    if not read:
        return []
    _, place, verdict = min(read, key=lambda r: r[0])
    return [
        observed(
            "health",
            verdict.sign,
            phrase("{place_label}: {verdict}", place_label=known.machine.place_label(place), verdict=verdict.text),
        )
    ]


def _wear(known: Known, bay: str) -> list[Observation]:
    """Life that the latest counters state."""
    counters = next((h.counters for h in reversed(known.health) if h.place == bay), {})
    used, spare = counters.get("used_pct"), counters.get("spare_pct")
    if used is None and spare is None:
        return []
    spent = (used or 0) >= LIFE_USED or (spare is not None and spare <= SPARE_LEFT)
    words = phrase("{used} % used", used=used) if used is not None else phrase("{spare} % spare left", spare=spare)
    return [observed("wear", "nearly used up" if spent else "much left", words)]


def _warmth(scan: Scan | None) -> list[Observation]:
    warm = [d.temperature_c for d in scan.drives if d.temperature_c] if scan is not None else []
    if not warm:
        return []
    state = "65 °C or more" if max(warm) >= DRIVE_HOT_C else "below 65 °C"
    return [observed("drive_heat", state, phrase("{warm} °C", warm=max(warm)), Origin.SCANNED)]


def _link(scan: Scan | None) -> list[Observation]:
    """Links below their best first, of drives and of graphics cards (PCI class 03h). Of PCI Express only lanes count:
    at rest a link may have clocked down."""
    if scan is None:
        return []
    drives = [
        _one_link(
            "link",
            "at their highest",
            "below their highest",
            phrase("drive {name}", name=d.name),
            d.link,
            d.link_max,
            d.kind == "NVMe",
        )
        for d in scan.drives
        if d.link and d.link_max
    ]
    cards = [
        _one_link(
            "gpu_link",
            "all of them",
            "fewer than it could",
            phrase("graphics {address}", address=d.address),
            d.link,
            d.link_max,
            True,
        )
        for d in scan.devices
        if d.link and d.link_max and str(d.kind or "").startswith("0x03")
    ]
    return [*sorted(drives, key=lambda o: o.state, reverse=True)[:1],
            *sorted(cards, key=lambda o: o.state, reverse=True)[:1]]  # fmt: skip


def _one_link(sign: str, best: str, less: str, name: str, now: str, most: str, lanes_only: bool) -> Observation:
    a, b = (now.rpartition(" ")[2], most.rpartition(" ")[2]) if lanes_only else (now, most)
    return observed(
        sign, best if a == b else less, phrase("{name}: {now} of {most}", name=name, now=now, most=most), Origin.SCANNED
    )
