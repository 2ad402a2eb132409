"""What picture files cost: milliseconds and kilobytes of the demo plates, beside Pillow's default."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from io import BytesIO
from pathlib import Path

from PIL import Image

from mothseed.arrays import ByteArray
from mothseed.formats.pdf import as_pdf
from mothseed.formats.png_writing import encoded
from mothseed.formats.settings import Effort
from mothseed.formats.svg import as_svg
from mothseed.render import rendered
from mothseed.sketch import Recipe, load_sketch, perform

_PLATES = {"specimen": 8, "drawer": 3, "lamp": 5, "lattice": 4, "scales": 1, "register": 5, "flights": 1, "moonrise": 7}
Best = Callable[[dict[str, Callable[[], bytes]], int], dict[str, float]]


def file_costs(demo: Path, best: Best) -> dict[str, dict[str, float]]:
    """For each plate 1000 px wide the time and size of every way to write it."""
    table = {}
    print("\npicture files, 1000 px wide        " + "".join(f"{name:>22}" for name in ("Pillow", *map(str, _WAYS))))
    for name, seed in _PLATES.items():
        drawing = perform(load_sketch(demo / f"{name}.py"), Recipe(seed=seed)).drawing
        pixels = rendered(drawing, 1000)
        ways: dict[str, Callable[[], bytes]] = {
            "Pillow": partial(_by_pillow, pixels),
            **{effort.value: partial(encoded, pixels, effort=effort) for effort in Effort},
            "svg": lambda drawing=drawing: as_svg(drawing).encode(),  # type: ignore[misc]
            "pdf": partial(as_pdf, drawing),
        }
        sizes = {way: len(make()) / 1000 for way, make in ways.items()}
        times = best(ways, 2)
        table[name] = {f"{way} ms": times[way] for way in ways} | {f"{way} kB": sizes[way] for way in ways}
        print(f"  {name:33}" + "".join(f"{times[way]:11.0f} ms{sizes[way]:5.0f} kB" for way in ways))
    return table


_WAYS = (*(effort.value for effort in Effort), "svg", "pdf")


def _by_pillow(pixels: ByteArray) -> bytes:
    file = BytesIO()
    Image.fromarray(pixels).save(file, "PNG")
    return file.getvalue()
