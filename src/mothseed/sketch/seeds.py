"""Seeds as they are written: 1-24,40,lamp."""

from __future__ import annotations

import re

from mothseed.faults import FieldError

Seed = int | str

_MOST_SEEDS = 1_000_000
_LONGEST_WORD = 64
MOST_DIGITS = 200
"""Most digits of a seed, as it is part of the picture's file name."""
_PRINT = re.compile(r"[1-9][0-9]{0,8}/[1-9][0-9]{0,8}")
_RANGE = re.compile(r"(\d+)-(\d+)")


def parse_seeds(text: str) -> list[Seed]:
    """The seeds that a text such as "1-24,40,lamp" names, in order, each once.

    Raises FieldError, quoting the part that is wrong.
    """
    seeds: dict[Seed, None] = {}
    for part in (piece.strip() for piece in text.split(",")):
        if match := _RANGE.fullmatch(part):
            first, last = parse_seed(match[1]), parse_seed(match[2])
            assert isinstance(first, int)
            assert isinstance(last, int)
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
        if len(text.lstrip("0")) > MOST_DIGITS:
            raise FieldError("seed", f'"{text[:12]}..." has {len(text):,} digits', hint=f"{MOST_DIGITS} are the most")
        return int(text)
    if _is_word(text):
        return text
    several = "," in text or _RANGE.fullmatch(text)
    raise FieldError(
        "seed",
        f'"{text}" is {"several seeds, and one is needed" if several else "neither a whole number nor a word"}',
        hint="mothseed edition makes several"
        if several
        else "write numbers and words, and where several are wanted ranges: 1-24,40,lamp",
    )


def is_seed(value: object) -> bool:
    """Whether a value that was read is a seed: only then is it safe as part of a file's name."""
    if isinstance(value, int):
        return not isinstance(value, bool) and 0 <= value < 10**MOST_DIGITS
    return isinstance(value, str) and not value.isdecimal() and _is_word(value)


def is_number(value: str) -> bool:
    """Whether a text is the number of a print, such as 3/12."""
    return _PRINT.fullmatch(value) is not None


def _is_word(text: str) -> bool:
    return text.replace("-", "_").isidentifier() and text[0] != "-" and len(text) <= _LONGEST_WORD


def edition_file(seed: Seed, variant: str = "", number: str = "") -> str:
    """The file name of the picture of an edition: 0007.png, lamp.png, 0007.flat.png for one of several variants,
    03-of-12-0007.png for a numbered print.
    """
    name = f"{seed:04d}" if isinstance(seed, int) else seed
    if number:
        own, _, total = number.partition("/")
        name = f"{own.zfill(len(total))}-of-{total}-{name}"
    return f"{name}.{variant}.png" if variant else f"{name}.png"


def check_variant(name: str) -> str:
    """The name of a variant, which must be a word like those of seeds; raises FieldError otherwise."""
    if not isinstance(parse_seed(name), str):
        raise FieldError("variant", f'"{name}" is not a word', hint='write a name such as "flat"')
    return name
