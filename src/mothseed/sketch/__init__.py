"""The artwork mark and dials; recipes; loading a sketch; performing it."""

from mothseed.sketch.artwork import artwork
from mothseed.sketch.dials import dial
from mothseed.sketch.load import Sketch, load_sketch
from mothseed.sketch.perform import Impression, perform
from mothseed.sketch.recipe import Recipe

__all__ = ["Impression", "Recipe", "Sketch", "artwork", "dial", "load_sketch", "perform"]
