from __future__ import annotations

import json
import sqlite3
import subprocess
import sys
from dataclasses import replace
from itertools import chain
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from mothseed.chance import Chance, Outcome, Promise
from mothseed.faults import SeriesError, UsageError
from mothseed.formats.picture_reading import read_history
from mothseed.layout import LEDGER_NAME
from mothseed.render import pixel_hash
from mothseed.series import Edition, Request, Summary, Variant, in_this_process, make_series, processes, series_editions
from mothseed.series.ledger import Ledger
from mothseed.series.rows import decisions_of, row_of
from mothseed.series.schema import MIGRATIONS
from mothseed.sketch import Recipe, load_sketch
from mothseed.sketch.seeds import edition_file, is_seed, parse_seeds
from tests.conftest import Run, WriteSketch, made_series, pixels_of
from tests.recipes import known_edition


@pytest.mark.parametrize(
    ("text", "seeds"),
    [
        ("1-4", [1, 2, 3, 4]),
        ("1-3,40,lamp", [1, 2, 3, 40, "lamp"]),
        (" 7 , 7 ,5-7", [7, 5, 6]),
        ("0,фонарь,_x-1", [0, "фонарь", "_x-1"]),
        ("007", [7]),
    ],
)
def test_seeds_are_read_in_order_each_once(text: str, seeds: list[int | str]) -> None:
    assert parse_seeds(text) == seeds


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", '"" is neither'),
        ("1,,2", '"" is neither'),
        ("5-1", '"5-1" runs backwards'),
        ("1-9999999999", "more than"),
        ("-3", '"-3" is neither'),
        ("1.5", '"1.5" is neither'),
        ("a b", '"a b" is neither'),
        ("../up", '"../up" is neither'),
        ("a\nb", "is neither"),
        ("x" * 65, "is neither"),
        ("²", "is neither"),
    ],
)
def test_what_is_no_seed_is_refused_quoting_it(text: str, words: str) -> None:
    with pytest.raises(UsageError) as caught:
        parse_seeds(text)
    assert words in caught.value.message


def test_pictures_are_named_by_their_seed() -> None:
    assert [edition_file(seed) for seed in (7, 12345, "lamp")] == ["0007.png", "12345.png", "lamp.png"]


PLAIN = st.one_of(st.integers(-(2**40), 2**40), st.text(max_size=8), st.booleans(), st.none(), st.floats(allow_nan=False))
PROMISES = st.lists(st.tuples(PLAIN, st.floats(0, 1)), max_size=3).map(Promise)
EDITIONS = st.builds(
    Edition,
    seed=st.one_of(st.integers(0, 2**40), st.from_regex(r"[a-zé_][\w-]{0,8}", fullmatch=True).filter(is_seed)),
    dials=st.dictionaries(st.text(max_size=6), PLAIN, max_size=3),
    reseeds=st.dictionaries(st.text(max_size=6), st.integers(0), max_size=2),
    width=st.integers(1, 20_000),
    renderer=st.integers(1, 99),
    sources=st.dictionaries(st.text(max_size=8), st.text("0123456789abcdef", max_size=8), max_size=3),
    milliseconds=st.floats(0, 1e6),
    fingerprint=st.text(max_size=8),
    pixel_hash=st.text(max_size=8),
    outcomes=st.lists(st.builds(Outcome, st.text(max_size=8), PLAIN, PROMISES), max_size=3).map(tuple),
    error=st.text(max_size=20),
)


@given(st.lists(EDITIONS, max_size=4, unique_by=lambda edition: str(edition.seed)))
def test_the_ledger_gives_back_what_it_was_given(tmp_path_factory: pytest.TempPathFactory, editions: list[Edition]) -> None:
    with Ledger(tmp_path_factory.mktemp("ledger")) as ledger:
        ledger.add(editions)
        ledger.add(editions)
        assert {edition.key: edition for edition in ledger.editions()} == {e.key: e for e in editions}


def test_editions_come_numbers_first_then_words(tmp_path: Path) -> None:
    with Ledger(tmp_path) as ledger:
        ledger.add(known_edition(seed, variant=v) for seed in (10, "b", 9, "a") for v in ("y", "x"))
        assert [edition.title for edition in ledger.editions()] == ["9 x", "9 y", "10 x", "10 y", "a x", "a y", "b x", "b y"]


def test_a_ledger_that_is_damaged_or_of_a_later_version_is_told(tmp_path: Path) -> None:
    (tmp_path / LEDGER_NAME).write_bytes(b"this is no ledger" * 100)
    with pytest.raises(SeriesError, match="is damaged"):
        Ledger(tmp_path)
    (tmp_path / LEDGER_NAME).unlink()
    connection = sqlite3.connect(tmp_path / LEDGER_NAME)
    connection.execute("PRAGMA user_version = 99")
    connection.close()
    with pytest.raises(SeriesError, match="a later version of Moth Seed"):
        Ledger(tmp_path)


def test_a_ledger_of_an_earlier_version_is_brought_up_to_date(tmp_path: Path) -> None:
    edition = known_edition(3, {"count": 2}, sources={"a.py": "f"}, file="0003.png", mark="keep")
    row = row_of(edition)
    connection = sqlite3.connect(tmp_path / LEDGER_NAME)
    for statement in MIGRATIONS[0]:
        connection.execute(statement)
    columns = [name for _, name, *_ in connection.execute("PRAGMA table_info(edition)")]
    values = [row[name] for name in columns]
    connection.execute(f"INSERT INTO edition ({', '.join(columns)}) VALUES ({', '.join('?' * len(columns))})", values)
    connection.execute("PRAGMA user_version = 1")
    connection.commit()
    connection.close()
    before = (tmp_path / LEDGER_NAME).read_bytes()
    with Ledger.reading(tmp_path) as ledger:
        assert ledger.editions() == [edition]
    assert (tmp_path / LEDGER_NAME).read_bytes() == before, "who only reads changes nothing"
    with Ledger.of(tmp_path) as ledger:
        assert ledger.editions() == [edition]
    with Ledger.reading(tmp_path) as ledger:
        assert ledger.editions() == [edition]


def test_decisions_that_had_a_row_each_are_written_down_once(tmp_path: Path) -> None:
    promise = Promise([("hawk", 0.5), ("owlet", 0.5)])
    editions = [
        known_edition(
            seed, variant=variant, outcomes=(Outcome("form", "hawk", promise), *others, Outcome("form", "hawk", promise))
        )
        for seed in (1, "lamp")
        for variant, others in (("few", ()), ("many", tuple(Outcome("size", number) for number in range(12))))
    ]
    connection = sqlite3.connect(tmp_path / LEDGER_NAME)
    for statement in chain.from_iterable(MIGRATIONS[:6]):
        connection.execute(statement)
    rows = []
    for edition in editions:
        row = row_of(edition)
        connection.execute(f"INSERT INTO edition ({', '.join(row)}) VALUES ({', '.join('?' * len(row))})", list(row.values()))
        rows += [(str(edition.seed), edition.variant, at, *each) for at, each in enumerate(decisions_of(edition))]
    connection.executemany("INSERT INTO outcome VALUES (?, ?, ?, ?, ?, ?)", rows)
    connection.execute("PRAGMA user_version = 6")
    connection.commit()
    connection.close()
    with Ledger.reading(tmp_path) as ledger:
        assert (ledger.editions(), ledger.labels()) == (editions, {"form", "size"})
        assert ledger.editions(keys=[("many", "lamp")]) == [editions[3]]
    with Ledger(tmp_path) as ledger:
        assert (ledger.editions(), ledger.labels()) == (editions, {"form", "size"})
        assert ledger.editions(keys=[("many", "lamp")]) == [editions[3]]
        ledger.add([replace(editions[0], outcomes=editions[1].outcomes)])
        assert ledger.editions()[0].outcomes == editions[1].outcomes
        ledger.add(editions)
    connection = sqlite3.connect(tmp_path / LEDGER_NAME)
    assert connection.execute("SELECT * FROM outcome ORDER BY seed, variant, position").fetchall() == sorted(rows)
    assert connection.execute("SELECT count(*) FROM decision").fetchone() == (13,), "each of them once"
    connection.close()


def test_a_second_run_into_the_same_folder_is_told(tmp_path: Path) -> None:
    with Ledger(tmp_path), pytest.raises(SeriesError, match="another run is making"):
        Ledger(tmp_path)
    with Ledger(tmp_path):
        pass


def test_a_ledger_can_be_read_by_several_and_where_nobody_may_write(write_sketch: WriteSketch, tmp_path: Path) -> None:
    folder = tmp_path / "odd ?#% folder"
    make(write_sketch(), folder, "1-3")
    before = (folder / LEDGER_NAME).stat().st_mtime_ns
    with Ledger.reading(folder) as one, Ledger.reading(folder) as other:
        assert one.editions() == other.editions()
        with pytest.raises(SeriesError, match="cannot be written"):
            one.mark([(("", 1), "keep", None)])
    assert (folder / LEDGER_NAME).stat().st_mtime_ns == before
    with pytest.raises(SeriesError, match="is not a series"):
        Ledger.reading(tmp_path)


def test_a_series_is_looked_through_while_it_is_made(write_sketch: WriteSketch, run: Run) -> None:
    folder = made_series(write_sketch(), "1-3")
    with Ledger(folder) as ledger:
        edition = ledger.editions()[0]
        for command in (["table", "s"], ["tally", "s"], ["contact", "s", "-o", "c.png"], ["lightbox", "s", "-o", "l.html"]):
            assert run(*command).status == 0, command
        ledger.add([replace(edition, seed=9, file="0009.png", error="it fails")])
        assert len(json.loads(run("table", "s", "--json").out)) == 4, "what was added since is there"
        marked = run("mark", "s", "1", "keep")
        assert (marked.status, "another run is making" in marked.err) == (1, True)
    assert run("mark", "s", "1", "keep").status == 0


def test_what_a_killed_run_left_in_the_journal_is_taken_back_before_reading(write_sketch: WriteSketch, tmp_path: Path) -> None:
    folder = tmp_path / "series"
    make(write_sketch(), folder, "1-3")
    # A writer that is killed inside of a transaction whose pages are on disk already leaves such a journal.
    program = """
import os, sqlite3, sys
connection = sqlite3.connect(sys.argv[1], isolation_level=None)
connection.execute("PRAGMA cache_size = 1")
connection.execute("BEGIN IMMEDIATE")
connection.execute("UPDATE edition SET note = hex(randomblob(20000))")
connection.execute("UPDATE edition SET seed = seed || '9'")
os.kill(os.getpid(), 9)
"""
    subprocess.run([sys.executable, "-c", program, str(folder / LEDGER_NAME)], check=False)
    assert (folder / f"{LEDGER_NAME}-journal").exists()
    assert [(edition.seed, edition.note) for edition in series_editions(folder)] == [(1, ""), (2, ""), (3, "")]


def request_for(sketch: Path, folder: Path, seeds: str = "1-4", **more: Any) -> Request:
    width = more.pop("width", 60)
    return Request.of(load_sketch(sketch), tuple(parse_seeds(seeds)), width, folder, variants=(Variant(recipe=Recipe(**more)),))


def make(sketch: Path, folder: Path, seeds: str = "1-4", **more: Any) -> Summary:
    request = request_for(sketch, folder, seeds, **more)
    return make_series(request, in_this_process(request.sketch))


def test_a_series_holds_pictures_a_ledger_and_its_source(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch()
    summary = make(sketch, tmp_path / "series", "1-3,lamp")
    assert (summary.made, summary.kept, summary.failed) == (4, 0, ())
    editions = series_editions(tmp_path / "series")
    assert [edition.file for edition in editions] == ["0001.png", "0002.png", "0003.png", "lamp.png"]
    for edition in editions:
        path = tmp_path / "series" / edition.file
        assert pixel_hash(pixels_of(path)) == edition.pixel_hash
        history = json.loads(read_history(path) or "")
        assert (history["seed"], history["fingerprint"]) == (edition.seed, edition.fingerprint)
        assert [o["value"] for o in history["outcomes"]] == [o.value for o in edition.outcomes]
    assert (tmp_path / "series" / "source" / "spots.py").read_bytes() == sketch.read_bytes()


def test_what_is_fresh_is_not_made_again(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch()
    make(sketch, tmp_path / "series")
    before = {path: path.stat().st_mtime_ns for path in (tmp_path / "series").glob("*.png")}
    assert make(sketch, tmp_path / "series", "1-5").made == 1
    assert {path: path.stat().st_mtime_ns for path in before} == before


@pytest.mark.parametrize("change", ["sketch", "module", "picture", "dial", "width", "reseed", "file"])
def test_what_has_become_stale_is_made_again(write_sketch: WriteSketch, tmp_path: Path, change: str) -> None:
    module = write_sketch("SIZE = 3\n", "sizes_of_spots.py")
    picture = tmp_path / "tint.png"
    Image.new("RGB", (4, 4), "#c9663d").save(picture)
    text = """
        from mothseed import Palette, artwork, dial
        from sizes_of_spots import SIZE
        @artwork(width=60, height=40)
        def picture(sheet, chance, *, count=dial(2, 0, 9)):
            tint = Palette.from_picture("tint.png")[0]
            for index in range(count):
                sheet.circle(chance("x", index).between(0, 60), 20, SIZE, fill=tint)
    """
    sketch, folder = write_sketch(text), tmp_path / "series"
    make(sketch, folder, "1-2")
    assert sorted(path.name for path in (folder / "source").iterdir()) == ["sizes_of_spots.py", "spots.py", "tint.png"]
    more: dict[str, Any] = {}
    match change:
        case "sketch":
            write_sketch(text.replace("20, SIZE", "21, SIZE"))
        case "module":
            module.write_text("SIZE = 4\n")
        case "picture":
            Image.new("RGB", (4, 4), "#1b2a41").save(picture)
        case "dial":
            more = {"dials": {"count": 3}}
        case "width":
            more = {"width": 61}
        case "reseed":
            more = {"reseeds": {"x": 5}}
        case "file":
            (folder / "0002.png").unlink()
    summary = make(sketch, folder, "1-2", **more)
    assert (summary.made, summary.kept) == ((1, 1) if change == "file" else (2, 0))
    assert make(sketch, folder, "1-2", **more).made == 0


FAILING = """
    from mothseed import artwork
    @artwork(width=60, height=40)
    def picture(sheet, chance):
        number = chance.whole(0, 3)
        sheet.circle(30, 20, 10 / number)
"""


def test_a_seed_that_fails_is_recorded_and_the_rest_go_on(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch(FAILING)
    summary = make(sketch, tmp_path / "series", "1-20")
    failed = [edition for edition in series_editions(tmp_path / "series") if edition.failed]
    assert summary.made + len(failed) == 20
    assert 0 < len(failed) == len(summary.failed) < 20
    assert failed[0].error == ("ZeroDivisionError: division by zero (spots.py, line 5: sheet.circle(30, 20, 10 / number))")
    assert not (tmp_path / "series" / edition_file(failed[0].seed)).exists()
    assert len(make(sketch, tmp_path / "series", "1-20").failed) == len(failed), "they are tried again"


def test_a_folder_that_holds_another_series_is_left_alone(write_sketch: WriteSketch, tmp_path: Path) -> None:
    make(write_sketch(), tmp_path / "series")
    other = write_sketch(name="other.py")
    with pytest.raises(SeriesError, match=r"holds a series of spots\.py, not of other\.py"):
        make(other, tmp_path / "series")


def test_any_number_of_workers_makes_the_same_editions(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch()
    for workers in (1, 2):
        make_series(request_for(sketch, tmp_path / str(workers), "1-9"), processes(workers))
    first, second = (series_editions(tmp_path / name) for name in ("1", "2"))
    assert [(e.seed, e.fingerprint, e.pixel_hash, e.outcomes) for e in first] == [
        (e.seed, e.fingerprint, e.pixel_hash, e.outcomes) for e in second
    ]
    assert all((tmp_path / "1" / e.file).read_bytes() == (tmp_path / "2" / e.file).read_bytes() for e in first)


@pytest.mark.endurance
def test_an_edition_whose_worker_is_killed_fails_alone(write_sketch: WriteSketch, tmp_path: Path) -> None:
    text = """
        import os, signal
        from mothseed import artwork
        @artwork(width=60, height=40)
        def picture(sheet, chance):
            if chance.whole(1, 12) == 5:
                os.kill(os.getpid(), signal.SIGKILL)
            sheet.circle(30, 20, 5)
    """
    summary = make_series(request_for(write_sketch(text), tmp_path / "series", "1-40"), processes(2))
    fatal = [seed for seed in range(1, 41) if Chance(seed).whole(1, 12) == 5]
    assert 0 < len(fatal) < 40
    assert sorted(edition.seed for edition in summary.failed) == fatal
    assert summary.failed[0].error.startswith("the process that made it was ended by the system")
    assert [e.seed for e in series_editions(tmp_path / "series") if e.failed] == fatal
    assert len(list((tmp_path / "series").glob("0*.png"))) == 40 - len(fatal)
