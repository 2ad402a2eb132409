"""Make the two pictures of the Night Register, dusk.png and lichen.png, from which its sketches take their colours.

    python scripts/make_pictures.py src/mothseed/demo

They are drawn with Moth Seed itself and get a little grain, as a photograph has. The same files come out each time.
"""

from __future__ import annotations

import sys
from pathlib import Path

import numpy as np

from mothseed import Chance, Colour, Palette, smooth
from mothseed.arrays import ByteArray
from mothseed.formats.png_writing import write_png
from mothseed.portable import cosines_and_sines
from mothseed.render import rendered
from mothseed.sheet import Sheet

WIDTH, HEIGHT = 720, 480


def dusk(chance: Chance) -> Sheet:
    """Evening over a garden by the sea, with a lamp tower."""
    sheet = Sheet(WIDTH, HEIGHT, "px", Colour.parse("#171a38"))
    sky = Palette(["#171a38", "#2c2a55", "#5a3d6e", "#a1536f", "#de7f5c", "#f3b468", "#f9dc9a"])
    horizon = 322
    for y in range(horizon):
        sheet.rect(0, y, WIDTH, 1.6, fill=sky.ramp((y / horizon) ** 1.25))
    sea = Palette(["#e9b678", "#b77a78", "#5f4f74", "#2a2d55", "#191c3a"])
    for y in range(horizon, HEIGHT):
        sheet.rect(0, y, WIDTH, 1.6, fill=sea.ramp(((y - horizon) / (HEIGHT - horizon)) ** 0.6))

    stars = chance("stars")
    places = stars.point(sheet, size=150) * (1, 0.42)
    sheet.circles(
        places[:, 0], places[:, 1], stars.between(0.3, 1.1, size=150), fill="#fdf3d8", opacity=stars.between(0.2, 0.9, size=150)
    )

    for index in range(26):
        cloud = chance("cloud", index)
        altitude = cloud.between(120, horizon - 14)
        x, length = cloud.between(-80, WIDTH), cloud.between(90, 330)
        for strand in range(14):
            offset = cloud.bell(0, 4.5)
            start = x + cloud.between(0, length * 0.4)
            shade = sky.ramp(altitude / horizon + 0.16 - strand * 0.004)
            width, end = cloud.between(0.8, 4), start + cloud.between(0.3, 0.9) * length
            level = altitude + offset
            soft = sheet.styled(stroke=shade, stroke_width=width, opacity=0.16, linecap="round")
            soft.line(start, level, end, level + cloud.bell(0, 1.5))

    gleam = chance("gleam")
    for _ in range(420):
        y = horizon + (HEIGHT - horizon) * gleam.between(0, 1) ** 1.7
        x = gleam.bell(468, 26 + (y - horizon) * 0.9)
        half = gleam.between(2, 5 + (y - horizon) * 0.12)
        sheet.line(x - half, y, x + half, y, stroke="#fbd99a", stroke_width=gleam.between(0.5, 1.5), opacity=0.3)

    for layer, (base, height) in enumerate((("#4a3a62", 300), ("#332b52", 312), ("#221f42", 326))):
        hills = chance("hills", layer)
        ridge = [(-40 + 60 * i, height - hills.between(0, 26 - layer * 5) - (22 if i < 5 else 0)) for i in range(15)]
        sheet.path(smooth([*ridge, (WIDTH + 80, HEIGHT), (-60, HEIGHT)], closed=True, tension=0.1), fill=base,
                   opacity=1 if layer < 2 else 0.92)  # fmt: skip
        if layer == 1:
            lamp_tower(sheet, 468, 306)

    for index in range(620):
        grass = chance("grass", index)
        x, foot = grass.between(-20, WIDTH + 20), HEIGHT + 8
        height, lean = 30 + grass.between(0, 1) ** 2.2 * 150, grass.bell(6, 17)
        blade = smooth([(x, foot), (x + lean * 0.25, foot - height * 0.55), (x + lean, foot - height)])
        sheet.path(blade, fill=None, stroke=grass.pick(["#12142e", "#1a1b3a", "#241f42", "#0e1026"]),
                   stroke_width=grass.between(0.8, 2.6), linecap="round")  # fmt: skip
        if grass.odds(0.16):
            head = sheet.frame(x + lean, foot - height)
            for petal in head.ring(7, grass.between(2, 4)):
                petal.circle(
                    0, 0, grass.between(0.8, 1.7), fill=grass.pick(["#c98a86", "#e6b98e", "#8d6f95", "#efd9b8"]), opacity=0.8
                )
    return sheet


def lamp_tower(sheet: Sheet, x: float, foot: float) -> None:
    """The tower, and the glow around its lamp in faint layers."""
    top = foot - 128
    for layer in range(60):
        sheet.circle(x, top - 6, 4 + (layer / 60) ** 2.4 * 190, fill="#ffe3a1", opacity=0.016)
    sheet.polygon([(x - 8, top), (x + 8, top), (x + 14, foot + 40), (x - 14, foot + 40)], fill="#2a2448")
    for band in range(3):
        y = top + 22 + band * 40
        sheet.rect(x - 9 - band * 1.6, y, 18 + band * 3.2, 12, fill="#6b4a66", opacity=0.75)
    sheet.rect(x - 11, top - 3, 22, 4, fill="#1c1936")
    sheet.rect(x - 6, top - 14, 12, 11, fill="#fff4cf")
    sheet.polygon([(x - 8, top - 14), (x + 8, top - 14), (x, top - 25)], fill="#1c1936")


def lichen(chance: Chance) -> Sheet:
    """Lichen on a wall of slate, close by."""
    sheet = Sheet(WIDTH, HEIGHT, "px", Colour.parse("#5d6268"))
    ground = chance("ground")
    stone = ["#4a4f57", "#6e7276", "#7d8080", "#565b60", "#8a8a84", "#3d4149"]
    places = ground.point(sheet, size=2600)
    sheet.circles(places[:, 0], places[:, 1], ground.between(3, 34, size=2600), fill=ground.pick(stone, size=2600),
                  opacity=ground.between(0.05, 0.2, size=2600))  # fmt: skip
    kinds = [
        (["#c9c26a", "#b5b057", "#d8d48c", "#9a9a48"], 5),
        (["#8fa37a", "#a9b893", "#71875f", "#c3cfb0"], 6),
        (["#c06a2f", "#d98c3f", "#a5522a", "#e0ac5d"], 3),
        (["#d5dccb", "#bcc8b8", "#e8e8d6", "#9fb0a3"], 4),
        (["#5b5a4c", "#45463d", "#767460", "#2f3130"], 2),
    ]
    for index in range(74):
        colony(sheet, chance("colony", index), kinds)
    dust = chance("dust")
    places = dust.point(sheet, size=5200)
    sheet.circles(places[:, 0], places[:, 1], dust.between(0.4, 1.6, size=5200),
                  fill=dust.pick(["#2f3236", "#e9e6d8", "#8a8f7b", "#b9683a"], weights=[4, 3, 3, 1], size=5200),
                  opacity=dust.between(0.15, 0.6, size=5200))  # fmt: skip
    return sheet


def colony(sheet: Sheet, chance: Chance, kinds: list[tuple[list[str], int]]) -> None:
    """One growth: lobes around a middle, paler at the rim, dark cups in it."""
    colours, _ = chance.pick(kinds, weights=[weight for _, weight in kinds])
    x, y = chance.point(sheet)
    reach = 14 + chance.between(0, 1) ** 1.8 * 82
    count = int(60 + reach * 9)
    cosine, sine = cosines_and_sines(chance.turn(size=count))
    distance = np.sqrt(chance.between(0, 1, size=count)) * reach * (1 + 0.16 * np.round(cosine * 3) * sine)
    rim = distance / reach
    order = np.argsort(-distance, kind="stable")
    size = (1.2 + 5.2 * (0.4 + 0.6 * rim) * chance.between(0.4, 1, size=count))[order]
    across, down = (x + cosine * distance)[order], (y + sine * distance * 0.9)[order]
    shades = [colours[2] if r > 0.85 else colours[0] if r > 0.45 else colours[1] for r in rim[order]]
    sheet.circles(across + 0.8, down + 1.2, size * 1.06, fill="#262a2c", opacity=0.16)
    sheet.circles(across, down, size, fill=shades, opacity=chance.between(0.55, 0.95, size=count))
    for _ in range(int(reach / 6)):
        turn, far = chance.turn(size=1), chance.between(0, 0.7) * reach
        (c,), (s,) = cosines_and_sines(turn)
        cup = chance.between(1.2, 3.4)
        sheet.circle(x + c * far, y + s * far, cup + 0.9, fill=colours[2], opacity=0.9)
        sheet.circle(x + c * far, y + s * far, cup, fill=colours[3], opacity=0.9)


def grained(pixels: ByteArray, chance: Chance, strength: float) -> ByteArray:
    """A picture with grain that is the same in all channels."""
    grain = chance.bell(0, strength, size=pixels.shape[:2])[..., None]
    result: ByteArray = np.clip(np.round(pixels + grain), 0, 255).astype(np.uint8)
    return result


def main() -> None:
    """Write both pictures into the folder that is named."""
    folder = Path(sys.argv[1])
    for name, draw, strength in (("dusk", dusk, 1.6), ("lichen", lichen, 1.0)):
        chance = Chance(name)
        pixels = grained(rendered(draw(chance).drawing(), WIDTH), chance("grain"), strength)
        write_png(folder / f"{name}.png", pixels)


if __name__ == "__main__":
    main()
