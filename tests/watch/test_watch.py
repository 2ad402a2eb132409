"""Watching a sketch: what comes of each save, on the terminal and in the daybook, and what may go wrong."""

from __future__ import annotations

import asyncio
import json
import multiprocessing
import shutil
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import aclosing
from pathlib import Path

import numpy as np
import pytest

from mothseed.daybook import Daybook
from mothseed.faults import UsageError
from mothseed.sketch import load_sketch
from mothseed.sketch.history import history_in_picture
from mothseed.watch import Kept, Shown, Watch, Wish
from mothseed.watch.changes import Files
from mothseed.watch.press import Press, Task
from mothseed.watch.question import Answer, Question
from mothseed.watch.wish import fitted, next_seed
from tests.conftest import Run, WriteSketch, pixels_of
from tests.recipes import recipe
from tests.watch.conftest import Watching


def test_each_save_of_the_sketch_its_module_and_its_picture_is_shown(
    watching: Callable[..., Watching], write_sketch: WriteSketch, run: Run, tmp_path: Path
) -> None:
    text = """
        from mothseed import Palette, artwork, dial
        from motif import dab

        @artwork(width=60, height=40)
        def dabs(sheet, chance, *, count=dial(5, 0, 50)):
            colours = Palette.from_picture("tints.png", count=1)
            for index in range(count):
                dab(sheet, chance("dab", index), colours[0])
    """
    module = "def dab(view, chance, tint):\n    view.circle(chance.between(0, 60), 20, {radius}, fill=tint)\n"
    sketch, motif = write_sketch(text, "dabs.py"), write_sketch(module.format(radius=4), "motif.py")
    run("proof", write_sketch(), "-o", "tints.png")
    watched = watching("dabs.py", "--seed", "lamp", "--set", "count=7", "--set", "size=3", "--width", "90px")
    assert "size=3 is left out: the sketch has no dial size" in watched.until("mothseed:")
    assert "dabs-watch.png  seed lamp, 7 marks" in watched.until("marks")
    run("proof", "dabs.py", "--seed", "lamp", "--set", "count=7", "--width", "90px", "-o", "proof.png")
    shown = tmp_path / "dabs-watch.png"
    assert np.array_equal(pixels_of(shown), pixels_of(tmp_path / "proof.png"))
    assert history_in_picture(shown) == history_in_picture(tmp_path / "proof.png")

    def changes(save: Callable[[], object]) -> bool:
        before = pixels_of(shown)
        save()
        watched.until("marks")
        return not np.array_equal(before, pixels_of(shown))

    assert changes(lambda: motif.write_text(module.format(radius=6)))
    assert changes(lambda: run("proof", "spots.py", "--seed", "40", "-o", "tints.png"))
    source = sketch.read_text()
    assert changes(lambda: sketch.write_text(source.replace("height=40", "height=50")))

    good = shown.read_bytes()
    sketch.write_text(source.replace("colours[0]", "colour[0]"))
    watched.until("name 'colour' is not defined")
    assert "dabs.py, line 8" in watched.until("in ")
    assert shown.read_bytes() == good
    assert changes(lambda: sketch.write_text(source))
    (tmp_path / "tints.png").rename(tmp_path / "away.png")
    watched.until("tints.png")
    (tmp_path / "away.png").rename(tmp_path / "tints.png")
    watched.until("marks")
    assert sketch.read_text() == source
    assert watched.end() == 0
    assert watched.lines.empty()


def test_it_says_the_same_for_programs(watching: Callable[..., Watching], write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch()
    watched = watching("spots.py", "--json", "-o", "out.png", "--guides")
    first = json.loads(watched.until("{"))
    assert first["marks"] == 5
    assert first["file"] == "out.png"
    assert first["wish"]["guides"] is True
    assert {dial["name"]: dial["value"] for dial in first["dials"]} == {"count": 5, "big": False}
    history = history_in_picture(tmp_path / "out.png")
    assert history is not None
    assert history.fingerprint == first["fingerprint"]
    sketch.write_text("from mothseed import\n")
    problem = json.loads(watched.until("{"))["problem"]
    assert (problem["file"], problem["line"]) == ("spots.py", 1)


def test_a_sketch_that_never_ends_or_ends_its_process_is_got_rid_of(write_sketch: WriteSketch, tmp_path: Path) -> None:
    text = """
        import os, time
        from mothseed import artwork

        @artwork(width=10, height=10)
        def picture(sheet, chance):
            {what}
            sheet.circle(5, 5, 3)
    """
    sketch = write_sketch(text.format(what="os._exit(3)"), "picture.py")
    problems = []

    async def follow() -> Shown:
        watch = Watch(sketch, Wish(), 40, lambda number: tmp_path / f"{number}.png", _nothing)
        work = asyncio.create_task(watch.run())
        async with aclosing(watch.events()) as events:
            async for event in events:
                if isinstance(event, Shown) and event.problem:
                    problems.append(event.problem.message)
                    asleep = f"open({str(tmp_path / 'asleep')!r}, 'w').close(); time.sleep(600)"
                    write_sketch(text.format(what=asleep), "picture.py")
                    while not (tmp_path / "asleep").exists():
                        await asyncio.sleep(0.05)
                    write_sketch(text.format(what="pass"), "picture.py")
                if isinstance(event, Shown) and event.proof:
                    work.cancel()
                    await asyncio.gather(work, return_exceptions=True)
                    return event
        raise AssertionError("it ended")

    started = time.monotonic()
    with ThreadPoolExecutor(1) as pool:  # where a browser is at hand, this thread has a loop of its own
        shown = pool.submit(lambda: asyncio.run(follow())).result()
    assert problems == ["the process that draws was ended with status 3"]
    assert shown.proof is not None
    assert shown.proof.marks == 1
    assert time.monotonic() - started < 300


def _nothing() -> None:
    pass


@pytest.mark.parametrize("wait", [0.0, 0.001, 0.02, 0.5])
def test_whoever_ends_it_as_a_proof_begins_is_not_kept_waiting(write_sketch: WriteSketch, tmp_path: Path, wait: float) -> None:
    endless = write_sketch(
        """
        from mothseed import artwork

        @artwork(width=10, height=10)
        def picture(sheet, chance):
            while True:
                pass
        """,
        "picture.py",
    )

    async def begin_and_end() -> bool:
        press = Press(_nothing)
        proof = asyncio.create_task(press.made(Task(endless, 0, Wish(), 40, tmp_path / "p.png"), asyncio.Event()))
        await asyncio.sleep(wait)
        proof.cancel()
        done, _ = await asyncio.wait({proof}, timeout=30)
        press.close()
        return bool(done) and proof.cancelled()

    others = set(multiprocessing.active_children())
    with ThreadPoolExecutor(1) as pool:
        assert pool.submit(lambda: asyncio.run(begin_and_end())).result()
    assert set(multiprocessing.active_children()) <= others


def test_what_stands_for_a_while_is_kept_in_the_daybook_and_what_is_passed_by_is_not(write_sketch: WriteSketch) -> None:
    sketch = write_sketch()
    seeds = [5, 4, 3, 2]

    async def watch() -> None:
        watch = Watch(sketch, Wish(), 60, lambda number: sketch.with_name(f"{number}.png"), _nothing, daybook=True)
        running = asyncio.create_task(watch.run())
        async with asyncio.timeout(60), aclosing(watch.events()) as events:
            async for event in events:
                if isinstance(event, Kept):
                    break
                if isinstance(event, Shown) and seeds:
                    watch.want(Wish(recipe(seeds.pop())))
        running.cancel()
        await asyncio.gather(running, return_exceptions=True)

    asyncio.run(watch())
    book = Daybook.of(sketch)
    assert book is not None
    assert [entry.seed for entry in book.entries()] == [5]


def test_what_a_sketch_does_not_take_any_more_is_left_out(write_sketch: WriteSketch) -> None:
    dials = load_sketch(write_sketch()).artwork.dials
    wish, values, left_out = fitted(Wish(recipe(3, count="9", big="on", gone="1")), dials)
    assert wish == Wish(recipe(3, count="9", big="on"))
    assert values == {"count": 9, "big": True}
    assert left_out == ["gone=1 is left out: the sketch has no dial gone; its dials are count, big"]
    assert fitted(Wish(recipe(3, count="99")), dials)[1] == {}


@pytest.mark.parametrize(
    ("seed", "steps", "after"),
    [(7, 1, 8), (0, -1, 0), ("lamp", 1, "lamp-2"), ("lamp-9", 1, "lamp-10"), ("lamp-2", -1, "lamp"), ("lamp", -1, "lamp")],
)
def test_seeds_have_a_next_one(seed: int | str, steps: int, after: int | str) -> None:
    assert next_seed(seed, steps) == after


@pytest.mark.parametrize(
    "plain",
    [
        None,
        {},
        {"seed": [], "dials": {}, "reseeds": {}, "without": [], "guides": False},
        {"seed": 1, "dials": {"a": 3}, "reseeds": {}, "without": [], "guides": False},
        {"seed": 1, "dials": {}, "reseeds": {"a": "-"}, "without": [], "guides": False},
        {"seed": 1, "dials": {}, "reseeds": {}, "without": [], "guides": "no"},
    ],
)
def test_a_wish_that_is_none_is_refused(plain: object) -> None:
    with pytest.raises(UsageError):
        Wish.from_plain(plain)


def test_wrong_usage(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    missing = run("watch", "nowhere.py")
    assert missing.status == 2
    assert "there is no sketch nowhere.py" in missing.err
    assert run("watch", "spots.py", "--page", "-o", "a.png").status == 2
    assert run("watch", "spots.py", "--seed", "1-3").status == 2
    assert "not the name of a PNG file" in run("watch", "spots.py", "-o", "a.jpg").err
    assert run("watch", "spots.py", "--width", "wide").status == 2


def test_a_point_is_explained_by_the_sketch_as_it_was_saved_last(write_sketch: WriteSketch) -> None:
    text = """
        from mothseed import artwork

        @artwork(width=60, height=40)
        def picture(sheet, chance):
            for row in range(3):
                sheet.circle(30, 20, chance("size", row).between(9, 12))
    """
    path = write_sketch(text)
    press = Press(_nothing)

    async def lying(state: int) -> dict[str, object]:
        answer = await press.made(Question(path, state, Wish(), 0.5, 0.5), asyncio.Event())
        assert isinstance(answer, Answer)
        assert answer.known is not None
        mark: dict[str, object] = answer.known["marks"][0]
        return mark

    async def ask_before_and_after() -> tuple[dict[str, object], dict[str, object]]:
        before = await lying(1)
        write_sketch(text.replace("for row", "# a remark\n            for column").replace("row", "column"))
        return before, await lying(2)

    try:
        with ThreadPoolExecutor(1) as pool:
            before, after = pool.submit(lambda: asyncio.run(ask_before_and_after())).result()
    finally:
        press.close()
    assert (before["line"], before["text"], before["turns"]) == (
        "spots.py:6", 'sheet.circle(30, 20, chance("size", row).between(9, 12))', "row=2",
    )  # fmt: skip
    assert (after["line"], after["text"], after["turns"]) == (
        "spots.py:7", 'sheet.circle(30, 20, chance("size", column).between(9, 12))', "column=2",
    )  # fmt: skip


def test_only_files_that_count_are_told_of(tmp_path: Path) -> None:
    sketch, elsewhere = tmp_path / "a" / "plate.py", tmp_path / "b" / "dusk.png"
    for file in (sketch, elsewhere):
        file.parent.mkdir()
        file.write_text("1")

    async def follow() -> list[str]:
        files = Files([sketch])
        told: list[str] = []
        came = asyncio.Event()

        async def listen() -> None:
            async for _ in files.changes():
                told.append("changed")
                came.set()

        async def happens(change: Callable[[], object], expected: bool) -> None:
            came.clear()
            await asyncio.sleep(0.1)
            change()
            try:
                await asyncio.wait_for(came.wait(), 30 if expected else 0.7)
                assert expected
            except TimeoutError:
                assert not expected

        listening = asyncio.create_task(listen())
        await happens(lambda: sketch.write_text("12"), True)
        await happens(lambda: (sketch.parent / "notes.txt").write_text("1"), False)
        await happens(lambda: elsewhere.write_text("12"), False)
        files.become([sketch, elsewhere], lacking=False)
        await happens(lambda: elsewhere.write_text("123"), True)
        files.become([sketch, elsewhere], lacking=True)
        await happens(lambda: (sketch.parent / "motif.py").write_text("1"), True)
        await happens(lambda: (sketch.parent / ".motif.py.swp").write_text("1"), False)
        await happens(lambda: (sketch.parent / "notes.txt").write_text("12"), False)
        await happens(lambda: shutil.rmtree(elsewhere.parent), True)
        listening.cancel()
        await asyncio.gather(listening, return_exceptions=True)
        return told

    with ThreadPoolExecutor(1) as pool:
        assert len(pool.submit(lambda: asyncio.run(follow())).result()) == 4
