"""Chance: seeded randomness that branches into named streams."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TypeVar

from mothseed.chance.draws import NOTHING
from mothseed.chance.outcome import Outcome
from mothseed.chance.path import path_of_names, path_part, seed_path
from mothseed.chance.tints import Tints
from mothseed.faults import SketchError

Technique = TypeVar("Technique")

_NO_BRANCHES: dict[str | float, Chance] = {}
"""Stands for "none yet" in a fresh stream, and is never filled: most streams of a sketch need no table."""


class Chance(Tints):
    """A stream of random numbers, identified by its seed and its path.

    Calling it opens a branch: `chance("spot", 3)` is a stream of its own, and the same object whenever you ask for it, so it
    continues where it was. `chance("wing")("spot")` and `chance("wing", "spot")` are the same branch. A draw from one branch
    never affects another.

    Every distribution takes one number from the stream per value unless it says otherwise (`shuffled` and `several` take one
    per item returned). With `size=`, you get an array of exactly the values that as many single draws would give. `label=`
    records the result as an outcome.

    >>> chance = Chance(7)
    >>> chance("spot").whole(1, 6) == Chance(7)("spot").whole(1, 6)
    True
    """

    __slots__ = ("_branches", "_reseeds")

    def __init__(self, seed: int | str, reseeds: Mapping[str, int | str] | None = None) -> None:
        """Start from a seed, a whole number or a word.

        `reseeds` draws single streams anew: `{"tint": 9}` gives the branch "tint", and all that branches off it, the
        numbers that seed 9 would give; "wing/spot" names a branch of a branch.
        """
        self._begin(seed_path(seed), "", {path_of_names(k): seed_path(v) for k, v in (reseeds or {}).items()}, [])

    def _begin(self, root: str, path: str, reseeds: dict[str, str], outcomes: list[Outcome]) -> None:
        self._root = root
        self._path = path
        self._reseeds = reseeds
        self._outcomes = outcomes
        self._branches = _NO_BRANCHES
        self._stream = None
        self._position = 0
        self._ready = NOTHING

    def __call__(self, name: str, *keys: str | float) -> Chance:
        """The branch of that name; keys (numbers, words) tell items apart, as in `chance("spot", row, column)`.

        Raises SketchError where the name is not a word or a key is neither a number nor a word.
        """
        if not isinstance(name, str):
            raise SketchError(
                f"a branch of chance is named by a word first (got {name!r})", hint=f'write chance("name", {name!r})'
            )
        branch = self._branches.get(name) or self._branch(name)
        try:
            for key in keys:
                branch = branch._branches.get(key) or branch._branch(key)
        except TypeError:  # it is not hashable; one place says what is allowed
            path_part(key)
            raise
        return branch

    def _branch(self, key: str | float) -> Chance:
        path = self._path + path_part(key)
        kind, reseeds = type(self), self._reseeds
        branch = kind.__new__(kind)
        branch._begin(reseeds.get(path, self._root) if reseeds else self._root, path, reseeds, self._outcomes)
        branches = self._branches
        if branches is _NO_BRANCHES:
            branches = self._branches = {}
        branches[key] = branch
        return branch

    def __repr__(self) -> str:
        return f"<Chance {self._root}{self._path} at {self._position - len(self._ready)}>"

    @property
    def outcomes(self) -> tuple[Outcome, ...]:
        """All labelled decisions so far, from every branch, in order."""
        return tuple(self._outcomes)

    @property
    def streams(self) -> tuple[str, ...]:
        """The names of the branches opened so far, each once, in the order they were first opened."""
        return tuple(name for name in self._branches if isinstance(name, str))

    def chosen(self, odds: Mapping[Technique, float]) -> list[Technique]:
        """The techniques that come up, each with its own odds: `chosen({hatching: 0.6, frost: 0.05})`.

        A technique is a function or a word. Each one is decided in a branch of its own, `("chosen", name)`, so adding one,
        dropping one or changing its odds affects no other. Each decision is an outcome under that name, recorded with its
        odds. Raises SketchError for odds outside 0 to 1 and for techniques without a name.
        """
        came = []
        for technique, probability in odds.items():
            name = technique if isinstance(technique, str) else getattr(technique, "__name__", None)
            if not name:
                raise SketchError(f"chosen: a technique is a function or a word (got {technique!r})")
            if self("chosen", name).odds(probability, label=name):
                came.append(technique)
        return came
