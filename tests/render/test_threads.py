"""Work that is shared among threads comes to what one thread makes of it."""

from __future__ import annotations

import threading

import numpy as np
import pytest

from mothseed.chance import Chance
from mothseed.colour import Colour
from mothseed.render import rendered
from mothseed.render.scene.assemble import prepared
from mothseed.render.threads import Threads
from mothseed.sheet import Sheet, soft_shadow
from tests.page import page_of_everything


def test_all_is_done_once_and_on_the_callers_own_thread_where_there_is_one_only() -> None:
    for count, numbers in ((1, range(20)), (3, range(20)), (3, range(1)), (2, range(0))):
        done: list[int] = []
        where: set[int] = set()

        def note(number: int, done: list[int] = done, where: set[int] = where) -> None:
            done.append(number)
            where.add(threading.get_ident())

        Threads(count).share(note, numbers)
        assert sorted(done) == list(numbers)
        if count == 1 or len(numbers) < 2:
            assert where <= {threading.get_ident()}


def test_what_goes_wrong_on_a_thread_is_told() -> None:
    def fail(number: int) -> None:
        if number == 3:
            raise ValueError("the lamp went out")

    for count in (1, 2):
        with pytest.raises(ValueError, match="the lamp went out"):
            Threads(count).share(fail, range(6))


def test_primitives_got_ready_in_pieces_are_those_got_ready_at_once(monkeypatch: pytest.MonkeyPatch) -> None:
    drawing = page_of_everything().drawing()
    whole = prepared(drawing, 3.0, Threads(1))
    monkeypatch.setattr("mothseed.render.scene.edges._LEAST_PIECE", 1)
    for count in (2, 7):
        pieces = prepared(drawing, 3.0, Threads(count))
        for name in ("kind", "first_edge", "edges", "bounds", "shadow_cells", "colour"):
            assert np.array_equal(getattr(pieces, name), getattr(whole, name)), name


def test_many_shadows_are_the_same_on_any_number_of_threads() -> None:
    sheet = Sheet(300, 200, "px", Colour(1, 1, 1))
    chance = Chance(9)
    for number in range(60):
        x, y = chance("place", number).point(sheet)
        sheet.frame(x, y, turn=number).rect(0, 0, 20, 8, fill="teal", shadow=soft_shadow(3, 1 + number % 7))
    first, *others = (rendered(sheet.drawing(), 300, threads) for threads in (1, 2, 5))
    assert all(np.array_equal(first, other) for other in others)
