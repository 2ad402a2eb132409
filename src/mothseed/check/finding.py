"""What is found in a sketch: a code, a line, what is wrong, what to do."""

from __future__ import annotations

from dataclasses import dataclass

from mothseed.sketch.trace import Line

RULES = {
    "irreproducible": "the same seed gave another picture in another process",
    "unseeded": "a number, time or order that no seed decides",
    "outside-file": "a file is read that lies outside of the sketch's folder",
    "nothing-drawn": "nothing is drawn",
    "off-sheet": "all that a line draws lies off the sheet",
    "no-paint": "all that a line draws has no paint",
    "no-size": "all that a line draws has no size",
    "same-paint": "all that a line draws has the colour of what lies under it",
    "covered": "all that a line draws is covered by what is drawn later",
    "hides-all": "a mark hides everything that was drawn before it",
    "edge-shows": "a turned shape of the sheet's size leaves corners of the paper bare",
    "radians": "an angle in radians where degrees are meant",
    "degrees": "an angle in degrees where radians are meant",
    "out-of-gamut": "a colour that no screen shows, replaced by a duller one",
    "crowded": "more marks than can be told apart",
    "idle-dial": "a dial that changes nothing",
    "hardly-ever": "an outcome so rare that it hardly ever comes",
    "shared-stream": "one stream of chance is drawn from for two things",
}
"""The codes of findings, and what each says."""


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that is probably not meant."""

    code: str
    line: Line | None
    words: str
    """what was found, with numbers"""
    remedy: str

    @property
    def says(self) -> str:
        """What the rule says."""
        return RULES[self.code]
