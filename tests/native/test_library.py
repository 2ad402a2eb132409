"""What is compiled is called with what it takes, and with nothing else."""

from __future__ import annotations

import ast
from typing import Any

import numpy as np
import pytest

from mothseed.bits import GOLDEN_GAMMA
from mothseed.kernels.blend import LUMINOSITY, MULTIPLY, NORMAL
from mothseed.native import library, store
from mothseed.native.library import Kernel
from mothseed.native.store import OUTSIDE, PARTS
from mothseed.sheet.blends import BLENDS
from tests.places import ROOT

SOURCE = ROOT / "src" / "mothseed"

_places = np.array([0.25, 1.5, -3.75])


def sampled(**other: Any) -> Any:
    """What the noise gives at three places, with some of its arguments replaced."""
    given = {"key": 7, "x": _places, "y": _places, "z": _places, "in_space": False, "detail": 2, "roughness": 0.5}
    out = np.zeros((3, 3))
    given = {**given, "out": out, **other}
    Kernel("noise.sample")(*given.values())
    return out


def test_numbers_and_arrays_reach_a_kernel_and_come_back() -> None:
    height = Kernel("noise.height")
    one_by_one = [height(7, place, place, place, False, 2, 0.5) for place in _places.tolist()]
    assert sampled()[:, 0].tolist() == one_by_one
    assert one_by_one[0] != height(8, 0.25, 0.25, 0.25, False, 2, 0.5) != height(7, 0.25, 0.25, 0.25, True, 2, 0.5)
    assert height(GOLDEN_GAMMA, 0.25, 0.25, 0.0, False, 1, 0.5) != height(1, 0.25, 0.25, 0.0, False, 1, 0.5)


def test_a_call_is_repeated_with_other_numbers() -> None:
    out = np.zeros((3, 3))
    again = Kernel("noise.sample").repeated(7, _places, _places.copy(), _places.copy(), False, 2, 0.5, out)
    for key in (7, 8, 7):
        again(key)
        assert out.tolist() == sampled(key=key).tolist()
    with pytest.raises(TypeError, match="takes for x an array of float64 with 1 dimensions"):
        Kernel("noise.sample").repeated(7, out, out, out, False, 2, 0.5, out)


@pytest.mark.parametrize(
    ("other", "told"),
    [
        ({"x": _places.astype(np.float32)}, "noise.sample takes for x an array of float64 with 1 dimensions"),
        ({"out": np.zeros(9)}, "takes for out an array of float64 with 2 dimensions .got float64, 1, contiguous"),
        ({"x": np.zeros(6)[::2]}, "got float64, 1, not contiguous"),
        ({"more": 1}, "takes 8 numbers and arrays .got 9"),
    ],
)
def test_an_array_that_a_kernel_does_not_take_is_refused(other: dict[str, Any], told: str) -> None:
    with pytest.raises(TypeError, match=told):
        sampled(**other)


def test_a_number_where_an_array_belongs_and_the_other_way_round_are_refused() -> None:
    with pytest.raises((TypeError, AttributeError)):
        sampled(x=1.5)
    with pytest.raises(Exception, match=r"required argument is not|must be real number"):
        sampled(roughness=_places)


def test_what_was_called_can_be_called_again_after_other_parts_were_compiled(monkeypatch: pytest.MonkeyPatch) -> None:
    before = sampled().tolist()
    everything = store.ready(PARTS)
    monkeypatch.setattr(store, "ready", lambda names: everything)
    loaded = library._loaded  # what is at hand is told to nobody
    monkeypatch.delitem(loaded, "ramps", raising=False)
    held = dict(loaded)
    library.load(["ramps"])
    assert {name: loaded[name] for name in held} == held
    assert "ramps" in loaded
    assert sampled().tolist() == before


def imported(path: str) -> set[str]:
    """The modules of the package that one of its files imports, as paths in it."""
    tree = ast.parse((SOURCE / path).read_text(encoding="utf-8"))
    names = {node.module for node in ast.walk(tree) if isinstance(node, ast.ImportFrom) and node.module}
    return {name.removeprefix("mothseed.").replace(".", "/") + ".py" for name in names if name.startswith("mothseed.")}


def test_whatever_a_kernel_is_made_of_belongs_to_the_state_of_the_sources() -> None:
    known = {f"kernels/{path.name}" for path in (SOURCE / "kernels").glob("*.py")} | set(OUTSIDE)
    left_out = {"files.py", "native/store.py", "native/library.py"}  # what kernels are kept and called by, not what they are
    for path in known:
        assert imported(path) <= known | left_out, path


def test_each_module_with_something_to_call_is_a_part() -> None:
    texts = {path.stem: path.read_text(encoding="utf-8") for path in (SOURCE / "kernels").glob("*.py")}
    assert set(PARTS) == {name for name, text in texts.items() if "\n@entry\n" in text or "\n@technique\n" in text}


def test_blend_modes_have_the_numbers_of_their_names() -> None:
    assert [BLENDS[number] for number in (NORMAL, MULTIPLY, LUMINOSITY)] == ["normal", "multiply", "luminosity"]
    assert len(BLENDS) == LUMINOSITY + 1
