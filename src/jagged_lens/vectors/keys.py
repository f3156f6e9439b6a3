# SPDX-License-Identifier: GPL-3.0-or-later
"""The key of a service in the keyring of the desktop, where one runs. It is kept nowhere else."""

from __future__ import annotations

_SERVICE = "Jagged Lens vectors"


def has_keyring() -> bool:
    """True if this desktop has a keyring that keeps keys."""
    try:
        import keyring
        from keyring.backends.fail import Keyring

        found = keyring.get_keyring()
        return not isinstance(found, Keyring) and float(found.priority) > 0
    except Exception:  # whatever a keyring does, there is none then
        return False


def kept_key(host: str) -> str:
    """The key of the service on a host, as the keyring has it; "" where it has none."""
    if not has_keyring():
        return ""
    try:
        import keyring

        return keyring.get_password(_SERVICE, host) or ""
    except Exception:  # a locked keyring, or one that has gone
        return ""


def keep_key(host: str, key: str) -> bool:
    """Keep a key in the keyring; "" removes it. False where that did not work."""
    if not has_keyring():
        return False
    try:
        import keyring

        if key:
            keyring.set_password(_SERVICE, host, key)
        elif keyring.get_password(_SERVICE, host) is not None:
            keyring.delete_password(_SERVICE, host)
    except Exception:  # a locked keyring, or one that has gone
        return False
    return True
