"""The contents of a light table, for the commands that write or serve one."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from mothseed.cli.progress import Progress
from mothseed.cli.recipe import proof_command

if TYPE_CHECKING:
    from mothseed.report.lightbox import Arranged
    from mothseed.series import Edition

USUAL_WIDTH = 360
MOST_INSIDE = 300
"""Up to so many editions, pictures are embedded; more would make the page too large to open."""


def written_page(
    folder: Path,
    editions: Sequence[Edition],
    page: Path,
    width: int,
    there: Callable[[str], bool],
    keep: Callable[[str, bytes], None],
) -> bytes:
    """The light table as a file: all in one for few editions; for many, with pictures in a folder beside it, of which those
    not yet `there` are passed to `keep`.
    """
    from mothseed.report.lightbox import address_of
    from mothseed.report.small_pictures import pictures_beside, pictures_inside

    with Progress.shown("pictures") as progress:
        progress.start(len(editions))

        def counting(addresses: Iterable[str]) -> Iterable[str]:
            for address in addresses:
                progress.advance(1)
                yield address

        if len(editions) > MOST_INSIDE:
            small = pictures_beside(folder, editions, width, pictures_folder(page).name, there, keep)
        else:
            small = pictures_inside(folder, editions, width)
        addresses = [address_of(folder / edition.file, page) for edition in editions]
        page_text = light_table(folder, editions, addresses, list(counting(small)), arranged(editions), served=False)
    return page_text.encode("utf-8")


def light_table(
    folder: Path,
    editions: Sequence[Edition],
    addresses: Sequence[str],
    small: Sequence[str],
    laid_out: Arranged | None,
    *,
    served: bool,
) -> str:
    """The page of editions of a series, given the addresses of their pictures and small pictures, and how they are
    `arranged`.
    """
    from mothseed.report.lightbox import lightbox, row_of
    from mothseed.report.page import aspect_of

    rows = [row_of(edition, address, _again(folder, edition)) for edition, address in zip(editions, addresses, strict=True)]
    aspect = aspect_of(folder / editions[0].file)
    return lightbox(folder.resolve().name, rows, small, aspect, laid_out, served=served)


def pictures_folder(page: Path) -> Path:
    """The folder of the small pictures of a page."""
    return page.with_name(f"{page.stem}-pictures")


def _again(folder: Path, edition: Edition) -> str:
    """The command that remakes an edition from the series' own copy of its sketch."""
    from mothseed.layout import SOURCE_FOLDER

    return proof_command(folder / SOURCE_FOLDER / edition.sketch, edition)


def arranged(editions: Sequence[Edition]) -> Arranged | None:
    """How editions are arranged by likeness; None if there are too few, or an old ledger lacks their appearance."""
    from mothseed.measure.seen import APPEARANCE_BYTES
    from mothseed.report.lightbox import Arranged
    from mothseed.study.aspects import aspects_of
    from mothseed.study.laid_out import lay_out

    if len(editions) < _FEWEST or any(len(edition.appearance) != APPEARANCE_BYTES for edition in editions):
        return None
    found = lay_out(editions, aspects_of(editions))
    names: dict[int, str] = {}
    for number, group in enumerate(found.groups, 1):
        marks = [words.partition(" (")[0] for words in group.distinctions[:2]]
        names |= dict.fromkeys(group.members, " · ".join([str(number), *marks]))
    groups = [names.get(place, "") for place in range(len(editions))] if names else []
    ways = zip(("to the right", "upwards"), found.axes, strict=False)
    axes = [f"{way}: {', '.join(axis.words)}" for way, axis in ways if axis.words]
    return Arranged(found.points, groups, axes)


_FEWEST = 6
