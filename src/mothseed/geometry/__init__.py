"""Affine maps and outlines: pure functions and small values."""

from mothseed.geometry.affine import Affine
from mothseed.geometry.arithmetic import clamp, distance, mix, oblique, rescale, snap
from mothseed.geometry.figures import annulus, arc, ngon, star, trochoid
from mothseed.geometry.lengths import length_of, places_along, resampled
from mothseed.geometry.lettering import lettering
from mothseed.geometry.outline import Outline, OutlinePlace
from mothseed.geometry.parallel import offset
from mothseed.geometry.segments import bounds_of
from mothseed.geometry.smooth import smooth
from mothseed.geometry.states import stepped
from mothseed.geometry.trail import Corner, Trail

__all__ = [
    "Affine",
    "Corner",
    "Outline",
    "OutlinePlace",
    "Trail",
    "annulus",
    "arc",
    "bounds_of",
    "clamp",
    "distance",
    "length_of",
    "lettering",
    "mix",
    "ngon",
    "oblique",
    "offset",
    "places_along",
    "resampled",
    "rescale",
    "smooth",
    "snap",
    "star",
    "stepped",
    "trochoid",
]
