"""What explanations cost: of a point, of two drawings, of two series."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from mothseed.check import findings
from mothseed.compare import shape_changes
from mothseed.series import Request, in_this_process, make_series, series_editions
from mothseed.sketch import Recipe, load_sketch, perform
from mothseed.study.point import explained
from mothseed.study.two_series import held_together

_EDITIONS = 40


def explaining_costs(demo: Path, folder: Path, timed: Callable[[Callable[[], object]], float]) -> dict[str, float]:
    """How many times what it takes to perform the specimen an explanation of it takes, here and on one processor.

    The last is what two series of two hundred take, in the same terms.
    """
    sketch = load_sketch(demo / "specimen.py")
    one, other = (perform(sketch, Recipe(seed=seed), tracing=True) for seed in (8, 9))
    edited = perform(sketch, Recipe(seed=8, dials={"spread": 20}), tracing=True)
    series = folder / "moths"
    make_series(Request.of(sketch, tuple(range(1, _EDITIONS + 1)), 240, series), in_this_process(sketch))
    editions = series_editions(series)
    calls: dict[str, Callable[[], object]] = {
        "a point of it": partial(explained, sketch, one, 60.0, 70.0),
        "its shapes, one dial turned": partial(shape_changes, one, edited),
        "its shapes, another seed": partial(shape_changes, one, other),
        "checked for four seeds": lambda: list(findings(sketch, [1, 2, 3, 4])),
        "two series of 200 of it": partial(held_together, editions, editions),
    }
    perform_once = min(timed(partial(perform, sketch, Recipe(seed=8))) for _ in range(5))
    costs = {name: min(timed(call) for _ in range(3)) / perform_once for name, call in calls.items()}
    costs["two series of 200 of it"] *= 200 / _EDITIONS
    for name, cost in costs.items():
        print(f"  {name:42}{cost:6.1f}")
    return costs
