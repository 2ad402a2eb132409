"""Eight pixels at once: the three innermost steps of painting, written in vector instructions.

Left to itself the compiler prepares for long loops, and rows of a shape are short: measured on discs of radius 5, these steps
take a fifth of the time of plain loops. Each works on eight neighbouring float32 of a C-contiguous array, from a flat index
on. The vectors are of a fixed width and every operation is an IEEE one, so a processor with shorter vectors does the same
in two halves.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from llvmlite import ir
from numba import types
from numba.extending import intrinsic

LANES = 8

_FLOAT = ir.FloatType()
_VECTOR = ir.VectorType(_FLOAT, LANES)
_FLOAT_SIZE = 4


step: Callable[[Callable[..., Any]], Any] = intrinsic
"""Numba's decorator for code written in instructions. Inside a kernel a step is called without its first argument."""


class _Lanes:
    """Builds vector code inside a kernel: a thin layer over the instruction builder."""

    def __init__(self, context: Any, builder: ir.IRBuilder) -> None:
        self.context = context
        self.builder = builder

    def address(self, array_type: Any, array: Any, index: Any) -> Any:
        data = self.context.make_array(array_type)(self.context, self.builder, array).data
        return self.builder.bitcast(self.builder.gep(data, [index]), _VECTOR.as_pointer())

    def load(self, address: Any) -> Any:
        return self.builder.load(address, align=_FLOAT_SIZE, typ=_VECTOR)

    def store(self, vector: Any, address: Any) -> None:
        self.builder.store(vector, address, align=_FLOAT_SIZE)

    def all(self, scalar: Any) -> Any:
        """The same number in every lane."""
        empty = ir.Constant(_VECTOR, ir.Undefined)
        first = self.builder.insert_element(empty, scalar, ir.Constant(ir.IntType(32), 0))
        return self.builder.shuffle_vector(first, empty, ir.Constant(ir.VectorType(ir.IntType(32), LANES), [0] * LANES))

    def constant(self, number: float) -> Any:
        return ir.Constant(_VECTOR, [number] * LANES)

    def call(self, name: str, vector: Any) -> Any:
        """One of LLVM's functions of a vector, such as its square root."""
        function_type = ir.FunctionType(_VECTOR, [_VECTOR])
        full_name = f"llvm.{name}.v{LANES}f32"
        function = self.builder.module.globals.get(full_name) or ir.Function(self.builder.module, function_type, full_name)
        return self.builder.call(function, [vector])

    def smaller(self, x: Any, y: Any) -> Any:
        return self.builder.select(self.builder.fcmp_ordered("<", x, y), x, y)

    def larger(self, x: Any, y: Any) -> Any:
        return self.builder.select(self.builder.fcmp_ordered(">", x, y), x, y)


def _built(signature: Any, build: Callable[[_Lanes, Any, Any], None]) -> tuple[Any, Any]:
    """What `intrinsic` wants of a step: its signature, and how its code is built from typed arguments."""

    def codegen(context: Any, builder: ir.IRBuilder, signature: Any, arguments: Any) -> Any:
        build(_Lanes(context, builder), signature.args, arguments)
        return context.get_dummy_value()

    return signature, codegen


@step
def lay_lanes(typing_context: Any, target: Any, index: Any, through: Any, added: Any) -> Any:
    """Target = target * through + added."""

    def build(lanes: _Lanes, argument_types: Any, arguments: Any) -> None:
        array, place, factor, addend = arguments
        address = lanes.address(argument_types[0], array, place)
        kept = lanes.builder.fmul(lanes.load(address), lanes.all(factor))
        lanes.store(lanes.builder.fadd(kept, lanes.all(addend)), address)

    return _built(types.void(target, types.int64, types.float32, types.float32), build)


@step
def blend_lanes(typing_context: Any, target: Any, index: Any, cover: Any, cover_index: Any, alpha: Any, colour: Any) -> Any:
    """Target = target * (1 - alpha * cover) + colour * cover."""

    def build(lanes: _Lanes, argument_types: Any, arguments: Any) -> None:
        array, place, covers, covers_place, opacity, part = arguments
        builder = lanes.builder
        address = lanes.address(argument_types[0], array, place)
        covered = lanes.load(lanes.address(argument_types[2], covers, covers_place))
        through = builder.fsub(lanes.constant(1.0), builder.fmul(lanes.all(opacity), covered))
        kept = builder.fmul(lanes.load(address), through)
        lanes.store(builder.fadd(kept, builder.fmul(lanes.all(part), covered)), address)

    signature = types.void(target, types.int64, cover, types.int64, types.float32, types.float32)
    return _built(signature, build)


@step
def merge_lanes(
    typing_context: Any, target: Any, index: Any, group: Any, colour_index: Any, alpha_index: Any, opacity: Any
) -> Any:
    """Target = target * (1 - alpha * opacity) + colour * opacity, with colour and alpha from a group's tile."""

    def build(lanes: _Lanes, argument_types: Any, arguments: Any) -> None:
        array, place, laid, colour_place, alpha_place, strength = arguments
        builder = lanes.builder
        address = lanes.address(argument_types[0], array, place)
        colour = lanes.load(lanes.address(argument_types[2], laid, colour_place))
        alpha = lanes.load(lanes.address(argument_types[2], laid, alpha_place))
        factor = lanes.all(strength)
        through = builder.fsub(lanes.constant(1.0), builder.fmul(alpha, factor))
        kept = builder.fmul(lanes.load(address), through)
        lanes.store(builder.fadd(kept, builder.fmul(colour, factor)), address)

    signature = types.void(target, types.int64, group, types.int64, types.int64, types.float32)
    return _built(signature, build)


@step
def cover_lanes(typing_context: Any, cover: Any, index: Any, across: Any, down: Any, radius: Any, sign: Any) -> Any:
    """Cover = cover + sign * how much of each pixel lies within a circle, by the distance of the pixel's centre.

    `across` and `down` lead from the circle's centre to that of the first pixel. The circle is taken as the straight line
    across the direction to the pixel, and the line cuts a trapezoid or a triangle off the pixel: with d the distance, A and
    B the larger and smaller of |across| and |down|, s = |radius - d| d, H1 = (A + B)/2 and H2 = (A - B)/2, half a pixel plus
    or minus s/A where s < H2, else 1/2 - (H1 - s)^2/(2AB). `radius` is the circle's less 1/24 of its curvature, the mean
    height of the bow over the chord of a pixel. Within 0.02 of the true area from a radius of 2 on.
    """

    def build(lanes: _Lanes, argument_types: Any, arguments: Any) -> None:
        covers, place, first, below, reach, factor = arguments
        builder = lanes.builder
        half, tiny = lanes.constant(0.5), lanes.constant(2.0**-20)
        offsets = ir.Constant(_VECTOR, [float(lane) for lane in range(LANES)])
        x = lanes.call("fabs", builder.fadd(lanes.all(first), offsets))
        y = lanes.call("fabs", lanes.all(below))
        large, small = lanes.larger(lanes.larger(x, y), tiny), lanes.larger(lanes.smaller(x, y), tiny)
        # From the bounded values, so that a pixel in the very centre has a distance to multiply with.
        distance = lanes.call("sqrt", builder.fadd(builder.fmul(large, large), builder.fmul(small, small)))
        inward = builder.fsub(lanes.all(reach), distance)
        half_sum = builder.fmul(builder.fadd(large, small), half)
        half_difference = builder.fmul(builder.fsub(large, small), half)
        size = lanes.smaller(builder.fmul(lanes.call("fabs", inward), distance), half_sum)
        corner = builder.fsub(half_sum, size)
        twice_product = builder.fmul(builder.fmul(large, small), lanes.constant(2.0))
        by_triangle = builder.fsub(half, builder.fdiv(builder.fmul(corner, corner), twice_product))
        by_trapezoid = builder.fdiv(size, large)
        part = builder.select(builder.fcmp_ordered("<", size, half_difference), by_trapezoid, by_triangle)
        is_inside = builder.fcmp_ordered(">", inward, lanes.constant(0.0))
        inside = builder.select(is_inside, builder.fadd(half, part), builder.fsub(half, part))
        address = lanes.address(argument_types[0], covers, place)
        lanes.store(builder.fadd(lanes.load(address), builder.fmul(inside, lanes.all(factor))), address)

    signature = types.void(cover, types.int64, types.float32, types.float32, types.float32, types.float32)
    return _built(signature, build)


@step
def clear_lanes(typing_context: Any, target: Any, index: Any) -> Any:
    """Target = 0."""

    def build(lanes: _Lanes, argument_types: Any, arguments: Any) -> None:
        lanes.store(lanes.constant(0.0), lanes.address(argument_types[0], *arguments))

    return _built(types.void(target, types.int64), build)
