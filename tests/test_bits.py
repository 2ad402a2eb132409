from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from mothseed.bits import GOLDEN_GAMMA, stream_of, unit, units, word, words

WORDS_64 = st.integers(0, 2**64 - 1)


def test_words_are_those_published_for_the_generator() -> None:
    """SplitMix64 with the golden gamma, as in the reference code of its authors, for seeds 0 and 1234567."""
    assert [word((0, GOLDEN_GAMMA), index) for index in range(5)] == [
        0xE220A8397B1DCDAF,
        0x6E789E6AA1B965F4,
        0x06C45D188009454F,
        0xF88BB8A8724C81EC,
        0x1B39896A51A8749B,
    ]
    assert [word((1234567, GOLDEN_GAMMA), index) for index in range(5)] == [
        6457827717110365317,
        3203168211198807973,
        9817491932198370423,
        4593380528125082431,
        16408922859458223821,
    ]


def test_the_stream_of_a_path_never_changes() -> None:
    assert stream_of("seed:7") == (15119449425379565545, 2948112221917621629)
    assert stream_of("seed:lamp/4:spot#3") == (3702159662713552102, 12212506285092807013)


@given(WORDS_64, WORDS_64, st.integers(0, 2**40), st.integers(0, 40))
def test_one_by_one_and_all_at_once_are_the_same(start: int, gamma: int, first: int, count: int) -> None:
    stream = (start, gamma | 1)
    assert words(stream, first, count).tolist() == [word(stream, first + i) for i in range(count)]
    assert units(stream, first, count).tolist() == [unit(stream, first + i) for i in range(count)]


@given(st.text(max_size=20))
def test_every_gamma_is_odd_and_mixes_well(path: str) -> None:
    _, gamma = stream_of(path)
    assert gamma % 2 == 1
    assert (gamma ^ (gamma >> 1)).bit_count() >= 24


def test_units_lie_from_0_up_to_but_not_including_1() -> None:
    assert unit((0, 0), 0) == 0.0
    drawn = units(stream_of("units"), 0, 100_000)
    assert drawn.min() >= 0
    assert drawn.max() < 1
