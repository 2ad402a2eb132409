"""From saving a file of a sketch to its picture, while it is watched."""

from __future__ import annotations

import asyncio
import shutil
import statistics
import sys
import time
from contextlib import aclosing
from pathlib import Path

from mothseed.cli.new import STARTER
from mothseed.sketch import Recipe
from mothseed.watch import Shown, Watch, Wish

_TIMES = 12
_PAUSE = 0.3
"""Seconds between two savings: nobody saves while the last one is still seen to."""


def _nothing() -> None:
    pass


def saving_costs(demo: Path, folder: Path) -> dict[str, float]:
    """Median milliseconds from saving a small sketch, the specimen, its module and its picture to the picture being written."""
    small = folder / "lamplight.py"
    small.write_text(STARTER, encoding="utf-8")
    for name in ("specimen.py", "moth.py", "dusk.png", "lichen.png"):
        shutil.copy(demo / name, folder / name)
    specimen = folder / "specimen.py"
    cases = {
        "a small sketch": (small, small),
        "the specimen": (specimen, specimen),
        "its module": (specimen, folder / "moth.py"),
        "its picture": (specimen, folder / "dusk.png"),
    }
    costs = {name: asyncio.run(_median(sketch, saved, folder / "watched.png")) for name, (sketch, saved) in cases.items()}
    for name, cost in costs.items():
        print(f"  {name:42}{cost:6.0f}")
    return costs


async def _median(sketch: Path, saved: Path, output: Path) -> float:
    watch = Watch(sketch, Wish(Recipe(seed=8)), 1000, lambda _number: output, _nothing)
    work = asyncio.create_task(watch.run())
    content = saved.read_bytes()
    times: list[float] = []
    async with aclosing(watch.events()) as events:
        async for event in events:
            if not isinstance(event, Shown):
                continue
            if event.problem:
                sys.exit(event.problem.message)
            if times:
                times[-1] = (time.perf_counter() - times[-1]) * 1000
            if len(times) > _TIMES:
                break
            await asyncio.sleep(_PAUSE)
            times.append(time.perf_counter())
            saved.write_bytes(content)
    work.cancel()
    await asyncio.gather(work, return_exceptions=True)
    return statistics.median(times)
