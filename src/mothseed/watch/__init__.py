"""Watching a sketch: a proof at each save, made by a process that stays warm."""

from mothseed.watch.press import Kept
from mothseed.watch.result import Problem, Shown
from mothseed.watch.watch import Begun, Event, Further, Watch
from mothseed.watch.wish import Wish

__all__ = ["Begun", "Event", "Further", "Kept", "Problem", "Shown", "Watch", "Wish"]
