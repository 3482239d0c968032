"""Saying a text in a language: templates, values in them, plurals, capitals, figures, and what nobody can translate."""

from __future__ import annotations

from decimal import Decimal

from hypothesis import given
from hypothesis import strategies as st

from brachium.core.base.own_words import OwnWords
from brachium.core.base.packed_text import packed, unpacked
from brachium.core.base.spoken import say, spoken_by
from brachium.core.base.text import Span, Text, counted, joined, lower_first, many, phrase, upper_first, without_stop
from brachium.core.figures.base.text_width import text_width, wrapped
from brachium.speech.languages import language_of, languages

ENGLISH, GERMAN, FRENCH = (languages()[code] for code in ("en", "de", "fr"))


def test_a_template_is_said_whole_with_its_values_in_turn() -> None:
    inner = counted(2, "{count} channel", "{count} channels")
    text = phrase("{named}, {rate:.1f} GB/s", named=inner, rate=12.84)
    assert (str(text), ENGLISH.say(text)) == ("2 channels, 12.8 GB/s",) * 2
    assert (GERMAN.say(text), FRENCH.say(text)) == ("2 Kanäle, 12,8 GB/s", "2 canaux, 12,8 GB/s")
    assert GERMAN.say(phrase("due {look_again}", look_again="2026-12-01")) == "fällig 01.12.2026"
    assert FRENCH.say(joined(" and ", ["free", OwnWords("free seats")])) == "libre et free seats"


def test_plurals_follow_the_rules_of_the_language() -> None:
    assert [GERMAN.say(many(n, "slot")) for n in (0, 1, 2)] == ["0 Plätze", "1 Platz", "2 Plätze"]
    assert [FRENCH.say(many(n, "drive")) for n in (0, 1, 2)] == ["0 disque", "1 disque", "2 disques"]
    assert [str(many(n, "drive")) for n in (0, 1, 2)] == ["0 drives", "1 drive", "2 drives"]


def test_a_language_that_keeps_its_capitals_does() -> None:
    slot = lower_first("Drive bay")
    assert (str(slot), GERMAN.say(slot), FRENCH.say(slot)) == ("drive bay", "Laufwerksplatz", "baie de disque")
    assert GERMAN.say("drive bay 2") == "Laufwerksplatz 2", "a label that a record numbered"
    assert str(lower_first("SATA mode")) == "SATA mode" and str(upper_first("held back")) == "Held back"
    assert GERMAN.say(without_stop("Name a file.")) == "Eine Datei nennen"


def test_what_has_no_phrase_stays_as_it_is_and_is_named() -> None:
    assert GERMAN.told("the flux is askew by 3.5 K") == ("the flux is askew by 3.5 K", ("the flux is askew by 3.5 K",))
    assert GERMAN.told(OwnWords("Work horse 1.5")) == ("Work horse 1.5", ()), "typed words are nobody's to change"
    assert GERMAN.told(phrase("{n} of nothing", n=1))[1] == ("{n} of nothing",)
    assert GERMAN.told(phrase("Erase the {drive}", drive="Sandbar 500"))[1] == (), "a name within a sentence"
    assert GERMAN.say("PCIe 3.0 x4, 8.5 GB/s") == "PCIe 3.0 x4, 8.5 GB/s"


@given(st.floats(-1e6, 1e6), st.integers(0, 3))
def test_a_number_is_formatted_as_asked_and_written_as_the_language_writes_it(value: float, digits: int) -> None:
    text = phrase("{clock:.{digits}f} GHz sustained", clock=value, digits=digits)
    said = GERMAN.say(text)
    assert said.startswith(f"{value:.{digits}f}".replace(".", ",")) and FRENCH.say(text).split()[0] == said.split()[0]
    span = phrase("{rate:.1f} GB/s peak", rate=Span(value, value + 1.0))
    assert GERMAN.say(span) == f"{value:.1f} bis {value + 1.0:.1f} GB/s Spitze".replace(".", ",")


@given(
    st.recursive(
        st.text(max_size=9) | st.integers() | st.booleans(), lambda inner: st.lists(inner, min_size=1, max_size=3)
    )
)
def test_a_text_comes_back_from_the_record_as_it_was(values: object) -> None:
    text = _nested(values)
    back = unpacked(packed(text))
    assert back == text and isinstance(back, Text) == isinstance(text, Text)
    if isinstance(text, Text) and isinstance(back, Text):
        assert (back.template, dict(back.values), back.one, back.number) == (
            text.template, dict(text.values), text.one, text.number)  # fmt: skip
    assert unpacked("\x1fnot json") == "not json", "what cannot be read is shown, not lost"


def _nested(value: object) -> str:
    if isinstance(value, list):
        parts = {f"p{k}": _nested(v) if isinstance(v, list) else v for k, v in enumerate(value)}
        return Text(" ".join(f"{{{name}}}" for name in parts), parts)
    return str(value).lstrip("\x1f")


def test_figures_are_laid_out_by_the_words_that_will_stand_there() -> None:
    text = phrase("{count} causes are unlikely", count=3)
    wide = text_width(text, 13)
    with spoken_by(GERMAN.say):
        assert say(text) == "3 Ursachen sind unwahrscheinlich" and text_width(text, 13) > wide
        assert " ".join(wrapped(text, 130, 13)) == "3 Ursachen sind unwahrscheinlich"
    assert say(text) == text and text_width(text, 13) == wide, "after the block as before it"


def test_the_language_is_the_chosen_one_else_the_systems_else_english() -> None:
    asked = (("fr", "de_AT.UTF-8"), ("", "de_AT.UTF-8"), ("", "nl_NL"), ("xx", "C"))
    assert [language_of(wanted, systems).code for wanted, systems in asked] == ["fr", "de", "en", "en"]
    assert GERMAN.say(phrase("{low} to {high}", low=Decimal("1.5"), high=2)) == "1,5 bis 2"
