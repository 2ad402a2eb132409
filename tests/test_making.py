"""From a sketch and a recipe to pixels and files: one way, whoever asks."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from mothseed.faults import FieldError, SketchError
from mothseed.formats import Effort, Settings, history_in
from mothseed.making import make, make_again
from mothseed.render import pixel_hash
from mothseed.sketch import Recipe, load_sketch
from mothseed.sketch.history import history_in_picture
from tests.conftest import WriteSketch, pixels_of

LAYERED = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def plate(sheet, chance, *, count=dial(5, 0, 50), ink=dial("#22203a")):
        for index in range(count):
            own = chance("spot", index)
            sheet.circle(own.between(0, 60), own.between(0, 40), 3, fill=ink)
        sheet.layer("glow").circle(chance("lamp").between(9, 51), 20, 9, fill="orange", opacity=0.5)
        sheet.note("spots", count)
"""
RECIPE = Recipe(seed="lamp", dials={"count": 9}, reseeds={"lamp": 4}, without=())


def test_a_file_has_the_pixels_and_the_history_of_what_was_made(write_sketch: WriteSketch, tmp_path: Path) -> None:
    made = make(load_sketch(write_sketch(LAYERED)), RECIPE)
    pixels = made.pixels(120)
    assert pixels.shape == (80, 120, 3)
    written = made.write(tmp_path / "plate.png", Settings(width=120))
    assert (written.width, written.height) == (120, 80)
    assert np.array_equal(pixels_of(tmp_path / "plate.png"), pixels)
    history = history_in_picture(tmp_path / "plate.png")
    assert history == made.history
    assert history is not None
    assert (history.seed, history.dials["count"], history.reseeds) == ("lamp", 9, {"lamp": 4})
    assert [(outcome.label, outcome.value) for outcome in history.outcomes] == [("spots", 9)]


def test_what_is_measured_as_it_is_written_is_the_same_picture(write_sketch: WriteSketch, tmp_path: Path) -> None:
    made = make(load_sketch(write_sketch(LAYERED)), RECIPE)
    digest, small = made.write_measured(tmp_path / "plate.png", 400, None, effort=Effort.USUAL)
    assert digest == pixel_hash(made.pixels(400))
    assert small.shape[1] == 192
    assert small.mean() == pytest.approx(made.pixels(400).mean() / 255, abs=2e-3)
    assert np.array_equal(pixels_of(tmp_path / "plate.png"), made.pixels(400))
    assert history_in(tmp_path / "plate.png") == made.history.as_json()


def test_a_history_makes_the_same_picture_again(write_sketch: WriteSketch, tmp_path: Path) -> None:
    sketch = load_sketch(write_sketch(LAYERED))
    made = make(sketch, RECIPE.but(without=["glow"]))
    made.write(tmp_path / "plate.png", Settings(width=90))
    history = history_in_picture(tmp_path / "plate.png")
    assert history is not None
    again = make_again(sketch, history)
    assert again.history.fingerprint == made.history.fingerprint
    assert np.array_equal(again.pixels(90), made.pixels(90))
    write_sketch(LAYERED.replace(', ink=dial("#22203a")', "").replace("fill=ink", 'fill="#22203a"'))
    without_the_dial = make_again(load_sketch(tmp_path / "spots.py"), history)
    assert np.array_equal(without_the_dial.pixels(90), made.pixels(90)), "a dial that is gone does not count"


def test_layers_are_left_out_before_or_after(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch(LAYERED))
    after = make(sketch, RECIPE).without(("glow",))
    before = make(sketch, RECIPE.but(without=["glow"]))
    assert np.array_equal(after.pixels(90), before.pixels(90))
    assert after.history.without == before.history.without == ("glow",)
    assert not np.array_equal(after.pixels(90), make(sketch, RECIPE).pixels(90))
    with pytest.raises(FieldError) as caught:
        make(sketch, RECIPE).without(("glwo",))
    assert "glow" in caught.value.message + caught.value.hint


def test_guides_are_laid_over_the_picture_and_not_into_the_drawing(write_sketch: WriteSketch) -> None:
    made = make(load_sketch(write_sketch(LAYERED)), RECIPE)
    plain, shown = made.pixels(300), made.pixels(300, guides=True)
    assert 0.01 < (plain != shown).any(axis=2).mean() < 0.9
    assert np.array_equal(made.pixels(300), plain)


def test_pixels_are_the_same_on_any_number_of_threads(write_sketch: WriteSketch) -> None:
    made = make(load_sketch(write_sketch(LAYERED)), RECIPE)
    assert all(np.array_equal(made.pixels(500, threads=count), made.pixels(500, threads=1)) for count in (2, 3, 7))


def test_what_a_sketch_does_not_take_is_refused_before_it_runs(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch(LAYERED))
    for dials in ({"cuont": 3}, {"count": 51}, {"count": "many"}, {"ink": "no colour"}):
        with pytest.raises((FieldError, SketchError)) as caught:
            make(sketch, Recipe(dials=dials))
        assert next(iter(dials)) in caught.value.message
