"""Choosing among things."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TypeVar, cast, overload

from mothseed.chance.distributions import Numbers
from mothseed.chance.weights import cumulative_weights, position_of
from mothseed.faults import SketchError

Item = TypeVar("Item")


class Items(Numbers):
    """One of several, several of many, or all in another order."""

    __slots__ = ()

    @overload
    def pick(
        self,
        items: Sequence[Item] | Mapping[Item, float],
        *,
        weights: Sequence[float] | None = None,
        size: None = None,
        label: str | None = None,
    ) -> Item: ...
    @overload
    def pick(
        self,
        items: Sequence[Item] | Mapping[Item, float],
        *,
        weights: Sequence[float] | None = None,
        size: int,
        label: str | None = None,
    ) -> list[Item]: ...
    def pick(
        self,
        items: Sequence[Item] | Mapping[Item, float],
        *,
        weights: Sequence[float] | None = None,
        size: int | None = None,
        label: str | None = None,
    ) -> Item | list[Item]:
        """One of the items, all equally likely or by weight; `size=` gives a list of independent picks.

        Weights are relative: `[5, 3, 1]` makes the first item five times as likely as the last; an item of weight 0 is never
        picked. `pick({"hawk": 5, "owlet": 3})` puts the weights next to the items. Raises SketchError if there are no items,
        the weights do not match, or none of them is above 0.
        """
        if isinstance(items, dict):
            items, weights = _apart(items, weights)
        items = cast("Sequence[Item]", items)  # an assertion would take as long as the draw
        try:
            count = len(items)
        except TypeError:
            hint = "write pick(list(items))" if hasattr(items, "__iter__") else "write whole(1, 6) for a number"
            raise SketchError(f"pick: a list to pick from is needed (got {items!r})", hint=hint) from None
        if count == 0:
            raise SketchError("pick: there is nothing to pick from", hint="give at least one item")
        cumulative = None if weights is None else cumulative_weights("pick", items, weights)
        if size is not None:
            fractions: list[float] = self._units(size).tolist()
            picked = [items[position_of(fraction, count, cumulative)] for fraction in fractions]
            self._kept(label, picked)
            return picked
        item = items[position_of(self._unit(), count, cumulative)]
        if label is not None:
            total = 0.0 if weights is None else sum(weights)
            shares = [1 / count] * count if weights is None else [weight / total for weight in weights]
            self._kept(label, item, zip(items, shares, strict=True))
        return item

    def several(
        self,
        items: Sequence[Item] | Mapping[Item, float],
        count: int,
        *,
        weights: Sequence[float] | None = None,
        label: str | None = None,
    ) -> list[Item]:
        """`count` different items in random order, as if drawn from a bag and not put back.

        With weights, heavier items tend to come first: each is drawn by weight from those that remain. Raises SketchError if
        there are not enough items, or not enough with a weight above 0.
        """
        if isinstance(items, dict):
            items, weights = _apart(items, weights)
        rest = list(items)
        left = [1.0] * len(rest) if weights is None else [float(weight) for weight in weights]
        if weights is not None and rest:
            cumulative_weights("several", rest, left)
        if not 0 <= count <= sum(weight > 0 for weight in left):
            raise SketchError(
                f"several: {count!r} of {len(rest)} items cannot be drawn without putting any back",
                hint=f"ask for 0 to {sum(weight > 0 for weight in left)}, or use pick(items, size={count!r}), which may repeat",
            )
        for place in range(count):
            cumulative = None if weights is None else cumulative_weights("several", rest[place:], left[place:])
            chosen = place + position_of(self._unit(), len(rest) - place, cumulative)
            rest[place], rest[chosen] = rest[chosen], rest[place]
            left[place], left[chosen] = left[chosen], left[place]
        del rest[count:]
        self._kept(label, rest)
        return rest

    def shuffled(self, items: Sequence[Item], *, label: str | None = None) -> list[Item]:
        """All the items in random order, as a new list."""
        return self.several(items, len(items), label=label)


def _apart(items: Mapping[Item, float], weights: Sequence[float] | None) -> tuple[list[Item], list[float]]:
    if weights is not None:
        raise SketchError("pick: the items have their weights beside them already", hint="leave weights= out")
    return list(items), list(items.values())
