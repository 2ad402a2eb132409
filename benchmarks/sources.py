"""Costs of what chance and pictures give in bulk: fields, palettes, lookups, swarms."""

from __future__ import annotations

import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

from mothseed import Chance, Colour, Swarm
from mothseed.colour.ways import k_means, median_cut
from mothseed.render import rendered
from mothseed.sheet import Sheet, fingerprint

_PHOTO = (4000, 3000)
_MOVERS, _STEPS = 10_000, 500


def photograph(folder: Path) -> Path:
    """A picture of 12 megapixels with the noise of a camera, made by rule."""
    rng = np.random.default_rng(1)
    across, down = np.meshgrid(np.linspace(0, 1, _PHOTO[0]), np.linspace(0, 1, _PHOTO[1]))
    smooth = np.stack([across * 200, down * 180, 120 + 100 * np.sin(across * 9)], axis=2)
    noisy = smooth + rng.normal(0, 9, smooth.shape)
    path = folder / "photograph.jpg"
    Image.fromarray(noisy.clip(0, 255).astype(np.uint8)).save(path, quality=92)
    return path


def source_costs(folder: Path, timed: Callable[[Callable[[], Any]], float]) -> dict[str, float]:
    """Milliseconds of each."""
    x, y = np.meshgrid(np.arange(1000.0), np.arange(1000.0))
    plain, fine = Chance(1).field(40), Chance(2).field(40, detail=4)
    plain.at(1.0, 1.0)
    costs = {
        "a megapixel of field": timed(lambda: plain.at(x, y)),
        "the same in space": timed(lambda: plain.at(x, y, 2.5)),
        "a megapixel of field, detail 4": timed(lambda: fine.at(x, y)),
    }
    photo = photograph(folder)
    sheet = Sheet(180, 120, "mm", Colour(0.95, 0.93, 0.9))
    laid: list[Any] = []
    costs["read 12 megapixels"] = timed(lambda: laid.append(sheet.picture(photo)))
    pixels = laid[0].texture.pixels
    costs["8 colours by k-means"] = timed(lambda: k_means(pixels, 8))
    costs["8 colours by median cut"] = timed(lambda: median_cut(pixels, 8))
    places = Chance(3).point(sheet, size=100_000)
    costs["100,000 colours at places"] = timed(lambda: laid[0].at(*places.T))
    costs["100,000 means of discs"] = timed(lambda: laid[0].average(*places.T, 1.5))
    costs.update(_swarm_costs(sheet, laid[0]))
    for name, cost in costs.items():
        print(f"  {name:42}{cost:8.0f}")
    return costs


def _swarm_costs(sheet: Sheet, picture: Any) -> dict[str, float]:
    wind = Chance(4).field(40, detail=2)
    times = [time.perf_counter()]
    trails = Swarm.within(sheet, _MOVERS, Chance(5)).trails(_STEPS, lambda swarm: swarm.along(wind, 0.2).step(0.3), every=25)
    times.append(time.perf_counter())
    tints = picture.at(trails.x, trails.y)
    times.append(time.perf_counter())
    sheet.polylines(trails.points, stroke=tints, stroke_width=0.2, opacity=0.2)
    drawing = sheet.drawing()
    times.append(time.perf_counter())
    fingerprint(drawing)
    times.append(time.perf_counter())
    rendered(drawing, 1000)
    times.append(time.perf_counter())
    names = ("step 10,000 movers 500 times", "colour their trails", "record them", "fingerprint them", "render them at 1000 px")
    return {name: (end - start) * 1000 for name, start, end in zip(names, times[:-1], times[1:], strict=True)}
