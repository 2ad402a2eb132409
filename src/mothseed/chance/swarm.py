"""Swarms: thousands of movers as arrays, stepped together, and the trails they leave."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import NamedTuple, Protocol

import numpy as np
import numpy.typing as npt

from mothseed.arrays import FloatArray, PointArray, WholeArray
from mothseed.chance.stream import Chance
from mothseed.checks import one_of, whole
from mothseed.faults import SketchError
from mothseed.geometry.flow import Flow
from mothseed.geometry.given_points import as_points
from mothseed.geometry.polylines import Polylines
from mothseed.geometry.region import Area, Region, region_of
from mothseed.geometry.vectors import differ
from mothseed.portable import cosines_and_sines, heading
from mothseed.values import fixed

EDGES = ("stop", "bounce", "wrap")
_ROUNDING = 1e-6

Flags = npt.NDArray[np.bool]
_NONE = np.zeros(0, np.int64)


class Current(Protocol):
    """Anything with a direction at each place: a field, a picture."""

    def flow(self, x: FloatArray, y: FloatArray, /) -> Flow:
        """The direction at places."""
        ...


class Trails(NamedTuple):
    """Pieces of the paths of movers in painting order, the earliest first."""

    points: Polylines
    """float64 (k, 2) each, at least two points, as `polylines` takes them"""
    mover: WholeArray
    """the mover that each belongs to"""
    fraction: FloatArray
    """when each began, from 0 (the start) to 1 (the end)"""
    x: FloatArray
    """the middle of each, to look up a colour"""
    y: FloatArray


@fixed("each step gives a new swarm: swarm = swarm.along(wind).step(0.5)")
@dataclass(frozen=True, slots=True, eq=False)
class Swarm:
    """Movers, each with a position and a heading; `Swarm.within(area, count, chance)` makes one.

    A swarm never changes: each call returns a new one with all movers in their new state.

    >>> from mothseed import Chance
    >>> swarm = Swarm.within((0, 0, 50), 1000, Chance(7)("moths"))
    >>> swarm.turned(90).step(0.5).x.shape
    (1000,)
    """

    x: FloatArray
    """float64 (n,): where each is"""
    y: FloatArray
    dx: FloatArray
    """its direction, of length 1"""
    dy: FloatArray
    moving: Flags
    """bool (n,): False once it has stopped at an edge"""
    region: Region
    edges: str = "stop"
    from_x: FloatArray | None = None
    """the start of its last step; None before the first"""
    from_y: FloatArray | None = None

    @classmethod
    def within(cls, area: Area, count: int, chance: Chance, *, edges: str = "stop", heading: float | None = None) -> Swarm:
        """A swarm of `count` movers spread uniformly over an area, with random headings or all with the same.

        An area is a view's rectangle, the inside of an outline, or a circle as (x, y, radius). `edges` says what movers do at
        the edge: "stop", "bounce" back, or "wrap" round to the other side, which needs a rectangle. Raises SketchError for
        counts below 1 and for other words.
        """
        count = whole("Swarm", "count", count, 1)
        points = chance.point(area, size=count)
        return cls.at(points, area, edges=edges, heading=chance.turn(size=count) if heading is None else heading)

    @classmethod
    def at(cls, points: npt.ArrayLike, area: Area, *, edges: str = "stop", heading: npt.ArrayLike = 0.0) -> Swarm:
        """A swarm with a mover at each point (n, 2), and one heading for all or an array of them; otherwise like `within`.

        Raises SketchError for points that are not finite or lie outside the area.
        """
        region = region_of(area, "Swarm")
        one_of("Swarm", "edges", edges, EDGES)
        if edges == "wrap" and not region.is_rectangle:
            raise SketchError("Swarm: only in a rectangle can movers wrap round", hint='write edges="bounce"')
        places = as_points(points, "Swarm", 1)  # type: ignore[arg-type]  # what is none is told there
        x, y = places[:, 0].copy(), places[:, 1].copy()
        ways = _for_each("Swarm: heading", heading, len(x))
        if not region.contains(x, y).all():
            raise SketchError("Swarm: a mover starts outside of its area", hint="give a larger area, or points within")
        dx, dy = cosines_and_sines(ways)
        return cls(x, y, dx, dy, np.ones(len(x), np.bool), region, edges)

    def __len__(self) -> int:
        return len(self.x)

    @property
    def headings(self) -> FloatArray:
        """The heading of each in degrees: float64 (n,)."""
        return heading(self.dx, self.dy)

    # Directions

    def along(self, current: Current, amount: float = 1.0) -> Swarm:
        """Turned into the flow of a field or a picture: fully with an amount of 1, sluggishly with a small one."""
        if not hasattr(current, "flow"):
            raise SketchError(
                f"along: a field or a picture is needed (got {current!r})", hint='write along(chance("wind").field(40))'
            )
        flow = current.flow(self.x, self.y)
        return self._steered("along", flow.dx, flow.dy, amount)

    def towards(self, x: npt.ArrayLike, y: npt.ArrayLike, amount: float = 1.0) -> Swarm:
        """Turned towards a point, or each towards its own; away from it with an amount below 0."""
        across, down = _for_each("towards", x, len(self)) - self.x, _for_each("towards", y, len(self)) - self.y
        far = np.sqrt(across * across + down * down)
        far = np.where(far > 0, far, 1.0)
        return self._steered("towards", across / far, down / far, amount)

    def turned(self, degrees: npt.ArrayLike) -> Swarm:
        """Turned clockwise by degrees, the same for all or one for each; at every step, this makes them spin."""
        angles = _for_each("turned", degrees, len(self))
        cosine, sine = cosines_and_sines(angles)
        return replace(self, dx=self.dx * cosine - self.dy * sine, dy=self.dx * sine + self.dy * cosine)

    def _steered(self, call: str, dx: FloatArray, dy: FloatArray, amount: float) -> Swarm:
        """The current direction with another added in proportion, normalised; unchanged where they cancel out."""
        if not -1 <= amount <= 1:
            raise SketchError(f"{call}: the amount is from -1 to 1 (got {amount!r})")
        across = self.dx * (1 - abs(amount)) + dx * amount
        down = self.dy * (1 - abs(amount)) + dy * amount
        length = np.sqrt(across * across + down * down)
        lost = ~(length > 1e-9)
        length = np.where(lost, 1.0, length)
        return replace(self, dx=np.where(lost, self.dx, across / length), dy=np.where(lost, self.dy, down / length))

    # Steps

    def step(self, length: npt.ArrayLike) -> Swarm:
        """All movers moved on by a length, the same for all or one for each; what happens at the edges was set when the swarm
        was made.

        Raises SketchError for lengths that are negative or not finite.
        """
        reach = _for_each("step", length, len(self))
        if (reach < 0).any():
            raise SketchError(f"step: the length must be 0 or more (got {reach.min():g})", hint="to go back, turn by 180")
        reach = np.where(self.moving, reach, 0.0)
        x, y = self.x + self.dx * reach, self.y + self.dy * reach
        gone = replace(self, x=x, y=y, from_x=self.x, from_y=self.y)
        outside = ~self.region.contains(x, y)
        if not outside.any():
            return gone
        match self.edges:
            case "stop":
                stays = replace(gone, x=np.where(outside, self.x, x), y=np.where(outside, self.y, y))
                return replace(stays, moving=self.moving & ~outside)
            case "bounce":
                return self._bounced(gone, outside)
            case _:
                return self._wrapped(gone)

    def _bounced(self, gone: Swarm, outside: Flags) -> Swarm:
        """Movers that went out, reflected at the wall, or back where they were, facing the other way."""
        region = self.region
        x, y, dx, dy = gone.x, gone.y, self.dx, self.dy
        if region.is_rectangle:
            x, dx = _mirrored(x, dx, region.left, region.left + region.width)
            y, dy = _mirrored(y, dy, region.top, region.top + region.height)
        elif region.radius is not None:
            nx, ny = self.x - (region.left + region.radius), self.y - (region.top + region.radius)
            far = np.sqrt(nx * nx + ny * ny)
            nx, ny = nx / np.where(far > 0, far, 1.0), ny / np.where(far > 0, far, 1.0)
            out = 2 * (dx * nx + dy * ny)
            dx, dy = np.where(outside, dx - out * nx, dx), np.where(outside, dy - out * ny, dy)
        else:
            dx, dy = np.where(outside, -dx, dx), np.where(outside, -dy, dy)
        still_out = ~region.contains(x, y)
        return replace(gone, x=np.where(still_out, self.x, x), y=np.where(still_out, self.y, y), dx=dx, dy=dy)

    def _wrapped(self, gone: Swarm) -> Swarm:
        """Movers that went out, on the other side, with the start of their step moved along."""
        region = self.region
        x = region.left + np.mod(gone.x - region.left, region.width)
        y = region.top + np.mod(gone.y - region.top, region.height)
        return replace(gone, x=x, y=y, from_x=self.x + (x - gone.x), from_y=self.y + (y - gone.y))

    def trails(self, steps: int, rule: Callable[[Swarm], Swarm], *, every: int | None = None) -> Trails:
        """Take a number of steps by a rule, and return the paths of the movers.

        `rule` takes the swarm and returns it one step on: `lambda swarm: swarm.along(wind, 0.2).step(0.5)`. Each path is one
        piece, or pieces of `every` steps, so that colour can change along it; a mover that wraps starts a new piece, and one
        that stops ends. Raises SketchError for counts below 1, and for a rule that does not return a swarm of the same size.
        """
        steps = whole("trails", "steps", steps, 1)
        every = None if every is None else whole("trails", "every", every, 1)
        ways = np.empty((steps + 1, len(self), 2))
        ways[0, :, 0], ways[0, :, 1] = self.x, self.y
        begins = np.empty((steps, len(self), 2))
        swarm = self
        for step in range(steps):
            after = rule(swarm)
            if not (isinstance(after, Swarm) and len(after) == len(self) and after.from_x is not None):
                raise SketchError(
                    "trails: the rule must return the swarm one step on",
                    hint="write trails(200, lambda swarm: swarm.along(wind).step(0.5))",
                )
            ways[step + 1, :, 0], ways[step + 1, :, 1] = after.x, after.y
            begins[step, :, 0], begins[step, :, 1] = after.from_x, after.from_y
            swarm = after
        return _pieces(ways, begins, every or steps)


def _for_each(call: str, values: npt.ArrayLike, count: int) -> FloatArray:
    """One number for all movers, or one for each, as float64 (n,); raises SketchError, naming the call, for anything else."""
    try:
        numbers = np.broadcast_to(np.asarray(values, np.float64), (count,))
    except (TypeError, ValueError):
        raise SketchError(f"{call}: one number for all is needed, or one for each of {count}") from None
    if not np.isfinite(numbers).all():
        raise SketchError(f"{call}: a number is not finite", hint="check for a division by 0")
    return numbers


def _mirrored(place: FloatArray, way: FloatArray, low: float, high: float) -> tuple[FloatArray, FloatArray]:
    """Places beyond a wall mirrored in it, with their direction reversed across it."""
    below, above = place < low, place > high
    place = np.where(below, 2 * low - place, np.where(above, 2 * high - place, place))
    return place, np.where(below | above, -way, way)


def _pieces(ways: FloatArray, begins: FloatArray, every: int) -> Trails:
    """Paths (steps + 1, n, 2) cut into pieces, also where a step began elsewhere (steps, n, 2) than the last one ended."""
    steps = len(begins)
    # Where a mover wrapped, rounding shifts the start of its step a little; a real jump is longer.
    apart = np.abs(begins - ways[:-1])
    jumps = np.maximum(apart[..., 0], apart[..., 1]) > _ROUNDING
    still = ~differ(ways[1:], ways[:-1])
    points, lengths, movers, starts = [np.zeros((0, 2))], [_NONE], [_NONE], [np.zeros(0)]
    for first in range(0, steps, every):
        last = min(first + every, steps)
        uneven = (jumps[first:last] | still[first:last]).any(axis=0)
        even = np.flatnonzero(~uneven)
        broken = np.flatnonzero(uneven)
        column = slice(first, last), broken
        runs = _runs(ways[first : last + 1, broken], begins[column], jumps[column], still[column])
        points += [ways[first : last + 1, even].transpose(1, 0, 2).reshape(-1, 2), runs[0]]
        lengths += [np.full(len(even), last - first + 1), runs[1]]
        movers += [even, broken[runs[2]]]
        starts.append(np.full(len(even) + len(runs[1]), first / steps))
    lines = Polylines(np.concatenate(points), np.concatenate(lengths))
    middles = lines.points[lines.first[:-1] + lines.lengths // 2]
    return Trails(lines, np.concatenate(movers), np.concatenate(starts), middles[:, 0], middles[:, 1])


def _runs(ways: FloatArray, begins: FloatArray, jumps: Flags, still: Flags) -> tuple[PointArray, WholeArray, WholeArray]:
    """The runs of some movers' paths (k + 1, m, 2), without steps at which they stood still: their points one after another,
    the length of each run, and its mover.
    """
    breaks = np.ones(jumps.shape, np.bool)
    breaks[1:] = jumps[1:] | still[1:] | still[:-1]
    mover, start = np.nonzero(breaks.T)
    end = np.append(start[1:], 0)
    end[end == 0] = len(jumps)  # the next run belongs to another mover, or there is none
    moves = ~still[start, mover]
    mover, start, lengths = mover[moves], start[moves], (end - start + 1)[moves]
    run = np.repeat(np.arange(len(mover)), lengths)
    place = np.arange(len(run)) - np.repeat(np.cumsum(lengths) - lengths, lengths)
    points: PointArray = ways[start[run] + place, mover[run]]
    firsts = place == 0
    points[firsts] = begins[start, mover]
    return points, lengths, mover
