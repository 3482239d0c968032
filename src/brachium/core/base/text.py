"""A sentence as a template with named values, never glued together, so that it can be translated whole."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from string import Formatter
from types import MappingProxyType


@dataclass(frozen=True)
class Text:
    """`Text("runs at {mts} MT/s, not {rated}", {"mts": 1333, "rated": 1600})`; as a str it is the English sentence.

    Raises ValueError where the values are not just those that the template names.
    """

    template: str
    values: Mapping[str, object] = field(default_factory=lambda: MappingProxyType({}))

    def __post_init__(self) -> None:
        named = {name for _, name, _, _ in Formatter().parse(self.template) if name is not None}
        if named != set(self.values):
            raise ValueError(f"“{self.template}” names {sorted(named)}, given are {sorted(self.values)}")

    def __str__(self) -> str:
        return self.said_in(self.template)

    def said_in(self, template: str) -> str:
        """The sentence by the template of another language, which names the same values in its own order."""
        return template.format_map(self.values)
