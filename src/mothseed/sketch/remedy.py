"""What to do about an error that Python raised in a sketch."""

from __future__ import annotations

import builtins
import inspect
import re
import sys
from collections.abc import Callable
from pathlib import Path
from types import FrameType

from mothseed.colour.value import Colour
from mothseed.faults import did_you_mean
from mothseed.sheet.style import PAINT_NAMES
from mothseed.sketch.guesses import USUAL, as_method, called_values, calls_of, guess_alone, guess_on

_ALIKE = 0.75
"""Similarity of two words, by difflib, from which one is taken for a misspelling of the other."""
_NOT_SO = re.compile(r"'(\w+)' object is not (?:callable|subscriptable)")
_ASKED_BY = {"Field": "at", "Picture": "at", "Palette": "ramp"}
"""The method of each class for the value at a place."""
_COLOUR = re.compile(r"Colour\(red=(\S+), green=(\S+), blue=(\S+), alpha=([^\s)]+)\)")
"""How Python writes a colour."""
_MADE_BY = {"Colour": "Colour.parse", "Picture": "sheet.picture", "Outline": "Outline.from_svg"}
"""What makes a value of each from a string."""
_CALLED = re.compile(r"(?:(\w+)\.)?(\w+)\(\) (?:missing|takes|got)")


def words_of(fault: BaseException) -> str:
    """Python's message without what is of no use to an artist, such as the class of a method or the path of a library."""
    words = str(fault).strip()
    name = type(fault).__name__
    if isinstance(fault, AttributeError) and _is_ours(_kind_of(fault.obj)):
        kind = _kind_of(fault.obj).__name__
        return f"{'an' if kind[0] in 'AEIOU' else 'a'} {kind} has no {fault.name}"
    if isinstance(fault, KeyError) and words:
        return f"there is no {words} among the keys"
    if isinstance(fault, ImportError) and fault.name == "mothseed":
        return re.sub(r" \(.*\)$", "", words)
    if isinstance(fault, TypeError):
        words = re.sub(r"^(?:\w+\.|<locals>\.)+(?=\w+\(\))", "", words)
    return f"{name}: {words}" if words else name


def remedy(fault: BaseException, frame: FrameType | None, line: str) -> str:
    """What the artist can do; empty if unknown. `frame` is that of the artist's line, `line` its text."""
    match fault:
        case ZeroDivisionError():
            return "the number under the line came to 0; give it a least value, as in max(count - 1, 1)"
        case RecursionError():
            return "a motif that calls itself needs an end, such as: if depth == 0: return"
        case IndexError():
            return "palette.cycle(i) and items[i % len(items)] begin again at the end"
        case ModuleNotFoundError(name=str(name)) if frame is not None:
            beside = [file.stem for file in Path(frame.f_code.co_filename).parent.glob("*.py")]
            return did_you_mean(name, beside) or f"put {name}.py beside the sketch, or install it: pip install {name}"
        case ImportError(name="mothseed"):
            wanted = re.search(r"cannot import name '(\w+)'", str(fault))
            return did_you_mean(wanted[1], _face()) if wanted else ""
        case NameError(name=str(name)) if frame is not None:
            return _remedy_for_name(name, frame, line)
        case AttributeError(name=str(name), obj=obj):
            known = [each for each in dir(obj) if not each.startswith("_")]
            kind = _kind_of(obj)
            return (
                guess_on(kind, name, line)
                or did_you_mean(name, known, _ALIKE)
                or (f"it has {', '.join(known)}" if _is_ours(kind) else "")
            )
        case TypeError():
            return (
                _asked_rightly(str(fault), line, frame)
                or _made_rightly(str(fault), line)
                or _called_rightly(str(fault), frame)
                or _not_called(str(fault), line)
            )
    return ""


def _remedy_for_name(name: str, frame: FrameType, line: str) -> str:
    guess = guess_alone(name, line)
    if guess:
        return guess
    if name in _face():
        return f"write at the top: from mothseed import {name}"
    for owner, usual in USUAL.items():
        if _our_call(owner, name) is not None:
            return f"write {usual}.{next(iter(calls_of(line, name)), name)}"
    if name in sys.stdlib_module_names:
        return f"write at the top: import {name}"
    known = {**frame.f_locals, **frame.f_globals}
    return did_you_mean(name, [*known, *_face(), *vars(builtins)], _ALIKE)


def _asked_rightly(words: str, line: str, frame: FrameType | None) -> str:
    """What to write instead of calling or indexing a picture, field or palette, which have a method for it."""
    named = _NOT_SO.match(words)
    if not (named and named[1] in _ASKED_BY and frame):
        return ""
    known = {**frame.f_globals, **frame.f_locals}
    written = as_method(line, _ASKED_BY[named[1]], lambda name: type(known.get(name)).__name__ == named[1])
    return f"write {written}" if written else ""


def _not_called(words: str, line: str) -> str:
    """What to write instead of calling an attribute of ours as if it were a method."""
    if "object is not callable" not in words:
        return ""
    for written, name in called_values(line):
        for owner in USUAL:
            if isinstance(inspect.getattr_static(_our_class(owner), name, None), property):
                return f"{name} is a value: write {written} without brackets"
    return ""


def _made_rightly(words: str, line: str) -> str:
    """What to write instead of making a colour or picture with its class."""
    named = _CALLED.search(words)
    if not (named and named[1] in _MADE_BY and named[2] in {"__new__", "__init__"}):
        return ""
    made = next(iter(calls_of(line, named[1])), "").removeprefix(named[1])
    by = "Outline.polygon" if named[1] == "Outline" and not made.startswith(('("', "('")) else _MADE_BY[named[1]]
    return f"write {by}{made}" if made else ""


def _called_rightly(words: str, frame: FrameType | None) -> str:
    """The signature of a motif, or call of ours, that was given the wrong arguments."""
    named = _CALLED.search(words)
    if not (named and frame):
        return ""
    owner, name = named[1], named[2]
    called = _our_call(owner, name) if owner else frame.f_locals.get(name, frame.f_globals.get(name))
    called = getattr(called, "__func__", called)  # of a class method
    if not inspect.isfunction(called):
        return ""
    signature = inspect.signature(called)
    parameters = [each.replace(annotation=inspect.Parameter.empty) for each in signature.parameters.values()]
    if parameters and parameters[0].name in {"self", "cls"}:
        parameters = parameters[1:]
    plain = signature.replace(parameters=parameters, return_annotation=inspect.Signature.empty)
    written = _COLOUR.sub(lambda found: repr(Colour(*map(float, found.groups())).css), str(plain))
    paint = f"; paint is {'=, '.join(PAINT_NAMES)}=" if "**paint" in written else ""
    return f"{name} is called as {name}{written}{paint}"


def _our_call(owner: str, name: str) -> Callable[..., object] | None:
    """The method of that name of our class of that name."""
    method: Callable[..., object] | None = getattr(_our_class(owner), name, None)
    return method


def _our_class(owner: str) -> type | None:
    """Our class of that name, if it has been imported."""
    for module in [module for known, module in list(sys.modules.items()) if known.startswith("mothseed.")]:
        found = vars(module).get(owner)
        if inspect.isclass(found) and _is_ours(found):
            return found
    return None


def _kind_of(obj: object) -> type:
    """The class of an object, or the class itself."""
    return obj if isinstance(obj, type) else type(obj)


def _is_ours(kind: type) -> bool:
    return kind.__module__.startswith("mothseed.")


def _face() -> list[str]:
    """The names that sketches can import."""
    face: list[str] = vars(sys.modules["mothseed"])["__all__"]
    return [name for name in face if not name.startswith("_")]
