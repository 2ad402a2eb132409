"""Output of the commands: results on standard output, everything else on standard error."""

from __future__ import annotations

import contextlib
import sys

TYPE_CHECKING = False  # help must import next to nothing
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
"""Most characters of a table line in a file."""
_WRAPPED = 500
"""Up to so many rows, a table wraps what is too wide for its column."""
_RED, _YELLOW = "1;31", "33"
"""Colours of a terminal (ECMA-48, select graphic rendition)."""
_COLOUR_OF = {"keep": "green", "maybe": "yellow", "drop": "red", "failed": "red"}
"""Colours of marks and states in a table."""
_COLOURED = {"mark", "status"}
_SWATCH_WIDTH = 36
"""Characters in the widest block of colour."""


class ReaderLeftError(Exception):
    """The reader of the results has closed the pipe."""


class _Out:
    """A block that writes to standard output; tells a reader that left from a write that failed."""

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
    """Print a line of the result."""
    from mothseed.told import visible

    with _OUT:
        print(visible(text), flush=True)


def say_finding(where: str, kind: str, words: str) -> None:
    """Print a finding: where it is, its kind, and words."""
    from mothseed.told import visible

    with _OUT:
        print(f"{visible(where)}{_in_colour(visible(kind), _YELLOW, sys.stdout)}: {visible(words)}", flush=True)


def _in_colour(text: str, code: str, stream: TextIO | None) -> str:
    """A text in a colour, if the stream is a terminal with colours and NO_COLOR is not set (no-color.org)."""
    import os

    plain = stream is None or not stream.isatty() or os.environ.get("NO_COLOR") or os.environ.get("TERM") == "dumb"
    return text if plain else f"\x1b[{code}m{text}\x1b[0m"


def say_json(value: Any) -> None:
    """Print the result as JSON."""
    import json

    with _OUT:
        print(_for_reader(json.dumps(value, ensure_ascii=False, indent=2)), flush=True)


def say_json_line(value: Any) -> None:
    """Print one of several results as a line of JSON."""
    import json

    with _OUT:
        print(_for_reader(json.dumps(value, ensure_ascii=False)), flush=True)


def _for_reader(text: str) -> str:
    """A text for programs, unchanged except for lone surrogates and, on a terminal, control characters."""
    from mothseed.told import visible, writable

    return visible(text) if sys.stdout is not None and sys.stdout.isatty() else writable(text)


def note(text: str, sign: str = "") -> None:
    """Print a remark on standard error, after a sign if there is one; if that is closed, do nothing."""
    from mothseed.told import visible

    with contextlib.suppress(OSError, ValueError):
        print(f"{sign}{visible(text)}", file=sys.stderr, flush=True)


def tell_fault(fault: MothSeedError, circumstances: str = "", again: str = "") -> None:
    """Print what happened, where in the sketch, under which circumstances, and what to do."""
    lines = [fault.message]
    if fault.place:
        lines += [f"  in {_from_here(fault.place.file)}, line {fault.place.line}:", f"      {fault.place.text}"]
    if circumstances:
        lines.append(f"  with {circumstances}")
    if fault.hint:
        lines.append(f"  {fault.hint}")
    if again:
        lines.append(f"  to see it again: {again}")
    with contextlib.suppress(ValueError):  # a closed stream cannot be asked whether it is a terminal
        note("\n".join(lines), sign=_in_colour("mothseed:", _RED, sys.stderr) + " ")


def _from_here(file: Path) -> Path:
    """A file by its path from the current folder, if it lies below that."""
    with contextlib.suppress(ValueError, OSError):
        return file.relative_to(file.cwd())
    return file


def tell_own_mistake(fault: Exception) -> None:
    """Report a bug of our own: the artist is not to blame, and how to help us fix it."""
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
    """Print colours with their shares, as blocks of colour if the terminal has colours."""
    from rich.style import Style
    from rich.text import Text

    console = _console()
    widest = max(share for _, share in rows)
    for css, share in rows:
        line = Text()
        if console.color_system in ("truecolor", "256"):  # sixteen colours could not show the right ones
            length = max(round(_SWATCH_WIDTH * share / widest), 2)
            line.append(" " * length, Style(bgcolor=css[:7]))
            line.append(" " * (_SWATCH_WIDTH - length + 2))
        line.append(f"{css}  {share:6.1%}")
        with _OUT:
            console.print(line, soft_wrap=True)


def say_csv(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> None:
    """Print rows as CSV (RFC 4180), with None as an empty field."""
    import csv

    with _OUT:
        writer = csv.writer(sys.stdout)
        writer.writerow([_for_reader(name) for name in columns])
        for row in rows:
            writer.writerow([_for_reader(value) if isinstance(value, str) else "" if value is None else value for value in row])
        sys.stdout.flush()


def say_overview(text: str, *, asked: bool) -> None:
    """Print the overview: as a result if it was asked for, otherwise on standard error."""
    with _OUT:
        print(text, file=sys.stdout if asked else sys.stderr, flush=True)


def say_table(columns: Sequence[str], rows: Sequence[Sequence[object]], *, hiding: bool = False) -> list[str]:
    """Print a table, with numbers aligned right. If a terminal is too narrow and columns may be hidden, those that are the
    same in all rows go first, then the last ones. Returns the names of hidden columns.
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
        # A file has room for everything.
        console.width = min(max(_width_of(widths, shown), 80), _WIDEST)
    with _OUT:
        if len(rows) <= _WRAPPED:
            console.print(_table([texts[place] for place in shown], [numbers[place] for place in shown]))
        else:
            _print_lines(console.width, [_padded(texts[place], widths[place], numbers[place]) for place in shown])
    return hidden


def _texts(name: str, values: Sequence[object]) -> list[str]:
    """The name and the values of a column, as printed."""
    from mothseed.told import told, visible

    different = {id(value): value for value in values}  # many are one object, and are reported once
    words = {key: visible(told(value, 4)) for key, value in different.items()}
    return [visible(name), *(words[id(value)] for value in values)]


def _cells(text: str) -> int:
    """Width of a text in terminal cells; ASCII letters take one each."""
    if text.isascii():
        return len(text)
    from rich.cells import cell_len

    return cell_len(text)


def _width_of(widths: Sequence[int], shown: Sequence[int]) -> int:
    """Width of a table with columns of these widths: one space at either end, three between columns."""
    return 2 + sum(widths[place] for place in shown) + 3 * (len(shown) - 1)


def _table(texts: Sequence[Sequence[str]], numbers: Sequence[bool]) -> Table:
    """A table of columns, each headed by its name; what is too wide is wrapped."""
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
    """The texts of a column, padded to its width."""
    filled = {text: " " * (width - _cells(text)) for text in {*texts}}
    return [filled[text] + text if right else text + filled[text] for text in texts]


def _print_lines(width: int, columns: Sequence[Sequence[str]]) -> None:
    """Print very many rows, each cut to one line: wrapping them takes a hundred times as long."""
    name, *rows = ["   ".join(row)[: width - 2] for row in zip(*columns, strict=True)]
    rule = "─" * len(name)
    sys.stdout.write("\n" + "".join(f" {line} \n" for line in (name, rule, *rows)) + "\n")
    sys.stdout.flush()


def _console() -> Console:
    """The Rich console for tables and colours."""
    from rich.console import Console

    class Quiet(Console):
        def on_broken_pipe(self) -> None:
            """Leave it to the command line, which handles it as for plain text."""
            raise BrokenPipeError

    return Quiet(highlight=False)


def tell_written(file: Path, editions: int, size: int, *, as_json: bool) -> None:
    """Print which file was written, of how many editions, and its size."""
    from mothseed.told import counted

    if as_json:
        say_json({"file": str(file), "editions": editions, "bytes": size})
    else:
        say(f"{file}  {counted(editions, 'edition')}, {size / 1e6:.1f} MB")


def tell_page(address: str, *, as_json: bool) -> None:
    """Print the address of a page that is served while the command runs."""
    if as_json:
        say_json_line({"page": address})
    else:
        say(f"{address}  open it in a browser; Ctrl-C ends it")


def tell_not_kept(message: str) -> None:
    """Print why something is not kept in the daybook."""
    note(f"mothseed: not recorded in the daybook: {message}\n  use --no-daybook to do without it")


def announce_waits() -> None:
    """Announce waits: while the renderer is being compiled, and while a picture takes long to paint."""
    from mothseed.native.compiling import when_compiling
    from mothseed.render.waiting import when_painting_long

    when_compiling(_Preparing().tell)
    when_painting_long(_Painting().tell)


class _Line:
    """A line on standard error about a wait, updated in place on a terminal."""

    def __init__(self) -> None:
        self._shown = ""

    def _show(self, text: str, *, ends: bool = False) -> None:
        line = f"\r{text:<{len(self._shown)}}" if sys.stderr.isatty() else text
        with contextlib.suppress(OSError, ValueError):
            print(line, end="\n" if ends else "", file=sys.stderr, flush=True)
        self._shown = "" if ends else text


class _Preparing(_Line):
    """A line about compiling the renderer, updated in place on a terminal."""

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
"""Seconds between two progress lines in a file."""


class _Painting(_Line):
    """A line about how much of a picture is painted."""

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
