"""The daybook: what was drawn is kept once, told as it was, and drawn again from what is kept."""

from __future__ import annotations

import json
import shlex
import shutil
import subprocess
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect

from mothseed.daybook import Daybook, Entry
from mothseed.daybook import book as keeping
from mothseed.daybook.since import changed_shapes, since, story
from mothseed.faults import FileError, SeriesError, UsageError
from mothseed.files import content_hash
from mothseed.making import make
from mothseed.sketch import Recipe, load_sketch
from mothseed.sketch.history import history_in_picture
from tests.conftest import INSTALLED, SPOTS, Run, WriteSketch, made_series, pixels_of

MODULE = "def dab(view, x, size):\n    view.circle(x, 20, size, fill='#345')\n"
DABS = """
    from motif import dab
    from mothseed import artwork, dial

    @artwork(width=60, height=40)
    def dabs(sheet, chance, *, count=dial(4, 0, 50), size=dial(3.5)):
        for index in range(count):
            dab(sheet, 6 + 12 * index, size)
"""


def kept(sketch: Path, seed: int | str = 1, **dials: float) -> Entry | None:
    """What comes of drawing a sketch and keeping it."""
    book = Daybook.of(sketch)
    assert book is not None
    return book.keep(make(load_sketch(sketch), Recipe(seed=seed, dials=dict(dials))))


def book_of(sketch: Path) -> Daybook:
    book = Daybook.of(sketch)
    assert book is not None
    return book


@pytest.fixture
def dabs(write_sketch: WriteSketch, tmp_path: Path) -> Path:
    (tmp_path / "motif.py").write_text(MODULE)
    return write_sketch(DABS, "dabs.py")


def edit(file: Path, before: str, after: str) -> None:
    text = file.read_text()
    assert text.count(before) == 1
    file.write_text(text.replace(before, after))


def test_what_is_drawn_is_kept_once_with_its_sources_and_a_small_picture(dabs: Path, tmp_path: Path) -> None:
    assert kept(dabs)
    assert kept(dabs) is None
    assert kept(dabs, size=5.0)
    edit(tmp_path / "motif.py", "#345", "#543")
    assert kept(dabs)
    book = book_of(dabs)
    entries = book.entries()
    assert [(entry.entry, entry.dials["size"], entry.marks) for entry in entries] == [(1, 3.5, 4), (2, 5.0, 4), (3, 3.5, 4)]
    assert kept(dabs, seed="lamp").entry == 4  # type: ignore[union-attr]  # it is new
    names = sorted(path.name for path in (book.folder / "sources").iterdir())
    assert len(names) == 3  # the sketch, and its module before and after
    assert all(content_hash((book.folder / "sources" / name).read_bytes()) == name.removesuffix(".py") for name in names)
    history = history_in_picture(book.picture(entries[1]))
    assert history is not None
    assert (history.dials, history.fingerprint) == (entries[1].dials, entries[1].fingerprint)
    assert pixels_of(book.picture(entries[1])).shape == (267, 400, 3)
    assert "dabs.py" in (book.folder / "README.txt").read_text()


def test_each_entry_is_drawn_again_from_what_is_kept(dabs: Path, tmp_path: Path, run: Run) -> None:
    kept(dabs, size=5.0)
    edit(tmp_path / "motif.py", "20, size", "size, size")
    kept(dabs, size=5.0)
    edit(dabs, "12 * index", "9 * index")
    kept(dabs, size=0.1 + 0.2)
    book = book_of(dabs)
    entries = book.entries()
    for entry, place in zip(entries, ("dabs-1/dabs.py", "dabs-2.py", "dabs-3.py"), strict=True):
        answer = run("daybook", "dabs.py", "--take-back", entry.entry)
        assert answer.out.splitlines()[0].split("  ")[0] == place
        command = shlex.split(answer.out.splitlines()[-1].partition(": ")[2])
        assert run(*command[1:], "-o", "again.png", "--no-daybook").status == 0
        history = history_in_picture(tmp_path / "again.png")
        assert history is not None
        assert history.fingerprint == entry.fingerprint
    assert len({entry.fingerprint for entry in entries}) == 3
    answer = run("daybook", "dabs.py", "--take-back", 2)
    assert (answer.status, "dabs-2.py already exists" in answer.err) == (2, True)
    elsewhere = json.loads(run("daybook", "dabs.py", "--take-back", 3, "-o", "old/mine.py", "--json").out)
    assert elsewhere["sketch"] == "old/mine/dabs.py"
    assert (tmp_path / "old" / "mine" / "motif.py").read_text() == (tmp_path / "motif.py").read_text()


def test_sources_from_above_the_sketch_are_laid_out_as_they_were(write_sketch: WriteSketch, tmp_path: Path, run: Run) -> None:
    sketch = write_sketch(
        """
        from mothseed import Palette, artwork

        @artwork(width=60, height=40)
        def tinted(sheet, chance):
            sheet.circle(30, 20, 9, fill=Palette.read("../tints/dusk.txt")[0])
        """,
        "sketches/tinted.py",
    )
    (tmp_path / "tints").mkdir()
    (tmp_path / "tints" / "dusk.txt").write_text("#304050\n")
    kept(sketch)
    (tmp_path / "tints" / "dusk.txt").write_text("#a04050\n")
    kept(sketch)
    assert run("daybook", sketch, "--take-back", 1).status == 0
    assert (tmp_path / "sketches" / "tinted-1" / "tints" / "dusk.txt").read_text() == "#304050\n"
    back = load_sketch(tmp_path / "sketches" / "tinted-1" / "sketches" / "tinted.py")
    assert make(back).history.fingerprint == book_of(sketch).entry(1).fingerprint


def test_what_was_set_edited_and_became_of_the_shapes_is_told_and_no_more(dabs: Path, tmp_path: Path) -> None:
    kept(dabs)
    kept(dabs, count=6)
    edit(tmp_path / "motif.py", "20, size", "25, size")
    kept(dabs, count=6)
    (tmp_path / "motif.py").write_text((tmp_path / "motif.py").read_text() + "# a remark\n# and another\n")
    kept(dabs, count=6)
    edit(dabs, "12 * index", "12.5 * index")
    kept(dabs, seed=2, size=4.0)
    book = book_of(dabs)
    entries = book.entries()
    assert [told.words for told in story(book, entries)] == [
        ["the first"],
        ["count 4 → 6"],
        ["motif.py: 1 line changed"],
        ["motif.py: 2 lines added", "draws the same"],
        ["seed 1 → 2", "count 6 → 4", "size 3.5 → 4", "dabs.py: 1 line changed"],
    ]
    assert since(book, entries[1], entries[2]).edits[0].lines == (
        ("@", "line 2"),
        ("-", "    view.circle(x, 20, size, fill='#345')"),
        ("+", "    view.circle(x, 25, size, fill='#345')"),
    )
    assert changed_shapes(book, entries[0], entries[1]) == ("4 shapes unchanged", "2 added: motif.py:2")
    assert changed_shapes(book, entries[1], entries[2]) == ("0 shapes unchanged", "6 moved: motif.py:2")
    assert changed_shapes(book, entries[2], entries[3]) == ("all shapes unchanged",)
    removed = "0 shapes unchanged", "2 removed: motif.py:2", "3 moved: motif.py:2", "4 resized: motif.py:2"
    assert changed_shapes(book, entries[3], entries[4]) == removed


def test_the_oldest_go_with_what_only_they_had(
    write_sketch: WriteSketch, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    monkeypatch.setattr(keeping, "MOST", 3)
    sketch = write_sketch()
    for count in range(6):
        if count == 2:
            edit(sketch, "opacity=0.7", "opacity=0.8")
        kept(sketch, count=count)
    book = book_of(sketch)
    entries = book.entries()
    assert [entry.entry for entry in entries] == [4, 5, 6]
    assert {path.stem for path in (book.folder / "pictures").iterdir()} == {entry.fingerprint for entry in entries}
    assert [path.stem for path in (book.folder / "sources").iterdir()] == [entries[0].sources["spots.py"]]
    with pytest.raises(UsageError, match="no entry 2"):
        book.entry(2)


@pytest.mark.parametrize(
    ("line", "counts"),
    [
        ({}, True),
        ({"outcomes": [], "renderer": 1, "of_a_later_version": 1}, True),  # drawn by another version
        ({"without": None}, False),
        ({"time": "yesterday"}, False),
        ({"entry": 0}, False),
        ({"entry": True}, False),
        ({"entry": None}, False),
        ({"time": 20261130}, False),
        ({"seed": True}, False),
        ({"marks": "many"}, False),
        ({"seed": 2}, False),
    ],
)
def test_what_is_there_is_known_by_its_sources_and_recipe(
    write_sketch: WriteSketch, line: dict[str, object], counts: bool
) -> None:
    sketch = write_sketch()
    kept(sketch)
    lines = book_of(sketch).folder / "entries.jsonl"
    entry = json.loads(lines.read_text())
    lines.write_text(json.dumps({**entry, **line}) + "\n[]\n")
    assert (kept(sketch) is None) == counts
    lines.write_text(json.dumps({name: value for name, value in entry.items() if name not in {"reseeds", "without"}}))
    assert kept(sketch) is None
    lines.write_text(json.dumps({name: value for name, value in entry.items() if name != "entry"}) + '\n{"entry": 1e9}\n')
    assert kept(sketch) is not None
    lines.write_text('{"entry": -7}\n{"entry": 1' + "0" * 30 + "}\n" + json.dumps({**entry, "entry": 5, "seed": 2}))
    assert kept(sketch).entry == 6  # type: ignore[union-attr]  # it is new


def test_a_line_that_is_torn_or_damaged_costs_that_entry_alone(write_sketch: WriteSketch, run: Run) -> None:
    sketch = write_sketch()
    for count in range(3):
        kept(sketch, count=count)
    lines = book_of(sketch).folder / "entries.jsonl"
    first, second, third = lines.read_bytes().splitlines()
    lines.write_bytes(first + b"\n" + second[:-30] + b"\n" + third[:100])
    assert [entry.entry for entry in book_of(sketch).entries()] == [1]
    assert kept(sketch, count=7).entry == 2  # type: ignore[union-attr]  # it is new
    answer = run("daybook", sketch)
    assert answer.status == 0
    assert [words in answer.err for words in ("entries.jsonl, line 2", "entries.jsonl, line 3")] == [True, True]
    assert "count 0 → 7" in answer.out


@pytest.mark.parametrize(
    "damage",
    [
        {"sources": {"spots.py": "../../elsewhere"}},
        {"sources": {"spots.py": "0" * 32, "/etc/hostname": "0" * 32}},
        {"sources": {"spots.py": "0" * 32, "a/../../../x": "0" * 32}},
        {"sources": {}},
        {"sketch": "../spots.py"},
        {"fingerprint": "../../private"},
        {"time": "once"},
        {"entry": 0},
        {"entry": "1"},
        {"seed": [1]},
        {"dials": 3},
    ],
)
def test_an_entry_that_is_none_is_passed_over(write_sketch: WriteSketch, damage: dict[str, object]) -> None:
    sketch = write_sketch()
    kept(sketch)
    lines = book_of(sketch).folder / "entries.jsonl"
    lines.write_text(json.dumps({**json.loads(lines.read_text()), **damage}) + "\n")
    damaged: list[str] = []
    assert book_of(sketch).entries(damaged) == []
    assert len(damaged) == 1


def test_nothing_outside_the_folder_is_read_or_written(write_sketch: WriteSketch, tmp_path: Path, run: Run) -> None:
    sketch = write_sketch()
    kept(sketch)
    book = book_of(sketch)
    entry = book.entries()[0]
    private = tmp_path / "private.png"
    private.write_bytes(book.picture(entry).read_bytes())
    book.picture(entry).unlink()
    book.picture(entry).symlink_to(private)
    assert book.readable_picture(entry) is None
    assert run("daybook", sketch, "-o", "sheet.png").status == 0
    assert "its picture is gone" in (book.folder / "index.html").read_text()
    shutil.rmtree(book.folder)
    (tmp_path / "elsewhere").mkdir()
    book.folder.symlink_to(tmp_path / "elsewhere")
    with pytest.raises(FileError, match="is a link"):
        kept(sketch)
    assert list((tmp_path / "elsewhere").iterdir()) == []


def test_a_source_that_is_gone_or_was_saved_meanwhile_is_told(write_sketch: WriteSketch, run: Run) -> None:
    sketch = write_sketch()
    made = make(load_sketch(sketch))
    edit(sketch, "opacity=0.7", "opacity=0.8")
    with pytest.raises(FileError, match=r"spots\.py changed while it was drawn"):
        book_of(sketch).keep(made)
    assert book_of(sketch).entries() == []
    kept(sketch)
    edit(sketch, "opacity=0.8", "opacity=0.9")
    kept(sketch)
    shutil.rmtree(book_of(sketch).folder / "sources")
    answer = run("daybook", sketch, "--take-back", 1)
    assert (answer.status, "no longer has the spots.py of entry 1" in answer.err) == (1, True)
    assert run("daybook", sketch, "--compare", 1, 2).status == 1
    assert "spots.py was changed" in run("daybook", sketch).out


def test_a_proof_is_made_whatever_becomes_of_the_daybook(write_sketch: WriteSketch, tmp_path: Path, run: Run) -> None:
    sketch = write_sketch()
    (tmp_path / "spots-daybook").write_text("a file in its place")
    answer = run("proof", sketch)
    assert (answer.status, (tmp_path / "spots-0001.png").is_file()) == (0, True)
    assert "not recorded in the daybook" in answer.err
    assert run("proof", sketch, "--no-daybook").err == ""
    (tmp_path / "spots-daybook").unlink()
    run("proof", sketch, "--no-daybook")
    assert not (tmp_path / "spots-daybook").exists()
    made_series(sketch, "1-2")
    copy = tmp_path / "s" / "source" / "spots.py"
    assert run("proof", copy).err == ""
    assert Daybook.of(copy) is None
    assert [path.name for path in copy.parent.iterdir()] == ["spots.py"]


def test_proofs_made_at_once_are_all_kept(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = write_sketch()

    def proof(seed: int) -> int:
        return subprocess.run([INSTALLED, "proof", sketch, "--seed", str(seed)], cwd=tmp_path, check=False).returncode

    with ThreadPoolExecutor(4) as pool:
        assert list(pool.map(proof, range(6))) == [0] * 6
    entries = book_of(sketch).entries()
    assert [entry.entry for entry in entries] == [1, 2, 3, 4, 5, 6]
    assert {entry.seed for entry in entries} == set(range(6))


def worked_on(write_sketch: WriteSketch, run: Run) -> Path:
    """A sketch with a morning's work behind it."""
    sketch = write_sketch()
    for arguments in ((), ("--set", "count=9"), ("--set", "count=9", "--reseed", "spot=3")):
        run("proof", sketch, *arguments)
    edit(sketch, "opacity=0.7", "opacity=0.3")
    run("proof", sketch, "--set", "count=9", "--set", "big=on", "--seed", "lamp")
    return sketch


def test_it_is_shown_as_rows_as_a_sheet_and_for_programs(write_sketch: WriteSketch, tmp_path: Path, run: Run) -> None:
    worked_on(write_sketch, run)
    answer = run("daybook", "spots.py", "-o", "sheet.png", "--shapes")
    rows = [line for line in answer.out.splitlines() if " 20" in line]
    for row, words in zip(rows, ("the first", "count 5 → 9; 4 added", "spot from seed 3; 9 moved"), strict=False):
        assert words in row
    assert all(words in rows[3] for words in ("seed 1 → lamp", "spot as it was", "big off → on", "spots.py: 1 line changed"))
    told = json.loads(run("daybook", "spots.py", "--last", 2, "--json").out)
    assert [each["entry"] for each in told["entries"]] == [3, 4]
    assert told["entries"][0]["changes"][0] == {"name": "stream spot", "first": None, "second": 3}
    assert told["entries"][1]["edits"][0]["file"] == "spots.py"
    assert [each["command"].split()[1] for each in told["entries"]] == ["daybook", "proof"]
    assert pixels_of(tmp_path / "sheet.png").std() > 10


def test_two_entries_are_held_against_each_other(write_sketch: WriteSketch, tmp_path: Path, run: Run) -> None:
    worked_on(write_sketch, run)
    answer = run("daybook", "spots.py", "--compare", 2, 4, "-o", "pair.png")
    assert answer.status == 0
    for words in ("spots.py: 1 line changed", "opacity=0.3)", "dial big: off -> on", "figure: pair.png"):
        assert words in answer.out
    assert pixels_of(tmp_path / "pair.png").std() > 10
    told = json.loads(run("daybook", "spots.py", "--compare", 1, 2, "--json").out)
    assert (told["shapes"]["added"]["count"], told["edits"]) == (4, [])


def test_a_sketch_that_ends_its_process_or_draws_otherwise_spoils_no_other_entry(write_sketch: WriteSketch, run: Run) -> None:
    sketch = write_sketch(SPOTS.replace("from mothseed", "import os\n    from mothseed"))
    kept(sketch)
    edit(sketch, "import os", "import os\nif os.environ.get('END'): os._exit(3)")
    kept(sketch)
    edit(sketch, "os._exit(3)", "pass")
    kept(sketch, count=7)
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("END", "yes")
        answer = run("daybook", sketch, "--shapes")
    assert answer.status == 0
    assert "the process that drew was ended" in answer.out


@pytest.mark.parametrize(
    ("arguments", "words", "status"),
    [
        (["gone.py"], "there is no sketch gone.py", 2),
        (["spots.png"], "there is no sketch spots.png", 2),
        (["spots.py"], "is empty", 1),
        (["spots.py", "--take-back", "1"], "has no entries", 1),
        (["spots.py", "--take-back", "0"], "whole number", 2),
        (["spots.py", "--compare", "1"], "2 arguments", 2),
        (["spots.py", "-o", "sheet.txt"], "not the name of a PNG file", 2),
    ],
)
def test_wrong_usage(write_sketch: WriteSketch, run: Run, arguments: Sequence[str], words: str, status: int) -> None:
    write_sketch()
    answer = run("daybook", *arguments)
    assert (answer.status, words in answer.err) == (status, True), answer.err


def test_an_entry_that_is_not_there_is_told_with_those_that_are(write_sketch: WriteSketch, run: Run) -> None:
    kept(write_sketch())
    answer = run("daybook", "spots.py", "--compare", 1, 9)
    assert (answer.status, "no entry 9" in answer.err, "it has 1 to 1" in answer.err) == (2, True, True)
    answer = run("daybook", "spots.py", "--take-back", 1, "-o", "spots.txt")
    assert (answer.status, "a sketch is a .py file: spots.py" in answer.err) == (2, True)
    with pytest.raises(SeriesError):
        Daybook(Path("x.py"), Path("x-daybook")).entry(1)


def test_the_page_shows_what_was_done_and_two_beside_each_other(
    write_sketch: WriteSketch, tmp_path: Path, run: Run, browser: Browser
) -> None:
    worked_on(write_sketch, run)
    run("daybook", "spots.py")
    page = browser.new_page(viewport={"width": 1000, "height": 700})
    faults: list[str] = []
    page.on("pageerror", lambda fault: faults.append(str(fault)))
    page.goto((tmp_path / "spots-daybook" / "index.html").as_uri())
    assert [article.get_attribute("data-entry") for article in page.locator("article").all()] == ["4", "3", "2", "1"]
    assert page.locator("#entry-4 .came-in").inner_text().endswith("opacity=0.3)")
    assert "--take-back 3" in page.locator("#entry-3 code").inner_text()
    assert "mothseed proof spots.py --seed lamp" in page.locator("#entry-4 code").inner_text()
    page.locator("#entry-4 .pick").press("Enter")
    page.locator("#entry-2 .pick").press("Enter")
    assert page.locator("#two-command").inner_text() == "mothseed daybook spots.py --compare 2 4"
    assert page.locator("#two img").evaluate_all("pictures => pictures.map(each => each.naturalWidth)") == [400, 400]
    page.keyboard.press("Escape")
    expect(page.locator("[aria-pressed=true]")).to_have_count(0)  # once the dialog says that it is closed
    assert faults == []
