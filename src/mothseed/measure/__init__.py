"""Measures of one picture: how it looks as a whole, and what it is made of."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
