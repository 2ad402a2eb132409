"""The sheet: the view that a sketch is given, on paper of a size."""

from __future__ import annotations

from functools import partial
from typing import NamedTuple

from mothseed.chance.outcome import Outcome
from mothseed.colour.ramp import Ramp
from mothseed.colour.value import Colour
from mothseed.geometry.affine import Affine
from mothseed.sheet.drawing import DEFAULT_LIGHT, Drawing
from mothseed.sheet.marks import Ink
from mothseed.sheet.record import Records
from mothseed.sheet.recorder import Recorder
from mothseed.sheet.style import Style
from mothseed.sheet.view import View


class _Own(NamedTuple):
    """What a sheet is besides being a view."""

    unit: str
    paper: Colour
    light: float


class Sheet(View):
    """What a sketch draws on, with its width, height, unit, paper and light; the origin is at the top left and y points
    down.
    """

    __slots__ = ()

    _own: _Own

    def __init__(
        self,
        width: float,
        height: float,
        unit: str,
        paper: Colour | Ramp,
        light: float = DEFAULT_LIGHT,
        marks: Records | None = None,
    ) -> None:
        """`marks` is what records are added to, where somebody wants to know of each."""
        recorder = Recorder(Records() if marks is None else marks)
        # A ramp is painted below everything; its first colour stands for the paper elsewhere.
        own = _Own(unit, paper.stops[0][1] if isinstance(paper, Ramp) else paper, float(light))
        put = partial(object.__setattr__, self)
        put("_recorder", recorder)
        put("_ink", Ink.of(Style(), recorder))
        put("_matrices", (Affine(),))
        put("_stroke_ratio", 1.0)
        put("_images", ((recorder.add_view(Affine(), 1.0), 0),))
        put("_area", (0.0, 0.0, float(width), float(height)))
        put("_own", own)
        if isinstance(paper, Ramp):
            self.rect(0, 0, width, height, fill=paper)

    @property
    def unit(self) -> str:
        """The unit of length of its paper."""
        return self._own.unit

    @property
    def paper(self) -> Colour:
        """The colour of its paper."""
        return self._own.paper

    @property
    def light(self) -> float:
        """The direction in which soft shadows fall, in degrees."""
        return self._own.light

    @property
    def notes(self) -> tuple[Outcome, ...]:
        """Everything noted so far, on every view."""
        return tuple(self._recorder.notes)

    def drawing(self) -> Drawing:
        """Everything drawn so far."""
        return self._recorder.drawing(self.width, self.height, self.unit, self.paper, self.light)
