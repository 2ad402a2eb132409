"""Settings for writing a picture file, besides its content."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum

from mothseed.render.rounding import USUAL, Rounding


class Effort(Enum):
    """Effort spent on a small file."""

    QUICK = "quick"
    """for pictures to look at: a sixth of the time of the next, and a tenth to a third larger"""
    USUAL = "usual"
    """as small as common writers make it, or smaller, in a third of their time"""
    SMALL = "small"
    """as small as possible, in ten times as long"""


@dataclass(frozen=True, slots=True)
class Settings:
    """How to write a picture; each format says which of these it supports."""

    width: int = 1000
    """width of the picture in pixels; vector files have the size of their sheet"""
    dpi: float | None = None
    """pixels per inch in print, stored in the file"""
    effort: Effort = Effort.USUAL
    rounding: Rounding = USUAL
    keep_text: bool = False
    """text as text rather than as outlines"""
    threads: int | None = None
    """None for the number of processors; does not affect the file"""
