"""The languages that ship: English is the program's own, the others are catalogues beside it."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache
from gettext import GNUTranslations
from importlib.resources import files
from types import MappingProxyType

from brachium.speech.language import ENGLISH, PROGRAMS_OWN, Language

SYSTEM = ""  # the language that the system speaks


@cache
def languages() -> Mapping[str, Language]:
    """Every language that ships, English first, the others by name."""
    every = (
        PROGRAMS_OWN,
        Language("de", "Deutsch", ",", "{d}.{m}.{y}", True, _catalogue("de")),
        Language("fr", "Français", ",", "{d}/{m}/{y}", False, _catalogue("fr")),
    )
    return MappingProxyType({language.code: language for language in every})


def _catalogue(code: str) -> GNUTranslations:
    folder = files("brachium.resources").joinpath("languages", code, "LC_MESSAGES")
    with folder.joinpath("brachium.mo").open("rb") as file:
        return GNUTranslations(file)


def language_of(wanted: str, systems: str) -> Language:
    """The language by its code, else what the system speaks (`de_AT.UTF-8`, `fr`), else English."""
    for code in (wanted, systems):
        found = languages().get(code.replace("-", "_").split("_")[0].split(".")[0].lower())
        if found is not None:
            return found
    return languages()[ENGLISH]
