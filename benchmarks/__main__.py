"""Run all benchmarks: python -m benchmarks [-o results.json]; at the end it says what fell behind the run before.

Times are the best of several rounds; what is compared is timed in turns within a round, as machines drift.
"""

from __future__ import annotations

import argparse
import gc
import json
import os
import platform
import tempfile
import time
from collections.abc import Callable
from functools import partial
from importlib.metadata import version
from pathlib import Path
from typing import Any

import aggdraw

from benchmarks.explaining import explaining_costs
from benchmarks.falling import AGGDRAW, fallen_behind
from benchmarks.files import file_costs
from benchmarks.painters import OTHERS, PAPER, ours, ours_by_arrays
from benchmarks.saving import saving_costs
from benchmarks.scenes import SCENES, SIDE, Scene
from benchmarks.sources import source_costs
from benchmarks.startup import start_costs
from mothseed import Chance, Colour, View, linear_ramp, smooth, soft_shadow
from mothseed.formats.png_writing import encoded
from mothseed.making import prepare_kernels
from mothseed.render import rendered
from mothseed.series import Request, make_series, processes
from mothseed.sheet import Sheet, fingerprint
from mothseed.sketch import Recipe, load_sketch, perform

ROUNDS = 5
LAST = Path(__file__).parent / "results" / "last.json"
"""What the run before came to; it stays on the machine."""
DEMO = Path(__file__).parents[1] / "src" / "mothseed" / "demo"


def timed(call: Callable[[], Any]) -> float:
    """Milliseconds of one call."""
    started = time.perf_counter()
    call()
    return (time.perf_counter() - started) * 1000


def best(calls: dict[str, Callable[[], Any]], rounds: int = ROUNDS) -> dict[str, float]:
    """The best time of each call, all called in turn in each round."""
    times: dict[str, list[float]] = {name: [] for name in calls}
    for _ in range(rounds):
        for name, call in calls.items():
            times[name].append(timed(call))
    return {name: min(each) for name, each in times.items()}


_SLOW = 1500.0
"""Milliseconds from which on one round has to do."""


def _recorded(scene: Scene) -> None:
    ours(scene).drawing()


def _recorded_by_arrays(scene: Scene) -> None:
    sheet = ours_by_arrays(scene)
    assert sheet is not None
    sheet.drawing()


def scene_table() -> dict[str, dict[str, float]]:
    """Each scene: our stages, all of them on one thread, and what the others take to draw it, all without writing a file.

    The ratio is that of the quickest of them to us on one thread, recording included: by a loop, and from arrays.
    """
    table = {}
    names = ["record", "arrays", "1 thread", "2 threads", "encode", "whole", *OTHERS, "ratio", "arrays ratio"]
    print(f"{'milliseconds':42}" + "".join(f"{name:>12}" for name in names))
    for make in SCENES:
        scene = make()
        gc.freeze()  # or the collector would look through the scene's numbers again and again
        drawing = ours(scene).drawing()
        pixels = rendered(drawing, SIDE)
        by_arrays = {"arrays": partial(_recorded_by_arrays, scene)} if ours_by_arrays(scene) else {}
        others = {name: partial(paint, scene) for name, (paint, kinds) in OTHERS.items() if scene.kind in kinds}
        once = {name: timed(call) for name, call in others.items()}
        quick = {name: call for name, call in others.items() if once[name] < _SLOW}
        row = best(
            {
                "record": partial(_recorded, scene),
                **by_arrays,
                "1 thread": partial(rendered, drawing, SIDE, 1),
                "2 threads": partial(rendered, drawing, SIDE, 2),
                "encode": partial(encoded, pixels),
                **quick,
            }
        )
        row = {**once, **row}
        row["whole"] = row["record"] + row["1 thread"]
        row["ratio"] = min(row[name] for name in others) / row["whole"]
        if "arrays" in row:
            row["arrays ratio"] = min(row[name] for name in others) / (row["arrays"] + row["1 thread"])
        table[scene.name] = row
        cells = "".join(
            f"{row[name]:12.2f}"
            if name in row and name.endswith("ratio")
            else f"{row[name]:12.0f}"
            if name in row
            else f"{'':12}"
            for name in names
        )
        print(f"{scene.name + ' ' + scene.what:42}{cells}")
    return table


_FIVE = [(0, 0), (14, -20), (34, -22), (30, 0), (12, 8)]


def small_costs() -> dict[str, float]:
    """Microseconds of one call of what a sketch calls most."""
    sheet = Sheet(100, 100, "mm", Colour(1, 1, 1))
    frame = sheet.frame(3, 4, turn=30)
    tint = Colour(0.1, 0.2, 0.3)
    chance = Chance(7)
    stream = chance("stream")
    count = 20_000
    numbers = iter(range(10**9))
    fades = (1 / (number + 1) for number in range(10**9))

    def loop(call: Callable[[], Any]) -> Callable[[], None]:
        def run() -> None:
            for _ in range(count):
                call()

        return run

    canvas = aggdraw.Draw("RGB", (100, 100), "white")
    pen, brush = aggdraw.Pen("black", 1), aggdraw.Brush("red")
    costs = best(
        {
            "nothing": loop(lambda: None),
            AGGDRAW: loop(lambda: canvas.ellipse((1, 2, 4, 5), pen, brush)),
            "aggdraw: a line": loop(lambda: canvas.line((1, 2, 4, 5), pen)),
            "record a circle": loop(lambda: frame.circle(1.5, 2.5, 3.0)),
            "record a circle with paint": loop(lambda: frame.circle(1.5, 2.5, 3.0, fill=tint, opacity=0.4)),
            "record a circle in a paint of its own": loop(lambda: frame.circle(1.5, 2.5, 3.0, fill=tint, opacity=next(fades))),
            "record a line with paint": loop(lambda: frame.line(1.0, 2.0, 3.0, 4.0, stroke="#123", stroke_width=0.3)),
            "make a turned frame": loop(lambda: sheet.frame(1.0, 2.0, turn=35.0)),
            "draw between": loop(lambda: stream.between(3, 5)),
            "draw whole": loop(lambda: stream.whole(1, 6)),
            "open a branch": loop(lambda: chance("spot", next(numbers))),
            "smooth through five points": loop(lambda: smooth(_FIVE, closed=True)),
            "open a branch and draw once": loop(lambda: chance("mark", next(numbers)).between(0, 1)),
        }
    )
    nothing = costs.pop("nothing")
    result = {name: (cost - nothing) / count * 1000 for name, cost in costs.items()}
    print("\nmicroseconds a call")
    for name, cost in result.items():
        print(f"  {name:42}{cost:6.2f}")
    return result


def shape_costs() -> dict[str, dict[str, float]]:
    """Microseconds to record, and to render at 1000 px, one of each kind of shape of about 40 px."""
    count, wing = 400, smooth([(0, 0), (14, -20), (34, -22), (30, 0), (12, 8)], closed=True)
    ramp = linear_ramp((0, 0), (40, 0), ["teal", "gold"])
    shadow = soft_shadow(3, 4)
    kinds: dict[str, Callable[[View], object]] = {
        "circle": lambda view: view.circle(20, 20, 20, fill="teal"),
        "circle, stroked too": lambda view: view.circle(20, 20, 20, fill="teal", stroke="black"),
        "ellipse": lambda view: view.ellipse(20, 20, 20, 12, fill="teal"),
        "rect": lambda view: view.rect(0, 0, 40, 30, fill="teal"),
        "rect, rounded": lambda view: view.rect(0, 0, 40, 30, radius=6, fill="teal"),
        "line": lambda view: view.line(0, 0, 40, 20, stroke="teal"),
        "line, dashed": lambda view: view.line(0, 0, 40, 20, stroke="teal", dash=(3, 2)),
        "ngon": lambda view: view.ngon(20, 20, 6, 20, fill="teal"),
        "star": lambda view: view.star(20, 20, 7, 20, 9, fill="teal"),
        "arc": lambda view: view.arc(20, 20, 20, 0, 200, stroke="teal"),
        "annulus": lambda view: view.annulus(20, 20, 20, 12, fill="teal"),
        "path of five curves": lambda view: view.path(wing, fill="teal"),
        "text of four letters": lambda view: view.text(0, 20, "Moth", 18, fill="teal"),
        "circle, ramped": lambda view: view.circle(20, 20, 20, fill=ramp),
        "circle, multiplied": lambda view: view.circle(20, 20, 20, fill="teal", blend="multiply"),
        "circle, clipped": lambda view: view.clipped(wing).circle(20, 0, 20, fill="teal"),
        "circle with a soft shadow": lambda view: view.circle(20, 20, 20, fill="teal", shadow=shadow),
    }
    print("\nmicroseconds a shape of about 40 px  record  render")
    table = {}
    for name, draw in kinds.items():
        sheet = Sheet(SIDE, SIDE, "px", PAPER)
        views = [sheet.frame(20 + index % 20 * 48, 30 + index // 20 * 48) for index in range(count)]
        drawing_of = partial(_drawn_on, views, draw)
        record = min(timed(drawing_of) for _ in range(3)) / count * 1000
        fresh = Sheet(SIDE, SIDE, "px", PAPER)
        _drawn_on([fresh.frame(20 + index % 20 * 48, 30 + index // 20 * 48) for index in range(count)], draw)
        bare = Sheet(SIDE, SIDE, "px", PAPER).drawing()
        times = best({"with": partial(rendered, fresh.drawing(), SIDE, 1), "bare": partial(rendered, bare, SIDE, 1)})
        table[name] = {"record": record, "render": (times["with"] - times["bare"]) / count * 1000}
        print(f"  {name:34}{record:8.1f}{table[name]['render']:8.1f}")
    return table


def _drawn_on(views: list[View], draw: Callable[[View], object]) -> None:
    for view in views:
        draw(view)


def sources() -> dict[str, float]:
    """Milliseconds of fields, palettes, lookups and swarms."""
    print("\nfields, pictures, swarms, milliseconds")
    with tempfile.TemporaryDirectory() as folder:
        return source_costs(Path(folder), timed)


def savings() -> dict[str, float]:
    """Milliseconds from saving to the picture."""
    print("\nfrom saving to the picture, 1000 px wide, milliseconds")
    with tempfile.TemporaryDirectory() as folder:
        return saving_costs(DEMO, Path(folder))


def explaining() -> dict[str, float]:
    """How many times what it takes to perform a sketch its explanations take."""
    print("\nexplaining the specimen, in times of performing it")
    with tempfile.TemporaryDirectory() as folder:
        return explaining_costs(DEMO, Path(folder), timed)


def starting() -> dict[str, float]:
    """How many times the import of NumPy a command takes from beginning to end."""
    print("\nwhole commands, the renderer being prepared")
    with tempfile.TemporaryDirectory() as folder:
        return start_costs(DEMO, Path(folder))


def demo_costs() -> dict[str, dict[str, float]]:
    """Milliseconds of the stages of each demo sketch 1000 pixels wide."""
    print(f"\n{'demo sketches, 1000 px wide, milliseconds':42}" + "".join(f"{name:>12}" for name in _STAGES))
    table = {}
    for file in sorted(DEMO.glob("*.py")):
        if "@artwork" not in file.read_text(encoding="utf-8"):
            continue
        sketch = load_sketch(file)
        drawing = perform(sketch, Recipe(seed=8)).drawing
        pixels = rendered(drawing, 1000)
        calls = (
            partial(perform, sketch, Recipe(seed=8)),
            partial(rendered, drawing, 1000, 1),
            partial(rendered, drawing, 1000, 2),
            partial(encoded, pixels),
            partial(fingerprint, drawing),
        )
        table[file.stem] = best(dict(zip(_STAGES, calls, strict=True)), 3)
        print(f"{f'{file.stem}, {len(drawing):,} marks':42}" + "".join(f"{cost:12.0f}" for cost in table[file.stem].values()))
    return table


_STAGES = ("perform", "1 thread", "2 threads", "encode", "fingerprint")


def edition_costs() -> dict[str, float]:
    """Editions of the specimen plate a second."""
    sketch = load_sketch(DEMO / "specimen.py")
    print("\nspecimen plate, 1000 px wide, editions a second")
    rates = {}
    for workers in (1, 2):
        with tempfile.TemporaryDirectory() as folder:
            request = Request.of(sketch, tuple(range(1, 49)), 1000, Path(folder))
            seconds = timed(partial(make_series, request, processes(workers))) / 1000
        rates[f"workers: {workers}"] = 48 / seconds
        print(f"  {f'workers: {workers}':42}{48 / seconds:6.1f}")
    return rates


def main() -> None:
    """Run everything and, where asked, write it down with the machine and the versions."""
    parser = argparse.ArgumentParser(prog="python -m benchmarks")
    parser.add_argument("-o", type=Path, metavar="FILE", help="write the results as JSON")
    arguments = parser.parse_args()
    prepare_kernels()
    results = {
        "machine": {"processor": platform.machine(), "cores": os.cpu_count(), "python": platform.python_version()},
        "versions": {
            name: version(name) for name in ("mothseed", "numpy", "numba", "Pillow", "aggdraw", "matplotlib", "skia-python")
        },
        "starting": starting(),
        "scenes": scene_table(),
        "microseconds": small_costs(),
        "shapes": shape_costs(),
        "sources": sources(),
        "demo": demo_costs(),
        "editions": edition_costs(),
        "saving": savings(),
        "explaining": explaining(),
        "files": file_costs(DEMO, best),
    }
    if LAST.exists():
        behind = fallen_behind(results, json.loads(LAST.read_text()))
        print("\nbehind the last results:" if behind else "\nnothing fell behind the last results")
        print("".join(f"  {line}\n" for line in behind), end="")
    LAST.parent.mkdir(exist_ok=True)
    LAST.write_text(json.dumps(results, indent=2) + "\n")
    if arguments.o:
        arguments.o.write_text(json.dumps(results, indent=2) + "\n")


if __name__ == "__main__":
    main()
