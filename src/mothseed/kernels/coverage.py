"""Coverage of eight neighbouring pixels: by circles, and by what lies right of edges."""

from __future__ import annotations

from typing import Any

import numpy as np
from llvmlite import ir
from numba import types

from mothseed.kernels.lanes import FLOAT, VECTOR, Lanes, built, laying
from mothseed.kernels.tile_sizes import GATHERED, LANES, TILE
from mothseed.native.jit import step


def _within_circle(lanes: Lanes, first: Any, below: Any, reach: Any) -> Any:
    """Coverage of each pixel by a circle, from the distance of the pixel's centre.

    `first` and `below` lead from the circle's centre to that of the first pixel. The circle is taken as a straight line
    across the direction to the pixel, which cuts a trapezoid or a triangle off the pixel: with d the distance, A and B the
    larger and smaller of |across| and |down|, s = |radius - d| d, H1 = (A + B)/2 and H2 = (A - B)/2, half a pixel plus or
    minus s/A where s < H2, else 1/2 - (H1 - s)^2/(2AB). `reach` is the circle's radius less 1/24 of its curvature, the mean
    height of the bow over the chord of a pixel. Within 0.011 of the true area for radii from 5.
    """
    builder = lanes.builder
    half, tiny = lanes.constant(0.5), lanes.constant(2.0**-20)
    x = lanes.call("fabs", builder.fadd(lanes.all(first), lanes.count()))
    y = lanes.call("fabs", lanes.all(below))
    large, small = lanes.larger(lanes.larger(x, y), tiny), lanes.larger(lanes.smaller(x, y), tiny)
    # From the bounded values, so that a pixel at the very centre has a distance to multiply by.
    distance = lanes.call("sqrt", builder.fadd(builder.fmul(large, large), builder.fmul(small, small)))
    inward = builder.fsub(lanes.all(reach), distance)
    half_sum = builder.fmul(builder.fadd(large, small), half)
    half_difference = builder.fmul(builder.fsub(large, small), half)
    size = lanes.smaller(builder.fmul(lanes.call("fabs", inward), distance), half_sum)
    corner = builder.fsub(half_sum, size)
    twice_product = builder.fmul(builder.fmul(large, small), lanes.constant(2.0))
    # One division for both, as it takes longer than all the rest.
    is_trapezoid = builder.fcmp_ordered("<", size, half_difference)
    above = builder.select(is_trapezoid, size, builder.fmul(corner, corner))
    ratio = builder.fdiv(above, builder.select(is_trapezoid, large, twice_product))
    part = builder.select(is_trapezoid, ratio, builder.fsub(half, ratio))
    is_inside = builder.fcmp_ordered(">", inward, lanes.constant(0.0))
    return builder.select(is_inside, builder.fadd(half, part), builder.fsub(half, part))


@step
def add_circle_lanes(typing_context: Any, cover: Any, index: Any, across: Any, down: Any, reach: Any, sign: Any) -> Any:
    """Cover = cover + sign * how much of each pixel lies within a circle, as `lay_disc_lanes` has it."""

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        covers, place, first, below, radius, factor = arguments
        inside = lanes.builder.fmul(_within_circle(lanes, first, below, radius), lanes.all(factor))
        address = lanes.address(argument_types[0], covers, place)
        lanes.store(lanes.builder.fadd(lanes.load(address), inside), address)

    signature = types.void(cover, types.int64, types.float32, types.float32, types.float32, types.float32)
    return built(signature, build)


@step
def lay_disc_lanes(
    typing_context: Any, tiles: Any, index: Any, planes: Any, paint: Any, across: Any, down: Any, reach: Any
) -> Any:
    """Lay a colour on eight pixels of all planes, by their coverage by a circle.

    `across` and `down` lead from its centre to that of the first pixel; `reach` is its radius less 1/24 of its curvature.
    """

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        first, below, radius = arguments[4:]
        lanes.lay_planes(argument_types, arguments, _within_circle(lanes, first, below, radius))

    reals = (types.float32,) * 3
    return built(laying(tiles, paint, *reals), build)


_POINTS, _WEIGHTS = ((part / 2).tolist() for part in np.polynomial.legendre.leggauss(LANES))
"""Nodes between -1/2 and 1/2, and their weights: the Gauss-Legendre rule for eight points."""


def _within_dot(lanes: Lanes, centre: Any, middle: Any, height: Any, square: Any) -> Any:
    """Coverage of each pixel of a row by a small circle, from its width at eight heights.

    `centre` leads from the first pixel's left side to the circle's centre, `middle` from there down to the middle of what
    the row has of it, which is `height` high; `square` is that of its radius. Within 0.007 up to a radius of 5, more beyond.
    """
    builder = lanes.builder
    zero = lanes.constant(0.0)
    heights = builder.fmul(ir.Constant(VECTOR, _POINTS), lanes.all(height))
    down = builder.fadd(heights, lanes.all(middle))
    rest = builder.fsub(lanes.all(square), builder.fmul(down, down))
    halves = lanes.call("sqrt", lanes.larger(rest, zero))
    left = builder.fsub(lanes.count(), lanes.all(centre))
    right = builder.fadd(left, lanes.constant(1.0))
    total = zero
    for point, weight in enumerate(_WEIGHTS):
        half = lanes.one(halves, point)
        inside = builder.fsub(lanes.smaller(right, half), lanes.larger(left, builder.fsub(zero, half)))
        total = builder.fadd(total, builder.fmul(lanes.larger(inside, zero), lanes.constant(weight)))
    return total


@step
def add_dot_lanes(
    typing_context: Any, cover: Any, index: Any, across: Any, middle: Any, height: Any, square: Any, sign: Any
) -> Any:
    """Cover = cover + sign * how much of each pixel of a row lies within a small circle, as `lay_dot_lanes` has it."""

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        covers, place, centre, centre_of_part, part, radius_squared, factor = arguments
        total = _within_dot(lanes, centre, centre_of_part, part, radius_squared)
        covered = lanes.builder.fmul(total, lanes.all(lanes.builder.fmul(part, factor)))
        address = lanes.address(argument_types[0], covers, place)
        lanes.store(lanes.builder.fadd(lanes.load(address), covered), address)

    reals = (types.float32,) * 5
    return built(types.void(cover, types.int64, *reals), build)


@step
def lay_dot_lanes(
    typing_context: Any,
    tiles: Any,
    index: Any,
    planes: Any,
    paint: Any,
    across: Any,
    middle: Any,
    height: Any,
    square: Any,
) -> Any:
    """Lay a colour on eight pixels of a row, of all planes, by their coverage by a small circle.

    `across` leads from the first pixel's left side to the circle's centre, `middle` from there down to the middle of what
    the row has of it, which is `height` high; `square` is that of its radius.
    """

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        centre, centre_of_part, part, radius_squared = arguments[4:]
        total = _within_dot(lanes, centre, centre_of_part, part, radius_squared)
        covered = lanes.builder.fmul(total, lanes.all(part))
        lanes.lay_planes(argument_types, arguments, covered)

    reals = (types.float32,) * 4
    return built(laying(tiles, paint, *reals), build)


def _right_of_edge(lanes: Lanes, low: Any, width: Any, half_descent: Any, height: Any) -> Any:
    """The area of each pixel of a row right of a straight edge. The edge descends by `height` while it goes from `low`, counted
    from the first pixel, `width` to the side; it descends by twice `half_descent` per pixel.
    """
    builder = lanes.builder
    zero, one, end = lanes.constant(0.0), lanes.constant(1.0), lanes.all(width)
    left = builder.fsub(lanes.count(), lanes.all(low))
    right = builder.fadd(left, one)
    # Below the edge: a triangle over the columns up to the pixel's right side, minus one up to its left; then all.
    entered = lanes.smaller(lanes.larger(left, zero), end)
    passed = lanes.smaller(lanes.larger(right, zero), end)
    triangles = builder.fmul(builder.fsub(passed, entered), builder.fadd(passed, entered))
    beyond = lanes.smaller(lanes.larger(builder.fsub(right, end), zero), one)
    return builder.fadd(builder.fmul(triangles, lanes.all(half_descent)), builder.fmul(beyond, lanes.all(height)))


def _covered(lanes: Lanes, area: Any, even_odd: Any) -> Any:
    """Coverage from the area times the winding number. By the non-zero winding rule it is |area|, at most 1; by the even-odd
    rule, how far |area| is from an even number.
    """
    builder = lanes.builder
    size = lanes.call("fabs", area)
    non_zero = lanes.smaller(size, lanes.constant(1.0))
    before_branch = builder.block
    with builder.if_then(even_odd):
        # Through integers, to which every processor rounds in one instruction.
        whole = ir.VectorType(ir.IntType(32), LANES)
        pairs = builder.sitofp(builder.fptosi(builder.fmul(size, lanes.constant(0.5)), whole), VECTOR)
        rest = builder.fsub(size, builder.fmul(pairs, lanes.constant(2.0)))
        from_even = lanes.smaller(rest, builder.fsub(lanes.constant(2.0), rest))
        in_branch = builder.block
    covered = builder.phi(VECTOR)
    covered.add_incoming(non_zero, before_branch)
    covered.add_incoming(from_even, in_branch)
    return covered


@step
def add_area_lanes(typing_context: Any, target: Any, index: Any, low: Any, width: Any, half_descent: Any, height: Any) -> Any:
    """Target = target + the area of each pixel of a row right of a straight edge."""

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        array, place, *edge = arguments
        address = lanes.address(argument_types[0], array, place)
        lanes.store(lanes.builder.fadd(lanes.load(address), _right_of_edge(lanes, *edge)), address)

    return built(types.void(target, types.int64, types.float32, types.float32, types.float32, types.float32), build)


@step
def lay_area_lanes(
    typing_context: Any,
    tiles: Any,
    index: Any,
    planes: Any,
    paint: Any,
    cells: Any,
    cells_index: Any,
    total: Any,
    even_odd: Any,
) -> Any:
    """Lay a colour on eight pixels of all planes, covered by `cells + total`, the area times the winding number."""

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        own_cells, cells_place, before, by_even_odd = arguments[4:]
        cell = lanes.load(lanes.address(argument_types[4], own_cells, cells_place))
        area = lanes.builder.fadd(cell, lanes.all(before))
        lanes.lay_planes(argument_types, arguments, _covered(lanes, area, by_even_odd))

    return built(laying(tiles, paint, cells, types.int64, types.float32, types.boolean), build)


@step
def lay_edge_lanes(
    typing_context: Any,
    tiles: Any,
    index: Any,
    planes: Any,
    paint: Any,
    total: Any,
    even_odd: Any,
    low: Any,
    width: Any,
    half_descent: Any,
    height: Any,
) -> Any:
    """Lay a colour on eight pixels of all planes, covered by what is right of one edge, and `total`."""

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        before, by_even_odd, *edge = arguments[4:]
        area = lanes.builder.fadd(_right_of_edge(lanes, *edge), lanes.all(before))
        lanes.lay_planes(argument_types, arguments, _covered(lanes, area, by_even_odd))

    return built(laying(tiles, paint, types.float32, types.boolean, *(types.float32,) * 4), build)


@step
def lay_two_edges_lanes(
    typing_context: Any,
    tiles: Any,
    index: Any,
    planes: Any,
    paint: Any,
    total: Any,
    even_odd: Any,
    low: Any,
    width: Any,
    half_descent: Any,
    height: Any,
    other_low: Any,
    other_width: Any,
    other_half_descent: Any,
    other_height: Any,
) -> Any:
    """Lay a colour on eight pixels of all planes, covered by what is right of two edges, and `total`."""

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        before, by_even_odd, *edges = arguments[4:]
        both = lanes.builder.fadd(_right_of_edge(lanes, *edges[:4]), _right_of_edge(lanes, *edges[4:]))
        area = lanes.builder.fadd(both, lanes.all(before))
        lanes.lay_planes(argument_types, arguments, _covered(lanes, area, by_even_odd))

    return built(laying(tiles, paint, types.float32, types.boolean, *(types.float32,) * 8), build)


@step
def narrow_lanes(typing_context: Any, counts: Any, pieces: Any, totals: Any, row: Any, nothing: Any) -> Any:
    """A bit for each of eight rows of a tile with two pieces, as `gather_lanes` has put them, that lie in a single block, with
    no more than `nothing` covered beside it; eight more for those whose pieces lie in two neighbouring blocks; and eight for
    rows without pieces in which nothing is covered.
    """

    def codegen(context: Any, builder: ir.IRBuilder, signature: Any, arguments: Any) -> Any:
        lanes = Lanes(context, builder)
        counts_array, pieces_array, totals_array, first_row, least = arguments
        bytes_, whole = ir.VectorType(ir.IntType(8), LANES), ir.VectorType(ir.IntType(32), LANES)
        own_counts = context.make_array(signature.args[0])(context, builder, counts_array).data
        count = builder.load(builder.bitcast(builder.gep(own_counts, [first_row]), bytes_.as_pointer()), align=1, typ=bytes_)

        def field(piece: int, name: int) -> Any:
            place = builder.add(first_row, first_row.type((4 * piece + name) * GATHERED))
            return lanes.load(lanes.address(signature.args[1], pieces_array, place))

        def block_of(x: Any) -> Any:
            return builder.fptosi(builder.fmul(x, lanes.constant(1 / LANES)), whole)

        (low, high, height), (other_low, other_high, other_height) = (
            [field(piece, name) for name in range(3)] for piece in (0, 1)
        )
        # At the right border, a piece ends in the last block.
        high, other_high = (lanes.smaller(x, lanes.constant(TILE - 1)) for x in (high, other_high))
        first, last = block_of(lanes.smaller(low, other_low)), block_of(lanes.larger(high, other_high))
        before = lanes.load(lanes.address(signature.args[2], totals_array, first_row))
        after = builder.fadd(before, builder.fadd(height, other_height))
        is_bare_before, is_bare_after = (
            builder.fcmp_ordered("<=", lanes.call("fabs", total), lanes.all(least)) for total in (before, after)
        )

        def are(vector: Any, number: int) -> Any:
            return builder.icmp_signed("==", vector, ir.Constant(vector.type, [number] * LANES))

        found = builder.and_(are(count, 2), builder.and_(is_bare_before, is_bare_after))
        further = builder.sub(last, first)
        is_bare = builder.and_(are(count, 0), is_bare_before)
        bits = ir.IntType(64)(0)
        for kind, mask in enumerate([builder.and_(found, are(further, 0)), builder.and_(found, are(further, 1)), is_bare]):
            own = builder.zext(builder.bitcast(mask, ir.IntType(LANES)), bits.type)
            bits = builder.or_(bits, builder.shl(own, bits.type(kind * LANES)))
        return bits

    return types.uint64(counts, pieces, totals, types.int64, types.float32), codegen


@step
def gather_lanes(
    typing_context: Any,
    counts: Any,
    pieces: Any,
    row: Any,
    x0: Any,
    y0: Any,
    y1: Any,
    slope: Any,
    descent: Any,
    winding: Any,
) -> Any:
    """Put the pieces of an edge in eight rows of a tile into `pieces`, and count them, as `areas.step_down` has them. Returns a
    bit for each row that has two already.
    """

    def codegen(context: Any, builder: ir.IRBuilder, signature: Any, arguments: Any) -> Any:
        lanes = Lanes(context, builder)
        counts_array, pieces_array, first_row, x, top, bottom, sideways, down, sign = arguments
        zero, one, limit = lanes.constant(0.0), lanes.constant(1.0), lanes.constant(TILE)
        uppers = builder.fadd(lanes.all(builder.sitofp(first_row, FLOAT)), lanes.count())
        begin, end = lanes.larger(uppers, lanes.all(top)), lanes.smaller(builder.fadd(uppers, one), lanes.all(bottom))

        def x_at(heights: Any) -> Any:
            moved = builder.fmul(builder.fsub(heights, lanes.all(top)), lanes.all(sideways))
            return lanes.larger(builder.fadd(lanes.all(x), moved), zero)

        # Where it begins, its x is known; it may go too far to the side for that to be calculated.
        begin_x = builder.select(builder.fcmp_ordered("==", begin, lanes.all(top)), lanes.all(x), x_at(begin))
        end_x = x_at(end)
        low, high = lanes.smaller(begin_x, end_x), lanes.larger(begin_x, end_x)
        height = builder.fmul(lanes.all(sign), builder.fsub(end, begin))
        is_here = builder.fcmp_ordered("<", uppers, lanes.all(bottom))
        is_here = builder.and_(is_here, builder.fcmp_ordered("<", low, limit))

        bytes_ = ir.VectorType(ir.IntType(8), LANES)
        own_counts = context.make_array(signature.args[0])(context, builder, counts_array).data
        place_of_counts = builder.bitcast(builder.gep(own_counts, [first_row]), bytes_.as_pointer())
        before = builder.load(place_of_counts, align=1, typ=bytes_)
        kept = ir.Constant(ir.VectorType(ir.IntType(1), LANES), [0] * LANES)
        for number in range(2):
            mask = builder.and_(is_here, builder.icmp_unsigned("==", before, ir.Constant(bytes_, [number] * LANES)))
            kept = builder.or_(kept, mask)
            for field, value in enumerate((low, high, height, lanes.all(down))):
                place = builder.add(first_row, first_row.type((4 * number + field) * GATHERED))
                lanes.store_some(value, lanes.address(signature.args[1], pieces_array, place), mask)
        builder.store(builder.add(before, builder.zext(kept, bytes_)), place_of_counts, align=1)
        full = builder.and_(is_here, builder.not_(kept))
        return builder.zext(builder.bitcast(full, ir.IntType(LANES)), ir.IntType(64))

    return types.int64(counts, pieces, types.int64, *(types.float32,) * 6), codegen
