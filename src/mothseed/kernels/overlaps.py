"""Pixels in which an outline overlaps itself: exact coverage by the winding rule.

The areas that edges cut from a pixel add up to the area inside as long as the winding number takes only two consecutive
values there, not on both sides of 0. While edges are added, each leaves footprints: the eighths of a row's pixels in which
edges go up, and those in which edges go down. A chain of edges, always up or always down, separates two consecutive values;
so do one up and one down that share no column, as each then has the other on one side of it. All other pixels are crowded.
They are few, and each is cut into strips at all ends and crossings of edges; within a strip, what is inside follows from left
to right.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.areas import ALONE, GOES_ON
from mothseed.kernels.primitives import CutRoom, Footprints
from mothseed.kernels.tile_sizes import BLOCKS, LANES, MARKS, MOST_NEAR, TILE, Cells, Flags
from mothseed.native.jit import inlined, kernel

_STRIPS = 16
"""Strips of a pixel with too many pieces to cut it at all their ends and crossings."""
_EIGHTHS = 8
"""Columns per pixel for telling chains of edges apart: the bits of a byte of a mark."""
_EIGHT = np.float32(_EIGHTHS)
_COLUMNS = _EIGHTHS * LANES
"""Columns per block: the bits of a mark."""
_LAST_COLUMN = np.uint64(_COLUMNS - 1)
_ALL, _BIT, _NONE = np.uint64(0xFFFFFFFFFFFFFFFF), np.uint64(1), np.uint64(0)
_WHOLE_BYTES, _IN_BYTE = ~np.uint64(7), np.uint64(7)
_FIRST_OF_PIXELS = np.uint64(0x0101010101010101)
"""The first column of each pixel."""

CROWDED, TWO_UP = np.uint64(2), np.uint64(3)
"""Indices of a block's marks."""
UP, DOWN = range(2)
NO_MORE, TOO_MANY = -1, -2
"""The end of a chain of edges."""


@inlined
def mark_columns(
    prints: Footprints,
    row: int,
    low: np.float32,
    high: np.float32,
    way: int,
    joint_low: int,
    joint_high: int,
) -> None:
    """Mark the columns of a row, in eighths of a pixel, that a piece of edge runs through, from x `low` to `high`. `way` is
    UP or DOWN; the joints say how others that have left their marks meet it at its left and right ends.
    """
    first, last, line = int(low * _EIGHT), int(high * _EIGHT), np.uint64(row)
    block, last_block = first // _COLUMNS, min(last // _COLUMNS, BLOCKS - 1)
    if way == UP and not (joint_low | joint_high) & GOES_ON:
        prints.rises[line] = np.uint8(2 * prints.rises[line] | 1)
    while block <= last_block:
        start = block * _COLUMNS
        at_low, at_high = joint_low if first >= start else ALONE, joint_high if last < start + _COLUMNS else ALONE
        begin, end = np.uint64(max(first - start, 0)), np.uint64(min(last - start, _COLUMNS - 1))
        from_begin, to_end = _ALL << begin, _ALL >> (_LAST_COLUMN - end)
        # A column in which it turns back belongs to the other as well; a pixel in which it continues is its own already.
        checked = (from_begin << np.uint64(at_low >> 1)) & (to_end >> np.uint64(at_high >> 1))
        new_begin = (_ALL << (begin & _WHOLE_BYTES)) << np.uint64(_EIGHTHS * (at_low & 1))
        new_end = (_ALL >> (_LAST_COLUMN - (end | _IN_BYTE))) >> np.uint64(_EIGHTHS * (at_high & 1))
        mark = np.uint64(MARKS * block)
        own, other = mark + np.uint64(way), mark + np.uint64(1 - way)
        marks = prints.marks
        before = marks[line, own]
        marks[line, own] = before | (from_begin & to_end)
        crowded = (before & new_begin & new_end) | (checked & marks[line, other])
        if crowded:
            marks[line, mark + CROWDED] |= crowded
            prints.busy[line] |= np.uint8(_BIT << np.uint64(block))
        if way == UP and before and not (at_low | at_high) & GOES_ON:
            marks[line, mark + TWO_UP] = before
        block += 1


@inlined
def pixels_of(columns: np.uint64) -> np.uint64:
    """The first bit of each byte that is not 0: the pixels of a block that columns lie in."""
    columns |= columns >> np.uint64(4)
    columns |= columns >> np.uint64(2)
    columns |= columns >> np.uint64(1)
    return columns & _FIRST_OF_PIXELS


@kernel
def sort_into_blocks(
    edges: Array2[np.float64], numbers: Array1[np.int64], first: int, last: int, left: int, top: int, busy: Flags, room: CutRoom
) -> None:
    """Chain up the edges that run through each busy block of the tile at (left, top)."""
    rows, count = _NONE, 0
    for row in range(TILE):
        if busy[row]:
            rows |= _BIT << np.uint64(row)
            for block in range(BLOCKS):
                room.heads[row * BLOCKS + block] = NO_MORE
    for k in range(first, last):
        edge = numbers[k]
        x0, x1 = edges[edge, 0] - left, edges[edge, 2] - left
        if max(x0, x1) <= 0.0 or min(x0, x1) >= TILE:
            continue
        y0, y1 = edges[edge, 1] - top, edges[edge, 3] - top
        if max(y0, y1) <= 0.0 or min(y0, y1) >= TILE:
            continue
        row, last_row = int(max(min(y0, y1), 0.0)), int(math.ceil(min(max(y0, y1), float(TILE)))) - 1
        if row > last_row or not rows & (_ALL << np.uint64(row)) & (_ALL >> np.uint64(TILE - 1 - last_row)):
            continue
        if y0 > y1:
            x0, y0, x1, y1 = x1, y1, x0, y0
        slope = (x1 - x0) / (y1 - y0) if y0 < y1 else 0.0
        while row <= last_row:
            if busy[row]:
                upper_x = x0 + (row - y0) * slope if y0 < row else x0
                lower_x = x0 + (row + 1 - y0) * slope if y1 > row + 1 else x1
                low, high = (x0, x1) if y0 == y1 else (upper_x, lower_x)
                block = int(min(max(min(low, high), 0.0), float(TILE))) // LANES
                last_block = int(min(max(low, high), TILE - 1.0)) // LANES
                while block <= last_block:
                    head = row * BLOCKS + block
                    if np.uint64(busy[row]) >> np.uint64(block) & _BIT and room.heads[head] != TOO_MANY:
                        if count == len(room.numbers):
                            room.heads[head] = TOO_MANY
                        else:
                            room.numbers[count], room.following[count] = edge, room.heads[head]
                            room.heads[head] = count
                            count += 1
                    block += 1
            row += 1


@kernel
def cut_into_pieces(edges: Array2[np.float64], row: int, block: int, left: int, top: int, room: CutRoom) -> int:
    """The pieces of edges in a row that run through a block of the tile at (left, top). Returns their number, or less than 0
    if there are too many.
    """
    pieces, count, place = room.pieces, 0, room.heads[row * BLOCKS + block]
    while place >= 0:
        if count == len(pieces):
            return TOO_MANY
        edge = room.numbers[place]
        x0, y0 = edges[edge, 0] - left, edges[edge, 1] - top - row
        x1, y1 = edges[edge, 2] - left, edges[edge, 3] - top - row
        down, slope = 1, 0.0
        if y0 > y1:
            down, x0, y0, x1, y1 = -1, x1, y1, x0, y0
        if y0 < y1:
            slope = (x1 - x0) / (y1 - y0)
        pieces[count, 0], pieces[count, 1] = max(y0, 0.0), min(y1, 1.0)
        pieces[count, 2] = x0 - y0 * slope if y0 < 0.0 else x0
        pieces[count, 3] = x0 + (1.0 - y0) * slope if y1 > 1.0 else x1
        pieces[count, 4], pieces[count, 5] = slope, down
        count += 1
        place = room.following[place]
    return TOO_MANY if place == TOO_MANY else count


@kernel
def cut_pixels(
    cells: Cells,
    row: int,
    block: int,
    pixels: np.uint64,
    total: np.float32,
    pieces: int,
    one_way: bool,
    even_odd: bool,
    room: CutRoom,
) -> None:
    """Set some cells of a block so that, together with `total`, they give the area inside. For an outline that goes one way,
    the winding number is nowhere above 0.
    """
    for pixel in range(LANES):
        if pixels >> np.uint64(_EIGHTHS * pixel) & _BIT:
            line, column = np.uint64(row), np.uint64(block * LANES + pixel)
            covered = _covered(pieces, float(column), float(total + cells[line, column]), one_way, even_odd, room)
            if covered >= 0.0:
                cells[line, column] = np.float32(covered) - total


@inlined
def _covered(count: int, left: float, signed: float, one_way: bool, even_odd: bool, room: CutRoom) -> float:
    """The coverage by the winding rule of the pixel that begins at x `left`. `signed` is the area times the winding number,
    from which follows the winding number at its upper left corner. Less than 0 if the pieces that reach the pixel separate
    only two consecutive values, so that `signed` is enough.
    """
    pieces, near, rest, more, less = room.pieces, 0, signed, 0, 0
    for piece in range(count):
        upper, lower, upper_x, lower_x = pieces[piece, 0], pieces[piece, 1], pieces[piece, 2] - left, pieces[piece, 3] - left
        if min(upper_x, lower_x) >= 1.0 or max(upper_x, lower_x) <= 0.0:
            continue
        slope, down = pieces[piece, 4], int(pieces[piece, 5])
        room.near[near], room.passes[near], room.turns[near] = piece, 2.0, 0
        beyond = down  # by how much the winding number on its other side exceeds that at the corner
        # From here on, for the part inside the pixel.
        begin, end, begin_x, end_x = upper, lower, upper_x, lower_x
        if (upper_x <= 0.0) != (lower_x <= 0.0):
            # It crosses the left side: what lies to its right loses it, or gains it.
            y = min(max(upper - upper_x / slope, upper), lower) if lower > upper else upper
            turn = -down if upper_x <= 0.0 else down
            beyond = turn
            room.passes[near], room.turns[near] = y, turn
            rest -= turn * (1.0 - y)
            if upper_x <= 0.0:
                begin, begin_x = y, 0.0
            else:
                end, end_x = y, 0.0
        if (upper_x < 1.0) != (lower_x < 1.0) and lower > upper:
            y = min(max(upper + (1.0 - upper_x) / slope, upper), lower)
            if upper_x < 1.0:
                end, end_x = y, 1.0
            else:
                begin, begin_x = y, 1.0
        rest -= down * (end - begin) * (1.0 - 0.5 * (begin_x + end_x))
        if near < MOST_NEAR:
            room.ends[near, 0], room.ends[near, 1] = begin, end
        more, less = more + max(beyond, 0), less + min(beyond, 0)
        near += 1
    winding = int(math.floor(rest + 0.5))
    most, least = winding + more, winding + less
    if not even_odd and (least > 0 or most < 0):
        return 1.0
    most = min(most, 0) if one_way else most
    if most - least <= 1:
        return -1.0
    cuts = _cuts(near, room)
    total, upper = 0.0, room.cuts[0]
    for cut in range(1, cuts):
        lower = room.cuts[cut]
        total += (lower - upper) * _covered_at(0.5 * (upper + lower), near, winding, left, even_odd, room)
        upper = lower
    return total


@inlined
def _cuts(near: int, room: CutRoom) -> int:
    """Where to cut a pixel into strips: heights from 0 to 1, in order; returns their number."""
    if near > MOST_NEAR:
        for strip in range(_STRIPS + 1):
            room.cuts[strip] = strip / _STRIPS
        return _STRIPS + 1
    room.cuts[0], room.cuts[1] = 0.0, 1.0
    count = 2
    for piece in range(near):
        count = _add_cut(room.cuts, count, room.ends[piece, 0])
        count = _add_cut(room.cuts, count, room.ends[piece, 1])
        for other in range(piece):
            count = _add_crossing(count, room, room.near[piece], room.near[other])
    return count


@inlined
def _add_cut(cuts: Array1[np.float64], count: int, y: float) -> int:
    """Cut a pixel at some height; returns the new number of cuts."""
    place = count
    while place > 0 and cuts[place - 1] > y:
        place -= 1
    if place > 0 and cuts[place - 1] == y:
        return count
    for k in range(count, place, -1):
        cuts[k] = cuts[k - 1]
    cuts[place] = y
    return count + 1


@inlined
def _add_crossing(count: int, room: CutRoom, a: int, b: int) -> int:
    """Cut a pixel where two pieces cross, if they do; returns the new number of cuts."""
    pieces = room.pieces
    upper, lower = max(pieces[a, 0], pieces[b, 0]), min(pieces[a, 1], pieces[b, 1])
    if upper < lower:
        above = pieces[a, 2] + (upper - pieces[a, 0]) * pieces[a, 4] - pieces[b, 2] - (upper - pieces[b, 0]) * pieces[b, 4]
        below = pieces[a, 2] + (lower - pieces[a, 0]) * pieces[a, 4] - pieces[b, 2] - (lower - pieces[b, 0]) * pieces[b, 4]
        if (above < 0.0) != (below < 0.0):
            return _add_cut(room.cuts, count, upper + (lower - upper) * (above / (above - below)))
    return count


@inlined
def _covered_at(y: float, near: int, winding: int, left: float, even_odd: bool, room: CutRoom) -> float:
    """How much of a pixel's width is inside at some height; `winding` is the winding number at its upper left corner."""
    pieces, places, steps = room.pieces, room.places, room.steps
    count = 0
    for k in range(near):
        if room.passes[k] < y:
            winding += room.turns[k]
        piece = room.near[k]
        if not pieces[piece, 0] <= y < pieces[piece, 1]:
            continue
        x = pieces[piece, 2] + (y - pieces[piece, 0]) * pieces[piece, 4] - left
        if 0.0 < x < 1.0:
            place = count
            while place > 0 and places[place - 1] > x:
                places[place], steps[place] = places[place - 1], steps[place - 1]
                place -= 1
            places[place], steps[place] = x, int(pieces[piece, 5])
            count += 1
    total, before = 0.0, 0.0
    for k in range(count):
        if _is_inside(winding, even_odd):
            total += places[k] - before
        before = places[k]
        winding += steps[k]
    return total + 1.0 - before if _is_inside(winding, even_odd) else total


@inlined
def _is_inside(winding: int, even_odd: bool) -> bool:
    return bool(winding & 1) if even_odd else winding != 0
