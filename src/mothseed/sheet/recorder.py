"""The recorder: the one place that drawing on a sheet changes."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from mothseed.arrays import FloatArray, RecordArray
from mothseed.chance.outcome import Outcome
from mothseed.colour.value import Colour
from mothseed.faults import SketchError
from mothseed.geometry.affine import Affine, enlargements
from mothseed.geometry.outline import Outline
from mothseed.geometry.outlines import Outlines
from mothseed.sheet.drawing import Drawing
from mothseed.sheet.finish import Finish
from mothseed.sheet.group import Group, painting_order
from mothseed.sheet.record import HEAD, MARK, Records, packer
from mothseed.sheet.style import Style
from mothseed.sheet.symbol import Symbol, UseTints
from mothseed.sheet.using import Placed, Recorded, rounded, with_uses

pack_head = packer(HEAD).pack
"""The head of a MARK record: place, view, outline, group, kind. A packed style is the rest."""
_BYTES_OF_POINT = 16


class Recorder:
    """Gathers marks, the views they were drawn on and the outlines they use, each outline once.

    `marks` grows by whole MARK records. A symbol's are added once for all its uses in a row, and repeated when the drawing is
    made.
    """

    __slots__ = (
        "_drawn_more",
        "_finishes",
        "_groups",
        "_outline_count",
        "_outline_index",
        "_outlines",
        "_run_ends",
        "_run_numbers",
        "_run_points",
        "_runs_closed",
        "_stroke_scales",
        "_uses",
        "_view_blocks",
        "_view_count",
        "_views",
        "marks",
        "notes",
    )

    def __init__(self, marks: Records) -> None:
        self.marks = marks
        self.notes: list[Outcome] = []
        self._views: list[Affine] = []
        self._view_blocks: list[tuple[int, FloatArray, FloatArray]] = []
        """Views that came as arrays: after how many that came one by one, their maps and their strokes' scales"""
        self._view_count = 0
        """of those in blocks"""
        self._stroke_scales: list[float] = []
        self._outlines: list[Outline | Outlines] = []
        self._outline_count = 0
        self._outline_index: dict[int, int] = {}
        self._run_points = bytearray()
        """The points of outlines of straight lines, which need no object each"""
        self._run_ends: list[int] = []
        """how many bytes of points there are up to the end of each"""
        self._runs_closed: list[bool] = []
        self._run_numbers: list[int] = []
        """their numbers among all outlines"""
        self._groups: list[Group] = [Group(-1)]
        self._finishes: dict[Finish, int] = {Finish(): 0}
        self._uses: list[Placed] = []
        self._drawn_more = 0
        """by how many the marks are more than their records"""

    def apart(self) -> Recorder:
        """A recorder for a symbol, whose notes are those of this one."""
        recorder = Recorder(self.marks.apart())
        recorder.notes = self.notes
        return recorder

    @property
    def drawn(self) -> int:
        """How many marks there are."""
        return len(self.marks) // MARK.itemsize + self._drawn_more

    def add_view(self, matrix: Affine, stroke_ratio: float) -> int:
        """The number under which marks refer to a view with this map to the sheet, on which strokes are by a ratio wider."""
        views = self._views
        a, b, c, d, _, _ = matrix
        views.append(matrix)
        self._stroke_scales.append(math.sqrt(abs(a * d - b * c)) * stroke_ratio)
        return len(views) - 1 + self._view_count

    def add_views(self, matrices: FloatArray, stroke_ratio: float) -> int:
        """The number of the first of many views, float64 (n, 6)."""
        first = len(self._views) + self._view_count
        self._view_blocks.append((len(self._views), matrices, enlargements(matrices) * stroke_ratio))
        self._view_count += len(matrices)
        return first

    def add_outline(self, outline: Outline) -> int:
        """The number of an outline; the same one drawn again has the same number."""
        number = self._outline_index.get(id(outline))
        if number is None:
            number = self._outline_count
            # The list keeps the outline alive, so that its id stays unique.
            self._outlines.append(outline)
            self._outline_count = number + 1
            self._outline_index[id(outline)] = number
        return number

    def add_outlines(self, outlines: Outlines) -> int:
        """The number of the first of many outlines, each of them new."""
        first = self._outline_count
        self._outlines.append(outlines)
        self._outline_count = first + len(outlines)
        return first

    def add_run(self, points: bytes, closed: bool) -> int:
        """The number of an outline of straight lines through packed points, which is new."""
        number = self._outline_count
        self._run_points += points
        self._run_ends.append(len(self._run_points))
        self._runs_closed.append(closed)
        self._run_numbers.append(number)
        self._outline_count = number + 1
        return number

    def packed(self, style: Style) -> bytes:
        """A style as the tail of a mark's record."""
        return style.packed(self._finishes.setdefault(style.finish, len(self._finishes)))

    def add_group(self, group: Group) -> int:
        """The number of a new clip, or of a layer; the layer of that name in that group if there is one."""
        if group.is_layer:
            for number, other in enumerate(self._groups):
                if number and other.is_layer and (other.parent, other.name) == (group.parent, group.name):
                    if (other.opacity, other.blend) != (group.opacity, group.blend):
                        raise SketchError(
                            f"layer {group.name} is there already, with other opacity or blend",
                            hint="make it once, keep the view that it gives, and draw on that",
                        )
                    return number
            group = group._replace(anchor=self.drawn)
        self._groups.append(group)
        return len(self._groups) - 1

    def add_marks(self, rows: RecordArray) -> None:
        """Many marks at once: MARK (n,)."""
        self.marks += rows.tobytes()

    def add_uses(
        self, symbol: Symbol, matrices: Sequence[Affine] | FloatArray, stroke_ratio: float, group: int, tints: UseTints
    ) -> None:
        """A symbol in a group, under maps to the sheet, float64 (u, 6), on which strokes are by a ratio wider."""
        if not len(matrices):
            return
        self._uses.append(Placed(symbol, self.drawn, matrices, stroke_ratio, group, tints))
        self.marks.add_uses(symbol.packed, symbol.records, len(matrices))
        self._drawn_more += len(symbol) * (len(matrices) - 1)

    def drawing(self, width: float, height: float, unit: str, paper: Colour, light: float) -> Drawing:
        """All that was recorded, as arrays that no longer change."""
        records = rounded(np.frombuffer(self.marks, dtype=MARK).copy())
        finishes = tuple(self._finishes)
        recorded = Recorded(records, *self._all_views(), self._all_outlines(), tuple(self._groups), finishes)
        (marks, views, scales, outlines, groups, finishes), uses = with_uses(recorded, self._uses, self.drawn)
        if len(groups) > 1:
            order = painting_order(groups, marks["group"])
            marks = marks.take(order)
        else:
            order = np.arange(len(marks))
        marks.flags.writeable = False
        return Drawing(width, height, unit, paper, marks, views, scales, outlines, groups, finishes, light, order, uses)

    def _all_outlines(self) -> Outlines:
        """All outlines, by their numbers."""
        others = Outlines.of(self._outlines)
        if not self._run_ends:
            return others
        points = np.frombuffer(bytes(self._run_points), np.float64).reshape(-1, 2)
        lengths = np.diff(self._run_ends, prepend=0) // _BYTES_OF_POINT
        runs = Outlines.through(points, lengths, np.array(self._runs_closed))
        if not len(others):
            return runs
        is_run = np.zeros(self._outline_count, np.bool)
        is_run[self._run_numbers] = True
        order = np.where(is_run, len(others) + np.cumsum(is_run), np.cumsum(~is_run)) - 1
        return Outlines.of([others, runs]).chosen(order)

    def _all_views(self) -> tuple[FloatArray, FloatArray]:
        """The maps of all views, float64 (v, 6), and by how much strokes on them are wider, (v,)."""
        views, scales = np.array(self._views, np.float64).reshape(-1, 6), np.array(self._stroke_scales, np.float64)
        view_parts, scale_parts, done = [], [], 0
        for after, matrices, block_scales in self._view_blocks:
            view_parts += [views[done:after], matrices]
            scale_parts += [scales[done:after], block_scales]
            done = after
        return np.concatenate([*view_parts, views[done:]]), np.concatenate([*scale_parts, scales[done:]])
