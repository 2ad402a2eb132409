"""Checking a sketch: is it reproducible, and does it make a known mistake?"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
