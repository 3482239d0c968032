"""The languages that ship: English is the program's own, the others are catalogues beside it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import cache
from gettext import GNUTranslations
from importlib.resources import files

from brachium.speech.language import ENGLISH, PROGRAMS_OWN, Language

SYSTEM = ""  # the language that the system speaks


FORMS = {  # name, decimal sign, date, a capital for every noun
    "de": ("Deutsch", ",", "{d}.{m}.{y}", True),
    "fr": ("Français", ",", "{d}/{m}/{y}", False),
}


def language_names() -> dict[str, str]:
    """What each language that ships calls itself, by its code; no catalogue is read for it."""
    return {ENGLISH: PROGRAMS_OWN.name, **{code: name for code, (name, *_) in FORMS.items()}}


class _Shipped(Mapping[str, Language]):
    """Each is read when it is asked for."""

    def __getitem__(self, code: str) -> Language:
        return _language(code)

    def __contains__(self, code: object) -> bool:
        return code == ENGLISH or code in FORMS

    def __iter__(self) -> Iterator[str]:
        return iter((ENGLISH, *FORMS))

    def __len__(self) -> int:
        return 1 + len(FORMS)


def languages() -> Mapping[str, Language]:
    """Every language that ships, English first, the others by name."""
    return _Shipped()


@cache
def _language(code: str) -> Language:
    """Its catalogue is read when it is spoken first: seven thousand phrases are a tenth of a start."""
    return PROGRAMS_OWN if code == ENGLISH else Language(code, *FORMS[code], _catalogue(code))


def _catalogue(code: str) -> GNUTranslations:
    folder = files("brachium.resources").joinpath("languages", code, "LC_MESSAGES")
    with folder.joinpath("brachium.mo").open("rb") as file:
        return GNUTranslations(file)


def language_of(wanted: str, systems: str) -> Language:
    """The language by its code, else what the system speaks (`de_AT.UTF-8`, `fr`), else English."""
    for code in (wanted, systems):
        known = code.replace("-", "_").split("_")[0].split(".")[0].lower()
        if known in languages():
            return _language(known)
    return PROGRAMS_OWN
