"""Files of pictures: one module for each format, and a table of them all."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
