"""Plans: a series described in a TOML file."""

from __future__ import annotations

import tomllib
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

from mothseed.faults import FieldError, ManyFaultsError, MissingFileError, UsageError
from mothseed.files import read_ordinary
from mothseed.render.rounding import DEPTHS, USUAL, Rounding
from mothseed.series.form import Form
from mothseed.series.job import Variant
from mothseed.series.other_forms import forms_named
from mothseed.sizes import OutputSize
from mothseed.sketch import Sketch, load_sketch
from mothseed.sketch.artwork import size_for
from mothseed.sketch.dials import Dial
from mothseed.sketch.named_dials import settings_of
from mothseed.sketch.perform import dial_values
from mothseed.sketch.recipe import AS_IT_IS, Recipe
from mothseed.sketch.seeds import Seed, check_variant, parse_seed, parse_seeds
from mothseed.told import quoted

_KEYS = (
    "sketch",
    "seeds",
    "folder",
    "width",
    "dpi",
    "format",
    "depth",
    "grey",
    "dither",
    "keep-text",
    "caption",
    "settings",
    "dials",
    "reseed",
    "without",
    "variant",
)
_VARIANT_KEYS = ("name", "settings", "dials", "reseed", "without")
_Kept = Callable[[str], dict[str, Any]]


@dataclass(frozen=True, slots=True)
class Plan:
    """A plan, checked."""

    sketch: Sketch
    seeds: tuple[Seed, ...]
    folder: Path
    size: OutputSize
    caption: str
    variants: tuple[Variant, ...]
    forms: tuple[Form, ...]


def read_plan(path: Path) -> Plan:
    """Read a plan; paths in it are relative to its file. Raises UsageError listing everything that is wrong, and where."""
    try:
        content = tomllib.loads(read_ordinary(path).decode())
    except FileNotFoundError:
        raise MissingFileError(f"there is no plan {path}") from None
    except (OSError, UnicodeDecodeError) as fault:
        raise MissingFileError(f"{path} cannot be read: {getattr(fault, 'strerror', None) or fault}") from None
    except (ValueError, RecursionError) as fault:
        raise UsageError(f"{path} is not TOML: {fault}", hint="docs/files.md shows a whole plan") from None
    reader = _Reader()
    plan = _plan(content, path, reader)
    if reader.faults or plan is None:
        raise ManyFaultsError(path, reader.faults, hint="docs/files.md shows a whole plan")
    return plan


class _Reader:
    """Takes values from a TOML table and collects what is wrong with them."""

    def __init__(self) -> None:
        self.faults: list[str] = []

    def unknown(self, table: dict[str, Any], keys: tuple[str, ...], place: str) -> None:
        """Report unknown keys, most of which are misspelt."""
        for key in table:
            if key not in keys:
                self.faults.append(f"{place}{key}: there is no such key; keys are {', '.join(keys)}")

    def value(
        self, table: dict[str, Any], key: str, kind: type | tuple[type, ...], words: str, default: Any, place: str = ""
    ) -> Any:
        """The value of a key, or the default if it is missing or of another type."""
        value = table.get(key, default)
        fits = isinstance(value, kind) and (kind is bool or not isinstance(value, bool))  # True is not a number
        if key in table and not fits:
            self.faults.append(f"{place}{key}: expected {words}, got {quoted(value)}")
            return default
        return value

    def tried(self, place: str, call: Callable[[], Any], default: Any) -> Any:
        """The result of a call, or the default if it finds something wrong."""
        try:
            return call()
        except FieldError as fault:
            self.faults.append(fault.told_as(place))
        except UsageError as fault:
            self.faults.append(f"{place}: {fault.message}")
        return default


def _plan(content: dict[str, Any], path: Path, reader: _Reader) -> Plan | None:
    reader.unknown(content, _KEYS, "")
    name = reader.value(content, "sketch", str, 'a path such as "specimen.py"', None)
    if "sketch" not in content:
        reader.faults.append('sketch: it is missing; write sketch = "specimen.py"')
    if "seeds" not in content:
        reader.faults.append('seeds: they are missing; write seeds = "1-24"')
    written = reader.value(content, "seeds", (str, int), 'seeds such as "1-24,lamp"', "1")
    seeds = reader.tried("seeds", lambda: parse_seeds(str(written)), [])
    folder = reader.value(content, "folder", str, "the name of a folder", f"{path.stem}-series")
    width = reader.value(content, "width", str, 'a length such as "2400px" or "180mm"', None)
    dpi = reader.value(content, "dpi", (int, float), "a number of pixels in an inch", None)
    if dpi is not None and not 0 < dpi <= 10_000:
        reader.faults.append(f"dpi: expected a number above 0, got {dpi}")
        dpi = None
    forms = _forms(content, reader)
    caption = reader.value(content, "caption", str, 'a text such as "{seed} {form}"', "")
    sketch = reader.tried("sketch", partial(load_sketch, path.parent / name), None) if name else None
    size = reader.tried("width", partial(size_for, sketch.artwork, width, dpi), None) if sketch else None
    dials = sketch.artwork.dials if sketch else None
    kept = partial(settings_of, path.parent / name) if name else None
    shared = _variant(content, "", reader, AS_IT_IS, dials, kept)
    variants = _variants(content, shared, reader, dials, kept)
    if sketch is None or size is None:
        return None
    return Plan(sketch, tuple(seeds), path.parent / folder, size, caption, variants, forms)


def _forms(content: dict[str, Any], reader: _Reader) -> tuple[Form, ...]:
    """The forms in which each edition is written besides a PNG."""
    written = reader.value(content, "format", (str, list), 'the name of a format, or several: ["svg", "pdf"]', "png")
    names = [written] if isinstance(written, str) else written
    if not all(isinstance(name, str) for name in names):
        reader.faults.append('format: expected names of formats, such as ["svg", "pdf"]')
        return ()
    depth = reader.value(content, "depth", int, "8 or 16", USUAL.bits)
    if depth not in DEPTHS:
        reader.faults.append(f"depth: expected 8 or 16, got {depth}")
        depth = USUAL.bits
    grey, dither, keep_text = (
        reader.value(content, key, bool, "true or false", False) for key in ("grey", "dither", "keep-text")
    )
    found: tuple[Form, ...] = reader.tried(
        "format", lambda: forms_named(names, Rounding(depth, grey, dither), keep_text=keep_text), ()
    )
    return found


def _variants(
    content: dict[str, Any], shared: Recipe, reader: _Reader, known: dict[str, Dial] | None, kept: _Kept | None
) -> tuple[Variant, ...]:
    tables = reader.value(content, "variant", list, "tables, each begun by [[variant]]", [])
    if not all(isinstance(table, dict) for table in tables):
        reader.faults.append("variant: expected tables, each begun by [[variant]]")
        return (Variant(recipe=shared),)
    variants: list[Variant] = []
    for number, table in enumerate(tables, 1):
        place = f"variant {number}."
        reader.unknown(table, _VARIANT_KEYS, place)
        name = reader.value(table, "name", str, 'a word such as "flat"', "", place)
        if "name" not in table:
            reader.faults.append(f'{place}name: it is missing; write name = "flat"')
        elif name:
            reader.tried(f"{place}name", partial(check_variant, name), "")
        if name in [variant.name for variant in variants]:
            reader.faults.append(f"{place}name: there are two variants of the name {name}")
        variants.append(Variant(name, _variant(table, place, reader, shared, known, kept)))
    return tuple(variants) or (Variant(recipe=shared),)


def _variant(
    table: dict[str, Any],
    place: str,
    reader: _Reader,
    shared: Recipe,
    known: dict[str, Dial] | None,
    kept: _Kept | None,
) -> Recipe:
    """Dials, streams and layers of a table, on top of those shared by all variants. `known` are the sketch's dials; `kept`
    returns dials that were kept under a name.
    """
    setting = reader.value(table, "settings", str, 'a name such as "dawn"', "", place)
    if setting and kept:
        values = reader.tried(f"{place}settings", partial(kept, setting), {})
        for dial, value in values.items() if known is not None else ():
            reader.tried(f"{place}settings {setting}.{dial}", partial(dial_values, known or {}, {dial: value}), {})
        shared = shared.but(dials=values)
    dials = reader.value(table, "dials", dict, "a table of dials", {}, place)
    for dial, value in dials.items() if known is not None else ():
        reader.tried(f"{place}dials.{dial}", partial(dial_values, known or {}, {dial: value}), {})
    streams = reader.value(table, "reseed", dict, "a table of streams and seeds", {}, place)
    reseeds = {
        stream: reader.tried(f"{place}reseed.{stream}", partial(parse_seed, str(seed)), 1) for stream, seed in streams.items()
    }
    layers = reader.value(table, "without", list, 'a list of layers such as ["glow"]', [], place)
    if not all(isinstance(layer, str) for layer in layers):
        reader.faults.append(f'{place}without: expected a list of layers such as ["glow"], got {layers}')
        layers = []
    return shared.but(dials=dials, reseeds=reseeds, without=layers)
