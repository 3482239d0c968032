"""How much results of a test scatter, and how sure that is: between sessions and within one."""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

from brachium.core.measure.assumptions import FOLLOW_LEARNED, FOLLOW_STATED, UPWARD_LEARNED, UPWARD_ONCE, UPWARD_STATED

STATED_DEFAULT = "stated default"


@dataclass(frozen=True)
class Spread:
    """Relative standard deviation between and within sessions, each with the weight behind it [degrees of freedom].

    `doubt` is the deviation [of the logarithm] by which this machine may differ from those that it was learned from;
    a machine that is wilder than they were is less of a surprise than one that is calmer.
    """

    between: float = 0.0265
    between_df: float = 1.0
    within: float = 0.01
    within_df: float = 1.5
    source: str = STATED_DEFAULT
    doubt: float = 0.5

    @property
    def is_stated(self) -> bool:
        """Nothing was learned: a default, of any machine or of one kind of it."""
        return self.source.startswith(STATED_DEFAULT)

    @property
    def within_log_sd(self) -> float:
        """Deviation of the logarithm of the spread within sessions; that of a variance of n df is sqrt(1 / 2n)."""
        return sqrt(0.5 / self.within_df + self.doubt**2)

    @property
    def sessions_follow(self) -> tuple[float, float]:
        """Shares (upward, downward) of another spread within sessions that the spread between them has too.

        A machine whose repeats are wilder than those learned from is wilder in its sessions as well, and one with calm
        repeats less surely calmer; of stated defaults only the former is taken.
        """
        return FOLLOW_STATED if self.is_stated else FOLLOW_LEARNED

    def between_log_sds(self, repeated: bool) -> tuple[float, float]:
        """(upward, downward) deviations of the logarithm of the spread between sessions.

        Where sessions were `repeated` they can tell against a spread that is too wide, and much more is allowed for;
        with one session a side the width decides alone.
        """
        if self.is_stated:
            down = sqrt(0.5 / self.between_df)
            return UPWARD_STATED * down, down
        down = sqrt(0.5 / self.between_df + self.doubt**2)
        return (UPWARD_LEARNED if repeated else UPWARD_ONCE) * down, down
