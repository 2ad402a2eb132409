"""Work that is shared among threads comes to what one thread makes of it."""

from __future__ import annotations

import threading
from collections.abc import Callable

import numpy as np
import pytest

from mothseed.chance import Chance
from mothseed.colour import Colour
from mothseed.kernels.primitives import Bins, Primitives, Shades
from mothseed.render import rendered, threads
from mothseed.render.scene.assemble import prepared
from mothseed.render.scene.bins import binned
from mothseed.render.threads import Threads
from mothseed.sheet import Drawing, Sheet, soft_shadow
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


def without_groups() -> Sheet:
    sheet = Sheet(200, 200, "mm", Colour(1, 1, 1))
    for number in range(40):
        sheet.frame(5 * number, 100, turn=9 * number).polygon([(0, 0), (30, 2), (9, 70)], fill=f"rgb({number} 90 40 / 60%)")
        sheet.circle(100, 5 * number, 1 + number, fill="navy", stroke="gold", stroke_width=0.2)
    return sheet


def got_ready(drawing: Drawing, count: int) -> tuple[Primitives, Shades, Bins]:
    """What a drawing becomes on that many threads; unused room between edges, which differs, is squeezed out."""
    ready = prepared(drawing, 3.0, Threads(count))
    bins = binned(ready, 600, 600, Threads(count))
    places = np.cumsum([0, *(last - first for first, _, last in ready.edge_spans)])[:-1]
    moved = ready.edge_spans - ready.edge_spans[:, :1] + places[:, None]
    of_edges = ready.edges[bins.edges]
    bins = bins._replace(edges=np.zeros(0, np.int64))  # as named tuples have it
    return ready._replace(edge_spans=moved, edges=of_edges), ready.shades, bins  # likewise


@pytest.mark.parametrize("page", [page_of_everything, without_groups])
def test_what_is_got_ready_in_pieces_is_what_is_got_ready_at_once(
    monkeypatch: pytest.MonkeyPatch, page: Callable[[], Sheet]
) -> None:
    drawing = page().drawing()
    whole, shades_of_whole, sorted_whole = got_ready(drawing, 1)
    for name in ("edges._LEAST_PIECE", "assemble._LEAST_OPS", "bins._LEAST_EDGES"):
        monkeypatch.setattr(f"mothseed.render.scene.{name}", 1)
    monkeypatch.setattr(threads, "_WORTH_A_THREAD", 0.01)  # so that a small drawing is shared as well
    for count in (2, 7):
        pieces, shades, sorted_pieces = got_ready(drawing, count)
        for one, other in ((pieces, whole), (shades, shades_of_whole), (sorted_pieces, sorted_whole)):
            for column, same in zip(one, other, strict=True):
                if isinstance(column, np.ndarray):
                    assert isinstance(same, np.ndarray)
                    assert np.array_equal(column, same)


def test_many_shadows_are_the_same_on_any_number_of_threads() -> None:
    sheet = Sheet(300, 200, "px", Colour(1, 1, 1))
    chance = Chance(9)
    for number in range(60):
        x, y = chance("place", number).point(sheet)
        sheet.frame(x, y, turn=number).rect(0, 0, 20, 8, fill="teal", shadow=soft_shadow(3, 1 + number % 7))
    first, *others = (rendered(sheet.drawing(), 300, count) for count in (1, 2, 5))
    assert all(np.array_equal(first, other) for other in others)
