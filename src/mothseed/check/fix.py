"""Changes to the text of a sketch that correct a mistake."""

from __future__ import annotations

import ast
from collections.abc import Sequence
from dataclasses import dataclass
from difflib import unified_diff
from pathlib import Path
from typing import Self


@dataclass(frozen=True, slots=True)
class Fix:
    """A piece of a file, and its replacement."""

    file: Path
    first_line: int
    """from 1 on"""
    first_byte: int
    """byte offset in that line, in UTF-8, as Python counts"""
    last_line: int
    last_byte: int
    text: str

    @classmethod
    def of(cls, file: Path, node: ast.expr | ast.stmt, text: str) -> Self:
        """A fix that replaces a node with some text."""
        end = node.col_offset if node.end_col_offset is None else node.end_col_offset
        return cls(file, node.lineno, node.col_offset, node.end_lineno or node.lineno, end, text)


def diff_of(fixes: Sequence[Fix]) -> str:
    """A unified diff of what fixes change in their files; of overlapping fixes the first counts."""
    pieces: list[str] = []
    for file in dict.fromkeys(fix.file for fix in fixes):
        content = file.read_bytes()
        lines = content.splitlines(keepends=True)
        starts = [0]
        for line in lines:
            starts.append(starts[-1] + len(line))
        taken: list[tuple[int, int, bytes]] = []
        for fix in fixes:
            begin, end = starts[fix.first_line - 1] + fix.first_byte, starts[fix.last_line - 1] + fix.last_byte
            if fix.file == file and all(end <= first or begin >= last for first, last, _ in taken):
                taken.append((begin, end, fix.text.encode()))
        changed = content
        for begin, end, text in sorted(taken, reverse=True):
            changed = changed[:begin] + text + changed[end:]
        before, after = (each.decode("utf-8", "replace").splitlines(keepends=True) for each in (content, changed))
        pieces += unified_diff(before, after, file.name, file.name)
    return "".join(pieces)
