"""Numbers for people: units, honest digits, money. Every figure on screen passes through here."""

from __future__ import annotations

import math
from decimal import ROUND_HALF_UP, Decimal

from brachium.core.base.text import phrase

MIB = 1 << 20
GIB = 1024**3
GB = 1000**3
OWN_CURRENCY = "EUR"  # of the shop; reports may speak another


def decimals_for(half_width: float) -> int:
    """Decimals that show a half-width to two digits below 2, else to one; never negative."""
    if not math.isfinite(half_width) or half_width <= 0.0:
        return 1
    digits = 1 - math.floor(math.log10(half_width))
    leading = half_width * 10 ** (digits - 1)
    return max(digits if leading < 2.0 else digits - 1, 0)


def pm(value: float, half_width: float, unit: str) -> str:
    """`13.9 ± 1.3 K`: value and half-width with the same, honest digits."""
    d = decimals_for(half_width)
    return f"{signed_zero(value, d)} ± {half_width:.{d}f} {unit}"


def signed_zero(value: float, decimals: int) -> str:
    """Format without the nonsense of a negative zero; the minus sign is U+2212."""
    text = f"{value:.{decimals}f}"
    if float(text) == 0.0:
        text = text.lstrip("-")
    return text.replace("-", "−")


def number(value: float, digits: int = 3) -> str:
    """A figure to so many significant digits, grouped by thin spaces from 10 000 on."""
    if not math.isfinite(value):
        return "not known"
    if value == 0.0:
        return "0"
    decimals = max(digits - 1 - math.floor(math.log10(abs(value))), 0)
    text = f"{value:,.{decimals}f}" if abs(value) >= 10_000 else f"{value:.{decimals}f}"
    return text.replace(",", "\u202f").replace("-", "−")


def ratio(value: float) -> str:
    """`× 1.18`; three significant digits, two decimals at the most."""
    return f"× {value:.{2 if value < 10 else 1 if value < 100 else 0}f}"


def ratio_band(low: float, mid: float, high: float) -> str:
    """`× 1.18 (1.05 to 1.31)`."""
    d = 2 if high < 10 else 1 if high < 100 else 0
    return phrase("× {mid:.{d}f} ({low:.{d}f} to {high:.{d}f})", mid=mid, low=low, high=high, d=d)


def percent(frac: float, decimals: int = 0) -> str:
    return f"{signed_zero(100.0 * frac, decimals)} %"


def gib(size_bytes: int, decimals: int = 1) -> str:
    """Size in binary units: `8 GiB`, `256 MiB`; decimals only where the value is not whole."""
    if 0 < size_bytes < GIB:
        return f"{size_bytes / MIB:.0f} MiB"
    value = size_bytes / GIB
    return f"{value:.0f} GiB" if value == int(value) else f"{value:.{decimals}f} GiB"


def drive_size(size_bytes: int) -> str:
    """Drive size as its label gives it, decimal: `480 GB`, `2 TB`."""
    value = size_bytes / GB
    return f"{value / 1000:.3g} TB" if value >= 1000 else f"{value:.0f} GB"


def shown_size(size_bytes: int) -> str:
    """Size of a drive as systems show it, binary: 2 TB is `1.82 TiB`, 480 GB is `447 GiB`."""
    value = size_bytes / GIB
    return f"{value / 1024:.2f} TiB" if value >= 1000 else f"{value:.0f} GiB"


def minutes(value_min: float) -> str:
    """`2 h 10 min`, `45 min`."""
    whole = round(value_min)
    return f"{whole // 60} h {whole % 60:02d} min" if whole >= 60 else f"{whole} min"


def plain_seconds(value_s: float) -> str:
    """`45 s`, `10 min`."""
    return f"{value_s:.0f} s" if value_s < 120 else f"{value_s / 60:.0f} min"


def seconds_left(value_s: float) -> str:
    """Remaining time in words a person reads at a glance."""
    if value_s >= 90:
        return phrase("{minutes} min left", minutes=math.ceil(value_s / 60))
    return phrase("{seconds} s left", seconds=max(math.ceil(value_s), 0))


def money(amount: Decimal, currency: str = OWN_CURRENCY) -> str:
    """`34 EUR` or `34.50 EUR`; rounded half up to the cent."""
    cents = amount.quantize(Decimal("0.01"), rounding=ROUND_HALF_UP)
    text = f"{cents:.0f}" if cents == cents.to_integral_value() else f"{cents:.2f}"
    return f"{text} {currency}"
