"""mothseed variety: near-duplicates, outliers, groups, a map, the most varied."""

from __future__ import annotations

import argparse
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.cli import console, options
from mothseed.cli.parser import command
from mothseed.cli.progress import Progress
from mothseed.faults import SeriesError, UsageError
from mothseed.told import counted, listed

if TYPE_CHECKING:
    from mothseed.series import Edition
    from mothseed.study.variety import Variety

EXAMPLE = "mothseed variety moths --varied 12 -o twelve.png"

_FIELDS = (
    "number", "error", "file", "file_size", "file_time", "pixel_hash", "fingerprint",
    "dials", "outcomes", "measures", "palette", "appearance", "forms",
)  # fmt: skip
"""Fields that are needed; reading the others of very many editions would take much longer."""
_SHOWN = 8
_USUAL_LIKE = 11


def add_parser(commands: argparse._SubParsersAction[argparse.ArgumentParser]) -> None:
    """Add the command to the command line."""
    parser = command(
        commands,
        "variety",
        "Measure how varied a series is: how many distinct kinds of picture it holds, near-duplicates, the same "
        "drawing in different colours, outliers and what sets them apart, groups, and a map with pictures. Or "
        "choose the N most varied editions, or those most like one. Everything comes from the ledger.",
        EXAMPLE,
    )
    options.add_series(parser)
    options.add_where(parser)
    which = parser.add_mutually_exclusive_group()
    which.add_argument("--varied", type=options.positive_whole, metavar="N", help="choose the N editions that differ most")
    which.add_argument("--like", metavar="SEED", help="choose the editions most like this one")
    parser.add_argument("--count", type=options.positive_whole, default=_USUAL_LIKE, metavar="N",
                        help="with --like: how many (default 11)")  # fmt: skip
    parser.add_argument("-o", dest="output", type=Path, metavar="FILE",
                        help="output file: a map, or a contact sheet of your choice (default SERIES-variety.png)")  # fmt: skip
    options.add_theme(parser)
    options.add_common(parser)
    parser.set_defaults(run=run)


def run(arguments: argparse.Namespace) -> int:
    """Tell; returns the exit status, which is 0 whatever is found."""
    from mothseed.study.look_again import with_appearances

    folder: Path = arguments.series
    name = folder.resolve().name
    output = options.picture_path(arguments.output or Path(f"{name}-variety.png"))
    chosen = options.editions_of(folder, arguments.where, names=_FIELDS)
    with Progress.shown("pictures") as progress:
        progress.start(sum(not (edition.appearance or edition.failed) for edition in chosen))
        editions = with_appearances(folder, chosen, progress.advance)
    if not editions:
        raise SeriesError(f"{folder} has no such edition whose picture is known", hint="mothseed table shows what there is")
    if arguments.varied is not None:
        return _choose_varied(arguments, editions, output)
    if arguments.like is not None:
        return _choose_like(arguments, editions, output)
    return _tell(arguments, editions, name, output)


def _tell(arguments: argparse.Namespace, editions: Sequence[Edition], name: str, output: Path) -> int:
    from mothseed.files import write_bytes
    from mothseed.report.variety_map import variety_map
    from mothseed.series.pictures import readable
    from mothseed.study.variety import variety

    found = variety(editions)
    titles = [edition.title for edition in editions]
    shown, troubles = readable(arguments.series, editions)
    options.tell_left_out(troubles)
    there = {edition.key for edition in shown}
    figure = variety_map(found, editions, there, arguments.series, name, options.theme(arguments))
    drawn = figure is not None
    if figure is not None:
        write_bytes(output, figure)
    if arguments.json:
        console.say_json({**_as_plain(found, titles), "editions": len(editions), "map": str(output) if drawn else None})
        return 0
    _say(found, titles)
    if drawn:
        console.say(f"map: {output}")
    return 0


def _say(found: Variety, titles: Sequence[str]) -> None:
    from mothseed.study.distinctions import LEAST_SHARE

    total = len(titles)
    if total == 1:
        console.say("1 edition, and nothing to compare it with")
        return
    if found.no_two_alike:
        kinds = f"hardly two of a kind: more than {counted(round(found.score), 'kind')}, and too few to tell how many"
    else:
        kinds = f"as varied as {found.score:.1f} kinds that come up equally often" if found.score >= 1.05 else "all of one kind"
    console.say(f"{counted(total, 'edition')}, {kinds}")
    console.say(f"typical distance to the nearest neighbour {found.usual_distance:.3f}; 0.02 is barely noticeable")
    for twins in found.twins[:_SHOWN]:
        how = "the same drawing" if twins.same_drawing else f"{twins.distance:.3f} apart"
        console.say(f"near-duplicates: {listed([titles[index] for index in twins.members], _SHOWN)} ({how})")
    _say_more(len(found.twins), "near-duplicates")
    for family in found.recoloured[:_SHOWN]:
        sets = "; ".join(listed([titles[index] for index in looks], _SHOWN) for looks in family.colourings[:_SHOWN])
        many = len(family.colourings)
        more = "; ..." if many > _SHOWN else ""
        console.say(f"the same drawing in {many} colourings: {sets}{more} ({family.shared:.0%} of them)")
    _say_more(len(found.recoloured), "such drawings")
    if found.outliers:
        far = [f"{titles[outlier.index]} ({', '.join(outlier.aspects)})" for outlier in found.outliers]
        console.say(f"outliers: {listed(far, _SHOWN)}")
    for number, group in enumerate(found.groups, 1):
        words = "; ".join(group.distinctions) or "nothing that is known tells it from the rest"
        console.say(f"group {number}: {counted(len(group.members), 'edition')}, {words}")
        console.say(f"  most typical: {listed([titles[index] for index in group.members], _SHOWN)}")
    if not found.groups:
        console.say("no distinct groups")
    for way, axis in zip(("to the right", "upwards"), found.axes, strict=False):
        if axis.share < LEAST_SHARE:
            continue
        words = ", ".join(axis.words) or "no single measure"
        console.say(f"on the map, {way}: {words} ({axis.share:.0%} of the variation)")


def _say_more(count: int, what: str) -> None:
    if count > _SHOWN:
        console.say(f"... and {count - _SHOWN} more {what}")


def _choose_varied(arguments: argparse.Namespace, editions: Sequence[Edition], output: Path) -> int:
    from mothseed.study.choice import most_varied

    chosen = [editions[index] for index in most_varied(editions, arguments.varied)]
    return _say_chosen(arguments, chosen, output, {}, f"the {len(chosen)} most varied of {len(editions):,}")


def _choose_like(arguments: argparse.Namespace, editions: Sequence[Edition], output: Path) -> int:
    from mothseed.study.choice import most_like

    places = {edition.title: index for index, edition in reversed(list(enumerate(editions)))}
    places |= {str(edition.seed): index for index, edition in reversed(list(enumerate(editions)))}
    if arguments.like not in places:
        raise UsageError(f"{arguments.series} has no such edition {arguments.like}", hint="mothseed table shows what there is")
    own = places[arguments.like]
    near = most_like(editions, own, arguments.count)
    chosen = [editions[own], *(editions[index] for index, _ in near)]
    distances = {editions[index].title: distance for index, distance in near}
    return _say_chosen(arguments, chosen, output, distances, f"like {editions[own].title}")


def _say_chosen(
    arguments: argparse.Namespace, chosen: Sequence[Edition], output: Path, distances: dict[str, float], subtitle: str
) -> int:
    """Print which were chosen, and lay them out if a file was asked for."""
    from mothseed.report.contact import contact_sheet
    from mothseed.report.page import write_page
    from mothseed.report.series_sheet import frames_of

    if arguments.output:
        frames = frames_of(arguments.series, chosen)
        if not frames:
            raise SeriesError(f"the pictures of {arguments.series} are gone", hint="mothseed edition makes them again")
        sheet = contact_sheet(frames, arguments.series.resolve().name, subtitle, options.theme(arguments))
        write_page(sheet, output)
    if arguments.json:
        rows = [
            {"seed": edition.seed, "variant": edition.variant, "distance": distances.get(edition.title)} for edition in chosen
        ]
        console.say_json({"chosen": rows, "sheet": str(output) if arguments.output else None})
        return 0
    for edition in chosen:
        away = f"  {distances[edition.title]:.3f} away" if edition.title in distances else ""
        console.say(f"{edition.title}{away}")
    if not any(edition.variant for edition in chosen):
        seeds = ",".join(str(edition.seed) for edition in chosen)
        console.note(f"to keep them: mothseed mark {arguments.series} {seeds} keep")
    if arguments.output:
        console.say(f"sheet: {output}")
    return 0


def _as_plain(found: Variety, titles: Sequence[str]) -> dict[str, Any]:
    def named(indices: Sequence[int]) -> list[str]:
        return [titles[index] for index in indices]

    return {
        "score": found.score,
        "at_least": found.no_two_alike,
        "usual_distance": found.usual_distance,
        "twins": [
            {"editions": named(twins.members), "distance": twins.distance, "same_drawing": twins.same_drawing}
            for twins in found.twins
        ],
        "recoloured": [
            {"colourings": [named(looks) for looks in family.colourings], "shared_forms": family.shared}
            for family in found.recoloured
        ],
        "outliers": [
            {"edition": titles[outlier.index], "aspects": outlier.aspects, "distance": outlier.distance}
            for outlier in found.outliers
        ],
        "groups": [{"editions": named(group.members), "distinctions": group.distinctions} for group in found.groups],
        "axes": [{"share": axis.share, "words": axis.words} for axis in found.axes],
        "places": dict(zip(titles, found.places.tolist(), strict=True)),
    }
