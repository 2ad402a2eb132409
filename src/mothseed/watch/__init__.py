"""Watching a sketch: a proof at each save, made by a process that stays warm."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
