# SPDX-License-Identifier: GPL-3.0-or-later
"""The service that makes vectors of texts: its address, model and key, and what is sent to it when the user says so."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QLineEdit, QProgressBar, QVBoxLayout

from jagged_lens.desktop.asking import Asker
from jagged_lens.desktop.look import theme
from jagged_lens.desktop.look.cards import muted
from jagged_lens.desktop.look.controls import Action, MainAction, TickBox
from jagged_lens.desktop.look.plain import set_tip
from jagged_lens.desktop.look.words import amount
from jagged_lens.errors import RecipeError
from jagged_lens.lens import ARRIVALS, CORPUS, LENS_ROWS
from jagged_lens.project import Shown, Snapshot
from jagged_lens.vectors import Unanswered, has_keyring, host_of, is_service, keep_key

_NOTHING_KEPT = "Save the project first: the vectors that come are kept in it."


class VectorServiceCard(QFrame):
    """Names a service, says what would be sent to it, and sends that when its button is pressed. used(): the later steps work on it."""

    used = pyqtSignal()

    def __init__(self, bench: Shown, asker: Asker) -> None:
        super().__init__()
        self.setObjectName("card")
        self._bench = bench
        self._asker = asker
        self._texts: Callable[[], list[str]] = list
        self._asked: Unanswered | None = None
        self._asked_for = bench.recipe.weigh
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 10)
        row = QHBoxLayout()
        self.address = self._field(row, "Address", "https://host/path", 3)
        self.model = self._field(row, "Model", "the usual one", 1)
        self.key = self._field(row, "Key", "none", 1)
        self.key.setEchoMode(QLineEdit.EchoMode.Password)
        set_tip(self.key, "It stays in memory, or in the keyring of the desktop. It is never in a project or recipe.")
        self.in_keyring = TickBox("Keep in keyring")
        set_tip(self.in_keyring, "Keep the key in the keyring of this desktop")
        self.in_keyring.hide()
        row.addWidget(self.in_keyring)
        column.addLayout(row)
        self.told = muted("", 0.95)
        self.told.setWordWrap(True)
        column.addWidget(self.told)
        row = QHBoxLayout()
        self.send = MainAction("Send")
        self.send.clicked.connect(self._send)
        row.addWidget(self.send)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.setTextVisible(False)
        self.bar.setFixedHeight(8)
        self.bar.setAccessibleName("Share of the texts that was sent")
        row.addWidget(self.bar, 1)
        self.left = muted()
        row.addWidget(self.left)
        self.stop = Action("Stop")
        self.stop.setAccessibleName("Stop sending")
        set_tip(self.stop, "Stop sending and keep the vectors that came")
        self.stop.clicked.connect(bench.sending.stop)
        row.addWidget(self.stop)
        row.addStretch(0)
        column.addLayout(row)
        self.outcome = muted("", 0.95)
        self.outcome.setWordWrap(True)
        column.addWidget(self.outcome)
        self.address.editingFinished.connect(self._take)
        self.model.editingFinished.connect(self._take)
        self.key.editingFinished.connect(self._take_key)
        self.show_sending()
        self._asker.ask("keyring", has_keyring, self.in_keyring.setVisible)

    def begin(self) -> None:
        """Nothing is known yet: say what is wanted, and put the keyboard there."""
        self.address.setFocus()
        if not self.address.text().strip():
            self._say(
                "Enter the address of a service that speaks the protocol of the formats page. For practice, run "
                "“jagged-lens demo-vectors” and enter the address that it says."
            )

    def _field(self, row: QHBoxLayout, name: str, empty: str, stretch: int) -> QLineEdit:
        row.addWidget(muted(name))
        field = QLineEdit()
        field.setAccessibleName(f"{name} of the service")
        field.setPlaceholderText(empty)
        row.addWidget(field, stretch)
        return field

    # What is entered.

    def _take(self) -> None:
        """Take the address and the model into the recipe. Nothing is sent by that."""
        address, model = self.address.text().strip(), self.model.text().strip()
        weigh = self._bench.recipe.weigh
        if (address, model) == (weigh.vectors, weigh.model) or not address:
            return
        if not is_service(address) or not host_of(address):
            self._say("An address begins with http:// or https://, and names a host.", wrong=True)
            return
        try:
            recipe = self._bench.recipe.with_settings("weigh", {"vectors": address, "model": model})
        except RecipeError as error:
            self._say(error.sentence, wrong=True)
            return
        self._bench.change(self._bench.state.with_recipe(recipe), "weigh: vectors")
        self.used.emit()

    def _take_key(self) -> None:
        host, key = host_of(self.address.text().strip()), self.key.text()
        if not host or self._bench.sending.keys.get(host) == key:
            return
        self._bench.sending.keys[host] = key
        if self.in_keyring.isChecked():
            self._asker.ask("keep the key", lambda: keep_key(host, key), lambda kept: None)

    def show_documents(self, results: Snapshot) -> None:
        """Say what would be sent of the documents of a lens."""
        corpus, rows, new = results[CORPUS], results[LENS_ROWS], results.get(ARRIVALS)
        self._texts = lambda: [*corpus.texts.take(rows), *(new.texts if new is not None else ())]
        if self.address.hasFocus():  # another is being typed, perhaps
            self.ask()
        else:
            self.follow()

    def follow(self) -> None:
        """Show the service of the lens, and say anew what would be sent to it."""
        weigh = self._bench.recipe.weigh
        if weigh.space == "service":
            self.address.setText(weigh.vectors)
            self.model.setText(weigh.model)
        self.ask()

    # What is sent.

    def settings_changed(self) -> None:
        """Follow, where the service is another than the one that was asked about."""
        before, weigh = self._asked_for, self._bench.recipe.weigh
        if (before.vectors, before.model) != (weigh.vectors, weigh.model):
            self.follow()

    def ask(self) -> None:
        """Find out how many texts have no vector yet. Nobody but the project is asked."""
        self._asked, self._asked_for = None, self._bench.recipe.weigh
        if self._bench.recipe.weigh.space != "service":
            self._say("")
            self.show_sending()
            return
        texts = self._texts
        self._asker.ask(
            "texts to send", lambda: self._bench.sending.unanswered(texts(), all_of_lens=True), self._show_asked
        )

    def _show_asked(self, asked: Unanswered | None) -> None:
        weigh = self._bench.recipe.weigh
        if weigh.space != "service":
            return
        self._asked = asked
        host = host_of(weigh.vectors)
        if asked is None:
            self._say(_NOTHING_KEPT, wrong=True)
        elif not asked.texts:
            self._say(f"All {asked.known:,} different texts have their vectors.")
        else:
            known = f"{amount(asked.known, 'text')} have their vectors. " if asked.known else ""
            open_way = weigh.vectors.lower().startswith("http://") and not host.startswith(("127.", "localhost"))
            unsafe = " The address is not encrypted: others on the way can read them." if open_way else ""
            self._say(
                f"{known}Send transmits {amount(len(asked.texts), 'text')} with {asked.characters:,} characters to {host}.{unsafe}"
            )
        self.show_sending()

    def _send(self) -> None:
        self._take_key()
        if self._asked is not None and self._asked.texts:
            self._bench.sending.begin(self._asked)

    def show_sending(self) -> None:
        """Show how far sending is, and how it ended."""
        sending, asked = self._bench.sending, self._asked
        under_way = sending.share is not None
        self.send.setText(f"Send {amount(len(asked.texts), 'text')}" if asked is not None and asked.texts else "Send")
        self.send.setVisible(not under_way and asked is not None and bool(asked.texts))
        for widget in (self.bar, self.left, self.stop):
            widget.setVisible(under_way)
        if sending.share is not None:
            self.bar.setValue(int(1000 * sending.share))
            whole = len(asked.texts) if asked is not None else 0
            self.left.setText(f"{round(whole * (1 - sending.share)):,} left")
        self.outcome.setText(sending.outcome)
        theme.tone(self.outcome, "madder" if sending.wrong else "muted")
        self.outcome.setVisible(bool(sending.outcome))
        if sending.wrong and not under_way and sending.outcome and asked is not None:
            self._again()

    def _again(self) -> None:
        """Count anew what is left, once, after sending has failed."""
        if self._counted is not self._bench.sending.words:
            self._counted = self._bench.sending.words
            self.ask()

    _counted = ""

    def _say(self, words: str, wrong: bool = False) -> None:
        self.told.setText(words)
        theme.tone(self.told, "madder" if wrong else "muted")
        self.told.setVisible(bool(words))
