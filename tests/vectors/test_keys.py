# SPDX-License-Identifier: GPL-3.0-or-later
"""The key of a service in a keyring, where there is one, and nowhere where there is none."""

from __future__ import annotations

from collections.abc import Iterator

import keyring
import pytest
from keyring.backend import KeyringBackend
from keyring.backends.fail import Keyring as NoKeyring

from jagged_lens.vectors import has_keyring, keep_key, kept_key


class InMemory(KeyringBackend):
    """A keyring that forgets when the test ends."""

    priority = 5  # type: ignore[assignment]

    def __init__(self) -> None:
        super().__init__()
        self.kept: dict[tuple[str, str], str] = {}

    def set_password(self, service: str, username: str, password: str) -> None:
        self.kept[service, username] = password

    def get_password(self, service: str, username: str) -> str | None:
        return self.kept.get((service, username))

    def delete_password(self, service: str, username: str) -> None:
        del self.kept[service, username]


class Locked(InMemory):
    """A keyring that the user does not unlock."""

    def get_password(self, service: str, username: str) -> str | None:
        raise keyring.errors.KeyringLocked("dismissed")

    set_password = get_password  # type: ignore[assignment]


@pytest.fixture(autouse=True)
def before() -> Iterator[None]:
    found = keyring.get_keyring()
    yield
    keyring.set_keyring(found)


def test_a_key_is_kept_by_its_host_and_removed() -> None:
    keyring.set_keyring(InMemory())
    assert has_keyring()
    assert kept_key("vectors.larkmoor.example") == ""
    assert keep_key("vectors.larkmoor.example", "blue-slug-7")
    assert kept_key("vectors.larkmoor.example") == "blue-slug-7"
    assert kept_key("other.larkmoor.example") == ""
    assert keep_key("vectors.larkmoor.example", "")
    assert kept_key("vectors.larkmoor.example") == ""


@pytest.mark.parametrize("kind", [NoKeyring, Locked])
def test_without_a_keyring_nothing_is_kept_and_nothing_fails(kind: type[KeyringBackend]) -> None:
    keyring.set_keyring(kind())
    assert has_keyring() is (kind is Locked)
    assert kept_key("vectors.larkmoor.example") == ""
    assert not keep_key("vectors.larkmoor.example", "blue-slug-7")
