"""A sentence as a template with named values, never glued together, so that it can be translated whole.

A `Text` is the English sentence, a `str` like any other, and remembers its template and values. What renders it in
another language looks the template up and fills it with the values as that language writes them; a value that is a
`Text` itself is looked up in turn. Core stays free of languages.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from string import Formatter
from types import MappingProxyType

NOTHING: Mapping[str, object] = MappingProxyType({})


class Text(str):
    """`Text("runs at {mts} MT/s, not {rated}", {"mts": 1333, "rated": 1600})`.

    Raises ValueError where the values are not just those that the template names.
    """

    template: str
    values: Mapping[str, object]

    def __new__(cls, template: str, values: Mapping[str, object] = NOTHING) -> Text:
        named = {name for _, name, _, _ in Formatter().parse(template) if name is not None}
        if named != set(values):
            raise ValueError(f"“{template}” names {sorted(named)}, given are {sorted(values)}")
        out = super().__new__(cls, template.format_map(values))
        out.template, out.values = template, MappingProxyType(dict(values))
        return out

    def said_in(self, template: str, value: Callable[[object], object] = lambda v: v) -> str:
        """The sentence by the template of another language, which names the same values in its own order; `value`
        gives each of them as that language writes it."""
        return template.format_map({name: value(v) for name, v in self.values.items()})

    def __reduce__(self) -> tuple[type[Text], tuple[str, dict[str, object]]]:
        return Text, (self.template, dict(self.values))
