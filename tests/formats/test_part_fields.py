"""Parts as text: every kind survives the price list; tables of systems and evidence; bad lines are named."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from brachium.core.base.problems import ExpectedProblem
from brachium.core.machine.cooling_parts import Pad
from brachium.core.machine.parts import Part
from brachium.core.machine.processor_part import ProcessorPart
from brachium.core.plan.candidates import PART_GROUPS, CatalogueItem, candidates, with_weighed_offers
from brachium.core.plan.price_offer import PriceOffer, cheapest_offer, offer_words, rates_text, read_rates, with_rates
from brachium.core.record.evidence import CompatibilityClaim, Source, SourceKind
from brachium.core.record.systems import SYSTEMS
from brachium.formats.catalogue import catalogue_text, parse_catalogue, read_catalogue
from brachium.formats.shop_documents import CLAIMS
from brachium.formats.shop_tables import systems_from_csv, systems_to_csv
from tests.core.fit.bench_machines import (
    ADAPTER,
    BATTERY,
    BOARD,
    CARD,
    CHIP,
    COOLER,
    D3,
    FAN,
    GALLIUM,
    NVME,
    PASTE,
    PATA,
    RADIO,
    SSD,
    SUPPLY,
    TOWER,
)

PARTS: tuple[Part, ...] = (
    D3, replace(D3, ranks=1, height_mm=44.0, ecc=True), SSD, NVME, PATA, CHIP, replace(CHIP, used=True, memory=None),
    COOLER,
    FAN, replace(FAN, tells_speed=False), PASTE, GALLIUM, Pad("pad", 1.5), CARD, replace(CARD, plugs=("6-pin",
                                                                                                      "8-pin")),
    RADIO, SUPPLY, ADAPTER, BATTERY, BOARD,
)  # fmt: skip


def item(part: Part, k: int = 0, offers: tuple[PriceOffer, ...] = ()) -> CatalogueItem:
    group = PART_GROUPS[part.kind]
    best = cheapest_offer(offers)
    price = best.total if best is not None else Decimal("12.50")
    named = replace(part, name=f"Item {k}")
    return CatalogueItem(f"i{k}", group, f"Item {k}", price, 1, named, offers=offers)


def test_every_kind_of_part_comes_back_from_the_price_list_as_it_went() -> None:
    items = tuple(item(p, k) for k, p in enumerate(PARTS))
    assert parse_catalogue(catalogue_text(items), "list") == items
    assert {p.kind for p in PARTS} == set(PART_GROUPS)


offer = st.builds(
    PriceOffer, st.text("abc", min_size=1, max_size=5), st.decimals(0, 500, places=2), st.decimals(0, 20, places=2),
    st.sampled_from(("new", "used")), st.sampled_from(("", "2026-11-20")), st.sampled_from(("EUR", "GBP")),
)  # fmt: skip


@settings(max_examples=40)
@given(st.lists(offer, max_size=4))
def test_offers_come_back_and_the_cheapest_with_shipping_is_the_price(offers: list[PriceOffer]) -> None:
    whole = item(SSD, 0, tuple(offers))
    (again,) = parse_catalogue(catalogue_text((whole,)), "list")
    assert again == whole
    own = [o.price + o.shipping for o in offers if o.currency == "EUR"]
    assert again.price == (min(own) if own else Decimal("12.50"))
    (at_rate,) = with_weighed_offers((again,), {"GBP": Decimal("1.2")})
    all_in = [(o.price + o.shipping) * (Decimal("1.2") if o.currency == "GBP" else 1) for o in offers]
    assert not offers or abs(at_rate.price - min(all_in)) <= Decimal("0.005")
    assert with_weighed_offers((at_rate,), {})[0].offers == again.offers, "a rate taken back is gone"
    if offers:
        assert "Offers: " in candidates(TOWER, (again,))[0].note


def test_a_processor_table_is_read_by_the_names_of_its_columns() -> None:
    text = (
        "id,group,title,price_eur,socket,power_w,single_rate,all_rate,graphics,memory,first_firmware\n"
        "p1,processor,Eight cores,90,KM-2,80,131,1040,yes,DDR4+DDR5,2.10\n"
    )
    (read,) = parse_catalogue(text, "table")
    part = read.part
    assert isinstance(part, ProcessorPart) and (part.socket, part.power_w, part.graphics) == ("KM-2", 80.0, True)
    assert [str(m) for m in part.memory or ()] == ["DDR4", "DDR5"] and part.all_rate == 1040.0


@pytest.mark.parametrize(
    ("more", "says"),
    [
        ("socket=KM-2; power_w=hot", "power_w is “hot”, a number is meant"),
        ("socket=KM-2; graphics=perhaps", "graphics is “perhaps”, yes or no is meant"),
        ("socket=KM-2; colour=red", "colour is no attribute here"),
        ("power_w=65", "socket is empty"),
        ("socket", "more holds “socket”, key=value is meant"),
        ("socket=KM-2; memory=DDR9", "memory is “DDR9”, known are"),
    ],
)
def test_a_bad_attribute_is_named_with_its_line_and_the_rest_is_offered(more: str, says: str) -> None:
    text = f"id,group,title,price_eur,more\nbad,processor,P,10,{more}\ngood,fan,F,5,plug=4-pin\n"
    read = read_catalogue(text, "list")
    assert read is not None and [i.id for i in read.items] == ["good"]
    assert read.bad[0][0] == 2 and says in read.bad[0][1]


@pytest.mark.parametrize("offers", ["shop; ten", "; 5", "shop; -3", "shop; 3; 1; new; soon"])
def test_a_bad_offer_is_named(offers: str) -> None:
    read = read_catalogue(f"id,group,title,price_eur,offers\nx,cleaning,Clean,1,{offers}\n", "list")
    assert read is not None and not read.items and "offers holds" in read.bad[0][1]


def test_the_table_of_systems_and_evidence_come_back_and_bad_ones_are_named() -> None:
    dated = tuple(replace(s, support_ends="2029-10-14", ceiling_bytes=1 << 36) for s in SYSTEMS)
    assert (
        systems_from_csv(systems_to_csv(dated), "t") == dated
        and systems_from_csv(systems_to_csv(SYSTEMS), "t") == SYSTEMS
    )
    for text, says in (("id,title\n,x\n", "line 2"), ("id,title,support_ends\na,b,soon\n", "line 2"), ("id\na\n",
                                                                                                       "title"),
                       ("id,title,start_mode\na,b,magic\n", "line 2")):  # fmt: skip
        with pytest.raises(ExpectedProblem) as found:
            systems_from_csv(text, "systems.csv")
        assert says in str(found.value)
    claims = (
        CompatibilityClaim(
            "D4-84", "Bench 1", (Source(SourceKind.MAKER, note="list"), Source(SourceKind.DATABASE, False))
        ),
    )
    assert CLAIMS.codec.read(CLAIMS.codec.text(claims), "c") == claims
    with pytest.raises(ExpectedProblem):
        CLAIMS.codec.read('[{"part": 3}]', "c")


@pytest.mark.parametrize("text", ["USD", "USD x", "EUR 1", "US 0.9", "USD 0", "USD 0.9 0.8", "GBP -1"])
def test_a_wrong_rate_is_named(text: str) -> None:
    with pytest.raises(ValueError, match="“"):
        read_rates(text)


def test_rates_are_read_as_they_are_written_and_words_say_how_an_offer_was_weighed() -> None:
    rates = read_rates("usd 0.92, GBP=1.17; ")
    assert rates == {"USD": Decimal("0.92"), "GBP": Decimal("1.17")} and read_rates(rates_text(rates)) == rates
    offers = with_rates(
        (PriceOffer("far", Decimal(20), currency="USD"), PriceOffer("x", Decimal(1), currency="CHF")), rates
    )
    assert (
        offer_words(offers) == "far 18.40 EUR (20.00 USD at 0.92), new; x 1.00 CHF, not weighed: no rate is set for CHF"
    )
