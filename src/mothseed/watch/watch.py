"""Watching a sketch: whenever a file of it is saved, or something else is wished for, what comes of it is shown."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncGenerator, Callable
from contextlib import suppress
from dataclasses import dataclass
from itertools import count
from pathlib import Path

from mothseed.faults import UsageError
from mothseed.sketch.named_dials import keep_settings
from mothseed.watch.changes import Files
from mothseed.watch.press import Keep, Kept, Press, Task
from mothseed.watch.question import Answer, Question
from mothseed.watch.result import Shown
from mothseed.watch.wish import Wish, next_seed

_SMALL_WIDTH = 240
_FURTHER = 8
"""Seeds in the strip of small pictures."""


@dataclass(frozen=True, slots=True)
class Begun:
    """A proof is being made."""


@dataclass(frozen=True, slots=True)
class Further:
    """A small picture of one of the seeds that come next, in its place of the strip."""

    place: int
    shown: Shown


_STANDS = 1.0
"""Seconds that a picture has to stand before it is kept in the daybook: what is passed by as a slider is dragged is not."""

Event = Begun | Shown | Further | Kept


class Watch:
    """A sketch that is watched: wishes and saved files go in, what comes of them comes out, to any number of readers.

    The latest wish counts: those that came while a proof was made are passed over.
    """

    def __init__(
        self,
        sketch: Path,
        wish: Wish,
        width: int,
        output: Callable[[int], Path],
        begin: Callable[[], None],
        *,
        daybook: bool = False,
    ) -> None:
        """`output` gives the file of each picture by its number; `begin` is called in each process that draws.

        With `daybook`, what stands for a while is kept in the daybook of the sketch.
        """
        self._sketch = sketch.resolve()
        self._wish = wish
        self._width = width
        self._daybook = daybook
        self._output = output
        self._files = Files([self._sketch])
        self._press, self._small_press, self._asking_press = Press(begin), Press(begin, background=True), Press(begin)
        self._state = self._kept_state = 0
        self._numbers = count(1)
        self._wanted, self._strip_wanted, self._asked = asyncio.Event(), asyncio.Event(), asyncio.Event()
        self._asking = asyncio.Lock()
        self._last: list[Event] = []
        self._good_files: frozenset[Path] = frozenset()
        self._readers: set[asyncio.Queue[Event]] = set()

    def want(self, wish: Wish) -> None:
        """Something else is to be seen."""
        self._wish = wish
        self._wanted.set()

    async def explained(self, across: float, down: float) -> Answer | None:
        """What lies at a point of the last good picture, in parts of its width and height, and what made it so.

        None where there is no picture, or another point is asked about before that is known.
        """
        shown = self._last_good()
        self._asked.set()
        async with self._asking:
            self._asked.clear()
            if shown is None:
                return None
            question = Question(self._sketch, self._state, shown.wish, across, down)
            answer = await self._asking_press.made(question, self._asked)
            return answer if isinstance(answer, Answer) else None

    def keep_settings(self, name: str) -> Path:
        """Keep the dials that are turned for the last good picture by a name; returns the file.

        Raises UsageError where there is no picture yet, and as `named_dials.keep_settings` does.
        """
        shown = self._last_good()
        if shown is None or shown.proof is None:
            raise UsageError("there is no picture yet whose dials could be kept")
        turned = shown.wish.recipe.dials
        return keep_settings(
            self._sketch, name, {dial["name"]: dial["value"] for dial in shown.proof.dials if dial["name"] in turned}
        )

    async def run(self, *, strip: bool = False) -> None:
        """Go on for ever; with `strip`, small pictures of further seeds are made too."""
        try:
            async with asyncio.TaskGroup() as group:
                group.create_task(self._follow_files())
                group.create_task(self._make_proofs())
                if strip:
                    group.create_task(self._make_strip())
        finally:
            self._press.close()
            self._small_press.close()
            self._asking_press.close()

    async def events(self) -> AsyncGenerator[Event, None]:
        """What there is to see now, then all that comes."""
        queue: asyncio.Queue[Event] = asyncio.Queue()
        for event in self._last:
            queue.put_nowait(event)
        self._readers.add(queue)
        self._strip_wanted.set()
        try:
            while True:
                yield await queue.get()
        finally:
            self._readers.discard(queue)

    async def _follow_files(self) -> None:
        async for _ in self._files.changes():
            self._state += 1
            self._wanted.set()

    async def _make_proofs(self) -> None:
        self._wanted.set()
        while True:
            await self._wanted.wait()
            self._wanted.clear()
            self._tell(Begun())
            shown = await self._press.made(self._task(self._wish, self._width), self._wanted)
            if not isinstance(shown, Shown):
                continue
            if shown.proof:
                self._good_files = shown.files
            self._files.become(shown.files | self._good_files, lacking=shown.proof is None)
            self._tell(shown)
            if shown.proof:
                self._strip_wanted.set()
                await self._keep_what_stands()

    async def _keep_what_stands(self) -> None:
        """Keep what was made last in the daybook, unless something else is wanted soon."""
        if not self._daybook:
            return
        with suppress(TimeoutError):
            await asyncio.wait_for(self._wanted.wait(), _STANDS)
            return
        kept = await self._press.made(Keep(self._sketch, self._state), self._wanted)
        if isinstance(kept, Kept) and (kept.entry or kept.problem or self._state != self._kept_state):
            # A different sketch has a different history to go back to.
            self._kept_state = self._state
            self._tell(kept)

    async def _make_strip(self) -> None:
        while True:
            await self._strip_wanted.wait()
            self._strip_wanted.clear()
            shown = self._last_good()
            if shown is None or not self._readers:
                continue
            for place in range(_FURTHER):
                recipe = shown.wish.recipe
                wish = Wish(recipe.with_seed(next_seed(recipe.seed, place + 1)))
                task = self._task(wish, _SMALL_WIDTH)
                small = await self._small_press.made(task, self._strip_wanted)
                if self._strip_wanted.is_set() or task.state != self._state:
                    break
                if isinstance(small, Shown):
                    self._tell(Further(place, small))

    def _last_good(self) -> Shown | None:
        return next((event for event in self._last if isinstance(event, Shown) and event.proof), None)

    def _task(self, wish: Wish, width: int) -> Task:
        return Task(self._sketch, self._state, wish, width, self._output(next(self._numbers)))

    def _tell(self, event: Event) -> None:
        """Tell all readers, and keep what one who comes later has to see: the last good proof, what is wrong, the strip."""
        self._last = [each for each in self._last if not _replaces(event, each)]
        if not isinstance(event, Begun | Kept):
            self._last.append(event)
        for queue in self._readers:
            queue.put_nowait(event)


def _replaces(event: Event, earlier: Event) -> bool:
    if isinstance(event, Shown):
        return isinstance(earlier, Shown) and (event.proof is not None or earlier.proof is None)
    return isinstance(event, Further) and isinstance(earlier, Further) and earlier.place == event.place
