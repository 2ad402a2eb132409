"""What can be asked of a picture file besides what it shows."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from mothseed.render.rounding import USUAL, Rounding


class Effort(Enum):
    """How much is done for a small file."""

    QUICK = "quick"
    """for what is looked at and let go: a tenth of the time of the next, and a tenth larger"""
    USUAL = "usual"
    """as small as usual writers make it, or smaller, in a third of their time"""
    SMALL = "small"
    """as small as it gets, in ten times as long"""


@dataclass(frozen=True, slots=True)
class Settings:
    """How a picture is to be written; each format says which of these it takes."""

    width: int = 1000
    """of the picture, in pixels; files of shapes are as large as their sheet"""
    dpi: float | None = None
    """pixels in an inch of print, to be written down"""
    effort: Effort = Effort.USUAL
    rounding: Rounding = USUAL
    keep_text: bool = False
    """text as text rather than as outlines"""
    threads: int | None = None
    """None for as many as there are processors; it changes nothing in the file"""
