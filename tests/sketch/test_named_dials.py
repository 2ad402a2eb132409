"""Dial values kept by a name: written, read, taken by every command, and refused in words."""

from __future__ import annotations

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from mothseed.faults import MothSeedError
from mothseed.formats.picture_reading import read_history
from mothseed.series import series_editions
from mothseed.sketch.named_dials import keep_settings, kept_settings, settings_of
from tests.conftest import Run, WriteSketch, pixels_of

VALUES = st.booleans() | st.integers(-(2**53), 2**53) | st.floats(allow_nan=False, allow_infinity=False) | st.text(max_size=12)


def dials_in(picture: str) -> dict[str, object]:
    dials: dict[str, object] = json.loads(read_history(Path(picture)) or "")["dials"]
    return dials


@given(
    st.dictionaries(st.from_regex(r"\A\w[\w-]{0,8}\Z"), st.dictionaries(st.from_regex(r"\A[a-z]\w{0,6}\Z"), VALUES, max_size=4))
)
def test_what_is_kept_is_read_as_it_was(
    tmp_path_factory: pytest.TempPathFactory, settings: dict[str, dict[str, object]]
) -> None:
    sketch = tmp_path_factory.mktemp("kept") / "wings.py"
    for name, dials in settings.items():
        keep_settings(sketch, name, dials)
    assert kept_settings(sketch) == settings
    for name, dials in settings.items():
        assert settings_of(sketch, name) == dials


def test_dials_are_kept_by_a_name_and_set_by_it(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    kept = run("proof", "spots.py", "--set", "count=3", "--set", "big=true", "--keep-settings", "dawn", "-o", "a.png")
    assert kept.status == 0
    assert "settings dawn kept in spots.settings.toml\n" in kept.out
    assert Path("spots.settings.toml").read_text() == "[dawn]\ncount = 3\nbig = true\n"
    assert run("proof", "spots.py", "--settings", "dawn", "-o", "b.png").status == 0
    assert (pixels_of("a.png") == pixels_of("b.png")).all()
    # What is set beside a name goes on top, and can be kept by another.
    run("proof", "spots.py", "--settings", "dawn", "--set", "count=7", "--keep-settings", "dusk", "-o", "c.png")
    assert dials_in("c.png") == {"count": 7, "big": True}
    assert json.loads(run("proof", "spots.py", "--settings", "dusk", "--json").out)["history"]["dials"] == {
        "count": 7,
        "big": True,
    }
    assert settings_of(Path("spots.py"), "dusk") == {"count": 7, "big": True}


def test_every_command_takes_them(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    Path("spots.settings.toml").write_text("[few]\ncount = 2\n")
    assert run("edition", "spots.py", "--seeds", "1-2", "--settings", "few", "-o", "few", "--jobs", "1").status == 0
    assert [edition.dials["count"] for edition in series_editions(Path("few"))] == [2, 2]
    assert "2 marks" in run("trace", "spots.py", "--settings", "few").out
    told = run("compare", "spots.py", "--settings", "few", "--but", "count=3", "--json", "-o", "f.png").out
    assert json.loads(told)["changes"][0] == {"name": "dial count", "first": 2, "second": 3}
    assert json.loads(told)["titles"][0] == "spots.py, seed 1, few"
    for line in (["check"], ["seek", "--seeds", "1-3", "--where", "tint=none"], ["replay", "-o", "r.gif"]):
        assert run(line[0], "spots.py", "--settings", "none", *line[1:]).status == 2


def test_a_plan_takes_them(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    Path("spots.settings.toml").write_text("[few]\ncount = 2\n[large]\nbig = true\ncount = 4\n")
    plan = 'sketch = "spots.py"\nseeds = "1"\nfolder = "p"\nwidth = "60px"\nsettings = "few"\n'
    variants = '[[variant]]\nname = "a"\n[[variant]]\nname = "b"\nsettings = "large"\ndials = { count = 6 }\n'
    Path("plan.toml").write_text(plan + variants)
    assert run("edition", "plan.toml", "--jobs", "1").status == 0
    dials = {edition.variant: (edition.dials["count"], edition.dials["big"]) for edition in series_editions(Path("p"))}
    assert dials == {"a": (2, False), "b": (6, True)}
    Path("plan.toml").write_text(plan.replace("few", "far"))
    assert 'settings: spots.py has no settings "far"; it has few, large' in run("edition", "plan.toml").err
    Path("plan.toml").write_text(plan)
    Path("spots.settings.toml").write_text('[few]\ncount = "two"\n')
    assert 'settings few.count: expected a whole number from 0 to 50, got "two"' in run("edition", "plan.toml").err


def test_what_else_is_in_the_file_stays(tmp_path: Path) -> None:
    sketch = tmp_path / "wings.py"
    file = tmp_path / "wings.settings.toml"
    file.write_text("# those for the wall\n[dawn] # pale\nspots = 2\n\n[dusk]\nspots = 3 # many\n")
    keep_settings(sketch, "dawn", {"spots": 4, "tint": 'a "b" ü'})
    text = file.read_text()
    assert text.startswith("# those for the wall\n[dawn]")
    assert text.endswith("[dusk]\nspots = 3 # many\n")
    assert kept_settings(sketch) == {"dawn": {"spots": 4, "tint": 'a "b" ü'}, "dusk": {"spots": 3}}


@pytest.mark.parametrize(
    ("content", "line", "message"),
    [
        (None, ["--settings", "dawn"], 'spots.py has no settings "dawn"; there is no'),
        ("[dawn]\ncount = 2\n", ["--settings", "dwan"], "did you mean dawn?"),
        ("[dawn]\ncolour = 2\n", ["--settings", "dawn"], "settings dawn: dial colour: the sketch has no dial colour"),
        ("[dawn]\ncount = 99\n", ["--settings", "dawn"], "settings dawn: dial count: expected a whole number from 0 to 50"),
        ("[dawn]\ncount = 2\n", ["--settings", "dawn", "--set", "count=99"], "mothseed: --set count: expected"),
        ("[dawn\n", ["--settings", "dawn"], "is not TOML"),
        ("dawn = 3\n", ["--settings", "dawn"], "dawn is not a table of dials"),
        ("[dawn]\ncount = [3]\n", ["--settings", "dawn"], "dawn.count is not a value for a dial"),
        ("[dawn\n", ["--keep-settings", "dusk"], "is not TOML"),
        (None, ["--keep-settings", "a b"], 'settings are kept by a word (got "a b")'),
        (None, ["--keep-settings", ""], "settings are kept by a word"),
    ],
)
def test_what_cannot_be_is_told_and_nothing_is_lost(
    run: Run, write_sketch: WriteSketch, content: str | None, line: list[str], message: str
) -> None:
    write_sketch()
    file = Path("spots.settings.toml")
    if content is not None:
        file.write_text(content)
    answer = run("proof", "spots.py", *line, "-o", "a.png")
    assert answer.status != 0
    assert message in answer.err
    assert (file.read_text() if file.exists() else None) == content


def test_settings_that_are_no_text_or_no_file_are_told(tmp_path: Path) -> None:
    sketch = tmp_path / "wings.py"
    file = tmp_path / "wings.settings.toml"
    file.write_bytes(b"\xff\xfe")
    with pytest.raises(MothSeedError, match="is not TOML"):
        kept_settings(sketch)
    file.unlink()
    file.mkdir()
    with pytest.raises(MothSeedError, match="cannot be read"):
        kept_settings(sketch)
