"""Scales: thousands of faint marks overlapping like those of a wing, with a picture showing through."""

import numpy as np

from mothseed import artwork, dial


@artwork(width=240, height=160, unit="mm", paper="#efe8da")
def scales(
    sheet,
    chance,
    *,
    layers=dial(5, 1, 8, help="coats of scales, each finer than the one before"),
    largest=dial(6.5, 1, 20, help="length of the largest, in mm"),
    faint=dial(0.34, 0.02, 1, help="opacity of each"),
    brush=dial(0.7, 0, 1, help="how far they follow the picture's own lines"),
):
    area = sheet.inset(12)
    lichen = area.picture("lichen.png")
    drawn = 0
    for layer in range(layers):
        own = chance("layer", layer)
        length = largest * 0.66**layer
        count = int(1.5 * area.width * area.height / length**2)
        x, y = own("place").point(area, size=count).T
        tints = lichen.average(x, y, np.full(count, length / 3))
        tints[:, :3] = np.clip(own("tint").jittered(tints[:, :3], 0.05), 0, 1)
        headings = own("veer").bell(60, 14, size=count) * (1 - brush) + lichen.heading(x, y, length / 2) * brush
        sizes = own("size").triangular(length * 0.35, length * 0.6, size=count)
        area.ellipses(x, y, sizes, sizes * 0.38, turn=headings, fill=tints, opacity=faint)
        drawn += count
    sheet.note("scales", drawn)
