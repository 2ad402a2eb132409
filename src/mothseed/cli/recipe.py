"""The recipe on a command line: read from options, and written as options."""

from __future__ import annotations

import argparse
import shlex
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from mothseed.sketch import Recipe, Sketch
    from mothseed.sketch.seeds import Seed


def add_recipe(parser: argparse.ArgumentParser, *, seed: bool = True, without: bool = True) -> None:
    """--seed, --settings, --set, --reseed and --without: how the picture is made."""
    if seed:
        parser.add_argument("--seed", default="1", metavar="SEED", help="a whole number or a word (default 1)")
    parser.add_argument(
        "--settings", metavar="NAME", help="use the dials saved under this name in SKETCH.settings.toml; --set overrides them"
    )
    parser.add_argument(
        "--set",
        action="append",
        default=[],
        type=_assignment,
        metavar="DIAL=VALUE",
        help="set a dial; repeatable",
    )
    parser.add_argument(
        "--reseed",
        action="append",
        default=[],
        type=_assignment,
        metavar="STREAM=SEED",
        help="draw one stream of chance from another seed and keep the rest",
    )
    if without:
        parser.add_argument("--without", action="append", default=[], metavar="LAYER", help="leave out a layer; repeatable")


def recipe_of(arguments: argparse.Namespace, sketch: Sketch) -> Recipe:
    """The recipe that the options give for a sketch; the seed is 1 if the command has several."""
    return parsed(recipe_of_texts(arguments, sketch.path), arguments, sketch)


def parsed(recipe: Recipe, arguments: argparse.Namespace, sketch: Sketch) -> Recipe:
    """The result of `recipe_of_texts` with dial values parsed."""
    from mothseed.faults import FieldError
    from mothseed.sketch.perform import parsed_dials

    try:
        return recipe.but(dials=parsed_dials(sketch.artwork.dials, recipe.dials))
    except FieldError as fault:
        if arguments.settings and fault.field.removeprefix("dial ") not in dict(arguments.set):
            raise FieldError(f"settings {arguments.settings}: {fault.field}", fault.fault, hint=fault.hint) from None
        raise


def recipe_of_texts(arguments: argparse.Namespace, sketch: Path) -> Recipe:
    """The same before the sketch is loaded: dials are texts as written."""
    from mothseed.faults import FieldError
    from mothseed.sketch import Recipe
    from mothseed.sketch.seeds import parse_seed

    seed = parse_seed(getattr(arguments, "seed", None) or "1")
    reseeds: dict[str, Seed] = {}
    for stream, text in arguments.reseed:
        try:
            reseeds[stream] = parse_seed(text)
        except FieldError as fault:
            raise FieldError(f"reseed {stream}", fault.fault, hint=fault.hint) from None
    dials = _texts_of_settings(sketch, arguments.settings) | dict(arguments.set)
    return Recipe(seed=seed).but(dials=dials, reseeds=reseeds, without=getattr(arguments, "without", ()))


def _texts_of_settings(sketch: Path, name: str | None) -> dict[str, str]:
    if not name:
        return {}
    from mothseed.sketch import Recipe
    from mothseed.sketch.named_dials import settings_of
    from mothseed.sketch.recipe import dial_texts

    return dial_texts(Recipe(dials=settings_of(sketch, name)))


def proof_command(sketch: Path, recipe: Recipe) -> str:
    """The command line that remakes one picture."""
    from mothseed.sketch.recipe import dial_texts

    words = ["mothseed", "proof", str(sketch), "--seed", str(recipe.seed)]
    for name, text in dial_texts(recipe).items():
        words += ["--set", f"{name}={text}"]
    for name, value in recipe.reseeds.items():
        words += ["--reseed", f"{name}={value}"]
    for name in recipe.without:
        words += ["--without", name]
    return shlex.join(words)


def take_back_command(sketch: Path, entry: int) -> str:
    """The command line that takes back an entry of a daybook."""
    return shlex.join(["mothseed", "daybook", str(sketch), "--take-back", str(entry)])


def _assignment(text: str) -> tuple[str, str]:
    name, equals, value = text.partition("=")
    if not (name.strip() and equals):
        raise argparse.ArgumentTypeError(f"write name=value (got {text!r})")
    return name.strip(), value
