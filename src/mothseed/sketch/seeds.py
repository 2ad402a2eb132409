"""Seeds as they are written: 1-24,40,lamp."""

from __future__ import annotations

import re

from mothseed.faults import FieldError

Seed = int | str

_MOST_SEEDS = 1_000_000
_LONGEST_WORD = 64
_RANGE = re.compile(r"(\d+)-(\d+)")


def parse_seeds(text: str) -> list[Seed]:
    """The seeds that a text such as "1-24,40,lamp" names, in order, each once.

    Raises FieldError, quoting the part that is wrong.
    """
    seeds: dict[Seed, None] = {}
    for part in (piece.strip() for piece in text.split(",")):
        if match := _RANGE.fullmatch(part):
            first, last = int(match[1]), int(match[2])
            if last < first:
                raise FieldError("seeds", f'"{part}" runs backwards', hint=f"write {last}-{first}")
            if last - first >= _MOST_SEEDS:
                raise FieldError("seeds", f'"{part}" is more than {_MOST_SEEDS:,} seeds', hint="make several series")
            seeds.update(dict.fromkeys(range(first, last + 1)))
        else:
            seeds[parse_seed(part)] = None
    return list(seeds)


def parse_seed(text: str) -> Seed:
    """One seed: a whole number from 0 on, or a word of letters, digits, _ and - that begins with a letter or _.

    Raises FieldError for anything else.
    """
    if text.isdecimal() and text.isascii():
        return int(text)
    if text.replace("-", "_").isidentifier() and text[0] != "-" and len(text) <= _LONGEST_WORD:
        return text
    several = "," in text or _RANGE.fullmatch(text)
    raise FieldError(
        "seed",
        f'"{text}" is {"several seeds, and one is needed" if several else "neither a whole number nor a word"}',
        hint="mothseed edition makes several"
        if several
        else "write numbers and words, and where several are wanted ranges: 1-24,40,lamp",
    )


def edition_file(seed: Seed, variant: str = "", number: str = "") -> str:
    """The name of the picture of an edition: 0007.png, lamp.png, 0007.flat.png where it is one of several variants, and
    03-of-12-0007.png where it is a numbered print.
    """
    name = f"{seed:04d}" if isinstance(seed, int) else seed
    if number:
        own, _, total = number.partition("/")
        name = f"{own.zfill(len(total))}-of-{total}-{name}"
    return f"{name}.{variant}.png" if variant else f"{name}.png"


def check_variant(name: str) -> str:
    """The name of a variant if it is a word, as seeds may be; raises FieldError for any other."""
    if not isinstance(parse_seed(name), str):
        raise FieldError("variant", f'"{name}" is not a word', hint='write a name such as "flat"')
    return name
