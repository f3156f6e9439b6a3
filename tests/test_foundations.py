# SPDX-License-Identifier: GPL-3.0-or-later
"""What every room stands on."""

import threading

import pytest

from jagged_lens.errors import JaggedLensError, RecipeError, Stopped
from jagged_lens.lens import STEPS, settings_of
from jagged_lens.parallel import blocks, over_blocks, set_threads
from jagged_lens.project import profile, share_through
from jagged_lens.signal import Signal


def test_an_error_says_what_where_and_what_to_do() -> None:
    assert str(JaggedLensError("it is broken", "row 3", "Mend it.")) == "row 3: it is broken. Mend it."
    assert str(RecipeError("it is broken")) == "it is broken"
    assert str(JaggedLensError("it is broken", remedy="Mend it.")) == "it is broken. Mend it."


@pytest.mark.parametrize("threads", [1, 2, 5])
def test_blocks_come_back_in_order_on_any_number_of_threads(threads: int) -> None:
    set_threads(threads)
    seen: set[int] = set()

    def work(block: slice) -> int:
        seen.add(threading.get_ident())
        return sum(range(block.start, block.stop))

    shares: list[float] = []
    found = list(over_blocks(work, blocks(1000, 7), shares.append))
    set_threads(2)
    assert found == [sum(range(start, min(start + 7, 1000))) for start in range(0, 1000, 7)]
    assert shares == sorted(shares)
    assert len(seen) <= max(threads, 1)


def test_work_over_blocks_is_stopped_by_progress() -> None:
    done: list[int] = []

    def progress(share: float) -> None:
        if share > 0.5:
            raise Stopped

    with pytest.raises(Stopped):
        done.extend(over_blocks(lambda number: number, list(range(100)), progress))
    assert 40 <= len(done) <= 60


def test_a_signal_tells_all_in_order_even_if_one_subscribes_meanwhile() -> None:
    signal, told = Signal(), []
    signal.subscribe(
        lambda news: (told.append(("first", news)), signal.subscribe(lambda news: told.append(("late", news))))
    )
    signal.subscribe(lambda news: told.append(("second", news)))
    signal.emit(1)
    assert told == [("first", 1), ("second", 1)]
    signal.emit(2)
    assert ("late", 2) in told


def test_a_profile_is_the_seven_shares_and_zero_where_nothing_is_known(demo_results: dict) -> None:
    shares = profile(demo_results)
    assert len(shares) == 7
    assert all(0 <= share <= 1 for share in shares)
    assert shares[0] == pytest.approx(638 / 640)
    kept = demo_results["tokens"].kept.mean()
    assert shares[STEPS.index("clean")] == pytest.approx(kept)
    assert share_through("map", {}) == 0.0
    assert profile({}) == (0.0,) * 7


def test_settings_declare_their_kind_for_whoever_shows_them() -> None:
    clean, terms = settings_of("clean"), settings_of("terms")
    assert clean["tokens"].choices == ("words", "letters", "characters", "pattern")
    assert clean["take-out"].is_list
    assert terms["words"].is_range
    assert (terms["words"].low, terms["words"].high) == (1, 8)
    assert settings_of("group")["label"].when == ("by", ("label",))
    assert clean["own-rules"].apart == ";"
    assert terms["most-share"].allowed == "a number above 0 up to 1"
    assert clean["shortest"].allowed == "a whole number from 1 to 1000"
