"""The demo shop, Saltmarsh FM: its jobs and its price list."""

from __future__ import annotations

from functools import cache
from importlib.resources import files

from brachium.core.choose.catalogue import CatalogueItem
from brachium.core.job.job import Job
from brachium.demo.newsroom import newsroom_job
from brachium.formats.catalogue import parse_catalogue

SHOP_NAME = "Saltmarsh FM"


def demo_jobs() -> tuple[Job, ...]:
    return (newsroom_job(),)


@cache
def demo_catalogue() -> tuple[CatalogueItem, ...]:
    text = files("brachium.demo").joinpath("catalogue.csv").read_text(encoding="utf-8")
    return parse_catalogue(text, "catalogue.csv")
