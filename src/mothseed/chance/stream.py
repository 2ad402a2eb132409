"""Chance: seeded randomness that branches into named streams."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from operator import index
from typing import Any, Protocol, TypeVar, overload

import numpy as np

from mothseed.arrays import FloatArray, WholeArray
from mothseed.bits import Stream, stream_of, unit, units
from mothseed.chance.normal import standard_normal
from mothseed.chance.outcome import Outcome, as_plain
from mothseed.chance.path import path_of_names, path_part, seed_path
from mothseed.chance.weights import cumulative_weights, position_of
from mothseed.colour.oklch import from_oklch
from mothseed.colour.value import Colour
from mothseed.errors import SketchError

Item = TypeVar("Item")
Size = int | tuple[int, ...]
Range = tuple[float, float]

_SINGLE_DRAWS = 8
"""Draws of a stream that are computed one by one: most streams never need more, and a block costs as much as ten."""
_LARGEST_BLOCK = 1024
_NOTHING: list[float] = []
_NO_BRANCHES: dict[str | float, Chance] = {}
"""Stand for "none yet" in a fresh stream and are never filled: most streams of a sketch need no list and no table."""

_WIDEST_WHOLE = 2**53
"""A unit number has 53 bits: a wider range of whole numbers would have gaps."""


class Area(Protocol):
    """Whatever has a rectangle in its own coordinates: a sheet, a frame, a cell."""

    left: float
    top: float
    width: float
    height: float


class Chance:
    """A stream of random numbers, known by its seed and its path.

    Calling it opens a branch: `chance("spot", 3)` is a stream of its own, and the same object each time it is asked for,
    so that it goes on where it was. `chance("wing")("spot")` and `chance("wing", "spot")` are the same branch. A draw in
    one branch never moves another.

    Every distribution takes one number of the stream for each value (`shuffled` and `several` one for each place filled), so
    arrays, asked for by `size=`, hold what as many single draws would have given. `label=` keeps the result as an outcome.

    >>> chance = Chance(7)
    >>> chance("spot").whole(1, 6) == Chance(7)("spot").whole(1, 6)
    True
    """

    __slots__ = ("_branches", "_outcomes", "_path", "_position", "_ready", "_reseeds", "_root", "_stream")

    def __init__(self, seed: int | str, reseeds: Mapping[str, int | str] | None = None) -> None:
        """Start from a seed, a whole number or a word.

        `reseeds` draws single streams anew: `{"tint": 9}` gives the branch "tint", and all that branches off it, the
        numbers that seed 9 would give; "wing/spot" names a branch of a branch.
        """
        self._begin(seed_path(seed), "", {path_of_names(k): seed_path(v) for k, v in (reseeds or {}).items()}, [])

    def _begin(self, root: str, path: str, reseeds: dict[str, str], outcomes: list[Outcome]) -> None:
        self._root = root
        self._path = path
        self._reseeds = reseeds
        self._outcomes = outcomes
        self._branches = _NO_BRANCHES
        self._stream: Stream | None = None
        self._position = 0
        self._ready = _NOTHING

    def __call__(self, name: str, *keys: str | float) -> Chance:
        """The branch of that name; keys (numbers, words) tell items apart, as in `chance("spot", row, column)`.

        Raises SketchError where the name is not a word or a key is neither a number nor a word.
        """
        if not isinstance(name, str):
            raise SketchError(
                f"a branch of chance is named by a word first (got {name!r})", hint=f'write chance("name", {name!r})'
            )
        branch = self._branches.get(name) or self._branch(name)
        try:
            for key in keys:
                branch = branch._branches.get(key) or branch._branch(key)
        except TypeError:  # it cannot be looked up; what it may be is told in one place
            path_part(key)
            raise
        return branch

    def _branch(self, key: str | float) -> Chance:
        path = self._path + path_part(key)
        branch = Chance.__new__(Chance)
        branch._begin(self._reseeds.get(path, self._root) if self._reseeds else self._root, path, self._reseeds, self._outcomes)
        if self._branches is _NO_BRANCHES:
            self._branches = {}
        self._branches[key] = branch
        return branch

    def __repr__(self) -> str:
        return f"<Chance {self._root}{self._path} at {self._position - len(self._ready)}>"

    @property
    def outcomes(self) -> tuple[Outcome, ...]:
        """All labelled decisions so far, of every branch, in order."""
        return tuple(self._outcomes)

    # Unit numbers

    def _unit(self) -> float:
        try:
            return self._ready.pop()
        except IndexError:
            return self._further_unit()

    def _further_unit(self) -> float:
        """The next number where none is ready."""
        position = self._position
        if position < _SINGLE_DRAWS:
            stream = self._stream or self._found_stream()
            self._position = position + 1
            return unit(stream, position)
        count = min(4 * position, _LARGEST_BLOCK)
        self._ready = units(self._found_stream(), position, count)[::-1].tolist()
        self._position = position + count
        return self._ready.pop()

    def _found_stream(self) -> Stream:
        """The stream of this path; not looked for before a draw asks, as many branches only lead to others."""
        if self._stream is None:
            self._stream = stream_of(self._root + self._path)
        return self._stream

    def _units(self, size: Size) -> FloatArray:
        shape = size if isinstance(size, tuple) else (size,)
        if not all(isinstance(side, int | np.integer) and side >= 0 for side in shape):
            raise SketchError(f"size= takes a whole number from 0 on, or a tuple of them (got {size!r})")
        count = math.prod(shape)
        first = self._position - len(self._ready)
        self._position = first + count
        self._ready = []
        return units(self._found_stream(), first, count).reshape(shape)

    def _kept(self, label: str | None, value: Any, odds: float | None = None) -> None:
        if label is not None:
            self._outcomes.append(Outcome(label, as_plain(value), odds))

    # Distributions

    @overload
    def between(self, low: float, high: float, *, size: None = None, label: str | None = None) -> float: ...
    @overload
    def between(self, low: float, high: float, *, size: Size, label: str | None = None) -> FloatArray: ...
    def between(self, low: float, high: float, *, size: Size | None = None, label: str | None = None) -> float | FloatArray:
        """Evenly from `low` up to but not including `high`; `low` itself where both are equal.

        Raises SketchError unless both are finite and `low` is at most `high`.
        """
        span = high - low
        if not 0 <= span < math.inf:
            raise SketchError(
                f"between({low!r}, {high!r}): the first number must be at most the second, and both finite",
                hint="write the smaller number first",
            )
        if size is not None:
            values = low + span * self._units(size)
            # Rounding can reach the upper end, which is not in the range.
            values = np.where(values >= high, max(low, math.nextafter(high, low)), values)
            self._kept(label, values)
            return values
        value = low + span * self._unit()
        if value >= high:
            value = max(low, math.nextafter(high, low))
        if label is not None:
            self._kept(label, value)
        return value

    @overload
    def whole(self, low: int, high: int, *, size: None = None, label: str | None = None) -> int: ...
    @overload
    def whole(self, low: int, high: int, *, size: Size, label: str | None = None) -> WholeArray: ...
    def whole(self, low: int, high: int, *, size: Size | None = None, label: str | None = None) -> int | WholeArray:
        """A whole number from `low` to `high`, both included, all equally likely.

        Raises SketchError unless both are whole, `low` is at most `high`, and they are less than 2**53 apart.
        """
        try:
            span = index(high) - index(low) + 1
        except TypeError:
            raise SketchError(
                f"whole({low!r}, {high!r}): both ends must be whole numbers", hint="for any number write between(low, high)"
            ) from None
        if not 1 <= span <= _WIDEST_WHOLE:
            raise SketchError(
                f"whole({low!r}, {high!r}): the first must be at most the second, and less than 2**53 below it",
                hint="write the smaller number first",
            )
        odds = 1 / span
        if size is not None:
            steps = np.minimum((self._units(size) * span).astype(np.int64), span - 1)
            numbers = steps + low
            self._kept(label, numbers)
            return numbers
        number = low + min(int(self._unit() * span), span - 1)
        if label is not None:
            self._kept(label, number, odds)
        return number

    @overload
    def odds(self, probability: float, *, size: None = None, label: str | None = None) -> bool: ...
    @overload
    def odds(self, probability: float, *, size: Size, label: str | None = None) -> np.ndarray[Any, np.dtype[np.bool]]: ...
    def odds(
        self, probability: float, *, size: Size | None = None, label: str | None = None
    ) -> bool | np.ndarray[Any, np.dtype[np.bool]]:
        """True with the given probability: `odds(0.25)` one time in four; never for 0, always for 1.

        Raises SketchError unless the probability is from 0 to 1.
        """
        if not 0 <= probability <= 1:
            raise SketchError(
                f"odds({probability!r}): odds are a number from 0 (never) to 1 (always)",
                hint=f"for a percentage divide by 100: odds({probability!r} / 100)" if probability > 1 else "",
            )
        if size is not None:
            answers = self._units(size) < probability
            self._kept(label, answers)
            return answers
        answer = self._unit() < probability
        if label is not None:
            self._kept(label, answer, probability if answer else 1 - probability)
        return answer

    @overload
    def pick(
        self, items: Sequence[Item], *, weights: Sequence[float] | None = None, size: None = None, label: str | None = None
    ) -> Item: ...
    @overload
    def pick(
        self, items: Sequence[Item], *, weights: Sequence[float] | None = None, size: int, label: str | None = None
    ) -> list[Item]: ...
    def pick(
        self,
        items: Sequence[Item],
        *,
        weights: Sequence[float] | None = None,
        size: int | None = None,
        label: str | None = None,
    ) -> Item | list[Item]:
        """One of the items, all equally likely or by weight; `size=` gives a list of independent picks.

        Weights are in proportion to each other: `[5, 3, 1]` makes the first five times as likely as the last; an item of
        weight 0 is never picked. Raises SketchError for no items, weights that do not match, or no weight above 0.
        """
        count = len(items)
        if count == 0:
            raise SketchError("pick: there is nothing to pick from", hint="give at least one item")
        cumulative = None if weights is None else cumulative_weights(items, weights)
        if size is not None:
            fractions: list[float] = self._units(size).tolist()
            picked = [items[position_of(fraction, count, cumulative)] for fraction in fractions]
            self._kept(label, picked)
            return picked
        position = position_of(self._unit(), count, cumulative)
        item = items[position]
        if label is not None:
            self._kept(label, item, 1 / count if weights is None else weights[position] / sum(weights))
        return item

    def several(self, items: Sequence[Item], count: int, *, label: str | None = None) -> list[Item]:
        """`count` different ones of the items, in random order.

        Raises SketchError where there are fewer items than that.
        """
        rest = list(items)
        if not 0 <= count <= len(rest):
            raise SketchError(
                f"several: {count!r} of {len(rest)} items cannot be drawn without putting any back",
                hint=f"ask for 0 to {len(rest)}, or use pick(items, size={count!r}), which may repeat",
            )
        for place in range(count):
            chosen = place + position_of(self._unit(), len(rest) - place, None)
            rest[place], rest[chosen] = rest[chosen], rest[place]
        del rest[count:]
        self._kept(label, rest)
        return rest

    def shuffled(self, items: Sequence[Item], *, label: str | None = None) -> list[Item]:
        """All the items in random order, as a new list."""
        return self.several(items, len(items), label=label)

    @overload
    def bell(self, mean: float, spread: float, *, size: None = None, label: str | None = None) -> float: ...
    @overload
    def bell(self, mean: float, spread: float, *, size: Size, label: str | None = None) -> FloatArray: ...
    def bell(self, mean: float, spread: float, *, size: Size | None = None, label: str | None = None) -> float | FloatArray:
        """Most often near `mean`, seldom far from it: the normal distribution.

        `spread` is the standard deviation: two of three values lie closer to the mean than that, 19 of 20 closer than
        twice that. Raises SketchError unless the mean is finite and the spread finite and not negative.
        """
        if not (0 <= spread < math.inf and math.isfinite(mean)):
            raise SketchError(f"bell({mean!r}, {spread!r}): the mean must be finite and the spread 0 or more")
        if size is not None:
            values = mean + spread * standard_normal(self._units(size))
            self._kept(label, values)
            return values
        value = mean + spread * standard_normal(self._unit())
        self._kept(label, value)
        return value

    @overload
    def turn(self, *, step: float | None = None, size: None = None, label: str | None = None) -> float: ...
    @overload
    def turn(self, *, step: float | None = None, size: Size, label: str | None = None) -> FloatArray: ...
    def turn(self, *, step: float | None = None, size: Size | None = None, label: str | None = None) -> float | FloatArray:
        """An angle from 0 up to but not including 360 degrees; with `step=90` one of 0, 90, 180, 270.

        Raises SketchError unless the step is above 0 and at most 360 degrees.
        """
        if step is None:
            if size is None:
                return self.between(0.0, 360.0, label=label)
            return self.between(0.0, 360.0, size=size, label=label)
        if not 0 < step <= 360:
            raise SketchError(f"turn(step={step!r}): the step is in degrees, above 0 and at most 360", hint="write step=45")
        last = math.ceil(360 / step) - 1
        if size is not None:
            angles: FloatArray = self.whole(0, last, size=size).astype(np.float64) * step
            self._kept(label, angles)
            return angles
        angle = self.whole(0, last) * float(step)
        self._kept(label, angle, 1 / (last + 1))
        return angle

    @overload
    def point(self, area: Area, *, size: None = None) -> tuple[float, float]: ...
    @overload
    def point(self, area: Area, *, size: int) -> FloatArray: ...
    def point(self, area: Area, *, size: int | None = None) -> tuple[float, float] | FloatArray:
        """A point evenly within the rectangle of a sheet, frame or cell, in its own coordinates: x and y, or float64 (size, 2).

        Takes two numbers of the stream for each point, across first.
        """
        if size is not None:
            result: FloatArray = self._units((size, 2)) * (area.width, area.height) + (area.left, area.top)
            return result
        across, down = self._unit(), self._unit()
        return across * area.width + area.left, down * area.height + area.top

    def colour(
        self,
        *,
        lightness: Range | float | None = None,
        chroma: Range | float | None = None,
        hue: Range | float | None = None,
        red: Range | float | None = None,
        green: Range | float | None = None,
        blue: Range | float | None = None,
        label: str | None = None,
    ) -> Colour:
        """A colour within ranges, either of OKLCH or of red, green and blue.

        `lightness` (0 to 1), `chroma` (0 to about 0.4) and `hue` (degrees; a range may pass 360 and come round) follow
        CSS Color 4; a colour that no screen shows is brought in by lowering its chroma. `red`, `green` and `blue` are 0 to
        1. Each takes a range or one number; what is left out of OKLCH varies over a middling range, of the others over 0
        to 1. Takes three numbers of the stream. Raises SketchError where both kinds are mixed.
        """
        oklch, rgb = (lightness, chroma, hue), (red, green, blue)
        by_light = any(part is not None for part in oklch)
        if by_light and any(part is not None for part in rgb):
            raise SketchError(
                "colour: give ranges of lightness, chroma and hue, or of red, green and blue, not of both",
                hint="colour(lightness=(0.6, 0.8), hue=(20, 90))",
            )
        if any(part is not None for part in rgb):
            first, second, third = (self._within("colour", part, (0.0, 1.0)) for part in rgb)
            colour = Colour.checked(first, second, third)
        else:
            middling = ((0.35, 0.85), (0.04, 0.16), (0.0, 360.0))
            first, second, third = (self._within("colour", p, m) for p, m in zip(oklch, middling, strict=True))
            colour = from_oklch(first, second, third)
        self._kept(label, colour)
        return colour

    def _within(self, call: str, part: Range | float | None, default: Range) -> float:
        low, high = default if part is None else part if isinstance(part, tuple) else (part, part)
        if not 0 <= high - low < math.inf:
            raise SketchError(f"{call}: a range is written (low, high) (got {part!r})", hint="write the smaller number first")
        return low + (high - low) * self._unit()
