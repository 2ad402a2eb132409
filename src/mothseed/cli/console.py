"""What the commands say: results on standard output, all else on standard error."""

from __future__ import annotations

import contextlib
import sys

TYPE_CHECKING = False  # what help imports is kept to nothing
if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence
    from pathlib import Path
    from typing import Any, TextIO

    from rich.console import Console
    from rich.table import Table

    from mothseed.faults import MothSeedError
    from mothseed.native.compiling import CompilingProgress
    from mothseed.render.waiting import PaintingProgress
    from mothseed.sketch import Recipe

_WIDEST = 100_000
"""Characters of a line of a table in a file, at most."""
_WRAPPED = 500
"""Rows of a table up to which what is too wide for its column goes on below."""
_RED, _YELLOW = "1;31", "33"
"""Colours of a terminal (ECMA-48, select graphic rendition)."""
_COLOUR_OF = {"keep": "green", "maybe": "yellow", "drop": "red", "failed": "red"}
"""Of what stands in a column of marks, or of how an edition came out."""
_COLOURED = {"mark", "status"}
_SWATCH_WIDTH = 36
"""Characters of the widest block of colour."""


class ReaderLeftError(Exception):
    """Whoever reads the results has seen enough, and closed the pipe."""


class _Out:
    """Within, something goes to standard output: it is told apart whether its reader left or it cannot be written."""

    def __enter__(self) -> None:
        pass

    def __exit__(self, kind: type[BaseException] | None, fault: BaseException | None, trace: object) -> None:
        if isinstance(fault, BrokenPipeError):
            raise ReaderLeftError from None
        if isinstance(fault, OSError):
            from mothseed.faults import FileError

            raise FileError(f"the results cannot be written: {fault.strerror or fault}", hint="look where they go") from None


_OUT = _Out()


def say(text: str) -> None:
    """A line of result."""
    from mothseed.told import visible

    with _OUT:
        print(visible(text), flush=True)


def say_finding(where: str, kind: str, words: str) -> None:
    """A line about something that was found: where, of which kind, in words."""
    from mothseed.told import visible

    with _OUT:
        print(f"{visible(where)}{_in_colour(visible(kind), _YELLOW, sys.stdout)}: {visible(words)}", flush=True)


def _in_colour(text: str, code: str, stream: TextIO | None) -> str:
    """A text in a colour where a terminal shows it and nobody has asked for none (no-color.org)."""
    import os

    plain = stream is None or not stream.isatty() or os.environ.get("NO_COLOR") or os.environ.get("TERM") == "dumb"
    return text if plain else f"\x1b[{code}m{text}\x1b[0m"


def say_json(value: Any) -> None:
    """A result for programs."""
    import json

    with _OUT:
        print(_for_reader(json.dumps(value, ensure_ascii=False, indent=2)), flush=True)


def say_json_line(value: Any) -> None:
    """One of several results for programs, on a line of its own."""
    import json

    with _OUT:
        print(_for_reader(json.dumps(value, ensure_ascii=False)), flush=True)


def _for_reader(text: str) -> str:
    """A text for programs: as it is, but what no encoding has, and on a terminal what that would do something at."""
    from mothseed.told import visible, writable

    return visible(text) if sys.stdout is not None and sys.stdout.isatty() else writable(text)


def note(text: str, sign: str = "") -> None:
    """A line about what is going on, behind a sign if it has one; where nobody can be told, it is not."""
    from mothseed.told import visible

    with contextlib.suppress(OSError, ValueError):
        print(f"{sign}{visible(text)}", file=sys.stderr, flush=True)


def tell_fault(fault: MothSeedError, circumstances: str = "", again: str = "") -> None:
    """What happened, where in the sketch, under which circumstances, and what to do."""
    lines = [fault.message]
    if fault.place:
        lines += [f"  in {_from_here(fault.place.file)}, line {fault.place.line}:", f"      {fault.place.text}"]
    if circumstances:
        lines.append(f"  with {circumstances}")
    if fault.hint:
        lines.append(f"  {fault.hint}")
    if again:
        lines.append(f"  to see it again: {again}")
    with contextlib.suppress(ValueError):  # a terminal that is closed, of which nobody can ask whether it is one
        note("\n".join(lines), sign=_in_colour("mothseed:", _RED, sys.stderr) + " ")


def _from_here(file: Path) -> Path:
    """A file as it is called from the folder that the program is in, where it lies below that."""
    with contextlib.suppress(ValueError, OSError):
        return file.relative_to(file.cwd())
    return file


def tell_own_mistake(fault: Exception) -> None:
    """A fault that nobody foresaw: that the artist is not to blame, and what helps to mend it."""
    import traceback
    from pathlib import Path

    where = traceback.extract_tb(fault.__traceback__)[-1]
    note(
        f"mothseed: this is a bug in Moth Seed, not in your sketch: {type(fault).__name__}: {fault}\n"
        f"  in {Path(where.filename).name}, line {where.lineno}; files that were finished are whole\n"
        "  run it again with --debug, and send what it says to the developers"
    )


def circumstances_of(recipe: Recipe) -> str:
    """The seed and the dials in words."""
    from mothseed.told import told

    return ", ".join([f"seed {recipe.seed}", *(f"{name}={told(value)}" for name, value in recipe.dials.items())])


def say_swatches(rows: Sequence[tuple[str, float]]) -> None:
    """Colours with their shares, as blocks of colour where the terminal has colours."""
    from rich.style import Style
    from rich.text import Text

    console = _console()
    widest = max(share for _, share in rows)
    for css, share in rows:
        line = Text()
        if console.color_system in ("truecolor", "256"):  # sixteen colours would show others than those that are meant
            length = max(round(_SWATCH_WIDTH * share / widest), 2)
            line.append(" " * length, Style(bgcolor=css[:7]))
            line.append(" " * (_SWATCH_WIDTH - length + 2))
        line.append(f"{css}  {share:6.1%}")
        with _OUT:
            console.print(line, soft_wrap=True)


def say_csv(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> None:
    """Rows as CSV (RFC 4180); nothing is empty."""
    import csv

    with _OUT:
        writer = csv.writer(sys.stdout)
        writer.writerow([_for_reader(name) for name in columns])
        for row in rows:
            writer.writerow([_for_reader(value) if isinstance(value, str) else "" if value is None else value for value in row])
        sys.stdout.flush()


def say_overview(text: str, *, asked: bool) -> None:
    """What the program can do: a result where it was asked for, else a word about what is missing."""
    with _OUT:
        print(text, file=sys.stdout if asked else sys.stderr, flush=True)


def say_table(columns: Sequence[str], rows: Sequence[Sequence[object]], *, hiding: bool = False) -> list[str]:
    """Rows under their columns; numbers to the right.

    Where a terminal is too narrow and columns may be hidden, those in which all rows are alike go first, then the last ones;
    returns the names of those that were hidden.
    """
    values = list(zip(*rows, strict=True)) if rows else [()] * len(columns)
    texts = [_texts(name, column) for name, column in zip(columns, values, strict=True)]
    widths = [max(map(_cells, {*column})) for column in texts]
    shown, hidden = list(range(len(columns))), []
    console = _console()
    if console.is_terminal and hiding:
        alike = [place for place in shown[1:] if len({*texts[place][1:]}) == 1]
        leaving = [*reversed(alike), *(place for place in reversed(shown[1:]) if place not in alike)]
        for place in leaving:
            if _width_of(widths, shown) <= console.width:
                break
            shown.remove(place)
            hidden.append(columns[place])
    numbers = [any(isinstance(value, int | float) for value in column) for column in values]
    if not console.is_terminal:
        # A file has room for all of it.
        console.width = min(max(_width_of(widths, shown), 80), _WIDEST)
    with _OUT:
        if len(rows) <= _WRAPPED:
            console.print(_table([texts[place] for place in shown], [numbers[place] for place in shown]))
        else:
            _print_lines(console.width, [_padded(texts[place], widths[place], numbers[place]) for place in shown])
    return hidden


def _texts(name: str, values: Sequence[object]) -> list[str]:
    """The name of a column and what is in it, as they are printed."""
    from mothseed.told import told, visible

    different = {id(value): value for value in values}  # many are one object, and told once
    words = {key: visible(told(value, 4)) for key, value in different.items()}
    return [visible(name), *(words[id(value)] for value in values)]


def _cells(text: str) -> int:
    """How many cells of a terminal a text takes; of plain letters each takes one."""
    if text.isascii():
        return len(text)
    from rich.cells import cell_len

    return cell_len(text)


def _width_of(widths: Sequence[int], shown: Sequence[int]) -> int:
    """How wide a table of columns that are so wide is: a space at either end, and three between."""
    return 2 + sum(widths[place] for place in shown) + 3 * (len(shown) - 1)


def _table(texts: Sequence[Sequence[str]], numbers: Sequence[bool]) -> Table:
    """Columns, each with its name first, as they are printed; what is too wide is wrapped."""
    from rich.box import SIMPLE_HEAD
    from rich.table import Table
    from rich.text import Text

    table = Table(box=SIMPLE_HEAD, pad_edge=False)
    for (name, *_), right in zip(texts, numbers, strict=True):
        table.add_column(Text(name), justify="right" if right else "left")
    coloured = [name in _COLOURED for name, *_ in texts]
    for row in list(zip(*texts, strict=True))[1:]:
        each = zip(row, coloured, strict=True)
        table.add_row(*(Text(text, style=_COLOUR_OF.get(text, "") if in_colour else "") for text, in_colour in each))
    return table


def _padded(texts: Sequence[str], width: int, right: bool) -> list[str]:
    """The texts of a column, filled up to its width."""
    filled = {text: " " * (width - _cells(text)) for text in {*texts}}
    return [filled[text] + text if right else text + filled[text] for text in texts]


def _print_lines(width: int, columns: Sequence[Sequence[str]]) -> None:
    """Very many rows, a line for each that is cut where there is no room: to wrap them takes a hundred times as long."""
    name, *rows = ["   ".join(row)[: width - 2] for row in zip(*columns, strict=True)]
    rule = "─" * len(name)
    sys.stdout.write("\n" + "".join(f" {line} \n" for line in (name, rule, *rows)) + "\n")
    sys.stdout.flush()


def _console() -> Console:
    """What tables and colours are printed with."""
    from rich.console import Console

    class Quiet(Console):
        def on_broken_pipe(self) -> None:
            """Leave it to the command line, which ends as it does after plain text."""
            raise BrokenPipeError

    return Quiet(highlight=False)


def tell_written(file: Path, editions: int, size: int, *, as_json: bool) -> None:
    """Which file was written of so many editions, and how many bytes it has."""
    from mothseed.told import counted

    if as_json:
        say_json({"file": str(file), "editions": editions, "bytes": size})
    else:
        say(f"{file}  {counted(editions, 'edition')}, {size / 1e6:.1f} MB")


def tell_page(address: str, *, as_json: bool) -> None:
    """Where a page can be opened that is shown while the command runs."""
    if as_json:
        say_json_line({"page": address})
    else:
        say(f"{address}  open it in a browser; Ctrl-C ends it")


def tell_not_kept(message: str) -> None:
    """Say why something is not kept in the daybook."""
    note(f"mothseed: not recorded in the daybook: {message}\n  use --no-daybook to do without it")


def announce_waits() -> None:
    """Have it said why one waits: while the renderer is compiled, and how far a picture is that takes long to paint."""
    from mothseed.native.compiling import when_compiling
    from mothseed.render.waiting import when_painting_long

    when_compiling(_Preparing().tell)
    when_painting_long(_Painting().tell)


class _Line:
    """A line on standard error about what one waits for; on a terminal it is kept up to date."""

    def __init__(self) -> None:
        self._shown = ""

    def _show(self, text: str, *, ends: bool = False) -> None:
        line = f"\r{text:<{len(self._shown)}}" if sys.stderr.isatty() else text
        with contextlib.suppress(OSError, ValueError):
            print(line, end="\n" if ends else "", file=sys.stderr, flush=True)
        self._shown = "" if ends else text


class _Preparing(_Line):
    """A line about preparing the renderer; where it goes to a terminal it is kept up to date."""

    def __init__(self) -> None:
        super().__init__()
        self._is_said = False
        self._begun = 0.0

    def tell(self, progress: CompilingProgress) -> None:
        import time

        if not self._is_said:
            from mothseed.native.store import kernel_folder

            self._is_said, self._begun = True, time.monotonic()
            kept = "this happens once" if kernel_folder() else "it cannot be kept, as no folder for it can be written"
            self._show(f"Preparing the renderer for this machine, about {progress.seconds_left:.0f} s; {kept}.", ends=True)
        if not sys.stderr.isatty():
            return
        if progress.done < progress.of:
            left = f"about {progress.seconds_left:.0f} s left" if progress.seconds_left >= 1 else "nearly there"
            self._show(f"  {progress.done} of {progress.of} parts are ready, {left}")
        else:
            self._show(f"  ready after {time.monotonic() - self._begun:.0f} s", ends=True)


SECONDS_BETWEEN_LINES = 10.0
"""Between one line about how far something is and the next, where they go to a file."""


class _Painting(_Line):
    """How far a picture is."""

    def __init__(self) -> None:
        super().__init__()
        self._last = 0.0

    def tell(self, progress: PaintingProgress) -> None:
        import time

        now, is_done = time.monotonic(), progress.share >= 1
        if sys.stderr.isatty():
            self._show("" if is_done else _painting_words(progress), ends=is_done)
        elif not is_done and now - self._last >= SECONDS_BETWEEN_LINES:
            self._last = now
            self._show(_painting_words(progress), ends=True)


def _painting_words(progress: PaintingProgress) -> str:
    return f"  painting: {progress.share:.0%}, about {progress.seconds_left:.0f} s left"
