"""Watching a sketch: on the terminal, on its page in a real browser, and what may go wrong."""

from __future__ import annotations

import asyncio
import http.client
import json
import multiprocessing
import os
import queue
import re
import shutil
import signal
import subprocess
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import aclosing
from pathlib import Path
from urllib.parse import urlsplit

import numpy as np
import pytest
from playwright.sync_api import Browser, Page, expect

from mothseed.chance import Chance
from mothseed.daybook import Daybook
from mothseed.faults import UsageError
from mothseed.sketch import load_sketch
from mothseed.sketch.history import history_in_picture
from mothseed.watch import Kept, Shown, Watch, Wish
from mothseed.watch.changes import Files
from mothseed.watch.press import Press, Task
from mothseed.watch.question import Answer, Question
from mothseed.watch.wish import fitted, next_seed
from tests.conftest import INSTALLED, Run, WriteSketch, pixels_of
from tests.recipes import recipe


class Watching:
    """The installed program, watching; what it says comes line by line."""

    def __init__(self, folder: Path, *arguments: str) -> None:
        command = [str(INSTALLED), "watch", *arguments]
        self.process = subprocess.Popen(
            command, cwd=folder, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True, start_new_session=True
        )
        self.lines: queue.Queue[str] = queue.Queue()
        self.reader = threading.Thread(target=self._read)
        self.reader.start()

    def _read(self) -> None:
        assert self.process.stdout is not None
        with self.process.stdout as said:
            for line in said:
                self.lines.put(line)

    def until(self, words: str) -> str:
        """The next line that has these words in it."""
        while True:
            line = self.lines.get(timeout=60)
            if words in line:
                return line

    def end(self) -> int:
        """Press Ctrl-C."""
        os.killpg(self.process.pid, signal.SIGINT)
        return self.process.wait(timeout=20)


@pytest.fixture
def watching(tmp_path: Path) -> Iterator[Callable[..., Watching]]:
    begun: list[Watching] = []

    def begin(*arguments: str) -> Watching:
        begun.append(Watching(tmp_path, *arguments))
        return begun[-1]

    yield begin
    for each in begun:
        if each.process.poll() is None:
            os.killpg(each.process.pid, signal.SIGKILL)
            each.process.wait()
        each.reader.join()


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


PAGE = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def turns(
        sheet, chance, *,
        count=dial(5, 0, 50, help="<b>how</b> many"), reach=dial(0.5, 0.0, 1.0), size=dial(3),
        form=dial("round", choices=["round", "square"]), tint=dial("#c9663d"), big=dial(False),
    ):
        ground = sheet.layer("ground")
        ground.rect(0, 0, 60, 20, fill="#dcd3c0")
        for index in range(count):
            own = chance("spot", index)
            x, y = own.between(0, 60), own.between(0, 40)
            sheet.circle(x, y, (9 if big else 3) * reach, fill=tint if form == "round" else "#1b2a41")
        chance("form").pick(["hawk", "owlet"], label="moth")
"""


@pytest.fixture
def shown(
    browser: Browser, watching: Callable[..., Watching], write_sketch: WriteSketch
) -> Iterator[tuple[Page, str, Path, Watching]]:
    sketch = write_sketch(PAGE, "turns.py")
    watched = watching("turns.py", "--seed", "7", "--page")
    address = watched.until("http://").split()[0]
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    faults: list[str] = []
    page.on("pageerror", lambda fault: faults.append(str(fault)))
    page.on("console", lambda message: faults.append(message.text) if message.type == "error" else None)
    page.on(
        "request", lambda request: None if request.url.startswith((address, "blob:", "data:")) else faults.append(request.url)
    )
    page.goto(address)
    yield page, address, sketch, watched
    assert [fault for fault in faults if "400" not in fault and "net::ERR" not in fault] == []
    page.close()


def test_the_page_turns_dials_leaves_out_layers_and_draws_anew(shown: tuple[Page, str, Path, Watching]) -> None:
    page, _, sketch, _ = shown
    command = page.locator("#command")
    picture = page.locator("#picture")

    def becomes(words: str) -> None:
        expect(command).to_have_text(f"mothseed proof turns.py --seed {words}")

    becomes("7")
    expect(page.locator("#outcomes dd")).to_have_text(["hawk"])
    expect(page.locator("#dials label small").first).to_have_text("<b>how</b> many")
    expect(page.locator("#strip img")).to_have_count(8)
    before = picture.get_attribute("src")
    page.locator("#dial-count").fill("12")
    becomes("7 --set count=12")
    expect(page.locator("#state")).to_contain_text("13 marks")
    assert picture.get_attribute("src") != before
    page.locator("#dial-reach").press("ArrowRight")
    page.locator("#dial-form").select_option("square")
    page.locator("#dial-big").check()
    page.get_by_label("size", exact=True).nth(1).fill("4")
    page.locator("#dial-tint").fill("teal")
    page.locator("#dial-tint").press("Enter")
    becomes("7 --set count=12 --set reach=0.505 --set form=square --set big=on --set size=4 --set tint=teal")
    page.click("#hold")
    expect(page.locator("#held")).to_be_visible()
    expect(page.locator("#held-command")).to_be_hidden()
    page.click("#reset")
    becomes("7")
    page.locator("#layers input").uncheck()
    becomes("7 --without ground")
    page.get_by_label("draw spot anew").click()
    becomes("7 --reseed spot=1 --without ground")
    page.get_by_label("draw spot anew").click()
    becomes("7 --reseed spot=2 --without ground")
    page.get_by_label("spot as before").click()
    page.locator("body").press("n")
    becomes("8 --without ground")
    page.click("#guides")
    becomes("8 --without ground --guides")
    page.locator("#strip button").nth(2).click()
    becomes("11 --without ground --guides")
    page.fill("#seed", "lamp")
    page.press("#seed", "Enter")
    becomes("lamp --without ground --guides")
    page.click("#next")
    becomes("lamp-2 --without ground --guides")
    page.click("#back")
    becomes("7 --set count=12 --set reach=0.505 --set form=square --set big=on --set size=4 --set tint=teal")
    page.fill("#seed", "a b")
    page.press("#seed", "Enter")
    expect(page.locator("#state")).to_contain_text("neither a whole number nor a word")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.click("#copy")
    expect(page.locator("#copy")).to_have_text("copied")
    assert "def turns" in sketch.read_text(), "the artist's file is as it was"
    assert sketch.read_text().count("dial(") == 6


def test_the_page_goes_back_to_what_was_drawn_before(shown: tuple[Page, str, Path, Watching]) -> None:
    page, address, sketch, _ = shown
    earlier = page.locator("#daybook button")
    expect(earlier).to_have_count(1)
    expect(earlier).to_have_text(["1: the first"])
    page.locator("#dial-count").fill("12")
    expect(earlier).to_have_text(["2: count 5 → 12", "1: the first"])
    earlier.nth(1).click()
    expect(page.locator("#state")).to_contain_text("6 marks")
    earlier.nth(0).click()
    expect(page.locator("#state")).to_contain_text("13 marks")
    sketch.write_text(sketch.read_text().replace("9 if big else 3", "9 if big else 4"))
    expect(earlier).to_have_text(["3: turns.py: 1 line changed", "2: count 5 → 12", "1: the first"])
    earlier.nth(2).click()
    expect(page.locator("#held-command")).to_have_text("mothseed daybook turns.py --take-back 1")
    expect(page.locator("#held-picture")).to_have_js_property("naturalWidth", 400)
    expect(page.locator("#back")).to_be_hidden()
    earlier.nth(2).click()
    expect(page.locator("#held")).to_be_hidden()
    for path in ("daybook/9.png", "daybook/x.png"):
        with pytest.raises(urllib.error.HTTPError, match="404"):
            urllib.request.urlopen(address + path)


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


def test_a_point_of_the_picture_is_explained_and_what_made_it_is_at_hand(shown: tuple[Page, str, Path, Watching]) -> None:
    page, _, sketch, _ = shown
    command, point, picture = page.locator("#command"), page.locator("#point"), page.locator("#picture")
    expect(command).to_contain_text("--seed 7")
    expect(picture).to_be_visible()
    expect(picture).to_have_js_property("complete", True)
    box = picture.bounding_box()
    assert box is not None
    own = Chance(7)("spot", 2)
    x, y = own.between(0, 60), own.between(0, 40)
    picture.click(position={"x": x / 60 * box["width"], "y": y / 40 * box["height"]})
    expect(point.locator("h2")).to_have_text(re.compile(rf"what lies at {x:.0f}\.|what lies at {int(x)}\."))
    expect(point.locator("code")).to_contain_text("sheet.circle(x, y")
    facts = [text.strip() for text in point.locator("dt, dd").all_inner_texts()]
    assert facts[::2] == ["there at all", "place", "size", "fill"]
    assert [fact.split(" (")[0] for fact in facts[1::2]] == [
        "dial count", "spot/2", "dial reach, dial big", "dial form, dial tint",
    ]  # fmt: skip
    expect(page.locator("#point-controls .dial")).to_have_count(5)
    page.locator("#point-reach").press("ArrowRight")
    expect(command).to_contain_text("--set reach=0.505")
    page.locator("#keep-name").fill("dawn")
    page.locator("#keep-name").press("Enter")
    expect(page.locator("#kept")).to_have_text("dawn is kept in turns.settings.toml")
    assert sketch.with_suffix(".settings.toml").read_text() == "[dawn]\nreach = 0.505\n"
    page.locator("#keep-name").fill("two words")
    page.locator("#keep button").click()
    expect(page.locator("#kept")).to_have_text('settings are kept by a word (got "two words")')
    page.locator("#point-controls").get_by_label("draw spot/2 anew").click()
    expect(command).to_contain_text("--reseed spot/2=1")
    page.keyboard.press("Escape")
    expect(point).to_be_hidden()


def test_the_page_keeps_the_last_good_picture_and_ends_with_the_program(shown: tuple[Page, str, Path, Watching]) -> None:
    page, address, sketch, watched = shown
    expect(page.locator("#state")).to_contain_text("6 marks")
    page.locator("#dial-count").fill("3")
    expect(page.locator("#state")).to_contain_text("4 marks")
    source = sketch.read_text()
    sketch.write_text(source.replace("fill=tint if", "fill=<i>tint if"))
    expect(page.locator("#problem")).to_be_visible()
    expect(page.locator("#where")).to_have_text("turns.py, line 14:")
    assert page.locator("#picture").evaluate("image => image.naturalWidth") == 1000
    sketch.write_text(source.replace("dial(5, 0, 50", "dial(5, 4, 50"))
    expect(page.locator("#problem")).to_be_hidden()
    expect(page.locator("#left-out")).to_contain_text("count=3 is left out: expected a whole number from 4 to 50, got 3")
    expect(page.locator("#state")).to_contain_text("6 marks")

    for wrong, headers, status in (
        (address.rstrip("/")[:-3] + "xxx/", {}, 404),
        (address, {"Host": "elsewhere.example"}, 400),
        (address + "pictures/9999.png", {}, 404),
        (address + "pictures/..%2f..%2fetc%2fpasswd", {}, 404),
    ):
        with pytest.raises(urllib.error.HTTPError) as refused:
            urllib.request.urlopen(urllib.request.Request(wrong, headers=headers))
        assert refused.value.code == status
        refused.value.close()
    assert watched.end() == 0
    expect(page.locator("#state")).to_contain_text("has ended")


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


GOOD_WISH = {"seed": 3, "dials": {"count": "4"}, "reseeds": {}, "without": [], "guides": False}


POSTED: list[tuple[str | bytes, dict[str, str], int]] = [
    (json.dumps(GOOD_WISH), {}, 204),
    (json.dumps(GOOD_WISH), {"Origin": "http://somewhere.example"}, 403),
    (json.dumps(GOOD_WISH), {"Origin": "null"}, 403),
    (json.dumps(GOOD_WISH), {"Host": "somewhere.example"}, 400),
    ("x" * 1_000_000, {}, 413),
    ("[" * 50_000, {}, 400),
    ("no JSON", {}, 400),
    (json.dumps({**GOOD_WISH, "seed": 10**60}), {}, 204),
    ('{"seed": ' + "9" * 5000 + "}", {}, 400),
    (json.dumps({**GOOD_WISH, "seed": "../../x"}), {}, 400),
    (json.dumps({**GOOD_WISH, "dials": {"tint": "\ud800"}}), {}, 204),
    (json.dumps({**GOOD_WISH, "dials": {"count": "1e999"}}), {}, 204),
    (json.dumps({**GOOD_WISH, "without": ["\ud800"]}), {}, 204),
    (b"\xff\xfe", {}, 400),
]


def test_whatever_is_posted_is_answered_and_the_watch_goes_on(
    watching: Callable[..., Watching], write_sketch: WriteSketch
) -> None:
    write_sketch(PAGE, "turns.py")
    watched = watching("turns.py", "--seed", "7", "--page")
    address = urlsplit(watched.until("http://").split()[0])
    watched.until("seed 7")

    def posted(content: str | bytes, more: dict[str, str], to: str = "wish") -> int:
        line = http.client.HTTPConnection(address.netloc, timeout=60)
        line.request("POST", f"{address.path}{to}", content, more)
        answer = line.getresponse().status
        line.close()
        return answer

    assert [posted(body, headers) for body, headers, _ in POSTED] == [status for _, _, status in POSTED]
    assert posted(json.dumps({**GOOD_WISH, "seed": 12}), {"Origin": f"http://{address.netloc}"}) == 204
    watched.until("seed 12")
    points = [({"across": 0.1, "down": 1}, 200), ({"across": 2, "down": 0.5}, 400), ({"across": "far"}, 400), ([], 400)]
    assert [posted(json.dumps(point), {}, "point") for point, _ in points] == [status for _, status in points]
    assert posted(json.dumps(points[0][0]), {"Origin": "http://elsewhere"}, "point") == 403
    names = [({"name": "dusk"}, 200), ({"name": "../dusk"}, 400), ({"name": 3}, 400), ({}, 400), ([], 400)]
    assert [posted(json.dumps(name), {}, "settings") for name, _ in names] == [status for _, status in names]
    assert posted(json.dumps(names[0][0]), {"Origin": "http://elsewhere"}, "settings") == 403
