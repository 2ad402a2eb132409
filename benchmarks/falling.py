"""What fell behind the last results: ratios are compared, as machines differ and drift, and times would tell of them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

_BEHIND = 1.15
"""By how much a ratio may differ from one run to the next on a noisy machine."""


def fallen_behind(now: Mapping[str, Any], before: Mapping[str, Any]) -> list[str]:
    """A line for each ratio that is worse than it was."""
    was = dict(_costs(before))
    lines = []
    for name, cost in _costs(now):
        if name in was and cost > was[name] * _BEHIND:
            lines.append(f"{name}: {cost:.2f}, was {was[name]:.2f}")
    return lines


def _costs(results: Mapping[str, Any]) -> Iterator[tuple[str, float]]:
    """Each ratio by what it is of, the smaller the better."""
    for scene, row in results.get("scenes", {}).items():
        for name in ("ratio", "arrays ratio"):
            if row.get(name):
                yield f"scene {scene}, {name}: ours to the quickest library", 1 / row[name]
        if row.get("2 threads", 0) > _LONG:
            yield f"scene {scene}: two threads to one", row["2 threads"] / row["1 thread"]
    small = results.get("microseconds", {})
    for name, cost in small.items():
        yield f"{name}, in aggdraw's ellipses", cost / small.get(AGGDRAW, cost)
    yield from ((f"{name}, in imports of NumPy", ratio) for name, ratio in results.get("starting", {}).items())
    rates = list(results.get("editions", {}).values())
    if len(rates) == 2:
        yield "editions: one worker to two", rates[0] / rates[1]


AGGDRAW = "aggdraw: an ellipse"
_LONG = 100.0
"""Milliseconds from which on two threads should be quicker than one."""
