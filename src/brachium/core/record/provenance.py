"""Where a machine came from and what went into it before any work: purchase, missing pieces, seller's claims."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum


class ClaimState(StrEnum):
    """What became of something the seller said."""

    NOT_CHECKED = "not checked"
    HOLDS = "holds"
    DOES_NOT = "does not hold"


@dataclass(frozen=True)
class MissingPiece:
    """Something to be bought before the machine can even be tested; price None = not known yet."""

    what: str
    price: Decimal | None = None


@dataclass(frozen=True)
class SellerClaim:
    """What the seller said, against what is found."""

    text: str
    state: ClaimState = ClaimState.NOT_CHECKED


@dataclass(frozen=True)
class Provenance:
    """Amounts in the shop's currency; None = not known, which is not zero."""

    source: str = ""
    paid: Decimal | None = None
    shipping: Decimal | None = None
    missing: tuple[MissingPiece, ...] = ()
    claims: tuple[SellerClaim, ...] = ()

    def spent(self) -> Decimal:
        """Everything known so far."""
        pieces = (p.price for p in self.missing)
        return sum((a for a in (self.paid, self.shipping, *pieces) if a is not None), Decimal(0))

    def open_amounts(self) -> tuple[str, ...]:
        """Pieces whose price is not known: the sum is a lower bound while there are any."""
        return tuple(p.what for p in self.missing if p.price is None)

    def broken_claims(self) -> tuple[str, ...]:
        return tuple(c.text for c in self.claims if c.state is ClaimState.DOES_NOT)
