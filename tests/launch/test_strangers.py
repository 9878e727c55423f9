"""Who may not sign in cannot stop those who may: half requests, stalled and large bodies."""

from __future__ import annotations

import socket
import statistics
import time
from contextlib import ExitStack, suppress
from types import SimpleNamespace

import pytest

from uvrix.launch.serve import HEAD_S, LARGEST_OF_STRANGERS, Server

SLOW, ASKED = 24, 60
HALF_HEAD = b"POST /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Le"
STALLED = (
    b"POST /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: multipart/form-data; boundary=x\r\n"
    b"Content-Length: 1000000\r\n\r\n--x\r\n"
)


def connected(shop, sent):
    client = socket.create_connection(("127.0.0.1", shop.port), timeout=20)
    client.sendall(sent)
    return client


def p95(shop):
    took = []
    for _ in range(ASKED):
        begun = time.perf_counter()
        with shop.ask(f"jobs/{shop.job}", method="GET") as answer:
            answer.read()
        took.append(time.perf_counter() - begun)
    return statistics.quantiles(took, n=20)[-1]


def test_slow_clients_cost_connections_and_no_threads(shop):
    usual = p95(shop)
    with ExitStack() as open_sockets:
        for number in range(SLOW):
            open_sockets.enter_context(connected(shop, HALF_HEAD if number % 2 else STALLED))
        time.sleep(0.2)
        beside = p95(shop)
    # were a thread held, its request would wait for some of the seconds that a slow client is given
    assert beside < max(3 * usual, 1)


def test_who_did_not_sign_in_is_refused_a_large_body_by_its_head(shop):
    head = f"POST /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: {LARGEST_OF_STRANGERS}\r\n\r\n"
    with connected(shop, head.encode()) as stranger:
        assert b"413" in stranger.recv(200)
    known = head.replace("\r\n\r\n", f"\r\nCookie: {shop.cookie}\r\n\r\n")
    with connected(shop, known.encode()) as friend:
        friend.settimeout(0.5)
        with pytest.raises(TimeoutError):  # the body is waited for
            friend.recv(200)
    forged = head.replace("\r\n\r\n", "\r\nCookie: uvrix-sends=IiI:1abc:forged\r\n\r\n")
    with connected(shop, forged.encode()) as liar:
        assert b"413" in liar.recv(200)


def test_a_chunked_body_of_a_stranger_ends_at_the_same_size(shop):
    head = b"POST /api/v1/session HTTP/1.1\r\nHost: 127.0.0.1\r\nTransfer-Encoding: chunked\r\n\r\n"
    chunk = b"100000\r\n" + b"x" * 0x100000 + b"\r\n"
    with connected(shop, head) as stranger, suppress(ConnectionError):
        for _ in range(2 * LARGEST_OF_STRANGERS // 0x100000):
            stranger.sendall(chunk)
            time.sleep(0.001)
        pytest.fail("all of it was taken")


def test_the_head_of_a_request_comes_within_its_time_or_not_at_all():
    def channel(begun, *, whole=False, asked=True):
        request = SimpleNamespace(headers_finished=whole) if asked else None
        return SimpleNamespace(begun=begun, request=request, requests=[], last_activity=1000.0, will_close=False)

    fresh, late = 1000.0 - HEAD_S + 1, 1000.0 - HEAD_S - 1
    kept = [channel(fresh), channel(late, whole=True), channel(late, asked=False)]
    half = channel(late)
    server = SimpleNamespace(active_channels=dict(enumerate([*kept, half])), adj=SimpleNamespace(channel_timeout=60))
    Server.maintenance.__get__(_bare(server))(1000.0)
    assert half.will_close
    assert not any(entry.will_close for entry in kept)


def _bare(like):
    server = Server.__new__(Server)
    server.active_channels, server.adj = like.active_channels, like.adj
    return server


def test_an_answer_of_the_api_is_kept_by_nobody(shop):
    with shop.ask("session", method="GET") as answer:
        assert answer.headers["Cache-Control"] == "no-store"
        assert answer.headers["Server"] is None
