"""Stated conditions stand over what was read, and every one of them is compared."""

from __future__ import annotations

import pytest

from brachium.core.measure.conditions import Conditions, condition_differences
from brachium.core.measure.typed_conditions import AS_READ, FIELDS, next_choice, with_typed_conditions

READ = Conditions(room_c=22.0, boot_medium="installed system", mains=True, battery_fitted=True,
                  power_profile="balanced", fan_mode="automatic", panel_on=True, stand="on the desk")  # fmt: skip


@pytest.mark.parametrize("field", FIELDS, ids=lambda f: f.key)
def test_each_condition_goes_round_and_is_compared(field: object) -> None:
    seen, value = [], AS_READ
    for _ in range(len(field.values) + 1):  # type: ignore[attr-defined]
        value = next_choice(field, value)  # type: ignore[arg-type]
        seen.append(value)
    assert seen[-1] == AS_READ and seen[:-1] == list(field.values)  # type: ignore[attr-defined]
    other = with_typed_conditions(READ, {field.key: field.values[1]})  # type: ignore[attr-defined]
    assert other != READ and len(condition_differences(READ, other)) == 1
    assert (
        with_typed_conditions(READ, {field.key: AS_READ})
        == with_typed_conditions(READ, {field.key: "nonsense"})
        == READ
    )  # type: ignore[attr-defined]


def test_letters_are_single_and_unlike() -> None:
    letters = [f.letter for f in FIELDS]
    assert len(set(letters)) == len(letters) and all(len(x) == 1 for x in letters)
