"""Where things of the repository lie."""

from __future__ import annotations

from pathlib import Path

ROOT = Path(__file__).parents[1]
DEMO = ROOT / "src" / "mothseed" / "demo"
EARLIER = Path(__file__).parent / "earlier"
"""A small series that version 0.1.0 made, and the sketch it was made from."""
