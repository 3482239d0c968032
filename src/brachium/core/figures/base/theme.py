"""The one token record: colours, type and spacing for palette, style sheet, icons, figures and reports."""

from __future__ import annotations

from dataclasses import dataclass, fields


@dataclass(frozen=True)
class Colours:
    """Colour roles; widgets and figures name roles, never values.

    Text stands in ink, soft, cool, warm, alarm or on_cool; what can be typed into or pressed has an outline of `edge`;
    `hair` and `grid` only divide.
    """

    film: str
    sheet: str
    ink: str
    soft: str
    edge: str
    hair: str
    grid: str
    cool: str
    cool_wash: str
    warm: str
    warm_wash: str
    alarm: str
    alarm_wash: str
    on_cool: str

    def role(self, name: str) -> str:
        """The value of a role; raises AttributeError for an unknown one."""
        return str(getattr(self, name))


LIGHT = Colours(
    film="#F4F6F5", sheet="#FBFCFB", ink="#17262E", soft="#52646E", edge="#7F8E95", hair="#C7D0D2", grid="#E3E8E8",
    cool="#0B6572", cool_wash="#DCEBEC", warm="#A84B18", warm_wash="#F8EBE1", alarm="#A3262A",
    alarm_wash="#F6DFDF", on_cool="#FBFCFB",
)  # fmt: skip
DARK = Colours(
    film="#11181C", sheet="#161F24", ink="#E6EDEE", soft="#9DB0B8", edge="#60737C", hair="#33434B", grid="#222E34",
    cool="#5EC4D0", cool_wash="#173239", warm="#EE9A63", warm_wash="#38261B", alarm="#FF8A85",
    alarm_wash="#3A2022", on_cool="#11181C",
)  # fmt: skip
CONTRAST = Colours(
    film="#FFFFFF", sheet="#FFFFFF", ink="#000000", soft="#26343B", edge="#39474E", hair="#5A6B73", grid="#B9C4C8",
    cool="#004C57", cool_wash="#CDEEF1", warm="#7E2E00", warm_wash="#FFE6D2", alarm="#8F0006",
    alarm_wash="#FFDDDD", on_cool="#FFFFFF",
)  # fmt: skip
ROLES = tuple(f.name for f in fields(Colours))


@dataclass(frozen=True)
class Type:
    """The type scale [px] and families."""

    tiny: int = 11
    small: int = 12
    body: int = 13
    strong: int = 14
    lead: int = 15
    title: int = 17
    headline: int = 20
    family: str = "Barlow"
    condensed: str = "Barlow Semi Condensed"


TYPE = Type()


@dataclass(frozen=True)
class Space:
    """Lengths on a 4 px grid [px]; `target` is the least height of anything clicked."""

    header: int = 44
    rail: int = 168
    rail_folded: int = 56
    track: int = 52
    because: int = 288
    because_folded: int = 32
    next: int = 48
    gutter: int = 16
    target: int = 32
    radius: int = 3


SPACE = Space()
