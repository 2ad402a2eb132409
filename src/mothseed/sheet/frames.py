"""Frames: views made from a view, placed, styled, clipped, mirrored."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import TYPE_CHECKING, ClassVar, NamedTuple, Self, Unpack

from mothseed.chance.outcome import noted
from mothseed.checks import finite, from_nothing, length, one_of, whole
from mothseed.colour.picture import beside_caller
from mothseed.colour.placed import Picture, fitted
from mothseed.colour.texture import texture_of
from mothseed.colour.value import WHITE, Colour
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine
from mothseed.geometry.outline import Outline
from mothseed.geometry.region import Box, box_about_middle
from mothseed.geometry.trail import Trail, as_outline
from mothseed.portable import cosine_and_sine
from mothseed.sheet.figure_marks import refuse_no_picture, stamp_size
from mothseed.sheet.group import Group
from mothseed.sheet.marks import Ink
from mothseed.sheet.motifs import refuse_no_symbol
from mothseed.sheet.patterns import pattern_places
from mothseed.sheet.style import Paint, Style
from mothseed.sheet.symbol import Symbol
from mothseed.sheet.view_state import ViewState, frame_fault
from mothseed.values import closed

if TYPE_CHECKING:
    from mothseed.sheet.view import View

_ONE, _ZERO, _ORIGIN = 1.0, 0.0, (0.0, 0.0)
"""The scale, the skew and the pivot of a frame that is given none; it is known by these very objects."""


_COSINE, _SINE = cosine_and_sine(30.0)
_DIAGONAL = cosine_and_sine(45.0)[0]
_KINDS_OF_BOX = {
    "isometric": ((_COSINE, _SINE), (_COSINE, -_SINE)),
    "oblique": ((1.0, 0.0), (_DIAGONAL / 2, -_DIAGONAL / 2)),
}
"""For each the way in which its front goes to the right, and that in which its side goes back, for each unit of length."""


class Faces(NamedTuple):
    """The visible faces of a box."""

    top: View
    front: View
    side: View


class Frames(ViewState):
    """Calls that make a view from a view; each returns a new one and changes nothing."""

    __slots__ = ()

    _plain: ClassVar[type[View]]
    """What a frame is that is nothing besides being a view."""

    def _moved(self, matrix: Affine, area: Box) -> View:
        return self._on(self._plain, tuple([outer.after(matrix) for outer in self._matrices]), area)

    def frame(
        self,
        x: float = 0.0,
        y: float = 0.0,
        *,
        turn: float = 0.0,
        scale: float | tuple[float, float] = _ONE,
        skew: float = _ZERO,
        pivot: tuple[float, float] = _ORIGIN,
        keep_strokes: bool = False,
    ) -> View:
        """A frame with its origin at (x, y), turned clockwise by degrees, enlarged by `scale`, slanted by `skew` degrees.

        `scale` may be a pair, for across and down. The frame is skewed first, then scaled, then turned, all about the
        `pivot`, a point in the frame's own coordinates that stays in place. Strokes grow with the frame, by the mean of both
        scales, unless `keep_strokes=True` keeps their width. The area moves with the origin. Raises SketchError for a number
        that is not finite, a scale that is not above 0, and a skew of 90 degrees or more.
        """
        if scale is _ONE and skew is _ZERO and pivot is _ORIGIN and not keep_strokes:
            return self._placed(x, y, turn)
        try:
            across, down = pivot
            scale_x, scale_y = scale if isinstance(scale, tuple) else (scale, scale)
            total = x + y + turn + scale_x + scale_y + skew + across + down
            if total - total != 0 or not (scale_x > 0 and scale_y > 0 and -90 < skew < 90):
                raise frame_fault(x, y, turn, scale, skew, pivot)
        except (TypeError, ValueError):
            raise frame_fault(x, y, turn, scale, skew, pivot) from None
        # Arithmetic with NumPy scalars is three times as slow.
        x, y, turn = float(x), float(y), float(turn)
        if turn or skew or scale_x != 1 or scale_y != 1:
            cosine, sine = cosine_and_sine(turn)
            a, b = scale_x * cosine, scale_x * sine
            c, d = -scale_y * sine, scale_y * cosine
            if skew:
                skew_cosine, skew_sine = cosine_and_sine(skew)
                slope = skew_sine / skew_cosine
                c, d = c - a * slope, d - b * slope
            matrix = Affine(a, b, c, d, x + across - a * across - c * down, y + down - b * across - d * down)
        else:
            matrix = Affine.translation(x, y)
        left, top, width, height = self._area
        area = (left / scale_x, top / scale_y, width / scale_x, height / scale_y)
        # The ratio undoes the enlargement of the frame.
        ratio = self._stroke_ratio / math.sqrt(scale_x * scale_y) if keep_strokes else self._stroke_ratio
        return self._on(self._plain, tuple([outer.after(matrix) for outer in self._matrices]), area, stroke_ratio=ratio)

    def _placed(self, x: float, y: float, turn: float) -> View:
        """A frame that is placed and turned, as most are; sketches make them by the thousand."""
        try:
            total = x + y + turn
            if total - total != 0:
                raise frame_fault(x, y, turn, _ONE, _ZERO, _ORIGIN)
        except (TypeError, ValueError):
            raise frame_fault(x, y, turn, _ONE, _ZERO, _ORIGIN) from None
        x, y = float(x), float(y)
        cosine, sine = cosine_and_sine(float(turn)) if turn else (1.0, 0.0)
        matrices = self._matrices
        if len(matrices) == 1:
            placed: tuple[Affine, ...] = (matrices[0].placing(x, y, cosine, sine),)
        else:
            placed = tuple([outer.placing(x, y, cosine, sine) for outer in matrices])
        return self._on(self._plain, placed, self._area)

    def styled(self, style: Style | None = None, **paint: Unpack[Paint]) -> Self:
        """The same view with different paint; shapes drawn on it use that paint unless they say otherwise.

        A `Style` replaces the present one; any paint you also name is changed in it.
        """
        if not (style is None or isinstance(style, Style)):
            raise SketchError(f"styled: a Style is needed (got {style!r})", hint='write styled(fill="teal") or styled(ink)')
        # A style made without `Style.of` is checked like one made with it.
        changed = self._ink.style.but(paint) if style is None else Style().but(style._asdict() | paint)
        return self._twin(Ink.of(changed, self._recorder), self._images)

    def layer(self, name: str, *, opacity: float = 1.0, blend: str = "normal") -> Self:
        """The same view on a layer of that name: everything on it is composited as one, with its opacity and blend mode.

        A layer takes its place when it is first made, above everything drawn before, no matter when its marks are drawn. Ask
        for the same name on the same view, and you get the same layer. Raises SketchError for a name that is not a word, an
        opacity outside 0 to 1, an unknown blend mode, and different values for a layer that already exists.
        """
        if not (isinstance(name, str) and name.strip()):
            raise SketchError(f"layer: a layer has a name (got {name!r})", hint='write layer("ink")')
        style = self._ink.style.but({"opacity": opacity, "blend": blend})
        inside = {group: Group(group, name, style.opacity, style.blend) for _, group in self._images}
        return self._within(inside)

    def clipped(self, outline: Outline | Trail | Iterable[object], *, fill_rule: str = "nonzero") -> Self:
        """The same view clipped to an outline; a list of points is taken as its corners."""
        outline = as_outline(outline, "clipped", "write clipped(smooth(points, closed=True))", closed=True)
        even_odd = self._ink.style.but({"fill_rule": fill_rule}).fill_rule == "evenodd"
        number = self._recorder.add_outline(outline)
        images = [
            (view, self._recorder.add_group(Group(group, outline=number, view=view, even_odd=even_odd)))
            for view, group in self._images
        ]
        return self._twin(self._ink, tuple(images))

    def symbol(self, motif: Callable[..., object], *arguments: object, **named: object) -> Symbol:
        """A motif drawn once and used many times: `moth = sheet.symbol(draw_moth, 12)`, then `sheet.use(moth, x, y)`.

        The motif is called with a view of its own, which has the style and area of this one, and with the arguments; anything
        random in it is decided once for all uses. Raises SketchError for anything that cannot be called, and for layers
        inside it: use the symbol on a layer instead.
        """
        if not callable(motif):
            raise SketchError(f"symbol: a motif is a function (got {motif!r})", hint="write symbol(draw_moth, 12)")
        recorder = self._recorder.apart()
        view = ViewState()
        view._recorder = recorder
        view._ink = Ink.of(self._ink.style, recorder)
        view._matrices = (Affine(),)
        view._images = ((recorder.add_view(Affine(), 1.0), 0),)
        view._stroke_ratio = 1.0
        view._area = self._area
        view._own = None
        motif(closed(view, self._plain), *arguments, **named)
        drawing = recorder.drawing(self.width, self.height, "mm", WHITE, 0.0)
        if drawing.layers:
            raise SketchError(
                f"symbol: a symbol has no layers of its own (it makes {drawing.layers[0]})",
                hint='use it on a view in a layer: sheet.layer("ink").use(moth, x, y)',
            )
        name = getattr(motif, "__name__", type(motif).__name__)
        return Symbol("symbol" if name == "<lambda>" else name, drawing, recorder.marks)

    def pattern(
        self,
        outline: Outline | Trail | Iterable[object],
        symbol: Symbol,
        step: float | tuple[float, float],
        *,
        turn: float = 0.0,
        brick: float = 0.0,
    ) -> None:
        """Fill an outline with copies of a symbol, `step` apart across and down, clipped at its edge.

        The rows start at the view's origin, so neighbours with the same pattern line up; `turn` turns the whole pattern about
        it, and `brick` shifts every other row by that fraction of a step. Raises SketchError for a step that is not above 0,
        and for more than a million uses.
        """
        refuse_no_symbol(symbol, "pattern(outline, moth, 6)")
        area = as_outline(outline, "pattern", "write pattern(smooth(points, closed=True), moth, 6)", closed=True)
        places = pattern_places(area, symbol.drawing, step, turn, brick)
        self.clipped(area).uses(symbol, places[:, 0], places[:, 1], turn=turn)

    def _within(self, groups: dict[int, Group]) -> Self:
        numbers = {outer: self._recorder.add_group(group) for outer, group in groups.items()}
        return self._twin(self._ink, tuple([(view, numbers[group]) for view, group in self._images]))

    def mirrored(self, axis: float = 90.0) -> View:
        """A view on which everything appears twice: as drawn, and mirrored.

        The mirror is the line through the origin at heading `axis`, in degrees: 90 is vertical and mirrors left and right, 0
        is horizontal. A mirrored view can be mirrored again.
        """
        finite("mirrored", axis=axis)
        reflection = Affine.reflection(axis)
        matrices = tuple(image for outer in self._matrices for image in (outer, outer.after(reflection)))
        groups = tuple(group for _, group in self._images for _ in range(2))
        return self._on(self._plain, matrices, self._area, groups)

    def spun(self, count: int) -> View:
        """A view on which everything appears `count` times, rotated about the origin in even steps.

        A mirrored view can be spun and a spun one mirrored: a kaleidoscope.
        """
        count = whole("spun", "count", count, 1)
        turns = [Affine.rotation(360 * index / count) for index in range(count)]
        matrices = tuple(outer.after(turn) for outer in self._matrices for turn in turns)
        groups = tuple(group for _, group in self._images for _ in turns)
        return self._on(self._plain, matrices, self._area, groups)

    def note(self, name: str, value: object) -> None:
        """Record a fact about the picture as an outcome of the edition, as labels record random decisions.

        A motif is recorded by its name, a colour as its CSS string. Raises SketchError if the name is not a word.
        """
        self._recorder.notes.append(noted(name, value))

    def bleed(self, amount: float) -> View:
        """A view of the area extended on every side, for anything that will be trimmed at the edge."""
        from_nothing("bleed", amount=amount, hint="for a margin inside write inset(margin)")
        return self.inset(-amount)

    def inset(self, margin: float) -> View:
        """A view of the area within a margin. The origin keeps its relative position: a corner stays a corner, a centre a
        centre. Raises SketchError if the margin leaves nothing.
        """
        finite("inset", margin=margin)
        left, top, all_width, all_height = self._area
        width, height = all_width - 2 * margin, all_height - 2 * margin
        if not (width > 0 and height > 0):
            raise SketchError(
                f"inset: a margin of {margin} leaves nothing of {all_width:g} by {all_height:g}",
                hint=f"keep it below {min(all_width, all_height) / 2:g}",
            )
        across, down = -left / all_width, -top / all_height
        origin = Affine.translation(left + margin + across * width, top + margin + down * height)
        return self._moved(origin, (-across * width, -down * height, width, height))

    def centred(self) -> View:
        """A view with its origin in the middle of the area."""
        left, top, width, height = self._area
        middle = Affine.translation(left + width / 2, top + height / 2)
        return self._moved(middle, (-width / 2, -height / 2, width, height))

    centered = centred

    def faces(self, width: float, depth: float, height: float, *, kind: str = "isometric") -> Faces:
        """The three visible faces of a box, each a view whose area is the face: what you draw on it lies on the face.

        The nearest corner of the box is at the origin, where its front, on the left, meets its side, on the right. In
        "isometric" both recede at 30 degrees; in "oblique" the front faces you and the side recedes at 45 degrees, at half
        its length. Raises SketchError for sizes that are not above 0, and for other kinds.
        """
        length("faces", width=width, depth=depth, height=height)
        one_of("faces", "kind", kind, _KINDS_OF_BOX)
        (right, down), (back, up) = _KINDS_OF_BOX[kind]
        left, top = -width * right, -width * down - height
        return Faces(
            self._moved(Affine(right, down, -back, -up, left + depth * back, top + depth * up), (0.0, 0.0, width, depth)),
            self._moved(Affine(right, down, 0.0, 1.0, left, top), (0.0, 0.0, width, height)),
            self._moved(Affine(back, up, 0.0, 1.0, 0.0, -height), (0.0, 0.0, depth, height)),
        )

    def picture(self, path: str | Path, fit: str = "cover", *, outside: str = "pad", smooth: bool = True) -> Picture:
        """A picture laid over the view's area, as a source of colour and as paint; this draws nothing yet.

        `fit` is "cover" (fills the area and overflows), "contain" (fits inside) or "stretch". `outside` says what lies beyond
        its edge, in SVG's terms: "pad" (the edge pixels continue), "repeat", "reflect" or "none". `smooth=False` shows its
        pixels. A path is relative to the file that makes the call. Raises PictureError if it cannot be read.
        """
        area = self._area
        texture = texture_of(beside_caller(path))
        return Picture(texture, fitted(texture, area, fit), area, outside, smooth)

    def stamp(
        self,
        x: float,
        y: float,
        picture: Picture,
        width: float | None = None,
        height: float | None = None,
        *,
        turn: float = 0.0,
        tint: Colour | str = WHITE,
        **paint: Unpack[Paint],
    ) -> None:
        """Draw a picture centred at (x, y), turned, tinted, faded by `opacity`, smoothly resampled.

        Given `width` or `height`, the other follows from its aspect ratio; given both, it is stretched; given neither, it
        keeps the size at which it was laid over the view. A `tint` multiplies its colours. Other paint works as for a `rect`
        of that size.
        """
        refuse_no_picture("stamp", picture)
        width, height = stamp_size(picture, width, height)
        length("stamp", width=width, height=height)
        box = box_about_middle(width, height)
        paint["fill"] = picture.placed(box).tinted(tint)
        self.frame(x, y, turn=turn).rect(*box, **paint)
