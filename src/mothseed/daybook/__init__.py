"""The daybook of a sketch: what was drawn of it while it was worked on, with the source as it was."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
