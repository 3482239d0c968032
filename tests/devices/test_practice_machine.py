"""Every cause makes its simulated machine differ from a healthy one, by itself and not by the luck of the draw."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import fields

import pytest

from brachium.core.machine.kinds import MachineKind
from brachium.devices.simulated.practice_machine import HEALTHY, PracticeMachine, _Maker, causes_for


class Even:
    """Draws that do not depend on how many were drawn before."""

    def random(self) -> float:
        return 0.3  # below every chance by which a cause shows itself, above those of strays

    def uniform(self, low: float, high: float) -> float:
        return 0.5 * (low + high)

    def choice(self, values: Sequence[float]) -> float:
        return values[0]

    def integers(self, low: int, high: int | None = None) -> int:
        return low if high is not None else 0


def made(kind: MachineKind, cause: str) -> PracticeMachine:
    return _Maker(1, kind, cause, Even()).make()  # type: ignore[arg-type]


@pytest.mark.parametrize("kind", [MachineKind.LAPTOP, MachineKind.TOWER])
def test_a_cause_differs_from_a_healthy_machine_and_from_every_other_cause(kind: MachineKind) -> None:
    shown = [f.name for f in fields(PracticeMachine) if f.name not in ("seed", "cause")]
    every = {cause: made(kind, cause) for cause in (HEALTHY, *causes_for(kind))}
    assert repr(every[HEALTHY]) == repr(made(kind, HEALTHY)), "the same draws make the same machine"
    seen: dict[str, str] = {}
    for cause, one in every.items():
        looks = repr([getattr(one, name) for name in shown])
        assert looks not in seen, f"{cause or 'healthy'} looks like {seen[looks] or 'healthy'}"
        seen[looks] = cause
