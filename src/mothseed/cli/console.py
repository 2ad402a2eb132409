"""What the commands say: results on standard output, all else on standard error."""

from __future__ import annotations

import json
import shlex
import sys
import traceback
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import TYPE_CHECKING, Any

from mothseed.errors import MothSeedError

if TYPE_CHECKING:
    from rich.console import Console

_SWATCH_WIDTH = 36
"""Characters of the widest block of colour."""


def say(text: str) -> None:
    """A line of result."""
    print(text, flush=True)


def say_json(value: Any) -> None:
    """A result for programs."""
    print(json.dumps(value, ensure_ascii=False, indent=2), flush=True)


def note(text: str) -> None:
    """A line about what is going on."""
    print(text, file=sys.stderr, flush=True)


def tell_fault(fault: MothSeedError, circumstances: str = "", again: str = "") -> None:
    """What happened, where in the sketch, under which circumstances, and what to do."""
    lines = [f"mothseed: {fault.message}"]
    if fault.place:
        lines += [f"  in {fault.place}:", f"      {fault.place.text}"]
    if circumstances:
        lines.append(f"  with {circumstances}")
    if fault.hint:
        lines.append(f"  {fault.hint}")
    if again:
        lines.append(f"  to see it again: {again}")
    note("\n".join(lines))


def tell_own_mistake(fault: Exception) -> None:
    """A fault that nobody foresaw: that the artist is not to blame, and what helps to mend it."""
    where = traceback.extract_tb(fault.__traceback__)[-1]
    note(
        f"mothseed: this is a mistake of Moth Seed, not yours: {type(fault).__name__}: {fault}\n"
        f"  in {Path(where.filename).name}, line {where.lineno}; files that were finished are whole\n"
        "  run it again with --debug, and send what it says to the developers"
    )


def circumstances_of(seed: int | str, dials: Mapping[str, object]) -> str:
    """The seed and the dials in words."""
    return ", ".join([f"seed {seed}", *(f"{name}={value}" for name, value in dials.items())])


def proof_command(
    sketch: Path,
    seed: int | str,
    dials: Mapping[str, object],
    reseeds: Mapping[str, object],
    without: Sequence[str] = (),
) -> str:
    """The command line that makes one picture again."""
    words = ["mothseed", "proof", str(sketch), "--seed", str(seed)]
    for name, value in dials.items():
        words += ["--set", f"{name}={value}"]
    for name, value in reseeds.items():
        words += ["--reseed", f"{name}={value}"]
    for name in without:
        words += ["--without", name]
    return shlex.join(words)


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
        console.print(line, soft_wrap=True)


def say_table(columns: Sequence[str], rows: Sequence[Sequence[object]]) -> None:
    """Rows under their columns; numbers to the right."""
    from rich.box import SIMPLE_HEAD
    from rich.table import Table
    from rich.text import Text

    table = Table(box=SIMPLE_HEAD, pad_edge=False)
    for place, name in enumerate(columns):
        numbers = any(isinstance(row[place], int | float) for row in rows)
        table.add_column(Text(name), justify="right" if numbers else "left")
    for row in rows:
        table.add_row(*[Text("" if value is None else _shown(value)) for value in row])
    console = _console()
    if not console.is_terminal:
        console.width = max(console.measure(table).maximum, 80)  # a file has room for all of it
    console.print(table)


def _console() -> Console:
    """What tables and colours are printed with."""
    from rich.console import Console

    class Quiet(Console):
        def on_broken_pipe(self) -> None:
            """Leave it to the command line, which ends as it does after plain text."""
            raise BrokenPipeError

    return Quiet(highlight=False)


def _shown(value: object) -> str:
    if isinstance(value, bool):
        return "on" if value else "off"
    if isinstance(value, float):
        return f"{value:.4g}"
    return " ".join(str(value).split())


def announce_compiling() -> None:
    """Have it said when the renderer must be compiled first, and why one waits."""
    from mothseed.jit import kernel_folder, when_compiling

    kept = "this happens once" if kernel_folder("render") else "it cannot be kept, as no folder for it can be written"
    when_compiling(lambda: note(f"Preparing the renderer for this machine, about half a minute; {kept}."))
