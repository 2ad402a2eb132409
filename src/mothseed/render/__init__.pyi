from .painted import Painted as Painted
from .painting import rendered as rendered
from .painting import rendered_bands as rendered_bands
from .pixels import pixel_hash as pixel_hash
from .version import RENDERER_VERSION as RENDERER_VERSION
