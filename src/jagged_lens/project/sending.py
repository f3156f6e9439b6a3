# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts on their way to a service of vectors. Nothing goes out but by `begin`, which the user's click calls."""

from __future__ import annotations

import contextlib
import queue
import threading
import traceback
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from jagged_lens.errors import JaggedLensError, Stopped
from jagged_lens.project.current import Current
from jagged_lens.signal import Signal
from jagged_lens.vectors import (
    NewVersionError,
    Sent,
    Service,
    Unanswered,
    answered,
    host_of,
    kept_key,
    model_name,
    send,
    unanswered,
)


class Sending:
    """Sends texts in a thread of its own, for the lens in front.

    share: done of what is under way, None where nothing is. words: the outcome of the last time, wrong: whether it failed. keys: of
    services by their host, known to this window alone.

    Signals: changed() when any of that is another; ended() when answers may have come.
    """

    def __init__(self, current: Current) -> None:
        self._current = current
        self.share: float | None = None
        self.words = ""
        self.wrong = False
        self._model = ""  # of which these are
        self.keys: dict[str, str] = {}
        self.changed, self.ended = Signal(), Signal()
        self._version: dict[str, str] = {}  # that was agreed to, by model
        self._news: queue.SimpleQueue[tuple[int, float | str, bool]] = queue.SimpleQueue()
        self._number = 0
        self._over, self._stopped = threading.Event(), threading.Event()

    def unanswered(self, texts: Sequence[str], all_of_lens: bool = False) -> Unanswered | None:
        """The texts that the service of the lens has not been sent; None where it has no service, or the project cannot keep answers.

        all_of_lens: they are all texts of the lens, which may go over to a new version of the model. For any thread.
        """
        job = self._current.job()
        weigh, keeper = job.recipe.weigh, self._current.keeper
        if weigh.vectors_from != "service" or keeper is None:
            return None
        model = model_name(weigh.vectors, weigh.model)
        return unanswered(texts, model, keeper.file, self._version.get(model) if all_of_lens else None)

    @property
    def outcome(self) -> str:
        """The words on the last time, where that was the service of the lens in front; else none."""
        weigh = self._current.state.recipe.weigh
        return self.words if self._model == model_name(weigh.vectors, weigh.model) else ""

    def vector_of(self, text: str) -> NDArray[np.float32] | None:
        """The vector of a text by the service of the lens, where it was sent before (float32, d). For any thread."""
        weigh, keeper = self._current.state.recipe.weigh, self._current.keeper
        if weigh.vectors_from != "service" or keeper is None:
            return None
        found = answered([text], model_name(weigh.vectors, weigh.model), keeper.file)
        return found.vectors[0] if found.there[0] else None

    def _key(self, host: str) -> str:
        """The key of the service on a host: that entered in this window, or the one in the keyring, which may take its time."""
        if host not in self.keys:
            self.keys[host] = kept_key(host)
        return self.keys[host]

    def begin(self, asked: Unanswered) -> None:
        """Send some texts to the service of the lens, as the user agreed to; nothing where they were counted for another."""
        keeper, weigh = self._current.keeper, self._current.state.recipe.weigh
        model = model_name(weigh.vectors, weigh.model)
        if self.share is not None or keeper is None or weigh.vectors_from != "service" or asked.model != model:
            return
        self._number += 1
        self._over, self._stopped = threading.Event(), threading.Event()
        self.share, self.words, self.wrong, self._model = 0.0, "", False, model
        number, over, stopped, file = self._number, self._over, self._stopped, keeper.file

        def progress(share: float) -> None:
            if stopped.is_set() or over.is_set():
                raise Stopped
            self._news.put((number, share, False))

        def run() -> None:
            words, wrong = "", True
            service: Service | None = None
            try:
                service = Service(weigh.vectors, weigh.model, self._key(host_of(weigh.vectors)), over)
                words, wrong = said_after(send(asked, service, file, progress, over)), False
            except Stopped:
                words, wrong = "Stopped. The vectors that came are kept.", False
            except NewVersionError as error:
                self._version[model] = error.version
                words = str(error)
            except JaggedLensError as error:
                words = str(error)
            except Exception as error:
                words = f"Internal error ({type(error).__name__})."
                traceback.print_exc()
            finally:
                if service is not None:
                    with contextlib.suppress(Exception):
                        service.close()
                self._news.put((number, words, wrong))

        threading.Thread(target=run, daemon=True, name="sending").start()
        self.changed.emit()

    def stop(self) -> None:
        """Send no more; the answers that came are kept, and so are those to what was sent already."""
        self._stopped.set()

    def forget(self) -> None:
        """Another project comes to the front: whatever is under way ends untold."""
        self._over.set()
        self._number += 1
        self.share, self.words, self.wrong = None, "", False
        self.changed.emit()

    def listen(self) -> None:
        """Take in what the thread has said."""
        told = ended = False
        with contextlib.suppress(queue.Empty):
            while True:
                number, news, wrong = self._news.get_nowait()
                if number != self._number:
                    continue
                told = True
                if isinstance(news, str):
                    self.share, self.words, self.wrong, ended = None, news, wrong, True
                else:
                    self.share = news
        if told:
            self.changed.emit()
        if ended:
            self.ended.emit()


def said_after(sent: Sent) -> str:
    """The sentence on what came back."""
    words = f"{sent.answers:,} vectors came"
    if sent.averaged:
        words += f"; {sent.averaged:,} texts were too long, cut at sentences, and their parts averaged"
    if sent.refused:
        words += f"; {sent.refused:,} texts are too long for the service and have no vector"
    return f"{words}."
