"""What came of a wish: a picture with what there is to know about it, or what is wrong with the sketch."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from mothseed.chance.outcome import as_plain
from mothseed.faults import MothSeedError, Whereabouts
from mothseed.sketch import Sketch
from mothseed.watch.wish import Wish


@dataclass(frozen=True, slots=True)
class Problem:
    """What is wrong with a sketch, in words, and where."""

    message: str
    hint: str = ""
    place: Whereabouts | None = None

    @classmethod
    def of(cls, fault: MothSeedError) -> Problem:
        """A fault, as it can be handed from one process to another."""
        return cls(fault.message, fault.hint, fault.place)

    def as_plain(self) -> dict[str, Any]:
        """The problem as JSON has it."""
        place = self.place
        return {
            "message": self.message,
            "hint": self.hint,
            "file": place.file.name if place else "",
            "line": place.line if place else 0,
            "text": place.text if place else "",
        }


@dataclass(frozen=True, slots=True)
class Proof:
    """A picture that was made, and what the sketch can be asked for."""

    file: Path
    width: int
    height: int
    marks: int
    fingerprint: str
    outcomes: tuple[tuple[str, Any], ...]
    dials: tuple[dict[str, Any], ...]
    """of each dial its name, kind, range, choices, default and value, as JSON has them"""
    layers: tuple[str, ...]
    streams: tuple[str, ...]

    def as_plain(self) -> dict[str, Any]:
        """The proof as JSON has it."""
        return {**asdict(self), "file": str(self.file)}


@dataclass(frozen=True, slots=True)
class Shown:
    """What came of a wish."""

    wish: Wish
    """less what the sketch does not take"""
    seconds: float = 0.0
    proof: Proof | None = None
    problem: Problem | None = None
    left_out: tuple[str, ...] = ()
    """what the sketch does not take, in words"""
    files: frozenset[Path] = field(default=frozenset(), repr=False)
    """what the picture was made from: the sketch, its modules, its pictures"""

    def as_plain(self) -> dict[str, Any]:
        """What came, as JSON has it."""
        return {
            "wish": self.wish.as_plain(),
            "seconds": round(self.seconds, 4),
            "left_out": list(self.left_out),
            "problem": self.problem.as_plain() if self.problem else None,
            **(self.proof.as_plain() if self.proof else {}),
        }


def dials_of(sketch: Sketch, values: dict[str, Any]) -> tuple[dict[str, Any], ...]:
    """The dials of a sketch with the values that they have, as JSON has them."""
    return tuple(
        {
            "name": name,
            "kind": dial.kind,
            "low": dial.low,
            "high": dial.high,
            "step": dial.step,
            "choices": [as_plain(choice) for choice in dial.choices],
            "default": as_plain(dial.default),
            "value": as_plain(values[name]),
            "help": dial.help,
        }
        for name, dial in sketch.artwork.dials.items()
    )
