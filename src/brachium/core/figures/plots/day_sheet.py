"""Day sheet: a row a machine, attended work solid, what runs by itself hatched, closed hours shaded."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from brachium.core.base.text import joined, phrase
from brachium.core.base.units import minutes
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.day.blocks import DayJob, Placed, Sheet, ShopDay
from brachium.core.day.opening import DAY_MIN, clock
from brachium.core.figures.base.drawing import Box, Dot, Drawing, Hatch, Line, Region, Sketch, Text
from brachium.core.figures.base.writing import Face

LEFT, RIGHT, TOP, ROW = 168.0, 92.0, 30.0, 44.0
NAMES = ((13.0, False), (13.0, True), (11.0, True), (9.0, True))  # sizes for a name, the first that fits
TITLE = Face(11, 500, condensed=True)


def day_sheet(
    sheet: Sheet, jobs: Sequence[DayJob], shop: ShopDay, chances: Mapping[str, float], day: int, width: float
) -> Drawing:
    """One day, `day` counted from the first; region ids are block ids."""
    begin, end = span(shop, day)
    scale = (width - LEFT - RIGHT) / (end - begin)
    shown = sorted(jobs, key=lambda j: min((p.start for p in sheet.of(j.id)), default=0))
    sketch = Sketch(width, TOP + ROW * max(len(shown), 1) + 6)
    _hours(sketch, shop, begin, end, scale, sketch.height)
    for row, job in enumerate(shown):
        y = TOP + row * ROW
        sketch.add(Line(0, y + ROW - 4, width, y + ROW - 4, "grid"))
        late = sheet.lateness.get(job.id, 0)
        name = _name_face(job.name)
        sketch.add(Text(0, y + 16, job.name, "ink", name.size, 600, condensed=name.condensed))
        benches = sorted({p.bench + 1 for p in sheet.of(job.id) if p.bench >= 0})
        about = phrase("bench {benches}", benches=joined(", ", (str(b) for b in benches))) if benches else "no bench"
        sketch.add(Text(0, y + 32, about, "soft", 11))
        for p in sheet.of(job.id):
            _block(sketch, p, job, (begin, end), scale, y, bool(late))
        _promise(sketch, job, (begin, end), scale, y, late, chances.get(job.id), width)
    if not shown:
        sketch.add(Text(LEFT, TOP + 24, "Nothing is planned for this day.", "soft", 13))
    return sketch.done("Day sheet", "attended work solid, what runs by itself hatched; drag a time block to fix it")


def _name_face(name: str) -> Face:
    """The largest type in which a machine's name fits beside its row."""
    faces = [Face(size, 600, condensed=narrow) for size, narrow in NAMES]
    return next((f for f in faces if f.width(name) < LEFT - 12), faces[-1])


def span(shop: ShopDay, day: int) -> tuple[int, int]:
    """First and last minute that are drawn of a day: its opening hours with some air."""
    own = [(a, b) for a, b in shop.hours if a // DAY_MIN == day]
    begin = min((a for a, _ in own), default=day * DAY_MIN + 9 * 60)
    end = max((b for _, b in own), default=day * DAY_MIN + 18 * 60)
    return begin - 15, end + 60


def _hours(sketch: Sketch, shop: ShopDay, begin: int, end: int, scale: float, height: float) -> None:
    for minute in range(-(-begin // 60) * 60, end + 1, 60):
        x = LEFT + (minute - begin) * scale
        sketch.add(Line(x, TOP - 6, x, height, "grid"), Text(x, TOP - 12, clock(minute), "soft", 11, 400, "middle"))
    at = begin
    for a, b in [*(h for h in shop.hours if h[1] > begin and h[0] < end), (end, end)]:
        if a > at:
            sketch.add(
                Box(LEFT + (at - begin) * scale, TOP - 6, (min(a, end) - at) * scale, height - TOP + 6, "", "grid")
            )
        at = max(at, b)
    if begin < shop.now < end:
        x = LEFT + (shop.now - begin) * scale
        sketch.add(Line(x, TOP - 8, x, height, "warm", 1.4), Dot(x, TOP - 8, 3, "warm", "warm"))


def _block(sketch: Sketch, p: Placed, job: DayJob, window: tuple[int, int], scale: float, y: float, late: bool) -> None:
    begin, end = window
    if p.end <= begin or p.start >= end:
        return
    x = LEFT + (max(p.start, begin) - begin) * scale
    wide = max((min(p.attended_end, end) - max(p.start, begin)) * scale, 0.0)
    role = "warm" if late else "cool"
    if wide > 0:
        sketch.add(Box(x, y + 6, wide, 26, role, role, 1.0, 2.0))
        if TITLE.width(p.block.title) < wide - 8:  # else it stands in the list of the day below
            sketch.add(Text(x + 4, y + 23, p.block.title, "on_cool", 11, 500, condensed=True))
        if p.block.fixed is not None:
            sketch.add(Dot(x + 4, y + 6, 3.5, "ink", "sheet"))
    if p.block.unattended and p.attended_end < end:
        tail = LEFT + (max(p.attended_end, begin) - begin) * scale
        long = (min(p.end, end) - max(p.attended_end, begin)) * scale
        sketch.add(Hatch(tail, y + 8, long, 22, role), Box(tail, y + 8, long, 22, role, "", 1.0))
    facts = (
        Fact("from", clock(p.start), Origin.COMPUTED),
        Fact("hands on", phrase("{attended} min", attended=p.block.attended), Origin.ASSUMED),
        Fact("by itself", phrase("{unattended} min", unattended=p.block.unattended), Origin.ASSUMED),
        Fact("technician", str(p.technician + 1), Origin.COMPUTED),
        Fact("bench", str(p.bench + 1) if p.bench >= 0 else "none", Origin.COMPUTED),
    )
    because = Because(
        phrase("{job}: {block}", job=job.name, block=p.block.title),
        "day sheet",
        "Fixed by hand." if p.block.fixed is not None else "Placed by the plan.",
        facts,
        phrase("{clock} to {clock2}", clock=clock(p.start), clock2=clock(p.end)),
        "Drag it, and it stays there.",
    )
    label = phrase(
        "{job}: {block}, {clock}, {attended} min",
        job=job.name,
        block=p.block.title,
        clock=clock(p.start),
        attended=p.block.attended,
    )
    sketch.regions.append(Region(p.block.id, x, y + 4, max(wide, 10.0), 30, label, because))


def _promise(
    sketch: Sketch, job: DayJob, window: tuple[int, int], scale: float, y: float, late: int, chance: float | None,
    width: float,
) -> None:  # fmt: skip
    if job.due is None:
        sketch.add(Text(width, y + 24, "no promise", "soft", 11, 400, "end", True))
        return
    begin, end = window
    if begin <= job.due <= end:
        x = LEFT + (job.due - begin) * scale
        sketch.add(Line(x, y + 2, x, y + ROW - 6, "warm" if late else "ink", 1.6, (3.0, 2.0)))
    words = phrase("{chance:.0f} %", chance=100 * chance) if chance is not None else ""
    sketch.add(Text(width, y + 18, words, "warm" if late or (chance or 0) < 0.5 else "cool", 13, 600, "end"))
    sketch.add(
        Text(
            width,
            y + 33,
            phrase("{late} late", late=minutes(late)) if late else "in time",
            "warm" if late else "soft",
            11,
            400,
            "end",
            True,
        )
    )
