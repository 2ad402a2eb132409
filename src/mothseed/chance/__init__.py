"""Seeded streams and distributions."""

from mothseed.chance.outcome import Outcome
from mothseed.chance.stream import Chance

__all__ = ["Chance", "Outcome"]
