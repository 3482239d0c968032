"""The price list of the demo shop, Saltmarsh FM."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from brachium.core.plan.candidates import CatalogueItem
from brachium.formats.catalogue import parse_catalogue


@cache
def demo_catalogue() -> tuple[CatalogueItem, ...]:
    text = files("brachium.demo").joinpath("catalogue.csv").read_text(encoding="utf-8")
    return parse_catalogue(text, "catalogue.csv")
