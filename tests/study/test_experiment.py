"""An experiment: what it tries, and that it tells what a dial does, no more and no less."""

from __future__ import annotations

from pathlib import Path

import pytest

from mothseed.faults import SketchError, UsageError
from mothseed.series import in_this_process
from mothseed.series.crew import made
from mothseed.series.job import failed_edition, make_edition
from mothseed.sketch import Recipe, load_sketch
from mothseed.study.influence import DIAL, STREAM, Experiment, Influence, Knob, Trial
from tests.conftest import WriteSketch

BANDS = """
    from mothseed import artwork, dial

    @artwork(width=40, height=40, paper="white")
    def bands(sheet, chance, *, high=dial(10.0, 0, 40), idle=dial(3, 0, 9), gone=dial(False)):
        if gone and chance("luck").odds(1.0):
            raise ValueError("the lamp went out")
        sheet.rect(0, 0, 40, high, fill="black")
        sheet.rect(chance("place").between(0, 36), 36, 4, 4, fill="black")
"""


def judged(experiment: Experiment) -> dict[str, Influence]:
    """What came of it, by the names of its knobs."""
    crew = in_this_process(experiment.sketch)
    sketch = experiment.sketch
    done = made(experiment.jobs, crew, lambda job, words: failed_edition(sketch, job, words), lambda: False)
    return {influence.knob.name: influence for influence in experiment.judged([each for some in done for each in some])}


@pytest.fixture
def experiment(write_sketch: WriteSketch, tmp_path: Path) -> Experiment:
    folder = tmp_path / "tried"
    folder.mkdir()
    return Experiment.of(load_sketch(write_sketch(BANDS)), Recipe(), (1, "lamp"), folder, 40)


def test_every_dial_and_stream_is_tried_beside_the_sketch_as_it_is(experiment: Experiment) -> None:
    assert [(knob.kind, knob.name) for knob in experiment.knobs] == [
        (DIAL, "high"),
        (DIAL, "idle"),
        (DIAL, "gone"),
        (STREAM, "place"),
    ]
    settings = sum(len(knob.settings) for knob in experiment.knobs)
    assert len(experiment.jobs) == 2 * (1 + settings)
    assert [job.recipe.seed for job in experiment.jobs[:2]] == [1, "lamp"]
    assert experiment.jobs[0].recipe.dials == {}
    assert not make_edition(experiment.sketch, experiment.jobs[0]).measures, "a picture that is only shown is not measured"
    assert len({job.key for job in experiment.jobs}) == len(experiment.jobs)


def test_the_effect_is_as_large_as_what_was_planted(experiment: Experiment) -> None:
    found = judged(experiment)
    assert list(found) == ["high", "place", "idle", "gone"] or list(found)[:2] == ["high", "place"]
    high = found["high"]
    # Of 40 rows some turn from white to black, which are 1 apart in OKLab: the effect is their share.
    for trial, setting in zip(high.trials, high.knob.settings, strict=True):
        rows = abs(setting.changes["dials"]["high"] - 10.0)
        overlap = max(setting.changes["dials"]["high"] - 36, 0)
        assert trial.difference == pytest.approx((rows - overlap * 0.1) / 40, abs=4e-3)
        assert trial.noticeable == pytest.approx(rows / 40, abs=4e-3)
    assert high.effect == pytest.approx(sum(trial.difference for trial in high.trials) / len(high.trials))
    assert found["idle"].effect == 0
    assert found["idle"].noticeable == 0
    assert 0 < found["place"].effect <= 2 * 16 / 1600


def test_a_setting_that_fails_is_told_and_does_not_count(experiment: Experiment) -> None:
    gone = judged(experiment)["gone"]
    assert [trial.failed.split(" (")[0] for trial in gone.trials] == ["ValueError: the lamp went out"]
    assert gone.effect == 0
    mixed = Influence(Knob(DIAL, "x", ()), (Trial("a", 0.5, 0.25), Trial("b", failed="no")))
    assert (mixed.effect, mixed.noticeable) == (0.5, 0.25)


def test_what_is_set_already_is_what_is_tried_around(write_sketch: WriteSketch, tmp_path: Path) -> None:
    base = Recipe(dials={"high": 20.0}, reseeds={"place": 7})
    experiment = Experiment.of(load_sketch(write_sketch(BANDS)), base, (3,), tmp_path, 40)
    tried = [job.recipe for job in experiment.jobs]
    assert tried[0] == base.with_seed(3)
    assert [recipe.dials["high"] for recipe in tried[1:5]] == pytest.approx([10, 16, 24, 30])
    assert all(recipe.reseeds["place"] == 7 for recipe in tried[:-4])
    assert [recipe.reseeds["place"] for recipe in tried[-4:]] == [1, 2, 3, 4]


def test_a_sketch_with_nothing_to_turn_is_told(write_sketch: WriteSketch, tmp_path: Path) -> None:
    text = """
        from mothseed import artwork

        @artwork(width=40, height=40)
        def still(sheet, chance):
            sheet.circle(20, 20, 9)
    """
    with pytest.raises(UsageError, match="has nothing to turn"):
        Experiment.of(load_sketch(write_sketch(text)), Recipe(), (1,), tmp_path, 40)
    with pytest.raises(SketchError, match="the lamp went out"):
        Experiment.of(load_sketch(write_sketch(BANDS)), Recipe(dials={"gone": True}), (1,), tmp_path, 40)
