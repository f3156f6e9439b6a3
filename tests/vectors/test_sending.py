# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts sent to a service: nothing twice, each fault in a sentence, and nothing lost."""

from __future__ import annotations

import datetime
import ssl
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from urllib.parse import urlsplit

import numpy as np
import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import NameOID
from hypothesis import given
from hypothesis import strategies as st

from jagged_lens.demo.vector_server import Manner, VectorServer, vector_server
from jagged_lens.errors import Stopped
from jagged_lens.progress import unheard
from jagged_lens.project import ENDING, ProjectFile, create
from jagged_lens.vectors import (
    NewVersionError,
    Sent,
    Service,
    ServiceError,
    answered,
    model_name,
    send,
    unanswered,
)
from jagged_lens.vectors.sending import cut

TEXTS = [f"Slugs took row {number} of the beans. Frost came after." for number in range(70)]
DIMENSIONS = 6
UNIT = 0.01  # seconds that stand for one


def _vectors(texts: list[str]) -> list[list[float]]:
    return [[float(len(text)), *(float(text.count(letter)) for letter in "aeiou")] for text in texts]


@pytest.fixture
def store(tmp_path: Path) -> ProjectFile:
    path = tmp_path / f"kept{ENDING}"
    create(path)
    return ProjectFile(path)


@pytest.fixture
def serve() -> Iterator[Callable[..., VectorServer]]:
    """Start a stand-in in some manner."""
    opened = []

    def start(**manner: object) -> VectorServer:
        context = vector_server(_vectors, DIMENSIONS, Manner(**manner))  # type: ignore[arg-type]
        opened.append(context)
        return context.__enter__()

    yield start
    for one in opened:
        one.__exit__(None, None, None)


def _send(
    server: VectorServer,
    store: ProjectFile,
    texts: list[str] = TEXTS,
    key: str = "",
    seconds: float = 20.0,
    progress: Callable[[float], None] = unheard,
) -> Sent:
    over = threading.Event()
    model = model_name(server.address, "larkmoor")
    service = Service(server.address, "larkmoor", key, over, seconds)
    try:
        return send(unanswered(texts, model, store), service, store, progress, over, UNIT)
    finally:
        service.close()


def test_answers_are_kept_and_nothing_is_sent_twice(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    server = serve(batch=16)
    texts = [*TEXTS, TEXTS[0], "", "  \n"]
    assert _send(server, store, texts).answers == 70
    assert max(server.requests) == 16
    assert set(server.sent) == set(TEXTS)
    assert set(server.sent.values()) == {1}
    found = answered(texts, model_name(server.address, "larkmoor"), store)
    np.testing.assert_array_equal(found.vectors[:70], np.array(_vectors(TEXTS), np.float32))
    np.testing.assert_array_equal(found.vectors[70], found.vectors[0])
    assert found.there.tolist() == [True] * 71 + [False] * 2
    before = server.sent.total(), server.described
    asked = unanswered([*texts, "One more."], model_name(server.address, "larkmoor"), store)
    assert (asked.texts, asked.known, asked.characters) == (("One more.",), 70, 9)
    assert (server.sent.total(), server.described) == before
    assert _send(server, store, [*texts, "One more."]).answers == 1
    assert server.sent["One more."] == 1
    assert server.sent.total() == 71


def test_another_model_has_answers_of_its_own(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    server = serve()
    _send(server, store)
    assert len(unanswered(TEXTS, model_name(server.address, "other"), store).texts) == 70


@pytest.mark.parametrize(
    ("fault", "said"),
    [
        ("few", "returned .* vectors"),
        ("lengths", "different numbers of dimensions"),
        ("nan", "not finite"),
        ("page", "a web page instead of JSON"),
        ("key", r"did not accept the key \(401"),
        ("often", r"asked too often \(429"),
        ("trouble", r"in trouble \(500"),
        ("elsewhere", r"redirects to another host \(localhost"),
        ("half", "connection was lost|only part of it arrived"),
        ("drops", "connection was lost"),
    ],
)
def test_a_fault_that_stays_is_one_sentence_and_loses_nothing(
    serve: Callable[..., VectorServer], store: ProjectFile, fault: str, said: str
) -> None:
    server = serve(fault="", batch=10)
    _send(server, store, TEXTS[:30])
    server.manner.fault = fault
    with pytest.raises(ServiceError, match=said) as error:
        _send(server, store, key="s3cret-key")
    assert "s3cret-key" not in str(error.value)
    assert len(unanswered(TEXTS, model_name(server.address, "larkmoor"), store).texts) == 40
    server.manner.fault = ""
    assert _send(server, store).answers == 40


@pytest.mark.parametrize("fault", ["often", "trouble", "half", "drops"])
def test_a_fault_that_passes_costs_only_time(
    serve: Callable[..., VectorServer], store: ProjectFile, fault: str
) -> None:
    server = serve(fault=fault, times=3, batch=40)
    assert _send(server, store).answers == 70


def test_retry_after_is_respected(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    server = serve(fault="often", times=1, wait="1")
    begin = time.monotonic()
    assert _send(server, store).answers == 70
    assert time.monotonic() - begin >= 1


def test_a_batch_that_is_too_large_is_halved(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    server = serve(fault="large", batch=8)
    assert _send(server, store, TEXTS[:8]).answers == 8
    assert server.requests == [8, 4, 2, 1, 1, 2, 1, 1, 4, 2, 1, 1, 2, 1, 1]


def test_silence_ends(serve: Callable[..., VectorServer], store: ProjectFile, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("jagged_lens.vectors.sending.TRIES", 2)
    server = serve(fault="silence")
    with pytest.raises(ServiceError, match=r"did not answer within 0\.4 seconds"):
        _send(server, store, seconds=0.4)


def test_a_service_that_was_killed_is_said_to_be_gone(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    with vector_server(_vectors, DIMENSIONS) as server:
        pass
    with pytest.raises(ServiceError, match="cannot be reached"):
        _send(server, store)


SCRIPT = """
from jagged_lens.demo.vector_server import Manner, vectors_until_stopped
made = lambda texts: [[float(len(text)), *(float(text.count(letter)) for letter in "aeiou")] for text in texts]
vectors_until_stopped(0, made, 6, Manner(batch=5, seconds=0.1), lambda address: print(address, flush=True))
"""


def test_a_service_that_is_killed_halfway_loses_nothing(store: ProjectFile) -> None:
    process = subprocess.Popen([sys.executable, "-c", SCRIPT], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    address = process.stdout.readline().strip()
    model = model_name(address, "larkmoor")

    def progress(share: float) -> None:
        if share > 0.3:
            process.kill()

    over = threading.Event()
    service = Service(address, "larkmoor", "", over, 20)
    with pytest.raises(ServiceError, match=r"cannot be reached|connection was lost"):
        send(unanswered(TEXTS, model, store), service, store, progress, over, UNIT)
    service.close()
    process.wait()
    left = unanswered(TEXTS, model, store)
    assert 0 < len(left.texts) < 70
    with vector_server(_vectors, DIMENSIONS, port=urlsplit(address).port or 0) as again:
        service = Service(address, "larkmoor", "", threading.Event())
        assert send(left, service, store, unheard, threading.Event()).answers == len(left.texts)
        service.close()
        assert again.sent.total() == len(left.texts)


def test_sending_stops_and_goes_on_where_it_stopped(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    server = serve(batch=5, seconds=0.02)

    def progress(share: float) -> None:
        if share > 0.3:
            raise Stopped

    with pytest.raises(Stopped):
        _send(server, store, progress=progress)
    left = len(unanswered(TEXTS, model_name(server.address, "larkmoor"), store).texts)
    assert 0 < left < 70
    assert _send(server, store).answers == left


def test_a_long_text_is_cut_at_sentences_and_its_parts_averaged(
    serve: Callable[..., VectorServer], store: ProjectFile
) -> None:
    server = serve(longest=40)
    text = "Slugs ate the beans. Then it froze hard. The leeks stood."
    assert _send(server, store, [text, "Short."]).averaged == 1
    parts = ["Slugs ate the beans. Then it froze hard.", "The leeks stood."]
    assert set(server.sent) == {*parts, "Short."}
    found = answered([text, "Short."], model_name(server.address, "larkmoor"), store)
    one, other = np.array(_vectors(parts))
    np.testing.assert_allclose(found.vectors[0], (one * 40 + other * 16) / 56, rtol=1e-6)
    assert found.averaged.tolist() == [True, False]


def test_a_service_that_does_not_describe_itself_is_used_all_the_same(
    serve: Callable[..., VectorServer], store: ProjectFile
) -> None:
    assert _send(serve(described=False), store).answers == 70


def test_a_new_version_is_asked_about_before_more_is_sent(
    serve: Callable[..., VectorServer], store: ProjectFile
) -> None:
    server = serve()
    _send(server, store, TEXTS[:10])
    server.manner.version = "2"
    with pytest.raises(NewVersionError, match="now has version 2"):
        _send(server, store, TEXTS[:12])
    assert server.sent.total() == 10
    over = threading.Event()
    model = model_name(server.address, "larkmoor")
    service = Service(server.address, "larkmoor", "", over)
    send(unanswered(TEXTS[:12], model, store, "2"), service, store, unheard, over)
    service.close()
    assert server.sent.total() == 22
    assert store.version(model) == "2"
    assert not unanswered(TEXTS[:12], model, store).texts


def test_one_more_text_does_not_go_over_to_a_new_version_by_itself(
    serve: Callable[..., VectorServer], store: ProjectFile
) -> None:
    server = serve()
    _send(server, store, TEXTS[:10])
    server.manner.version = "2"
    with pytest.raises(NewVersionError):
        _send(server, store, ["One more."])
    model = model_name(server.address, "larkmoor")
    assert store.version(model) == "1"
    assert answered(TEXTS[:10], model, store).there.all()
    assert "One more." not in server.sent


def test_the_key_goes_out_and_is_in_no_file(serve: Callable[..., VectorServer], store: ProjectFile) -> None:
    server = serve(key="blue-slug-7")
    with pytest.raises(ServiceError, match="did not accept the key"):
        _send(server, store)
    assert not server.sent
    assert _send(server, store, key="blue-slug-7").answers == 70
    assert b"blue-slug-7" not in store.path.read_bytes()


@pytest.mark.parametrize(
    "address", ["larkmoor.example", "ftp://larkmoor.example/", "http://", "http://me:pw@larkmoor.example/"]
)
def test_what_is_no_address_is_refused(address: str) -> None:
    with pytest.raises(ServiceError, match="not the address of a service"):
        Service(address, "")


@given(st.text(st.sampled_from("ab .!?\n"), max_size=200), st.integers(1, 30))
def test_parts_are_short_enough_and_lose_no_letter(text: str, longest: int) -> None:
    parts = cut(text, longest)
    assert all(len(part) <= longest for part in parts)
    assert "".join("".join(parts).split()) == "".join(text.split())


def test_a_certificate_that_nobody_signed_is_refused(store: ProjectFile, tmp_path: Path) -> None:
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, "localhost")])
    now = datetime.datetime.now(datetime.UTC)
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(7)
        .not_valid_before(now - datetime.timedelta(days=1))
        .not_valid_after(now + datetime.timedelta(days=1))
        .add_extension(x509.SubjectAlternativeName([x509.DNSName("localhost")]), critical=False)
        .sign(key, hashes.SHA256())
    )
    private = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    (tmp_path / "both.pem").write_bytes(certificate.public_bytes(serialization.Encoding.PEM) + private)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.load_cert_chain(tmp_path / "both.pem")
    with vector_server(_vectors, DIMENSIONS) as server:
        server.socket = context.wrap_socket(server.socket, server_side=True)
        service = Service(f"https://localhost:{server.server_port}/", "", "secret-key", seconds=10)
        with pytest.raises(ServiceError, match=r"cannot be reached .*certificate"):
            service.described()
        service.close()
    assert not server.described
