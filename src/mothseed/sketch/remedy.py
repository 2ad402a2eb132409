"""What to do about a fault that Python found in a sketch."""

from __future__ import annotations

import builtins
import inspect
import re
import sys
from collections.abc import Callable
from pathlib import Path
from types import FrameType

from mothseed.faults import did_you_mean

_CALLED = re.compile(r"(?:(\w+)\.)?(\w+)\(\) (?:missing|takes|got)")


def words_of(fault: BaseException) -> str:
    """What Python says, less what is of no use to an artist: the class that a method comes from, where the library lies."""
    words = str(fault).strip()
    name = type(fault).__name__
    if isinstance(fault, AttributeError) and _is_ours(type(fault.obj)):
        return f"a {type(fault.obj).__name__} has no {fault.name}"
    if isinstance(fault, KeyError) and words:
        return f"there is no {words} among the keys"
    if isinstance(fault, ImportError) and fault.name == "mothseed":
        return re.sub(r" \(.*\)$", "", words)
    if isinstance(fault, TypeError):
        words = re.sub(r"^(?:\w+\.|<locals>\.)+(?=\w+\(\))", "", words)
    return f"{name}: {words}" if words else name


def remedy(fault: BaseException, frame: FrameType | None) -> str:
    """What the artist can do, or nothing where there is no telling. `frame` is that of the artist's line."""
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
            return _remedy_for_name(name, frame)
        case AttributeError(name=str(name), obj=obj):
            known = [each for each in dir(obj) if not each.startswith("_")]
            return did_you_mean(name, known) or (f"it has {', '.join(known)}" if _is_ours(type(obj)) else "")
        case TypeError():
            return _called_rightly(str(fault), frame)
    return ""


def _remedy_for_name(name: str, frame: FrameType) -> str:
    if name in _face():
        return f"write at the top: from mothseed import {name}"
    if name in sys.stdlib_module_names:
        return f"write at the top: import {name}"
    known = {**frame.f_locals, **frame.f_globals}
    return did_you_mean(name, [*known, *_face(), *vars(builtins)])


def _called_rightly(words: str, frame: FrameType | None) -> str:
    """How a motif, or a call of ours, that was given the wrong arguments wants to be called."""
    named = _CALLED.search(words)
    if not (named and frame):
        return ""
    owner, name = named[1], named[2]
    called = _our_call(owner, name) if owner else frame.f_locals.get(name, frame.f_globals.get(name))
    if not inspect.isfunction(called):
        return ""
    signature = inspect.signature(called)
    parameters = [each.replace(annotation=inspect.Parameter.empty) for each in signature.parameters.values()]
    if parameters and parameters[0].name == "self":
        parameters = parameters[1:]
    plain = signature.replace(parameters=parameters, return_annotation=inspect.Signature.empty)
    return f"{name} is called as {name}{plain}"


def _our_call(owner: str, name: str) -> Callable[..., object] | None:
    """The method of that name of our class of that name."""
    for module in [module for known, module in list(sys.modules.items()) if known.startswith("mothseed.")]:
        found = vars(module).get(owner)
        if inspect.isclass(found) and _is_ours(found):
            method: Callable[..., object] | None = getattr(found, name, None)
            return method
    return None


def _is_ours(kind: type) -> bool:
    return kind.__module__.startswith("mothseed.")


def _face() -> list[str]:
    """What sketches can import."""
    face: list[str] = vars(sys.modules["mothseed"])["__all__"]
    return [name for name in face if not name.startswith("_")]
