"""Preparation: from a drawing to primitives, edges, shades and shadows in pixels, sorted into tiles."""
