"""The version of the renderer."""

from __future__ import annotations

RENDERER_VERSION = 7
"""Increased whenever the same drawing would give other pixels, which makes earlier editions stale."""
