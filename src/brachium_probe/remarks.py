"""What does not agree within a scan: memory over its maximum, places that may be soldered, slots and their devices."""

from __future__ import annotations

from typing import Dict, List, Sequence

Fields = Dict[str, object]
NOBODY = ("0000", "00000000", "0", "")


def of_memory(places: Sequence[Fields], limit: int | None) -> List[str]:
    """Remarks on memory slots."""
    fitted = sum(_size(p) for p in places)
    out = []
    if limit is not None and fitted > limit:
        out.append(
            f"the firmware states a memory maximum of {_gib(limit)}, but {_gib(fitted)} are fitted: it understates"
        )
    for place in places:
        if place.get("size_at_least"):
            out.append(f"{_name(place)}: the firmware says only that its module has 32 GiB or more")
        if may_be_soldered(place, places):
            out.append(f"{_name(place)} may be soldered memory and no slot: look at the board before it is planned on")
    handles = [p.get("handle") for p in places]
    if len(set(handles)) < len(handles):
        out.append("two memory slots carry the same handle; both are kept")
    return out


def may_be_soldered(place: Fields, places: Sequence[Fields]) -> bool:
    """Whether what is listed as a module may be soldered: no maker, serial or part number, or another form than its
    neighbour; a row of chips and low-power memory are soldered for certain and are no question."""
    if not _size(place) or is_soldered(place):
        return False
    blank = all(str(place.get(key) or "").strip() in NOBODY for key in ("maker", "serial", "part"))
    forms = {p.get("form") for p in places if _size(p) and p.get("form")}
    odd = len(forms) > 1 and any(is_soldered(p) for p in places)
    return blank or odd


def is_soldered(place: Fields) -> bool:
    """Whether the firmware itself says that there is no module."""
    return place.get("form") in ("row of chips", "die") or str(place.get("type") or "").startswith("LPDDR")


def of_slots(slots: Sequence[Fields], devices: Sequence[Fields]) -> List[str]:
    """Slots whose use, as the firmware tells it, the devices contradict."""
    known = {str(d.get("address")) for d in devices}
    if not known:
        return []
    out = []
    for slot in slots:
        address = slot.get("address")
        if address is None:
            continue
        there = str(address) in known
        if slot.get("usage") == "in use" and not there:
            out.append(f"{slot.get('name') or 'a card slot'}: said to be in use, but no device is at {address}")
        if slot.get("usage") == "free" and there:
            out.append(f"{slot.get('name') or 'a card slot'}: said to be free, but a device is at {address}")
    return out


def _size(place: Fields) -> int:
    size = place.get("size_bytes")
    return size if isinstance(size, int) else 0


def _name(place: Fields) -> str:
    return str(place.get("locator") or "a memory slot")


def _gib(size: int) -> str:
    return f"{size / 2**30:g} GiB"
