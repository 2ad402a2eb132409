"""Palettes by median cut."""

from __future__ import annotations

import numpy as np

from mothseed.arrays import ByteArray
from mothseed.colour.ways.clusters import Clusters, clusters_at, gathered


def median_cut(pixels: ByteArray, count: int) -> Clusters:
    """At most `count` colours of a picture by median cut in OKLab, from uint8 (height, width, 4); none of a blank picture.

    Heckbert, "Color image quantization for frame buffer display", SIGGRAPH 1982: the box of colours with the largest spread,
    weighted by pixels, is cut at the median of its longest side, again and again. Each colour is the mean of a box; their
    shares of the picture are more equal than by k-means.
    """
    places, weights = gathered(pixels)
    if len(places) == 0:
        return Clusters(np.zeros((0, 3)), np.zeros(0))
    boxes = [np.arange(len(places))]
    while len(boxes) < count:
        spreads = [np.ptp(places[box], axis=0).max() * np.sqrt(weights[box].sum()) if len(box) > 1 else 0.0 for box in boxes]
        widest = int(np.argmax(spreads))
        if not spreads[widest] > 0:
            break
        box = boxes.pop(widest)
        side = int(np.argmax(np.ptp(places[box], axis=0)))
        box = box[np.argsort(places[box, side], kind="stable")]
        running = np.cumsum(weights[box])
        cut = min(max(int(np.searchsorted(running, running[-1] / 2)) + 1, 1), len(box) - 1)
        boxes += [box[:cut], box[cut:]]
    totals = np.array([weights[box].sum() for box in boxes])
    means = np.array([(places[box] * weights[box, None]).sum(axis=0) for box in boxes]) / totals[:, None]
    return clusters_at(means, totals)
