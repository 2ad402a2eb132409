"""The sheet and the views on it, the styles, and the drawing that they record."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
