from .artwork import artwork as artwork
from .dials import dial as dial
from .load import Sketch as Sketch
from .load import load_sketch as load_sketch
from .perform import Impression as Impression
from .perform import perform as perform
from .recipe import Recipe as Recipe
