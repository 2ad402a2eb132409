"""Mean colours of parts of a picture."""

from __future__ import annotations

import math

import numpy as np

from mothseed.arrays import Array1, Array2, Array3
from mothseed.kernels.primitives import NONE
from mothseed.kernels.texels import inside
from mothseed.native.jit import entry


@entry
def add_up_discs(
    pixels: Array3[np.uint8],
    outside: int,
    u: Array1[np.float64],
    v: Array1[np.float64],
    reach_x: Array1[np.float64],
    reach_y: Array1[np.float64],
    span: int,
    sums: Array2[np.float64],
) -> None:
    """Set `sums` (n, 5) to the sums of premultiplied colours and of weights of the pixels around (u, v), each weighted by how
    much of it lies within an ellipse that reaches that far, up to `span` pixels away. They are added up row by row.
    """
    height, width = pixels.shape[0], pixels.shape[1]
    for n in range(len(u)):
        column, row = int(math.floor(u[n])), int(math.floor(v[n]))
        least = min(reach_x[n], reach_y[n])
        # Half a pixel beyond its edge, measured along its shorter axis, nothing is left of it.
        most = max(reach_x[n], reach_y[n]) * (1.0 + 0.5 / least)
        own = min(span, int(most) + 2)
        red = green = blue = alpha = weights = 0.0
        for j in range(-own, own + 1):
            down = (float(row + j) + 0.5 - v[n]) / reach_y[n]
            y = inside(row + j, height, outside)
            for i in range(-own, own + 1):
                across = (float(column + i) + 0.5 - u[n]) / reach_x[n]
                far = math.sqrt(across * across + down * down)
                weight = min(max((1.0 - far) * least + 0.5, 0.0), 1.0)
                if weight > 0.0:
                    weights += weight
                    x = inside(column + i, width, outside)
                    if outside != NONE or (x >= 0 and y >= 0):
                        opacity = pixels[y, x, 3] / 255.0
                        red += weight * (pixels[y, x, 0] / 255.0 * opacity)
                        green += weight * (pixels[y, x, 1] / 255.0 * opacity)
                        blue += weight * (pixels[y, x, 2] / 255.0 * opacity)
                        alpha += weight * opacity
        sums[n, 0], sums[n, 1], sums[n, 2], sums[n, 3], sums[n, 4] = red, green, blue, alpha, weights
