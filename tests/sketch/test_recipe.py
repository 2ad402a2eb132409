"""The recipe: changed by giving a new one, read from a command line and written as one."""

from __future__ import annotations

import argparse
import json
import shlex
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from mothseed import dial
from mothseed.cli.recipe import add_recipe, proof_command, recipe_of_texts
from mothseed.making import make, make_again
from mothseed.sketch import Recipe, load_sketch, perform
from mothseed.sketch.history import history_in_picture
from mothseed.sketch.recipe import AS_IT_IS
from tests.conftest import Run, WriteSketch
from tests.recipes import recipe

LAYERED = """
    from mothseed import artwork, dial

    @artwork(width=60, height=40, paper="#f4efe4")
    def plate(sheet, chance, *, count=dial(5, 0, 50), ink=dial("#22203a"), edge=dial("round", choices=["round", "cut"])):
        for index in range(count):
            own = chance("spot", index)
            sheet.circle(own.between(0, 60), own.between(0, 40), 3, fill=ink)
        sheet.layer("glow").circle(chance("lamp").between(0, 60), 20, 9, fill="orange", opacity=0.5)
        sheet.layer("ink").rect(2, 2, 6 if edge == "cut" else 3, 3)
"""

WORDS = st.from_regex(r"[a-z_][a-z0-9_-]{0,8}", fullmatch=True)
TEXTS = st.text(st.characters(exclude_categories=["C"]), max_size=12)
RECIPES = st.builds(
    Recipe,
    seed=st.integers(0, 10**6) | WORDS,
    dials=st.dictionaries(WORDS, TEXTS.map(lambda text: " ".join(text.split())), max_size=3),
    reseeds=st.dictionaries(WORDS, st.integers(0, 99) | WORDS, max_size=3),
    without=st.lists(WORDS, max_size=3, unique=True).map(lambda names: tuple(sorted(names))),
)


@given(RECIPES)
def test_a_command_line_gives_back_the_recipe_that_it_was_written_from(written: Recipe) -> None:
    parser = argparse.ArgumentParser()
    add_recipe(parser)
    words = shlex.split(proof_command(Path("moth.py"), written))
    assert words[:3] == ["mothseed", "proof", "moth.py"]
    assert recipe_of_texts(parser.parse_args(words[3:]), Path("moth.py")) == written


@given(RECIPES, RECIPES)
def test_what_is_changed_lies_on_top_and_the_recipe_stays_as_it_was(first: Recipe, second: Recipe) -> None:
    kept = json.dumps([first.seed, first.dials, first.reseeds, first.without])
    both = first.but(seed=second.seed, dials=second.dials, reseeds=second.reseeds, without=second.without)
    assert both.dials == {**first.dials, **second.dials}
    assert both.reseeds == {**first.reseeds, **second.reseeds}
    assert both.without == tuple(sorted({*first.without, *second.without}))
    assert json.dumps([first.seed, first.dials, first.reseeds, first.without]) == kept
    assert first.but() == Recipe(seed=first.seed, dials=first.dials, reseeds=first.reseeds, without=first.without)


def test_a_recipe_fits_a_sketch_that_has_lost_a_dial() -> None:
    fitted = recipe(7, count=3, gone=1, reseeds={"tint": 2}, without=["glow"]).fitting({"count": dial(5), "new": dial(1)})
    assert fitted == recipe(7, count=3, reseeds={"tint": 2}, without=["glow"])


def test_every_way_to_a_picture_follows_all_of_the_recipe(run: Run, write_sketch: WriteSketch) -> None:
    """One setting of each kind, given to every command that makes a picture, is in the history of what it makes."""
    write_sketch(LAYERED, "plate.py")
    given = ["--set", "count=9", "--reseed", "lamp=4", "--without", "glow"]
    assert run("proof", "plate.py", "--seed", "3", *given, "--width", "90px", "-o", "proof.png").status == 0
    assert run("edition", "plate.py", "--seeds", "3", *given, "--width", "90px", "-o", "s").status == 0
    proof, edition = (history_in_picture(Path(path)) for path in ("proof.png", "s/0003.png"))
    assert proof is not None
    assert edition is not None
    assert (proof.seed, proof.reseeds, proof.without) == (3, {"lamp": 4}, ("glow",))
    assert proof.dials == {"count": 9, "ink": "#22203a", "edge": "round"}
    assert (edition.fingerprint, edition.dials, edition.without) == (proof.fingerprint, proof.dials, proof.without)
    sweep = json.loads(run("sweep", "plate.py", "--vary", "seed=3", "--seed", "8", *given, "--json").out)
    assert [picture["fingerprint"] for picture in sweep["pictures"]] == [proof.fingerprint]
    assert run("verify", "s", "--jobs", "1").status == 0
    lines = run("compare", "proof.png", "s/0003.png", "-o", "same.png").out.splitlines()
    assert lines[0] == "made from the same sketch, seed and dials"
    found = json.loads(run("trace", "plate.py", "--seed", "3", *given, "--json").out)
    assert found["marks"] == 10
    influence = json.loads(run("influence", "plate.py", "--seeds", "3", "--jobs", "1", *given, "--json").out)
    assert {row["name"]: row["effect"] for row in influence["influences"]}["lamp"] == 0, "the layer that it moves is left out"
    seek = json.loads(run("seek", "plate.py", "--where", "marks = 10", "--start", "3", "--jobs", "1", *given, "--json").out)
    assert seek["seeds"] == [3]


def test_making_again_gives_the_same(write_sketch: WriteSketch) -> None:
    sketch = load_sketch(write_sketch(LAYERED, "plate.py"))
    made = make(sketch, recipe(5, count=7, reseeds={"lamp": 2}, without=["ink"]))
    again = make_again(sketch, made.history)
    assert again.history == made.history
    assert (again.pixels(80) == made.pixels(80)).all()
    assert made.without(("glow",)).impression.recipe.without == ("glow",)
    assert len(perform(sketch, AS_IT_IS).drawing) == 7


def test_layers_are_kept_in_one_order_whatever_the_line_says(run: Run, write_sketch: WriteSketch) -> None:
    write_sketch(LAYERED, "plate.py")
    histories: list[Any] = []
    for order in (["--without", "ink", "--without", "glow"], ["--without", "glow", "--without", "ink", "--without", "glow"]):
        assert run("proof", "plate.py", *order, "--width", "60px", "-o", "p.png").status == 0
        histories.append(history_in_picture(Path("p.png")))
    assert histories[0] == histories[1]
    assert histories[0].without == ("glow", "ink")
