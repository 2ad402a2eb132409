"""Other forms of the pictures of a series, packs, and single pictures that are held against their sketch."""

from __future__ import annotations

import json
import os
import shutil
import zipfile
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image

from mothseed.files import content_hash, file_hash
from mothseed.formats.png_writing import encoded
from mothseed.formats.registry import history_in
from mothseed.layout import LEDGER_NAME, MANIFEST_NAME
from mothseed.records import RecordError
from mothseed.render.rounding import Rounding
from mothseed.series import series_editions
from mothseed.series.form import Form, check_files, form_of
from mothseed.series.ledger import Ledger
from mothseed.series.other_forms import forms_named
from mothseed.series.pack import manifest_of
from tests.conftest import SPOTS, Run, WriteSketch, pixels_of

MAKE = ("edition", "spots.py", "--seeds", "1-2,lamp", "--width", "90px", "--jobs", "1", "-o", "s")


def verified(run: Run, *more: str) -> list[tuple[str, str]]:
    answer = json.loads(run("verify", "s", "--json", *more).out)
    return [(finding["file"], finding["kind"]) for finding in answer["findings"]]


@pytest.fixture
def series(run: Run, write_sketch: WriteSketch) -> Path:
    write_sketch()
    answer = run(*MAKE, "--format", "svg", "--format", "pdf", "--format", "webp", "--format", "png", "--depth", "16")
    assert answer.status == 0, answer.err
    return Path("s")


def files(folder: Path) -> set[str]:
    return {path.relative_to(folder).as_posix() for path in folder.rglob("*.*") if path.is_file()}


FORMS = ("svg/{}.svg", "pdf/{}.pdf", "webp/{}.webp", "png16/{}.png")


def test_each_form_of_an_edition_has_its_history_and_its_pixels(run: Run, series: Path) -> None:
    for edition in series_editions(series):
        stem = edition.file.removesuffix(".png")
        assert set(edition.files) == {form.format(stem) for form in FORMS}
        for name, digest in edition.files.items():
            text = history_in(series / name)
            assert text is not None
            assert json.loads(text)["fingerprint"] == edition.fingerprint
            assert content_hash((series / name).read_bytes()) == digest
        assert (pixels_of(series / f"webp/{stem}.webp") == pixels_of(series / edition.file)).all()
        fine = pixels_of(series / f"png16/{stem}.png")
        assert np.abs(fine.astype(int) - pixels_of(series / edition.file)).max() <= 1
        assert (series / f"png16/{stem}.png").read_bytes()[24] == 16
    assert verified(run) == []


def test_what_there_is_stays_and_what_is_lacking_is_made(run: Run, series: Path) -> None:
    before = {name: (series / name).stat().st_mtime_ns for name in files(series) if name != "contact.png"}
    assert "3 there already" in run(*MAKE, "--format", "svg").out
    assert run(*MAKE, "--format", "tiff", "--dry-run").out.splitlines()[0] == "0001.png  it has no tiff yet"
    (series / "pdf/0001.pdf").unlink()
    (series / "svg/lamp.svg").write_text("<svg/>")
    assert verified(run) == [("pdf/0001.pdf", "missing"), ("svg/lamp.svg", "altered")]
    whole = (series / "lamp.png").read_bytes()
    (series / "lamp.png").write_bytes(whole[:99])
    assert {("lamp.png", "altered"), ("svg/lamp.svg", "altered")} <= {*verified(run)}, "a damaged picture hides no form"
    (series / "lamp.png").write_bytes(whole)
    assert run(*MAKE, "--dry-run").out.splitlines()[:2] == [
        "0001.png  pdf/0001.pdf is missing",
        "lamp.png  svg/lamp.svg was changed",
    ]
    assert "2 made, 1 there already" in run(*MAKE).out
    assert verified(run) == []
    assert before.keys() == files(series) - {"contact.png"}, "what is made again has all the forms that it had"
    assert before["webp/0002.webp"] == (series / "webp/0002.webp").stat().st_mtime_ns


def test_forms_with_their_size_and_time_are_not_read_again(run: Run, series: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    read: list[Path] = []

    def noted(path: Path) -> str | None:
        read.append(path)
        return file_hash(path)

    monkeypatch.setattr("mothseed.series.pictures.file_hash", noted)
    assert "3 there already" in run(*MAKE).out
    assert read == []
    os.utime(series / "svg/lamp.svg", ns=(9, 9))
    assert "3 there already" in run(*MAKE).out
    assert "3 there already" in run(*MAKE).out
    assert read == [series / "svg/lamp.svg"], "what was looked into is kept"


def test_a_changed_sketch_changes_every_form_and_a_foreign_one_is_found(
    run: Run, series: Path, write_sketch: WriteSketch
) -> None:
    before = series_editions(series)[0].files
    write_sketch(SPOTS.replace("9 if big else 3", "9 if big else 4"))
    assert run(*MAKE).status == 0
    after = series_editions(series)[0].files
    assert before.keys() == after.keys()
    assert not set(before.values()) & set(after.values())
    shutil.copy(series / "svg/0002.svg", series / "svg/0007.svg")
    assert verified(run) == [("svg/0007.svg", "unknown")]
    with Ledger(series) as ledger:
        edition = ledger.editions()[0]
        swapped = (series / "svg/0002.svg").read_bytes()
        (series / "svg/0001.svg").write_bytes(swapped)
        ledger.add([replace(edition, files={**edition.files, "svg/0001.svg": content_hash(swapped)})])
    (series / "svg/0007.svg").unlink()
    assert verified(run, "--files") == [("svg/0001.svg", "altered")]


def test_forms_are_known_again_from_the_pictures(run: Run, series: Path) -> None:
    known = {edition.key: edition.files for edition in series_editions(series)}
    (series / LEDGER_NAME).unlink()
    shutil.copy(series / "svg/0002.svg", series / "svg/0001.svg")
    assert run("recover", "s").status == 0
    found = {edition.key: edition.files for edition in series_editions(series)}
    del known["", 1]["svg/0001.svg"]  # it is a form of another edition
    assert found == known


def test_a_plan_and_prints_have_forms(run: Run, series: Path) -> None:
    Path("plan.toml").write_text(
        'sketch = "spots.py"\nseeds = 5\nwidth = "60px"\nformat = ["svg", "png"]\ngrey = true\ndither = true\n'
    )
    assert run("edition", "plan.toml", "--jobs", "1", "-o", "g").status == 0
    assert set(series_editions(Path("g"))[0].files) == {"svg/0005.svg", "png-grey-dither/0005.png"}
    with Image.open("g/png-grey-dither/0005.png") as image:
        assert image.mode == "L"
    assert run("edition", "s", "--where", "seed = 2", "--number", "--format", "pdf", "--jobs", "1", "-o", "p").status == 0
    assert {"1-of-1-0002.png", "pdf/1-of-1-0002.pdf"} < files(Path("p"))


@pytest.mark.parametrize(
    ("line", "message"),
    [
        ("format = 3", "format: expected the name of a format"),
        ('format = ["svg", 3]', "format: expected names of formats"),
        ('format = "bmp"', 'format: expected png, svg, pdf, webp, tif, tiff, jpg, jpeg, got "bmp"'),
        ("depth = 12", "depth: expected 8 or 16, got 12"),
        ('grey = "yes"', 'grey: expected true or false, got "yes"'),
        ('format = "svg"\ndepth = 16', "format: 16 bits, grey and dithering are for a PNG"),
        ("keep-text = true", "format: text is kept as text in an SVG"),
    ],
)
def test_forms_that_cannot_be_are_told(run: Run, write_sketch: WriteSketch, line: str, message: str) -> None:
    write_sketch()
    Path("plan.toml").write_text(f'sketch = "spots.py"\nseeds = 5\n{line}\n')
    answer = run("edition", "plan.toml")
    assert answer.status == 2
    assert message in answer.err


def test_on_the_command_line_a_form_is_named_by_its_option(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    assert "--format: expected png, svg" in run(*MAKE, "--format", "bmp").err
    assert run(*MAKE, "--format", "svg", "--grey").status == 2
    Path("plan.toml").write_text('sketch = "spots.py"\nseeds = 5\n')
    assert (
        "--format, --depth cannot be given beside a plan" in run("edition", "plan.toml", "--format", "svg", "--depth", "16").err
    )


@pytest.mark.parametrize(
    "form",
    [Form(".svg"), Form(".svg", keep_text=True), Form(".png", Rounding(16, True, True)), Form(".png", Rounding(dither=True))],
)
def test_a_form_is_known_by_its_folder(form: Form) -> None:
    assert form_of(form.file("0007.small.png")) == form
    assert form.file("0007.small.png") == f"{form.name}/0007.small{form.ending}"


@pytest.mark.parametrize(
    "name",
    [
        "../0001.svg",
        "svg/../0001.svg",
        "/svg/0001.svg",
        "svg/0002.svg",
        "svg/a/0001.svg",
        "SVG/0001.svg",
        "0001.svg",
        "source/.0001",
    ],
)
def test_a_ledger_cannot_lead_to_other_files(name: str) -> None:
    with pytest.raises(RecordError, match="is not a form of"):
        check_files({name: "x"}, "0001.png")
    assert form_of(name) is None or name == "svg/0002.svg"


def test_a_folder_of_forms_that_is_a_link_is_not_written_through(run: Run, series: Path, tmp_path: Path) -> None:
    outside = tmp_path / "outside"
    outside.mkdir()
    shutil.rmtree(series / "svg")
    (series / "svg").symlink_to(outside)
    answer = run(*MAKE)
    assert answer.status != 0
    assert "svg is a link" in answer.err + answer.out
    assert not list(outside.iterdir())
    assert ("svg/0001.svg", "missing") in verified(run, "--files")


def test_names_are_taken_once_and_in_any_case() -> None:
    assert forms_named(["SVG", ".svg", "png"]) == (Form(".svg"),)
    assert forms_named(["png"], Rounding(16)) == (Form(".png", Rounding(16)),)


def test_a_pack_is_the_whole_series_and_knows_what_was_changed(run: Run, series: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    assert run("pack", "s", "-o", "s.zip").status == 0
    first = Path("s.zip").read_bytes()
    run("pack", "s", "-o", "s.zip")
    assert Path("s.zip").read_bytes() == first, "one series gives one pack"
    with zipfile.ZipFile("s.zip") as archive:
        assert {name.removeprefix("s/") for name in archive.namelist()} == files(series) - {".ledger.lock"} | {
            "lightbox.html",
            MANIFEST_NAME,
        }
        archive.extractall("elsewhere")
    monkeypatch.chdir("elsewhere")
    manifest = json.loads(Path("s", MANIFEST_NAME).read_text())
    assert {"numpy", "numba"} <= manifest["made_with"]["packages"].keys()
    assert verified(run) == []
    assert "nothing was run" in run("verify", "s", "--files").out
    Path("s/source/spots.py").write_text("raise SystemExit('run')")
    Path("s/svg/0002.svg").unlink()
    found = verified(run, "--files")
    assert {("source/spots.py", "altered"), ("svg/0002.svg", "missing")} <= set(found)
    assert {kind for _, kind in verified(run)} == {"altered", "missing", "unverifiable"}


@pytest.mark.parametrize(
    "content",
    ["", "[]", '{"files": 3}', '{"files": {"../x": "y"}}', '{"files": {"/etc/passwd": "y"}}', '{"files": {"a": 3}}', "\xff"],
)
def test_a_manifest_that_is_none_is_told(content: str, tmp_path: Path) -> None:
    (tmp_path / MANIFEST_NAME).write_text(content, encoding="latin-1")
    with pytest.raises(RecordError):
        manifest_of(tmp_path)


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["nowhere"], "there is no series nowhere"),
        (["s", "-o", "s.rar"], "is not a .zip file"),
        (["s", "-o", "s/s.zip"], "lies in the series"),
    ],
)
def test_what_cannot_be_packed_is_told(run: Run, series: Path, words: list[str], message: str) -> None:
    answer = run("pack", *words)
    assert answer.status in (1, 2)
    assert message in answer.err


def test_a_picture_is_held_against_its_sketch(run: Run, series: Path, write_sketch: WriteSketch) -> None:
    def said(name: str, *more: Any) -> tuple[int, str]:
        answer = run("verify", f"s/{name}", "spots.py", *more)
        return answer.status, answer.out

    for name in ("0002.png", "webp/lamp.webp"):
        assert said(name) == (0, f"s/{name}  its drawing and its pixels are what spots.py gives\n")
    for name in ("svg/0002.svg", "pdf/0002.pdf", "png16/0002.png"):
        assert said(name) == (0, f"s/{name}  its drawing is what spots.py gives\n")
    with Image.open("s/0002.png") as image:
        text, pixels = image.info["mothseed"], np.asarray(image).copy()
    pixels[3, 4] ^= 1
    Path("s/0002.png").write_bytes(encoded(pixels, text))
    assert said("0002.png") == (1, "s/0002.png  its drawing is the same, its pixels are not: somebody has changed them\n")
    write_sketch(SPOTS.replace("9 if big else 3", "9 if big else 4"))
    status, out = said("0001.png", "--json")
    assert (status, json.loads(out)["findings"]) == (1, ["its drawing is not what comes now: spots.py was changed since"])


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["s/0001.png"], "which sketch is s/0001.png from?"),
        (["s/0001.png", "other.py"], "was made from spots.py, not from other.py"),
        (["s/contact.png", "spots.py"], "carries no history"),
        (["spots.py", "spots.py"], "is not a whole picture"),
        (["s", "spots.py"], "a series has a copy of its sketch"),
        (["s/0001.png", "spots.py", "--files"], "is a picture, not a series"),
        (["s", "--files", "--sample", "2"], "--files makes nothing again"),
    ],
)
def test_pictures_that_cannot_be_made_again_are_told(
    run: Run, series: Path, write_sketch: WriteSketch, words: list[str], message: str
) -> None:
    write_sketch(SPOTS, "other.py")
    answer = run("verify", *words)
    assert answer.status in (1, 2)
    assert message in answer.err
