"""Drawn scenes: pictures a second, the slowest of them, stutters; before and after side by side."""

from __future__ import annotations

from collections.abc import Sequence

from brachium.core.base.text import phrase, upper_first
from brachium.core.base.why import Because, Fact, Origin
from brachium.core.figures.base.drawing import Drawing, Line, Region, Sketch, Text
from brachium.core.measure.feel_tests import GRAPHICS
from brachium.core.measure.run import Run, parts_of
from brachium.core.measure.workloads import spec_of

ROW, HEAD = 30.0, 20.0
SCENES = tuple(k for k in GRAPHICS if k.startswith(("frames_", "soft_")))
COLUMNS = (
    ("result", "average"),
    ("slowest_1", "slowest 1 %"),
    ("slowest_01", "slowest 0.1 %"),
    ("stutters", "stutters"),
)


def has_frames(run: Run | None) -> bool:
    """Whether a run drew a scene."""
    return run is not None and any(run.results(k) for k in SCENES)


def frames_list(before: Run | None, after: Run | None, width: float) -> Drawing:
    """A row a scene and run; rates in pictures a second."""
    rows = [(k, name, run) for k in SCENES for name, run in (("before", before), ("after", after))
            if run is not None and run.results(k)]  # fmt: skip
    sketch = Sketch(width, HEAD + ROW * max(len(rows), 1))
    step = (width - 320.0) / len(COLUMNS)
    for c, (_, title) in enumerate(COLUMNS):
        sketch.add(Text(320.0 + (c + 1) * step, 13, title, "soft", 11, 400, "end", True))
    last = ""
    for index, (key, name, run) in enumerate(rows):
        y = HEAD + index * ROW
        values = _values(run, key)
        if key != last:
            sketch.add(Text(0, y + 19, spec_of(key).title, "ink", 13, 600))
        last = key
        role = "cool" if name == "after" else "warm"
        sketch.add(Text(262, y + 19, name, role, 12, 600), Line(0, y + ROW - 1, width, y + ROW - 1, "grid"))
        for c, (field, _) in enumerate(COLUMNS):
            sketch.add(
                Text(320.0 + (c + 1) * step, y + 19, _shown(field, values.get(field)), role, 13, 600, "end", True)
            )
        because = _because(key, run, values)
        sketch.regions.append(Region(f"frames:{key}:{name}", 0, y, width, ROW - 2, because.title, because))
    return sketch.done("Drawn scenes", "pictures a second")


def _values(run: Run, key: str) -> dict[str, float]:
    results = sorted(x for session in run.results(key) for x in session)
    return {"result": float(results[len(results) // 2]), **parts_of(run, key)}


def _shown(field: str, value: float | None) -> str:
    if value is None:
        return "not known"
    return (
        phrase("{value:.0f}", value=value)
        if field == "stutters" or value >= 100
        else phrase("{value:.1f}", value=value)
    )


def _because(key: str, run: Run, values: dict[str, float]) -> Because:
    cap: Sequence[Fact] = (
        (
            Fact(
                "capped at",
                phrase("{values:g} a second: the average is the cap's", values=values["cap"]),
                Origin.MEASURED,
            ),
        )
        if "cap" in values
        else ()
    )
    driver = run.conditions.graphics_driver
    return Because(
        spec_of(key).title, "frame times", upper_first(spec_of(key).about) + ".",
        (Fact("average", phrase("{values:.1f} a second", values=values['result']), Origin.MEASURED),
         Fact("drawn by", driver or "not stated", Origin.MEASURED), *cap),
        "", "The slowest pictures are what is felt; an average hides them.",
    )  # fmt: skip
