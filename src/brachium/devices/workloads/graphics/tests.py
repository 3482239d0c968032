"""The graphics tests in their child process: rates of four kinds of work, a scene's pictures, memory ladder."""

from __future__ import annotations

import os
import sys
import time
from typing import Any

import numpy as np

from brachium.core.measure.frames import LEAST_FRAMES, frame_figures
from brachium.devices.workloads.graphics.scenes import TOLERANCE, Stage, difference, grain_texture
from brachium.devices.workloads.graphics.screen import NoGraphics, Screen
from brachium_probe.child_protocol import say, wait_for_go
from brachium_probe.children import ChildGroup, ChildSpec

WIDTH, HEIGHT = 1920, 1080
BATCH = 8
COMMAND = (sys.executable, "-m", "brachium.devices.workloads.child")
MIB = 1 << 20
TEXTURE_SIDE = 2048
TEXTURE_BYTES = TEXTURE_SIDE * TEXTURE_SIDE * 4 * 4 // 3  # with its smaller copies
MOST_BYTES = 6 << 30
LADDER_STEPS = (128, 256, 384, 512, 768, 1024, 1536, 2048, 3072, 4096, 6144)  # MiB


def run_look() -> None:
    """Say what draws here."""
    try:
        device = Screen().device()
    except NoGraphics as why:
        say(problem=str(why))
        return
    say(result=1.0, device=device.name, driver=device.driver, software=device.software)


def run_rate(duration_s: float, kind: str) -> None:
    """One kind of work over and over at 1920x1080 [units/s]."""
    stage = _stage(WIDTH, HEIGHT)
    if stage is None:
        return
    stage.draw(kind, 0.0)
    stage.finish()
    wait_for_go()
    start, units, count = time.monotonic(), 0.0, 0
    while time.monotonic() - start < duration_s or not count:
        for _ in range(BATCH):
            units += stage.draw(kind, 0.001 * count)
            count += 1
        stage.finish()
    say(result=units / (time.monotonic() - start), wrong=0)


def run_scene(duration_s: float, width: int, height: int) -> None:
    """The landscape, picture by picture; the result is pictures over time, the slowest stand beside it [1/s]."""
    stage = _stage(width, height)
    if stage is None:
        return
    off = difference(stage)
    if off > TOLERANCE:
        say(problem=f"the picture is not the stored one (mean difference {off:.1f} of 255): chip, its memory or driver")
        return
    wait_for_go()
    times: list[float] = []
    start = time.monotonic()
    last = start
    while last - start < duration_s or len(times) < LEAST_FRAMES:
        stage.frame(len(times))
        now = time.monotonic()
        times.append(1000.0 * (now - last))
        last = now
        if now - start > 4.0 * duration_s:
            break
    if len(times) < LEAST_FRAMES:
        say(result=1000.0 * len(times) / sum(times), wrong=0, parts={"pictures": float(len(times))})
        return
    found = frame_figures(np.array(times))
    parts = {"pictures": float(found.frames), "slowest_1": found.low1, "stutters": float(found.stutters)}
    parts.update({"slowest_01": found.low01} if found.low01 is not None else {})
    parts.update({"cap": found.cap} if found.cap is not None and found.cap < 400.0 else {})
    say(result=found.average, wrong=0, parts=parts)


def run_heat(rest_s: float, duration_s: float, beside: bool) -> None:
    """The scene for a time after a rest, with all processors busy `beside` it; pictures, or work, a second."""
    stage = _stage(WIDTH, HEIGHT)
    if stage is None:
        return
    wait_for_go()
    time.sleep(rest_s)
    group = _processors(duration_s) if beside else None
    start, count = time.monotonic(), 0
    while time.monotonic() - start < duration_s:
        stage.frame(count)
        count += 1
    seconds = time.monotonic() - start
    if group is None:
        say(result=count / seconds, wrong=0)
        return
    while not group.done():
        time.sleep(0.05)
    wrong, problem = group.wrong(), group.problem()
    if problem:
        say(problem=problem)
    else:
        say(result=sum(group.results()), wrong=wrong)


def _processors(duration_s: float) -> ChildGroup:
    """The work of the sustained load on every processor."""
    specs = [ChildSpec("processor", {"duration_s": duration_s, "cpu": c}) for c in sorted(os.sched_getaffinity(0))]
    group = ChildGroup(specs, COMMAND)
    group.start()
    return group


def run_memory(duration_s: float) -> None:
    """Pictures a second while more and more textures are in use; the curve falls where the chip's memory ends."""
    stage = _stage(WIDTH, HEIGHT)
    if stage is None:
        return
    textures: list[Any] = []
    wait_for_go()
    curve = []
    for step in LADDER_STEPS:
        while len(textures) * TEXTURE_BYTES < step * MIB:
            textures.append(grain_texture(TEXTURE_SIDE, 100 + len(textures)))
        rate = _over_all(stage, textures, duration_s / len(LADDER_STEPS))
        curve.append([float(step * MIB), rate])
        if rate < 0.25 * curve[0][1] or step * MIB >= MOST_BYTES:
            break
    say(result=curve[0][1], wrong=0, curve=curve)


def _over_all(stage: Stage, textures: list[Any], duration_s: float) -> float:
    """Textures a second, each of them drawn from in turn."""
    start, count = time.monotonic(), 0
    while time.monotonic() - start < duration_s or count < len(textures):
        texture = textures[count % len(textures)]
        texture.bind()
        stage.draw("texture", 0.01 * count)
        stage.finish()
        count += 1
    return count / (time.monotonic() - start)


def _stage(width: int, height: int) -> Stage | None:
    try:
        return Stage(Screen(), width, height)
    except NoGraphics as why:
        say(problem=str(why))
        return None
