"""Table lookups of colours, and weighted sums of neighbours, many at once."""

from __future__ import annotations

from typing import Any

import numpy as np
from llvmlite import ir
from numba import types
from numba.core.cgutils import alloca_once, for_range

from mothseed.arrays import Array1
from mothseed.kernels.lanes import FLOAT, FLOAT_SIZE, VECTOR, Lanes, built
from mothseed.kernels.tile_sizes import LANES, RAMP_STEPS, WIDE, WIDEST
from mothseed.native.jit import inlined, step


@step
def ramp_lanes(
    typing_context: Any, paint: Any, tables: Any, table: Any, u: Any, across: Any, v: Any, down: Any, is_radial: Any
) -> Any:
    """Paint = eight reds, greens and blues, premultiplied, and alphas of a ramp at neighbouring pixels. The first lies at (u,
    v) in the ramp's own coordinates, each further one `across` and `down` from the last. The position along the ramp is u, or
    the distance from the origin if it is radial. `table` is the ramp's index in the tables, (n, 257, 4).
    """

    def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
        paints, all_tables, number, first_u, step_u, first_v, step_v, radial = arguments
        builder, context = lanes.builder, lanes.context
        whole, word = ir.IntType(32), ir.IntType(64)
        offsets = lanes.count()
        us = builder.fadd(lanes.all(first_u), builder.fmul(offsets, lanes.all(step_u)))
        vs = builder.fadd(lanes.all(first_v), builder.fmul(offsets, lanes.all(step_v)))
        distance = lanes.call("sqrt", builder.fadd(builder.fmul(us, us), builder.fmul(vs, vs)))
        along = builder.select(radial, distance, us)
        bounded = lanes.smaller(lanes.larger(along, lanes.constant(0.0)), lanes.constant(1.0))
        places = builder.fmul(bounded, lanes.constant(float(RAMP_STEPS)))
        starts = builder.fptosi(places, ir.VectorType(whole, LANES))
        last = ir.Constant(ir.VectorType(whole, LANES), [RAMP_STEPS - 1] * LANES)
        starts = builder.select(builder.icmp_signed("<", starts, last), starts, last)
        parts = builder.fsub(places, builder.sitofp(starts, VECTOR))
        data = context.make_array(argument_types[1])(context, builder, all_tables).data
        own = builder.gep(data, [builder.mul(number, ir.Constant(word, (RAMP_STEPS + 1) * 4))])
        four = ir.VectorType(FLOAT, 4)
        colours = []
        for lane in range(LANES):
            place = ir.Constant(whole, lane)
            start = builder.zext(builder.extract_element(starts, place), word)
            address = builder.bitcast(builder.gep(own, [builder.shl(start, ir.Constant(word, 2))]), four.as_pointer())
            lower = builder.load(address, align=FLOAT_SIZE, typ=four)
            upper = builder.load(builder.gep(address, [ir.Constant(whole, 1)]), align=FLOAT_SIZE, typ=four)
            part = builder.extract_element(parts, place)
            empty = ir.Constant(four, ir.Undefined)
            first = builder.insert_element(empty, part, ir.Constant(whole, 0))
            even = builder.shuffle_vector(first, empty, ir.Constant(ir.VectorType(whole, 4), [0] * 4))
            colours.append(builder.fadd(lower, builder.fmul(builder.fsub(upper, lower), even)))
        # Transpose eight colours of four channels to four runs of eight.
        pairs = [_joined(builder, colours[lane], colours[lane + 1]) for lane in range(0, LANES, 2)]
        fours = [_joined(builder, pairs[0], pairs[1]), _joined(builder, pairs[2], pairs[3])]
        runs = [
            builder.shuffle_vector(*fours, ir.Constant(ir.VectorType(whole, LANES), [part + 4 * lane for lane in range(LANES)]))
            for part in range(4)
        ]
        for part, run in enumerate(runs):
            value = builder.fmul(run, runs[3]) if part < 3 else run
            lanes.store(value, lanes.address(argument_types[0], paints, ir.Constant(word, part * LANES)))

    signature = types.void(
        paint, tables, types.int64, types.float32, types.float32, types.float32, types.float32, types.boolean
    )
    return built(signature, build)


def _joined(builder: ir.IRBuilder, first: Any, second: Any) -> Any:
    """Two vectors concatenated."""
    count = 2 * first.type.count
    return builder.shuffle_vector(first, second, ir.Constant(ir.VectorType(ir.IntType(32), count), list(range(count))))


def _weighing(width: int) -> Any:
    """A step that weighs so many neighbours, whose sums stay in registers and are taken in order."""

    def weigh_some(
        typing_context: Any,
        target: Any,
        index: Any,
        source: Any,
        source_index: Any,
        stride: Any,
        weights: Any,
        first: Any,
        last: Any,
    ) -> Any:
        def build(lanes: Lanes, argument_types: Any, arguments: Any) -> None:
            array, place, sources, begin, distance, all_weights, start, stop = arguments
            builder, context = lanes.builder, lanes.context
            sums = [alloca_once(builder, VECTOR) for _ in range(width // LANES)]  # type: ignore[no-untyped-call]
            for each in sums:
                builder.store(lanes.constant(0.0), each)
            weights_data = context.make_array(argument_types[5])(context, builder, all_weights).data
            with for_range(builder, builder.sub(stop, start)) as loop:
                weight = lanes.all(builder.load(builder.gep(weights_data, [builder.add(start, loop.index)])))
                there = builder.add(begin, builder.mul(loop.index, distance))
                for number, each in enumerate(sums):
                    own = builder.add(there, ir.Constant(there.type, number * LANES))
                    part = builder.fmul(lanes.load(lanes.address(argument_types[2], sources, own)), weight)
                    builder.store(builder.fadd(builder.load(each), part), each)
            for number, each in enumerate(sums):
                own = builder.add(place, ir.Constant(place.type, number * LANES))
                lanes.store(builder.load(each), lanes.address(argument_types[0], array, own))

        signature = types.void(target, types.int64, source, types.int64, types.int64, weights, types.int64, types.int64)
        return built(signature, build)

    return step(weigh_some)


_weigh_wide, _weigh_widest = _weighing(WIDE), _weighing(WIDEST)


@inlined
def weigh(
    target: Array1[np.float32],
    place: int,
    source: Array1[np.float32],
    begin: int,
    count: int,
    stride: int,
    weights: Array1[np.float32],
    first: int,
    last: int,
) -> None:
    """Set `count` of the target, a multiple of WIDE, to sums of the source: target[place + n] to that of source[begin + n + k *
    stride] * weights[first + k], k from 0 to last - first.
    """
    done = 0
    while done + WIDEST <= count:
        _weigh_widest(target, place + done, source, begin + done, stride, weights, first, last)
        done += WIDEST
    while done < count:
        _weigh_wide(target, place + done, source, begin + done, stride, weights, first, last)
        done += WIDE
