"""One word for one thing: what the program and its pages say keeps to the glossary."""

from __future__ import annotations

import re
from pathlib import Path

import pytest

from mothseed.cli.commands import COMMANDS
from tests.places import ROOT
from tests.test_structure import MODULES, SOURCE, texts_of, trees

ROWS = re.findall(
    r"^\| ([a-z-][a-z -]*?) \| (.+?) \|(?: (.*?))? ?\|$", (ROOT / "docs/glossary.md").read_text("utf-8"), re.MULTILINE
)
GLOSSARY = {word: [each for each in others.split(", ") if each] for word, _, others in ROWS if word != "word"}
NOT_USED = {other: word for word, others in GLOSSARY.items() for other in others}
PAGES = [path for path in (ROOT / "docs").rglob("*.md") if path.name != "glossary.md"]


def words_in(text: str) -> list[str]:
    """The words in a text that the glossary has another for."""
    plain = re.sub(r"```.*?```|`[^`]*`|\]\([^)]*\)", "", text, flags=re.DOTALL)
    return [f"{other} ({word})" for other, word in NOT_USED.items() if re.search(rf"\b{other}s?\b", plain, re.IGNORECASE)]


def test_the_glossary_says_what_is_not_said() -> None:
    assert len(GLOSSARY) > 30
    assert {"parameter", "canvas", "twins", "preview"} <= NOT_USED.keys()
    assert not NOT_USED.keys() & GLOSSARY.keys()
    assert list(GLOSSARY) == sorted(GLOSSARY), "it is in the order of the alphabet"
    assert words_in("a knob of the canvas, `preview`") == ["knob (dial)", "canvas (sheet)"]


def test_messages_and_help_keep_to_it() -> None:
    found = [
        f"{path.relative_to(SOURCE)}:{line}: {words_in(text)}: {text}"
        for path, tree in trees(MODULES)
        if path != SOURCE / "sketch" / "guesses.py"  # whose words are what people try
        for line, text in texts_of(tree)
        if " " in text and words_in(text)
    ]
    assert found == []


@pytest.mark.parametrize("page", PAGES, ids=lambda page: page.relative_to(ROOT).as_posix())
def test_pages_keep_to_it(page: Path) -> None:
    assert words_in(page.read_text("utf-8")) == []


def test_its_words_are_those_of_the_program() -> None:
    said = " ".join([*COMMANDS.values(), *(page.read_text("utf-8") for page in PAGES)]).lower()
    assert [word for word in GLOSSARY if word not in said] == []
