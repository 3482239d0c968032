"""What a gain is worth to the shop where it states nothing of its own."""

from __future__ import annotations

WORTH_PER_EUR = 0.001  # a step is worth paying while 100 EUR bring a tenth of today's work
