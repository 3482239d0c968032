"""Which column is which, and in which unit, where the heading leaves it open."""

from __future__ import annotations

import numpy as np
import pytest

from brachium.formats.log_columns import assign_roles, unit_for


@pytest.mark.parametrize(("role", "highest", "unit"), [
    ("temp", 125.0, "c"), ("temp", 125.1, "f"), ("room", 80.0, "c"), ("power", 1000.0, "w"), ("power", 1000.1, "mw"),
    ("clock", 19.9, "ghz"), ("clock", 20.0, "mhz"), ("clock", 100_000.0, "mhz"), ("clock", 100_001.0, "khz"),
    ("util", 1.5, "frac"), ("util", 1.6, "pct"), ("fan", 9000.0, "rpm"), ("gpu_power", 1200.0, "mw"),
    ("gpu_util", 0.9, "frac"),
])  # fmt: skip
def test_the_unit_follows_from_the_size_of_the_numbers(role: str, highest: float, unit: str) -> None:
    values = np.array([0.1, np.nan, highest])
    assert unit_for(role, "value", values) is unit_for(role, "value", values, unit)


@pytest.mark.parametrize(("role", "header", "unit"), [
    ("temp", "Chip [°F]", "f"), ("temp", "chip_k", "k"), ("power", "Package mW", "mw"), ("clock", "core kHz", "khz"),
    ("util", "busy %", "pct"), ("time", "elapsed_ms", "ms"), ("time", "time [min]", "min"), ("time", "Time (s)", "s"),
])  # fmt: skip
def test_a_heading_that_names_its_unit_is_believed(role: str, header: str, unit: str) -> None:
    values = np.array([1.0, 50.0])
    assert unit_for(role, header, values) is unit_for(role, "value", values, unit)


def test_of_two_like_columns_the_first_is_taken_and_none_twice() -> None:
    roles = assign_roles(["Time", "CPU temperature", "CPU temperature", "CPU power", "GPU power", "GPU usage"])
    assert roles["temp"] == 1 and roles["power"] == 3 and roles["gpu_power"] == 4 and roles["gpu_util"] == 5
    assert len(set(roles.values())) == len(roles)
    only = assign_roles(["Time", "GPU temperature", "CPU temperature"])
    assert only["temp"] == 2, "the graphics' own temperature is not the processor's"
