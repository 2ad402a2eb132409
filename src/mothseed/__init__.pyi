from .chance import Chance as Chance
from .chance.swarm import Swarm as Swarm
from .colour import Colour as Colour
from .colour import Palette as Palette
from .colour import Picture as Picture
from .colour import contrast as contrast
from .colour import contrasted as contrasted
from .colour import legible as legible
from .colour import linear_ramp as linear_ramp
from .colour import mixed as mixed
from .colour import radial_ramp as radial_ramp
from .geometry import Outline as Outline
from .geometry import Trail as Trail
from .geometry import annulus as annulus
from .geometry import arc as arc
from .geometry import clamp as clamp
from .geometry import distance as distance
from .geometry import lettering as lettering
from .geometry import mix as mix
from .geometry import ngon as ngon
from .geometry import oblique as oblique
from .geometry import offset as offset
from .geometry import resampled as resampled
from .geometry import rescale as rescale
from .geometry import smooth as smooth
from .geometry import snap as snap
from .geometry import star as star
from .geometry import stepped as stepped
from .geometry import trochoid as trochoid
from .sheet import Style as Style
from .sheet import View as View
from .sheet import soft_shadow as soft_shadow
from .sketch import artwork as artwork
from .sketch import dial as dial

__all__: list[str]
__version__: str
