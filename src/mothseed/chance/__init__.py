"""Seeded streams and distributions."""

from mothseed.chance.outcome import Outcome, Promise
from mothseed.chance.stream import Chance
from mothseed.chance.swarm import Swarm

__all__ = ["Chance", "Outcome", "Promise", "Swarm"]
