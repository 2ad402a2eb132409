"""Polygons on a tile, by the exact area that their edges cut from each pixel. Of a polygon with few edges, pieces of edges are
gathered row by row. Where there are one or two in a row, as nearly always, they are laid on from left to right; otherwise their
areas are first added up in cells. Blocks without edges are laid on evenly.
"""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2
from mothseed.kernels.areas import (
    ALONE,
    GOES_ON,
    TURNS_BACK,
    EdgePiece,
    Slant,
    add_piece,
    clipped,
    covered_by,
    last_block,
    part_in_block,
    step_down,
    winding_of,
)
from mothseed.kernels.coverage import gather_lanes, lay_area_lanes, lay_edge_lanes, lay_two_edges_lanes, narrow_lanes
from mothseed.kernels.lanes import fill_lanes, lowest_bit
from mothseed.kernels.overlaps import (
    CROWDED,
    DOWN,
    TWO_UP,
    UP,
    cut_into_pieces,
    cut_pixels,
    mark_columns,
    pixels_of,
    sort_into_blocks,
)
from mothseed.kernels.paint import lay_even
from mothseed.kernels.primitives import ONE_WAY, PLAIN, Areas, CutRoom, Footprints
from mothseed.kernels.tile import row_of
from mothseed.kernels.tile_sizes import BLOCKS, CARRIES, CELLS, GATHERED, LANES, MARKS, TILE, Flags, Paint, Tiles
from mothseed.native.jit import inlined, kernel

_NOTHING = np.float32(1e-4)
"""Coverage below this, or this close to 1, is rounding of the sums; 8-bit levels are 40 times coarser."""
_EVEN = np.float32(1e-3)
"""The coverage of a row that rounding may leave where there is nothing."""
_NONE, _UNIT, _EIGHT = np.uint64(0), np.uint64(1), np.uint64(255)
_ZERO, _HALF, _ONE = np.float32(0.0), np.float32(0.5), np.float32(1.0)
_MANY = 3
"""A row with so many pieces has them in the cells."""


@kernel
def add_edges(
    areas: Areas,
    edges: Array2[np.float64],
    numbers: Array1[np.int64],
    first: int,
    last: int,
    left: int,
    top: int,
    rows: float,
    folds: int,
) -> tuple[int, int, bool, bool]:
    """Gather the pieces of edges `first` to `last` of those with the given numbers in the rows of the tile at (left, top), if
    the outline is plain and they are few for the number of rows; otherwise add up their areas. Unless it is plain, they leave
    their footprints as well. Returns the first row that they reach, the one after the last, whether some lie to the left, and
    whether they were gathered.
    """
    if folds != PLAIN:
        return *_mark_edges(areas, edges, numbers, first, last, left, top), True, False
    are_few = last - first < rows
    highest, lowest, leftmost = float(TILE), 0.0, 0.0
    for k in range(first, last):
        edge = numbers[k]
        x0, y0 = edges[edge, 0] - left, edges[edge, 1] - top
        x1, y1 = edges[edge, 2] - left, edges[edge, 3] - top
        if min(x0, x1) >= TILE:
            continue
        leftmost = min(leftmost, x0, x1)
        highest, lowest = min(highest, y0, y1), max(lowest, y0, y1)
        slant = clipped(areas.cells, x0, y0, x1, y1, BLOCKS, TILE, ALONE, ALONE)
        if are_few:
            _gather(areas, slant)
        else:
            step_down(_add, areas, slant)
    return *_rows_between(highest, lowest), leftmost < 0.0, are_few


@inlined
def _rows_between(highest: float, lowest: float) -> tuple[int, int]:
    return int(max(highest, 0.0)), int(math.ceil(min(lowest, float(TILE))))


@inlined
def _mark_edges(
    areas: Areas, edges: Array2[np.float64], numbers: Array1[np.int64], first: int, last: int, left: int, top: int
) -> tuple[int, int]:
    highest, lowest = float(TILE), 0.0
    last_x, last_y, start_x, start_y = math.nan, math.nan, math.nan, math.nan
    went_down, started_down = False, False
    for k in range(first, last):
        edge = numbers[k]
        x0, y0 = edges[edge, 0] - left, edges[edge, 1] - top
        x1, y1 = edges[edge, 2] - left, edges[edge, 3] - top
        highest, lowest = min(highest, y0, y1), max(lowest, y0, y1)
        follows = x0 == last_x and y0 == last_y
        # A horizontal one has the direction of the one before it.
        goes_down = went_down if y0 == y1 and follows else y0 < y1
        before, after = ALONE, ALONE
        if follows:
            before = GOES_ON if goes_down == went_down else TURNS_BACK
            if x1 == start_x and y1 == start_y:
                after = GOES_ON if goes_down == started_down else TURNS_BACK
        else:
            start_x, start_y, started_down = x0, y0, goes_down
        if y0 == y1:
            _mark_level(areas.flags, areas.footprints, x0, x1, y0, DOWN if goes_down else UP, before, after)
        else:
            step_down(_mark_and_add, areas, clipped(areas.cells, x0, y0, x1, y1, BLOCKS, TILE, before, after))
        last_x, last_y, went_down = x1, y1, goes_down
        if follows and x1 == start_x and y1 == start_y:
            last_x = math.nan  # the next one begins another contour
    return _rows_between(highest, lowest)


@inlined
def _gather(areas: Areas, slant: Slant) -> None:
    """Gather the pieces of an edge in their rows, eight rows at a time."""
    row, (x, upper, lower, slope, descent, _, _) = int(slant.upper), slant
    while np.float32(row) < lower:
        full = gather_lanes(areas.counts, areas.pieces, row, x, upper, lower, slope, descent, winding_of(slant))
        if full:
            _add_to_full_rows(areas, row, full, slant)
        row += LANES


@kernel
def _add_to_full_rows(areas: Areas, first: int, full: int, slant: Slant) -> None:
    """Add up the areas of an edge, and of what was gathered before, in rows without room for more pieces: `full` has a bit for
    each of eight rows.
    """
    for number in range(LANES):
        if full >> number & 1:
            row = first + number
            gathered = areas.counts[row] if areas.counts[row] < _MANY else 0
            areas.counts[row] = _MANY
            for k in range(gathered + 1):
                piece = _gathered(areas, row, k) if k < gathered else _piece_in_row(slant, row)
                _add(areas, row, piece, ALONE, ALONE)


@inlined
def _piece_in_row(slant: Slant, row: int) -> EdgePiece:
    """The piece of an edge in a row, as `step_down` has it."""
    y, bottom = max(np.float32(row), slant.upper), min(np.float32(row + 1), slant.lower)
    x = slant.x if y == slant.upper else max(slant.x + (y - slant.upper) * slant.slope, _ZERO)
    next_x = max(slant.x + (bottom - slant.upper) * slant.slope, _ZERO)
    return EdgePiece(min(x, next_x), max(x, next_x), winding_of(slant) * (bottom - y), slant.descent)


@inlined
def _gathered(areas: Areas, row: int, number: int) -> EdgePiece:
    """One of the pieces that were gathered in a row."""
    pieces, place = areas.pieces, np.uint64(4 * number * GATHERED + row)
    step = np.uint64(GATHERED)
    return EdgePiece(pieces[place], pieces[place + step], pieces[place + step + step], pieces[place + step + step + step])


@inlined
def _mark_and_add(areas: Areas, row: int, piece: EdgePiece, joint_low: int, joint_high: int) -> None:
    way = DOWN if piece.descent > _ZERO else UP
    mark_columns(areas.footprints, row, piece.low, piece.high, way, joint_low, joint_high)
    _add(areas, row, piece, joint_low, joint_high)


@inlined
def _add(areas: Areas, row: int, piece: EdgePiece, joint_low: int, joint_high: int) -> None:
    areas.flags[np.uint64(row)] |= _blocks(int(piece.low) // LANES, last_block(piece, BLOCKS))
    add_piece(areas.cells, row, piece, BLOCKS, CELLS)


@inlined
def _blocks(first: int, last: int) -> np.uint8:
    """The bits of blocks `first` to `last`; none if `last` is the one before."""
    return np.uint8((np.uint64(2) << np.uint64(last)) - (np.uint64(1) << np.uint64(first)))


@inlined
def _mark_level(flags: Flags, prints: Footprints, x0: float, x1: float, y: float, way: int, before: int, after: int) -> None:
    """Leave the footprints of a horizontal edge, which covers nothing but may separate what is covered."""
    low, high = max(min(x0, x1), 0.0), min(max(x0, x1), float(TILE))
    if low < TILE and high > 0.0 and 0.0 < y < TILE and y != math.floor(y):
        row = int(y)
        flags[np.uint64(row)] |= _blocks(int(low) // LANES, min(int(high) // LANES, BLOCKS - 1))
        joint_low, joint_high = (before, after) if x0 < x1 else (after, before)
        joint_low, joint_high = joint_low if min(x0, x1) >= 0.0 else ALONE, joint_high if max(x0, x1) <= TILE else ALONE
        mark_columns(prints, row, np.float32(low), np.float32(high), way, joint_low, joint_high)


@kernel
def sweep_polygon(
    tiles: Tiles,
    level: int,
    planes: int,
    top: int,
    bottom: int,
    is_carried: bool,
    is_gathered: bool,
    areas: Areas,
    edges: Array2[np.float64],
    numbers: Array1[np.int64],
    first: int,
    last: int,
    left: int,
    upper: int,
    folds: int,
    cut: CutRoom,
    even_odd: bool,
    paint: Paint,
) -> None:
    """Lay on rows top to bottom, by the nonzero winding rule or the even-odd rule, and clear them. The edges are those that
    were gathered if `is_gathered`, otherwise added, some of them to the left if `is_carried`, and the tile lies at (left,
    upper): a pixel in which they overlap is cut.
    """
    cells, flags, prints = areas.cells, areas.flags, areas.footprints
    is_sorted = False
    if is_carried:
        _total_up(areas, top, bottom)
    waiting = _rows(top, bottom)
    if is_gathered:
        waiting &= ~_lay_narrow_rows(tiles, level, planes, top, bottom, areas, even_odd, paint)
    while waiting:
        row = lowest_bit(waiting)
        waiting &= waiting - _UNIT
        line = np.uint64(row)
        start, total = row_of(level, row), areas.totals[line]
        count = areas.counts[line]
        if 0 < count < _MANY:
            _lay_gathered(tiles, start, planes, paint, total, even_odd, areas, row, count)
            areas.counts[line] = 0
            continue
        flagged = np.int64(flags[line])
        is_once_in_row = folds == ONE_WAY and abs(total) < _EVEN and prints.rises[line] <= 1
        even_start = 0
        block = 0
        while flagged:
            while not flagged & 1:
                flagged >>= 1
                block += 1
            _lay_between(tiles, start, planes, even_start, block, paint, total, even_odd)
            place = block * LANES
            if folds != PLAIN:
                mark = np.uint64(MARKS * block)
                crowded = prints.marks[line, mark + CROWDED]
                # If the winding number never changes sign, a single chain that goes up from 0 makes it at most 1.
                is_once = abs(total) < _EVEN and not prints.marks[line, mark + TWO_UP]
                if folds == ONE_WAY and (is_once or is_once_in_row):
                    crowded = _NONE
                for each in range(np.uint64(MARKS)):
                    prints.marks[line, mark + each] = _NONE
                if crowded:
                    if not is_sorted:
                        sort_into_blocks(edges, numbers, first, last, left, upper, prints.busy, cut)
                        is_sorted = True
                    pieces = cut_into_pieces(edges, row, block, left, upper, cut)
                    if pieces >= 0:
                        cut_pixels(cells, row, block, pixels_of(crowded), total, pieces, folds == ONE_WAY, even_odd, cut)
            lay_area_lanes(tiles, start + place, planes, paint, cells, row * CELLS + place, total, even_odd)
            fill_lanes(cells, row * CELLS + place, _ZERO)
            flagged >>= 1
            block += 1
            total += cells[line, np.uint64(CARRIES + block)]
            even_start = block
        _lay_between(tiles, start, planes, even_start, BLOCKS, paint, total, even_odd)
        fill_lanes(cells, row * CELLS + CARRIES, _ZERO)
        cells[line, CARRIES + BLOCKS] = _ZERO
        areas.counts[line] = flags[line] = 0
        if folds != PLAIN:
            prints.busy[line] = prints.rises[line] = 0
    if is_carried:
        for row in range(np.uint64(top), np.uint64(bottom)):
            areas.totals[row] = _ZERO


@inlined
def _total_up(areas: Areas, top: int, bottom: int) -> None:
    """Add up what lies left of each row, and clear it."""
    cells, whole = areas.cells, _ZERO
    for row in range(np.uint64(top), np.uint64(bottom)):
        whole += cells[row, CARRIES + BLOCKS + 1]
        areas.totals[row] = whole + cells[row, CARRIES]
        cells[row, CARRIES + BLOCKS + 1] = cells[row, CARRIES] = _ZERO
    cells[np.uint64(bottom), CARRIES + BLOCKS + 1] = cells[np.uint64(bottom), CARRIES] = _ZERO


@inlined
def _rows(top: int, bottom: int) -> np.uint64:
    """A bit for each row from top to bottom."""
    if bottom <= top:
        return _NONE
    return (np.uint64(2) << np.uint64(bottom - 1)) - (_UNIT << np.uint64(top))


@inlined
def _lay_narrow_rows(
    tiles: Tiles, level: int, planes: int, top: int, bottom: int, areas: Areas, even_odd: bool, paint: Paint
) -> np.uint64:
    """Lay on rows with two pieces of edges in a single block or two neighbouring ones and nothing covered beside them, as lines
    have. Returns a bit for each of them, and for each row in which nothing is covered.

    Rows are told apart eight at a time, and each kind has a loop of its own: what is found out row by row, a processor cannot
    foresee, and a wrong guess takes as long as laying on a block.
    """
    narrow, wider, bare, first = _NONE, _NONE, _NONE, top - top % LANES
    while first < bottom:
        found, place = narrow_lanes(areas.counts, areas.pieces, areas.totals, first, _NOTHING), np.uint64(first)
        narrow |= (found & _EIGHT) << place
        wider |= (found >> np.uint64(LANES) & _EIGHT) << place
        bare |= (found >> np.uint64(2 * LANES)) << place
        first += LANES
    done = narrow | wider | bare
    while narrow:
        row = lowest_bit(narrow)
        narrow &= narrow - _UNIT
        _lay_in_a_block(tiles, row_of(level, row), planes, paint, even_odd, areas, row)
        areas.counts[np.uint64(row)] = 0
    while wider:
        row = lowest_bit(wider)
        wider &= wider - _UNIT
        _lay_in_two_blocks(tiles, row_of(level, row), planes, paint, even_odd, areas, row)
        areas.counts[np.uint64(row)] = 0
    return done


@inlined
def _lay_in_two_blocks(tiles: Tiles, start: int, planes: int, paint: Paint, even_odd: bool, areas: Areas, row: int) -> None:
    """Lay on a row with two pieces in neighbouring blocks."""
    piece, other = _gathered(areas, row, 0), _gathered(areas, row, 1)
    block = int(min(piece.low, other.low)) // LANES
    part, piece = _divided(piece, block)
    other_part, other = _divided(other, block)
    total = areas.totals[np.uint64(row)]
    _lay_two(tiles, start, planes, paint, total, even_odd, part, other_part, block)
    _lay_two(tiles, start, planes, paint, total + (part.height + other_part.height), even_odd, piece, other, block + 1)


@inlined
def _divided(piece: EdgePiece, block: int) -> tuple[EdgePiece, EdgePiece]:
    """The part of a piece in a block and what remains beyond, as `part_in_block` has them; either has no height where there is
    none. All is calculated and then chosen, as a branch would be guessed wrong too often.
    """
    end = np.float32((block + 1) * LANES)
    begins, ends = piece.low < end, piece.high < end or block == BLOCKS - 1
    height = piece.height if ends else (end - piece.low) * piece.descent
    height = height if begins else _ZERO
    middle = piece.high if ends else end
    middle = middle if begins else piece.low
    part = EdgePiece(piece.low, middle, height, piece.descent)
    return part, EdgePiece(middle, piece.high, _ZERO if ends else piece.height - height, piece.descent)


@inlined
def _lay_two(
    tiles: Tiles,
    start: int,
    planes: int,
    paint: Paint,
    total: np.float32,
    even_odd: bool,
    piece: EdgePiece,
    other: EdgePiece,
    block: int,
) -> None:
    """Lay on a block that two pieces of edges run through; `total` is the area left of them."""
    begin = np.float32(block * LANES)
    lay_two_edges_lanes(
        tiles,
        start + block * LANES,
        planes,
        paint,
        total,
        even_odd,
        piece.low - begin,
        piece.high - piece.low,
        _HALF * piece.descent,
        piece.height,
        other.low - begin,
        other.high - other.low,
        _HALF * other.descent,
        other.height,
    )


@inlined
def _lay_in_a_block(tiles: Tiles, start: int, planes: int, paint: Paint, even_odd: bool, areas: Areas, row: int) -> None:
    """Lay on a row with two pieces in a single block."""
    piece, other = _gathered(areas, row, 0), _gathered(areas, row, 1)
    block = int(piece.low) // LANES
    _lay_two(tiles, start, planes, paint, areas.totals[np.uint64(row)], even_odd, piece, other, block)


@inlined
def _lay_gathered(
    tiles: Tiles, start: int, planes: int, paint: Paint, total: np.float32, even_odd: bool, areas: Areas, row: int, count: int
) -> None:
    """Lay on a row that one or two pieces of edges run through; `total` is the area left of them."""
    piece, other = _gathered(areas, row, 0), _gathered(areas, row, count - 1)
    if int(other.low) // LANES < int(piece.low) // LANES:
        piece, other = other, piece
    first, last = int(piece.low) // LANES, last_block(piece, BLOCKS)
    other_first, other_last = int(other.low) // LANES, last_block(other, BLOCKS)
    if count == 1:
        other_first, other_last = BLOCKS, BLOCKS - 1
    _lay_between(tiles, start, planes, 0, first, paint, total, even_odd)
    if last < other_first:
        total = _lay_along(tiles, start, planes, paint, total, even_odd, piece, first, last)
        _lay_between(tiles, start, planes, last + 1, other_first, paint, total, even_odd)
        total = _lay_along(tiles, start, planes, paint, total, even_odd, other, other_first, other_last)
    else:
        for block in range(first, max(last, other_last) + 1):
            part, piece = _divided(piece, block)
            other_part, other = _divided(other, block)
            _lay_two(tiles, start, planes, paint, total, even_odd, part, other_part, block)
            total += part.height + other_part.height
    _lay_between(tiles, start, planes, max(last, other_last) + 1, BLOCKS, paint, total, even_odd)


@inlined
def _lay_along(
    tiles: Tiles,
    start: int,
    planes: int,
    paint: Paint,
    total: np.float32,
    even_odd: bool,
    piece: EdgePiece,
    first: int,
    last: int,
) -> np.float32:
    """Lay on the blocks that a piece of an edge runs through. Returns the area to its right."""
    for block in range(first, last + 1):
        part, piece = part_in_block(piece, block, last)
        begin, width, half = part.low - np.float32(block * LANES), part.high - part.low, _HALF * part.descent
        lay_edge_lanes(tiles, start + block * LANES, planes, paint, total, even_odd, begin, width, half, part.height)
        total += part.height
    return total


@inlined
def _lay_between(
    tiles: Tiles, start: int, planes: int, first: int, last: int, paint: Paint, total: np.float32, even_odd: bool
) -> None:
    """Lay on blocks without edges."""
    if last > first and abs(total) > _NOTHING:
        cover = covered_by(total, even_odd)
        if cover > _NOTHING:
            lay_even(tiles, start, planes, first, last, paint, _ONE if cover > _ONE - _NOTHING else cover)
