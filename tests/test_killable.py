# SPDX-License-Identifier: GPL-3.0-or-later
"""Work that can be killed: limits, errors, stopping, what may come back."""

from __future__ import annotations

import io
import os
import pickle
import re
import resource
import select
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
import pytest

from conftest import corpus_of
from jagged_lens.clean import CleanSettings, Reason, clean, try_rules
from jagged_lens.errors import JaggedLensError, SourceError, Stopped
from jagged_lens.expressions import expression
from jagged_lens.helper import is_ready
from jagged_lens.killable import EndedEarly, TookTooLong, _Plain, call_killable
from jagged_lens.named_file import path_of, plain_file, small_file
from jagged_lens.progress import Progress


def doubled(numbers: np.ndarray, progress: Progress) -> np.ndarray:
    progress(0.5)
    return numbers * 2


def named_wrong(progress: Progress) -> None:
    raise SourceError("there is no such thing", "a name", "Look again.")


def endless(progress: Progress) -> None:
    re.match("(a+)+b", "a" * 60)


def hungry(progress: Progress) -> int:
    return len(bytearray(1 << 40))


def dying(progress: Progress) -> None:
    os._exit(3)


class Evil:
    def __reduce__(self) -> tuple[object, ...]:
        return os.getpid, ()


class Reached:
    """Pickled as some versions of Python pickle the members of an enum."""

    def __init__(self, kind: type, name: str) -> None:
        self.of = (kind, name)

    def __reduce__(self) -> tuple[object, ...]:
        return getattr, self.of


def evil(progress: Progress) -> Evil:
    return Evil()


def process_id(progress: Progress) -> int:
    return os.getpid()


def test_a_result_comes_back_and_the_process_is_used_again() -> None:
    told: list[float] = []
    assert call_killable(doubled, np.arange(100_000), progress=told.append).tolist() == list(range(0, 200_000, 2))
    assert call_killable(process_id) == call_killable(process_id) != os.getpid()
    assert 0.5 in told


def test_errors_come_back_with_their_words() -> None:
    with pytest.raises(SourceError, match=r"a name: there is no such thing\. Look again\."):
        call_killable(named_wrong)


def test_what_takes_too_long_is_ended_and_the_limit_is_said() -> None:
    with pytest.raises(TookTooLong, match=r"the search took longer than 0\.5 seconds"):
        call_killable(endless, seconds=0.5, what="the search")
    assert call_killable(process_id) > 0


def test_what_is_not_wanted_any_more_is_ended_at_once() -> None:
    begin = time.monotonic()

    def progress(share: float) -> None:
        if time.monotonic() - begin > 1:
            raise Stopped

    with pytest.raises(Stopped):
        call_killable(endless, progress=progress)
    assert time.monotonic() - begin < 200


def test_memory_is_limited_and_a_dead_process_is_said() -> None:
    with pytest.raises(EndedEarly, match="memory"):
        call_killable(hungry, memory=2_000_000_000)
    with pytest.raises(EndedEarly, match="stopped: it needed too much memory"):
        call_killable(dying)


def test_nothing_but_arrays_and_own_types_is_unpickled() -> None:
    with pytest.raises(EndedEarly):
        call_killable(evil)
    assert pickle.loads(pickle.dumps(TookTooLong("this took long"))).what == "this took long"


def test_only_members_of_enums_are_reached_by_name() -> None:
    by_name = pickle.dumps(Reached(Reason, "KEPT"), protocol=5)
    assert _Plain(io.BytesIO(by_name)).load() is Reason.KEPT
    for kind, name in ((Reason, "__class__"), (TookTooLong, "with_traceback")):
        with pytest.raises((pickle.UnpicklingError, KeyError)):
            _Plain(io.BytesIO(pickle.dumps(Reached(kind, name), protocol=5))).load()


def test_a_process_ends_with_the_thread_that_used_it() -> None:
    found: list[int] = []
    thread = threading.Thread(target=lambda: found.append(call_killable(process_id)))
    thread.start()
    thread.join()
    end = time.monotonic() + 20
    while Path(f"/proc/{found[0]}/stat").exists() and _state(found[0]) not in "ZX":
        assert time.monotonic() < end
        time.sleep(0.05)


def _state(process: int) -> str:
    try:
        return Path(f"/proc/{process}/stat").read_text().rpartition(")")[2].split()[0]
    except OSError:
        return "X"


@pytest.mark.parametrize(
    ("pattern", "wrong"),
    [
        ("a{99999999999}", "repeats"),
        ("((((a{100}){100}){100}){100})", "repeats"),
        ("(" * 900 + "a" + ")" * 900, "nested|longer"),
        ("(a", "not a regular expression"),
        ("a" * 3000, "longer"),
    ],
)
def test_expressions_that_cannot_be_used_are_said(pattern: str, wrong: str) -> None:
    with pytest.raises(ValueError, match=wrong):
        expression(pattern)
    with pytest.raises(ValueError, match=wrong):
        CleanSettings(tokens="pattern", pattern=pattern)
    with pytest.raises(ValueError, match=wrong):
        CleanSettings(replace=(f"/{pattern}/ = x",))


def test_an_expression_without_an_end_is_tried_for_some_seconds_only(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("jagged_lens.clean.trial.SECONDS", 1.0)
    corpus = corpus_of("a" * 60 + "!", "frost")
    with pytest.raises(TookTooLong, match="took longer than 1 seconds"):
        try_rules(corpus, CleanSettings(), CleanSettings(tokens="pattern", pattern="(a+)+b"), 0, Path())
    trial = try_rules(corpus, CleanSettings(), CleanSettings(tokens="pattern", pattern="[fr]+"), 1, Path())
    assert trial.row == 1
    assert list(trial.tokens.words) == ["fr"]


def test_cleaning_by_an_expression_gives_the_same_and_can_be_stopped() -> None:
    corpus = corpus_of("late frost, 12 slugs", "no frost")
    settings = CleanSettings(replace=("/[0-9]+/ = some",), stop_words=())
    found = clean(corpus, settings, Path())
    assert "some" in list(found.words)

    def stop(share: float) -> None:
        raise Stopped

    with pytest.raises(Stopped):
        clean(corpus_of("a" * 60 + "!"), CleanSettings(tokens="pattern", pattern="(a+)+b"), Path(), stop)


def test_named_files_are_small_plain_files(tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe")
    (tmp_path / "large").write_bytes(b"x" * 100)
    for name, words in (
        ("pipe", "not a regular file"),
        ("large", "larger than"),
        (".", "folder"),
        ("gone", "No such file"),
    ):
        with pytest.raises(OSError, match=words):
            small_file(path_of(name, tmp_path), 99)
    with pytest.raises(OSError, match="not a regular file"):
        plain_file(Path("/dev/zero"))
    for name in ("~nobody_such/x", "a\0b"):
        with pytest.raises(OSError, match="no "):
            path_of(name, tmp_path)
    assert isinstance(JaggedLensError("x"), Exception)


def test_a_process_is_talked_to_however_many_files_are_open() -> None:
    """A window with many results open has descriptors above 1023, which some system calls do not take."""
    soft, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(max(soft, 2048), hard), hard))
    held = [os.dup(2) for _ in range(1100)]
    try:
        assert held[-1] > 1023
        with ThreadPoolExecutor(1) as pool:  # each thread starts a process of its own
            numbers = pool.submit(call_killable, doubled, np.arange(200_000)).result()
        assert numbers[-1] == 399_998
        beside, other = os.pipe()
        assert not is_ready(beside, select.POLLIN, 0.01)
        os.write(other, b"x")
        assert is_ready(beside, select.POLLIN, 0.01)
        os.close(other)
        os.close(beside)
    finally:
        for descriptor in held:
            os.close(descriptor)
        resource.setrlimit(resource.RLIMIT_NOFILE, (soft, hard))
