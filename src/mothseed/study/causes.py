"""What made some marks of a picture as they are: the streams of chance and the dials that change them.

Each stream is redrawn and each dial turned, and the marks are examined. Streams are tried together first, then separately if
something changed, down to single keys if these matter one by one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from mothseed.chance.studied import Bend, Names
from mothseed.sketch import Impression, Recipe, Sketch
from mothseed.sketch.around import ends_of, settings_around
from mothseed.study.attempt import ASPECTS, Attempt, Bench, Effect, Inquiry, Subject
from mothseed.study.trying import Told, Tried, trying

_QUICK = ((0.0, 0.004), (0.996, 0.004))
_THOROUGH = ((0.0, 0.34), (0.33, 0.34), (0.66, 0.34))
"""Ranges (low and span) from which numbers are redrawn: at either end, so that rare things come up, and in each third
between.
"""
_APART = 8
"""How many parts streams are divided into to find those that matter."""
_ANY = "*"
_FEW = 3
"""From so many keys of a stream that all matter, they are reported as one."""


@dataclass(frozen=True, slots=True)
class Cause:
    """A stream or a dial that changes something."""

    name: str
    """name of the dial; names and keys of the stream with slashes, with * if all keys matter, and `chance` for the root"""
    is_dial: bool


@dataclass(frozen=True, slots=True)
class Causes:
    """What made some marks as they are."""

    by_aspect: Mapping[str, tuple[Cause, ...]]
    """for each of ASPECTS that can change, what changes it, dials last"""
    untried: tuple[Cause, ...] = ()
    """those that cannot be tried: when any of them changes, the sketch fails or draws many times as much"""

    def together(self) -> list[tuple[list[str], tuple[Cause, ...]]]:
        """Aspects with their causes, grouped by equal causes."""
        found: dict[tuple[Cause, ...], list[str]] = {}
        for aspect, causes in self.by_aspect.items():
            found.setdefault(causes, []).append(aspect)
        return [(aspects, causes) for causes, aspects in found.items()]


def causes_of(
    sketch: Sketch,
    impression: Impression,
    targets: Sequence[Inquiry],
    *,
    workers: int = 1,
    told: Told = lambda _count: None,
) -> list[Causes]:
    """The causes of each of some targets in a traced impression of a sketch, found with that many `workers`, including this
    process. Raises the same errors as `perform`.
    """
    assert impression.origins is not None
    recipe, calls = impression.recipe, impression.origins.calls
    wanted = None
    if not impression.drawing.uses and all(not target.lines for target in targets):
        numbers = {int(impression.origins.of_marks[mark]) for target in targets for mark in target.marks}
        wanted = frozenset(tuple((line.file, line.number) for line in calls[number]) for number in numbers)
    subject = Subject(sketch.path, recipe, tuple(targets), wanted)
    bench = Bench(sketch, subject)
    with trying(bench, workers, told) as tried:
        search = _Search(tried, len(targets), all(not target.lines for target in targets), bench.at_hand)
        of_dials = dict(_dial_attempts(sketch, recipe))
        # Everything that will be tried in any case is tried at once, so that other processes are started if that is worth it.
        tried([*(attempt for attempts in of_dials.values() for attempt in attempts), *search.first_attempts(bench.drawn)])
        dials = {name: search.with_dial(attempts) for name, attempts in of_dials.items()}
        streams = search.streams(bench.drawn)
    return [_causes_of_one(number, streams, dials, bench.drawn) for number in range(len(targets))]


def _causes_of_one(number: int, streams: Mapping[Part, Effect], dials: Mapping[str, Effect], drawn: Sequence[Names]) -> Causes:
    """The causes of one target, given its index."""
    by_aspect = {}
    for aspect in ASPECTS:
        found = [stream for part, effect in streams.items() if effect and aspect in effect[number] for stream in part]
        causes = [Cause(name, is_dial=False) for name in _told(found, drawn)]
        causes += [Cause(name, is_dial=True) for name, effect in dials.items() if effect and aspect in effect[number]]
        if causes:
            by_aspect[aspect] = tuple(causes)
    failed = [stream for part, effect in streams.items() if effect is None for stream in part]
    untried = [Cause(name, is_dial=False) for name in _told(failed, drawn)]
    untried += [Cause(name, is_dial=True) for name, effect in dials.items() if effect is None]
    return Causes(by_aspect, tuple(untried))


def _told(streams: Sequence[Names], drawn: Sequence[Names]) -> list[str]:
    """The names of some streams; those that differ only in their keys are one, with * for the keys."""
    names: list[Names] = []
    for of_pattern in _grouped(streams, _pattern):
        if len(of_pattern) >= _FEW and len(of_pattern) == _how_many(drawn, _pattern, of_pattern[0]):
            names.append(_pattern(of_pattern[0]))
            continue
        for of_parent in _grouped(of_pattern, _parent):
            whole = len(of_parent) >= _FEW and len(of_parent) == _how_many(drawn, _parent, of_parent[0])
            names += [(*of_parent[0][:-1], _ANY)] if whole else of_parent
    return ["/".join(map(str, name)) or "chance" for name in names]


def _how_many(drawn: Sequence[Names], key: Callable[[Names], Names], like: Names) -> int:
    return sum(key(stream) == key(like) for stream in drawn)


def _parent(stream: Names) -> Names:
    """A stream without its last key; a stream without keys is its own parent."""
    return stream if len(stream) < 2 or isinstance(stream[-1], str) else (*stream[:-1], _ANY)


def _dial_attempts(sketch: Sketch, recipe: Recipe) -> Iterator[tuple[str, list[Attempt]]]:
    for name, dial in sketch.artwork.dials.items():
        values = dict.fromkeys(setting.changes["dials"][name] for setting in settings_around(name, dial, recipe.dials[name]))
        ends = ends_of(dial, recipe.dials[name])
        near = list(values)[1:-1] if ends and len(values) > _FEW else values
        yield name, [Attempt(dials=((name, value),)) for value in dict.fromkeys([*near, *ends])]


Part = tuple[Names, ...]
"""Streams that were redrawn together."""


@dataclass(frozen=True, slots=True)
class _Search:
    """Finds the streams that matter."""

    tried: Tried
    targets: int
    one_by_one: bool
    """whether to find each key of a stream that matters, rather than just whether any does"""
    at_hand: frozenset[Names]
    """streams that are likely to matter, and those that branch off them"""

    def with_dial(self, attempts: Sequence[Attempt]) -> Effect:
        """What turning a dial changes, over all attempts."""
        return self._all(self.tried(attempts)) if attempts else (frozenset(),) * self.targets

    def streams(self, drawn: Sequence[Names]) -> dict[Part, Effect]:
        """What streams change, singly or in groups, if they change anything or cannot be tried."""
        bands: dict[Part, Sequence[tuple[float, float]]] = {}
        for of_name in self._live(_grouped(drawn, _name)):
            patterns = _grouped(self._likely(of_name), _pattern)
            for streams in self._live(patterns) if len(patterns) > 1 else patterns:
                for part in self._apart(streams):
                    # If a few attempts show everything that the streams can do, more would show nothing new.
                    is_alike = len(streams) > len(part) and self._effect(part, _QUICK) == self._effect(streams, _QUICK)
                    bands[tuple(part)] = _QUICK if is_alike else (*_QUICK, *_THOROUGH)
        # All at once, for other processes to share.
        self.tried([attempt for part, own in bands.items() for attempt in _attempts(part, own)])
        effects = {part: self._effect(part, own) for part, own in bands.items()}
        return {part: effect for part, effect in effects.items() if _changes(effect)}

    def _likely(self, streams: list[Names]) -> list[Names]:
        """The streams that branch off those in scope, if no others change anything."""
        likely = [stream for stream in streams if any(stream[: len(names)] == names for names in self.at_hand)]
        others = [stream for stream in streams if stream not in likely]
        if not (self.one_by_one and likely and others) or _changes(self._effect(others, (*_QUICK, *_THOROUGH))):
            return streams
        return likely

    def first_attempts(self, drawn: Sequence[Names]) -> list[Attempt]:
        """The attempts on streams that are made in any case."""
        return [attempt for group in _grouped(drawn, _name) for attempt in _attempts(group, _QUICK)]

    def _live(self, groups: list[list[Names]]) -> list[list[Names]]:
        """The groups of streams that change something or cannot be tried. Those that change nothing in a few attempts are
        tried further together.
        """
        live = self._those_that_change(groups, _QUICK)
        still = [group for group in groups if group not in live]
        together = [stream for group in still for stream in group]
        if len(still) > 1 and not _changes(self._effect(together, _THOROUGH)):
            return live
        more = self._those_that_change(still, _THOROUGH)
        return [group for group in groups if group in live or group in more]

    def _those_that_change(self, groups: list[list[Names]], bands: Sequence[tuple[float, float]]) -> list[list[Names]]:
        effects = self.tried([attempt for group in groups for attempt in _attempts(group, bands)])
        parts = [effects[start : start + len(bands)] for start in range(0, len(effects), len(bands))]
        return [group for group, part in zip(groups, parts, strict=True) if _changes(self._all(part))]

    def _apart(self, streams: list[Names]) -> list[list[Names]]:
        """The streams of one pattern that change something, each on its own; in one list if all of them do."""
        if len(streams) == 1 or not self.one_by_one:
            return [streams]
        size = -(-len(streams) // _APART)
        parts = [streams[start : start + size] for start in range(0, len(streams), size)]
        live = self._live(parts)
        if len(live) == len(parts) and len(streams) >= _FEW and self._alike(parts):
            return [streams]
        return [part for some in live for part in self._apart(some)]

    def _alike(self, parts: list[list[Names]]) -> bool:
        """Whether all parts matter to the same targets."""
        effects = [self._effect(part, _QUICK) for part in parts]
        return len({tuple(bool(aspects) for aspects in each) if each else None for each in effects}) == 1

    def _effect(self, streams: Sequence[Names], bands: Sequence[tuple[float, float]]) -> Effect:
        return self._all(self.tried(_attempts(streams, bands)))

    def _all(self, effects: Sequence[Effect]) -> Effect:
        known = [effect for effect in effects if effect is not None]
        if not known:
            return None
        return tuple(frozenset().union(*(effect[number] for effect in known)) for number in range(self.targets))


def _changes(effect: Effect) -> bool:
    """Whether anything changed, or that is unknown."""
    return effect is None or any(effect)


def _attempts(streams: Sequence[Names], bands: Sequence[tuple[float, float]]) -> list[Attempt]:
    bends = [Bend(f"anew-{low}-{number}", low, span) for number, (low, span) in enumerate(bands)]
    return [Attempt(streams=tuple(streams), bend=bend) for bend in bends]


def _grouped(streams: Sequence[Names], key: Callable[[Names], Names]) -> list[list[Names]]:
    groups: dict[Names, list[Names]] = {}
    for stream in streams:
        groups.setdefault(key(stream), []).append(stream)
    return list(groups.values())


def _name(stream: Names) -> Names:
    return stream[:1]


def _pattern(stream: Names) -> Names:
    """The names of a stream, with * for each key that is a number."""
    return tuple(_ANY if place and not isinstance(name, str) else name for place, name in enumerate(stream))
