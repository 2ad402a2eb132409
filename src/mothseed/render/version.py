"""The version of the renderer."""

from __future__ import annotations

RENDERER_VERSION = 6
"""Raised whenever the same drawing would give other pixels: editions made before are then stale."""
