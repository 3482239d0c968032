"""Settings of the shop: from a text under a key of its own each (version 1) to one record (version 2)."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal, InvalidOperation
from typing import Any


def from_keys(plain: Mapping[str, str]) -> dict[str, Any]:
    """Version 2. What cannot be read counts as not set, as it did then."""
    rates, _, day = plain.get("exchange_rates", "").partition("|")
    out: dict[str, Any] = {
        "opening_hours": plain.get("opening_hours", ""), "technicians": _count(plain.get("technicians", "")),
        "benches": _count(plain.get("benches", "")), "evidence_threshold": _share(plain.get("evidence_threshold", "")),
        "age_derating": _share(plain.get("age_derating", "")), "worth_per_eur": _share(plain.get("worth_per_eur", "")),
        "report_language": plain.get("report_language", ""), "report_currency": plain.get("report_currency", ""),
        "watched_folder": plain.get("watched_folder", ""), "rates_day": day,
    }  # fmt: skip
    out = {key: value for key, value in out.items() if value not in ("", None)}
    out["tax"] = {"rate": str(_share(plain.get("tax_rate", "")) or 0), "included": plain.get("tax_apart") != "apart"}
    out["correct_predictions"] = plain.get("correct_predictions") != "off"
    out["demo_filled"] = plain.get("demo_shop") == "whole"
    out["rates"] = _rates(rates)
    return out


def _share(text: str) -> float | None:
    try:
        value = float(text)
    except ValueError:
        return None
    return min(max(value, 0.0), 1.0) if value == value else None


def _count(text: str) -> int | None:
    return min(max(int(text), 1), 12) if text.isdecimal() else None


def _rates(text: str) -> dict[str, str]:
    """`USD 0.92, GBP 1.17`; all of them or none."""
    out = {}
    for entry in (e.split() for e in text.split(",") if e.strip()):
        try:
            code, rate = entry
            out[code] = str(Decimal(rate))
        except (ValueError, InvalidOperation):
            return {}
    return out


UPGRADES = (from_keys,)
