"""What a view is made of, and how one is made from another."""

from __future__ import annotations

from typing import Any, Self, TypeVar

from mothseed.checks import finite
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine
from mothseed.geometry.region import Box
from mothseed.sheet.marks import Ink
from mothseed.sheet.motifs import Motifs
from mothseed.values import closed

ViewT = TypeVar("ViewT", bound="ViewState")


class ViewState(Motifs):
    """A view that nobody has yet: it can be filled as any object can, and is then closed, and a View."""

    __slots__ = ("_area", "_own")

    _area: Box
    """In the view's own units: a sheet's has its top left corner at the origin, a cell's its centre."""
    _own: Any
    """What a cell, a place or the sheet is besides being a view."""

    @property
    def left(self) -> float:
        """The x of its area's left edge, in its own units."""
        return self._area[0]

    @property
    def top(self) -> float:
        """The y of its area's top edge."""
        return self._area[1]

    @property
    def width(self) -> float:
        """The width of its area."""
        return self._area[2]

    @property
    def height(self) -> float:
        """The height of its area."""
        return self._area[3]

    def across(self, fraction: float) -> float:
        """The x at a fraction of the area's width: 0 is the left edge, 1 the right."""
        return self.left + fraction * self.width

    def down(self, fraction: float) -> float:
        """The y at a fraction of the area's height: 0 is the top, 1 the bottom."""
        return self.top + fraction * self.height

    def _on(
        self,
        kind: type[ViewT],
        matrices: tuple[Affine, ...],
        area: Box,
        groups: tuple[int, ...] | None = None,
        stroke_ratio: float | None = None,
        own: object = None,
    ) -> ViewT:
        """A view of a kind with these maps to the sheet and this area; all that is not told it has from this view."""
        recorder = self._recorder
        ratio = self._stroke_ratio if stroke_ratio is None else stroke_ratio
        view = ViewState()
        view._recorder = recorder
        view._ink = self._ink
        view._matrices = matrices
        view._stroke_ratio = ratio
        view._area = area
        view._own = own
        if len(matrices) == 1:
            group = self._images[0][1] if groups is None else groups[0]
            view._images = ((recorder.add_view(matrices[0], ratio), group),)
        else:
            inside = groups if groups is not None else [group for _, group in self._images]
            view._images = tuple(
                [(recorder.add_view(matrix, ratio), group) for matrix, group in zip(matrices, inside, strict=True)]
            )
        return closed(view, kind)

    def _twin(self, ink: Ink, images: tuple[tuple[int, int], ...]) -> Self:
        """The same view with other ink or images."""
        twin = ViewState()
        twin._recorder = self._recorder
        twin._ink = ink
        twin._matrices = self._matrices
        twin._stroke_ratio = self._stroke_ratio
        twin._images = images
        twin._area = self._area
        twin._own = self._own
        return closed(twin, type(self))


def frame_fault(x: object, y: object, turn: object, scale: Any, skew: Any, pivot: object) -> SketchError:
    """What is wrong with the arguments of a frame, in words."""
    finite("frame", x=x, y=y, turn=turn, skew=skew)
    for part in scale if isinstance(scale, tuple) and len(scale) == 2 else (scale,):
        finite("frame", scale=part)
        if not part > 0:
            return SketchError(f"frame: scale must be above 0 (got {scale})", hint="for a mirror image use mirrored()")
    if not -90 < skew < 90:
        return SketchError(f"frame: skew is between -90 and 90 degrees (got {skew})")
    return SketchError(f"frame: pivot is a point of finite numbers (got {pivot!r})", hint="write pivot=(40, 60)")
