"""Seeded streams and distributions."""

from mothseed.chance.outcome import Outcome, Promise
from mothseed.chance.stream import Chance

__all__ = ["Chance", "Outcome", "Promise"]
