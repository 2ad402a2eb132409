"""Pictures that build up, and dials that are turned."""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageSequence

from mothseed.arrays import ByteArray
from mothseed.formats.animation import durations
from mothseed.render import rendered
from mothseed.sheet.growth import at_an_even_pace, layer_by_layer, mark_by_mark
from mothseed.sketch import load_sketch, perform
from tests.conftest import Run, WriteSketch
from tests.recipes import recipe

SKETCH = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="white")
    def plate(sheet, chance, *, count=dial(6, 1, 20)):
        below = sheet.layer("below")
        above = sheet.layer("above")
        sheet.rect(0, 0, 60, 4, fill="grey")
        for index in range(count):
            above.circle(5 + 10 * index, 20, 4, fill="red")
        below.rect(0, 15, 60, 10, fill="teal")
"""


def frames_of(path: str) -> list[ByteArray]:
    with Image.open(path) as image:
        return [np.asarray(frame.convert("RGB")) for frame in ImageSequence.Iterator(image)]


@pytest.mark.parametrize("count", [1, 3, 8, 100])
def test_a_drawing_builds_up_in_the_order_in_which_it_is_drawn(write_sketch: WriteSketch, count: int) -> None:
    drawing = perform(load_sketch(write_sketch(SKETCH, "plate.py")), recipe(1)).drawing
    steps = [drawing.part(stays) for stays in mark_by_mark(drawing, count)]
    assert len(steps) == min(count, 8)
    assert [len(step) for step in steps] == sorted({round(place * 8 / len(steps)) for place in range(1, len(steps) + 1)})
    for step in steps:
        assert sorted(step.order.tolist()) == list(range(len(step))), "what was drawn first is there first"
    assert np.array_equal(rendered(steps[-1], 90), rendered(drawing, 90))
    assert [stays.sum() for stays in mark_by_mark(drawing.without(["above", "below"]), 5)] == [1]


def test_at_an_even_pace_each_step_changes_about_as_much(write_sketch: WriteSketch) -> None:
    sketch = write_sketch("""
        from mothseed import artwork

        @artwork(width=60, height=60)
        def night(sheet, chance):
            sky = sheet.layer("stars")
            for star in range(400):
                sky.circle(*chance("star", star).point(sheet), 0.75)
            for square in range(10):
                sheet.rect(6 * square, 0, 30, 30)
    """, "night.py")  # fmt: skip
    drawing = perform(load_sketch(sketch), recipe(1)).drawing
    counts = [stays.sum() for stays in at_an_even_pace(drawing, 20)]
    assert counts[-1] == len(drawing) == 410
    assert counts == sorted(set(counts))
    halfway = counts[len(counts) // 2]
    # 400 stars of 1.5 by 1.5 are 600, ten squares of 30 by 30 are 300 or less, some hanging over: two thirds are for stars.
    assert 270 < halfway < 320
    assert len(list(at_an_even_pace(drawing.without(["stars"]), 50))) == 10
    empty = at_an_even_pace(replace(drawing, marks=drawing.marks[:0], order=drawing.order[:0]), 5)
    assert [stays.sum() for stays in empty] == [0]


def test_a_drawing_builds_up_layer_by_layer(write_sketch: WriteSketch) -> None:
    drawing = perform(load_sketch(write_sketch(SKETCH, "plate.py")), recipe(1)).drawing
    assert [stays.sum() for stays in layer_by_layer(drawing)] == [1, 2, 8]


@pytest.mark.parametrize("name", ["plate.gif", "plate.png", "plate.webp"])
def test_animations_are_written_in_every_kind(run: Run, write_sketch: WriteSketch, name: str) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("replay", "plate.py", "--frames", "4", "--width", "120px", "-o", name)
    assert answer.status == 0
    assert f"{name}  4 frames" in answer.out
    frames = frames_of(name)
    assert len(frames) == 4
    assert all(frame.shape == (80, 120, 3) for frame in frames)
    assert (frames[0][40] > 200).any()
    assert np.abs(frames[-1].astype(int) - frames[0]).max() > 60


GLOW = """
    from mothseed import artwork, dial, linear_ramp, radial_ramp

    @artwork(width=60, height=40, paper="#22203a")
    def plate(sheet, chance, *, turn=dial(40.0, 0.0, 360.0)):
        sheet.rect(0, 0, 60, 40, fill=linear_ramp((0, 0), (60, 40), [f"oklch(0.9 0.1 {turn})", f"oklch(0.4 0.15 {turn + 40})"]))
        for index in range(12):
            sheet.circle(5 + 4.5 * index, 20, 6, fill=radial_ramp((5 + 4.5 * index, 20), 6, ["gold", "#8b000080"]))
"""


def test_what_stays_the_same_does_not_flicker(run: Run, write_sketch: WriteSketch) -> None:
    drawing = perform(load_sketch(write_sketch(GLOW, "plate.py")), recipe(1)).drawing
    assert run("replay", "plate.py", "--frames", "13", "--width", "240px", "-o", "plate.gif").status == 0
    painted = [rendered(drawing.part(stays), 240) for stays in mark_by_mark(drawing, 13)]
    shown = frames_of("plate.gif")
    for before, after, was, became in zip(painted, painted[1:], shown, shown[1:], strict=False):
        stays = (before == after).all(axis=2)
        assert 0.5 < stays.mean() < 1
        assert (was == became)[stays].all()
    for picture, frame in zip(painted, shown, strict=True):
        assert np.abs(picture.astype(int) - frame).mean() < 3


def test_frames_of_too_many_colours_have_palettes_of_their_own(run: Run, write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch(GLOW, "plate.py"))
    assert run("replay", "plate.py", "--vary", "turn=0..360/19", "--width", "240px", "-o", "plate.gif").status == 0
    for number, frame in enumerate(frames_of("plate.gif")):
        picture = rendered(perform(sketch, recipe(1, turn=20.0 * number)).drawing, 240)
        assert np.sqrt(np.square(picture.astype(float) - frame).mean()) < 3


def test_where_there_is_no_paper_an_animation_is_clear(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH.replace('"white"', "None"), "plate.py")
    assert run("replay", "plate.py", "--frames", "3", "--width", "90px", "-o", "plate.gif").status == 0
    with Image.open("plate.gif") as image:
        clear = np.asarray(image.convert("RGBA"))[..., 3] == 0
    assert (clear[0, 0], clear[50, 5]) == (False, True)


@pytest.mark.parametrize(
    ("count", "seconds", "hold"), [(60, 5.0, 1.5), (60, 3.0, 1.5), (7, 1.0, 1.5), (3, 10.0, 0.0), (1, 2.0, 1.5)]
)
def test_an_animation_lasts_as_long_as_was_asked_for(count: int, seconds: float, hold: float) -> None:
    times = durations(count, seconds, hold)
    assert sum(times) == pytest.approx(1000 * seconds, abs=10)
    assert len(times) == count
    assert all(time % 10 == 0 for time in times)
    assert max(times[:-1], default=0) - min(times[:-1], default=0) <= 10
    assert times[-1] <= times[0] + 1000 * hold + 20
    assert min(durations(1000, 0.1, 0)) == 20, "what browsers show at least"


def test_a_dial_is_turned(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("replay", "plate.py", "--vary", "count=1..6/6", "--width", "90px", "--seconds", "3", "--json")
    assert json.loads(answer.out)["frames"] == 6
    red = [int(((frame[..., 0] > 180) & (frame[..., 1] < 90)).sum()) for frame in frames_of("plate-replay.gif")]
    assert red == sorted(red)
    assert red[-1] > 5 * red[0] > 0
    with Image.open("plate-replay.gif") as image:
        assert image.info["duration"] == 500


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["-o", "plate.mp4"], "is not an animation file"),
        (["--frames", "9999"], "1000 at most"),
        (["--vary", "size=1,2"], "there is nothing called size"),
        (["--width", "0px"], "is not a length"),
    ],
)
def test_what_cannot_be_replayed_is_told(run: Run, write_sketch: WriteSketch, words: list[str], message: str) -> None:
    write_sketch(SKETCH, "plate.py")
    answer = run("replay", "plate.py", *words)
    assert answer.status == 2
    assert message in answer.err
    assert not Path("plate-replay.gif").exists()


def test_what_has_no_layers_cannot_build_up_by_them(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch()
    answer = run("replay", "spots.py", "--by", "layer")
    assert answer.status == 2
    assert "the picture has no layers to build it up by" in answer.err
