"""Strokes that are known to lie nowhere over themselves: as many as do not, and none that does."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mothseed.arrays import FloatArray, PointArray
from mothseed.geometry import Outline, smooth
from mothseed.geometry.outline import through
from mothseed.kernels.primitives import FREE, ONE_WAY, PLAIN, Primitives
from mothseed.render.scene.assemble import prepared
from mothseed.render.threads import Threads
from tests.reference import ink_sheet

HALF_RING = 50 + 30 * np.stack([np.cos(np.linspace(0, np.pi, 40)), np.sin(np.linspace(0, np.pi, 40))], axis=1)
RING = np.concatenate([HALF_RING, 100 - HALF_RING])
GENTLE = np.array([(10, 50), (30, 45), (50, 52), (70, 48), (90, 52)])
SPIRAL = np.array([(45 + turn * np.cos(turn), 45 + turn * np.sin(turn)) for turn in np.linspace(6, 40, 400)])
"""With 6.3 between turns, and steps of 0.5 to 3.4."""


def horseshoe(gap: float) -> PointArray:
    """Down and back up, with so much between both legs."""
    turns = np.linspace(0, np.pi, 13)
    bend = np.stack([45 + gap / 2 * np.cos(turns), 60 + gap / 2 * np.sin(turns)], axis=1)
    return np.concatenate(
        [np.linspace((bend[0, 0], 10), bend[0], 20), bend[1:-1], np.linspace(bend[-1], (bend[-1, 0], 10), 20)]
    )


def wavy_ring(depth: float) -> PointArray:
    turns = np.linspace(0, 2 * np.pi, 100, endpoint=False)
    ring: PointArray = 45 + (32 + depth * np.sin(7 * turns))[:, None] * np.stack([np.cos(turns), np.sin(turns)], axis=1)
    return ring


def stroked(outline: Outline, width: float, **style: Any) -> Primitives:
    sheet = ink_sheet(100, 100)
    sheet.path(outline, fill=None, stroke="black", stroke_width=width, **style)
    return prepared(sheet.drawing(), 1.0, Threads(1))


def edges_in(primitives: Primitives) -> FloatArray:
    """The edges of a drawing, without the unused room between them."""
    return np.concatenate([primitives.edges[first:last] for first, _, last in primitives.edge_spans])


def windings(primitives: Primitives, points: PointArray) -> FloatArray:
    """How often the edges of a drawing run round each point."""
    (x1, y1, x2, y2), (x, y) = edges_in(primitives).T[:, :, None], points.T[:, None]
    goes_by = (y1 <= y) != (y2 <= y)
    with np.errstate(divide="ignore", invalid="ignore"):
        left = x1 + (y - y1) * (x2 - x1) / (y2 - y1) < x
    turns: FloatArray = (np.sign(y2 - y1) * (goes_by & left)).sum(axis=0)
    return turns


@pytest.mark.parametrize(
    ("outline", "width", "folds"),
    [
        (through(GENTLE, closed=False), 6, PLAIN),
        (smooth(GENTLE), 6, PLAIN),
        (smooth(GENTLE), 60, ONE_WAY),  # wider than its bends are round
        (through(np.array([(10, 10), (80, 10), (80, 20)]), closed=False), 4, PLAIN),
        (through(np.array([(10, 10), (80, 20), (10, 30)]), closed=False), 4, PLAIN),
        (through(np.array([(10, 10), (80, 20), (10, 10.0001)]), closed=False), 4, ONE_WAY),
        (through(HALF_RING, closed=False), 4, PLAIN),
        (through(HALF_RING, closed=False), 62, ONE_WAY),
        (through(horseshoe(20), closed=False), 4, PLAIN),
        (through(horseshoe(3.9), closed=False), 4, ONE_WAY),  # as near as the stroke is wide
        (smooth(horseshoe(20)), 9, PLAIN),
        (through(50 + np.array([(12, 0), (20, 0), (20, 20), (5, 20), (5, -20), (0, -20)]), closed=False), 4, PLAIN),
        (through(50 + np.array([(0, 0), (20, 0), (20, 20), (5, 20), (5, -20), (0, -20)]), closed=False), 4, ONE_WAY),
        (through(wavy_ring(3), closed=True), 4, PLAIN),
        (through(wavy_ring(29), closed=True), 4, ONE_WAY),
        (through(SPIRAL, closed=False), 4, PLAIN),
        (through(SPIRAL / 2, closed=False), 4, ONE_WAY),
        (through(1e5 + SPIRAL, closed=False), 4, PLAIN),
        (through(1e5 * SPIRAL, closed=False), 4, PLAIN),
        (through(1e300 * SPIRAL, closed=False), 4, ONE_WAY),  # too large to tell
        (through(HALF_RING, closed=True), 4, PLAIN),
        (through(HALF_RING, closed=True), 58, ONE_WAY),  # no room for its hole
        (through(np.array([(20, 20), (80, 20), (80, 80), (20, 80)]), closed=True), 10, PLAIN),
        (through(np.array([(20, 20), (80, 80), (80, 20), (20, 80)]), closed=True), 3, ONE_WAY),  # a bow tie
        (
            through(np.concatenate([HALF_RING, 100 - HALF_RING, HALF_RING * 0.9, 100 - 0.9 * HALF_RING]), closed=True),
            2,
            ONE_WAY,
        ),
        (through(GENTLE, closed=False).joined(through(GENTLE + 1, closed=False)), 6, ONE_WAY),
    ],
)
def test_it_is_known_whether_a_stroke_may_lie_over_itself(outline: Outline, width: float, folds: int) -> None:
    assert stroked(outline, width).folds.tolist() == [folds]


def test_the_pieces_of_a_dash_are_looked_after() -> None:
    assert stroked(through(GENTLE, closed=False), 6, dash=(7, 3), linecap="round").folds.tolist() == [ONE_WAY]


def test_no_stroke_that_lies_over_itself_is_taken_for_one_that_does_not() -> None:
    random = np.random.default_rng(12)
    told = {PLAIN: 0, ONE_WAY: 0}
    for number in range(600):
        corners, closed = int(random.integers(3, 9)), bool(random.random() < 0.4)
        if number % 3 == 0:  # it wanders
            corners = 90 if number % 2 else 40  # near ones are found in another way among many
            turns = np.cumsum(random.normal(0, random.uniform(0.1, 0.8), corners))
            places = 50 + np.cumsum(random.uniform(0.5, 4) * np.stack([np.cos(turns), np.sin(turns)], axis=1), axis=0)
        elif closed:
            turns = np.sort(random.uniform(0, 2 * np.pi, corners))
            places = 50 + random.uniform(15, 40) * np.stack([np.cos(turns), np.sin(turns)], axis=1)
        else:
            places = (
                50 + np.cumsum(np.stack([random.uniform(2, 14, corners), random.normal(0, 5, corners)], axis=1), axis=0) / 2
            )
        outline = smooth(places, closed=closed) if random.random() < 0.5 else through(places, closed=closed)
        style = {"linejoin": random.choice(["miter", "round", "bevel"]), "linecap": random.choice(["butt", "square", "round"])}
        primitives = stroked(outline, random.uniform(0.3, 14), **style)
        folds = int(primitives.folds[0])
        told[folds] += 1
        if folds == PLAIN:
            # About its corners is where it would.
            at = random.choice(edges_in(primitives)[:, :2], 600) + random.normal(0, 0.5, (600, 2))
            assert np.abs(windings(primitives, at)).max() <= 1
    assert min(told.values()) > 100


def test_lines_of_text_are_looked_at_once_for_all_that_are_set_alike() -> None:
    sheet = ink_sheet(200, 100)
    for number in range(4):
        sheet.text(20 + 30 * number, 20 + 20 * number, "moth", 8 + number, turn=10.0 * number, fill="black")
    sheet.text(20, 90, "moth", 30, spacing=-14, fill="black")
    folds = prepared(sheet.drawing(), 3.0, Threads(1)).folds.tolist()
    assert folds == [PLAIN, PLAIN, PLAIN, PLAIN, FREE]
