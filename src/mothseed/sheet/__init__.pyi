from .drawing import Drawing as Drawing
from .fingerprint import fingerprint as fingerprint
from .finish import Shadow as Shadow
from .finish import soft_shadow as soft_shadow
from .sheet import Sheet as Sheet
from .style import Style as Style
from .view import View as View
