"""The sheet: the view that a sketch is given, on paper of a size."""

from __future__ import annotations

from mothseed.chance.outcome import Outcome
from mothseed.colour.ramp import Ramp
from mothseed.colour.value import Colour
from mothseed.geometry.affine import Affine
from mothseed.sheet.drawing import DEFAULT_LIGHT, Drawing
from mothseed.sheet.marks import Ink
from mothseed.sheet.recorder import Recorder
from mothseed.sheet.style import Style
from mothseed.sheet.view import View


class Sheet(View):
    """What a sketch draws on: width, height, unit, paper and light, origin top left, y down."""

    __slots__ = ("light", "paper", "unit")

    light: float
    """The heading in degrees in which soft shadows fall."""
    paper: Colour
    unit: str

    def __init__(
        self,
        width: float,
        height: float,
        unit: str,
        paper: Colour | Ramp,
        light: float = DEFAULT_LIGHT,
        marks: bytearray | None = None,
    ) -> None:
        """`marks` is what records are added to, where somebody wants to know of each."""
        put = object.__setattr__
        put(self, "_recorder", Recorder(bytearray() if marks is None else marks))
        put(self, "_ink", Ink.of(Style(), self._recorder))
        self._on(self, (Affine(),), (0.0, 0.0, float(width), float(height)), (0,), 1.0)
        put(self, "unit", unit)
        # A ramp is painted as what lies below everything; the colour it begins with stands for the paper elsewhere.
        put(self, "paper", paper.stops[0][1] if isinstance(paper, Ramp) else paper)
        put(self, "light", float(light))
        if isinstance(paper, Ramp):
            self.rect(0, 0, width, height, fill=paper)

    @property
    def notes(self) -> tuple[Outcome, ...]:
        """All that was noted so far, on every view."""
        return tuple(self._recorder.notes)

    def drawing(self) -> Drawing:
        """All that was drawn so far."""
        return self._recorder.drawing(self.width, self.height, self.unit, self.paper, self.light)
