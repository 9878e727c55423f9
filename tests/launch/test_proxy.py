"""Behind a proxy that adds TLS, as docs/deploy.md says it: a real nginx with docs/deploy/nginx.conf."""

from __future__ import annotations

import http.client
import itertools
import json
import os
import shutil
import ssl
import subprocess
import time
from contextlib import suppress
from uuid import uuid4

import pytest

from tests.launch.shop import ROOT, kill_all
from uvrix.launch.cluster import free_port
from uvrix.launch.start import server_command, wait_until_ready

# Guesses are counted by address: what one test guessed is held against no other.
ADDRESSES = itertools.count(20)
NGINX = shutil.which("nginx") or shutil.which("nginx", path="/usr/sbin")
NAME = "bench.uvrix.test"
AROUND = """
daemon off; pid {folder}/nginx.pid; error_log {folder}/error.log; {user}
events {{}}
http {{
    client_body_temp_path {folder}/body; proxy_temp_path {folder}/proxy; fastcgi_temp_path {folder}/f;
    uwsgi_temp_path {folder}/u; scgi_temp_path {folder}/s;
    include {folder}/site.conf;
}}
"""

pytestmark = pytest.mark.skipif(NGINX is None, reason="nginx, Debian's package nginx-light, is not installed")


class Browser:
    """What a browser keeps: cookies, and that it came by https."""

    def __init__(self, port: int, tls: ssl.SSLContext, address: str = "127.0.0.1") -> None:
        self.port, self.tls, self.address = port, tls, address
        self.cookies: dict[str, str] = {}
        self.csrf = ""

    def ask(self, method, path, body=None, **headers):
        here = (self.address, 0)
        connection = http.client.HTTPSConnection(
            "127.0.0.1", self.port, context=self.tls, timeout=20, source_address=here
        )
        sent = {"Host": NAME, "Cookie": "; ".join(f"{name}={value}" for name, value in self.cookies.items())}
        sent |= {"Content-Type": "application/json", "X-CSRFToken": self.csrf, "Referer": f"https://{NAME}/"}
        connection.request(method, path, json.dumps(body) if body else None, {**sent, **headers})
        answer = connection.getresponse()
        text = answer.read()
        found = json.loads(text) if "json" in answer.headers.get("Content-Type", "") else {}
        for cookie in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = cookie.partition(";")[0].partition("=")
            self.cookies[name] = value
        self.csrf = found.get("csrf", self.csrf) if isinstance(found, dict) else self.csrf
        connection.close()
        return answer, found


class Proxied:
    """nginx in front of two servers of one shop, on one database."""

    def __init__(self, shop, folder):
        self.port, self.folder = free_port(), folder
        self.backs = [free_port(), free_port()]
        made = {"UVRIX_ORIGINS": f"https://{NAME}", "UVRIX_PROXY": "127.0.0.1", "UVRIX_HOSTS": ""}
        self.environment = {**shop.environment, **made}
        self.servers = [self.started(back) for back in self.backs]
        pair = ["-keyout", str(folder / "key"), "-out", str(folder / "crt")]
        made_by = ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", f"/CN={NAME}"]
        subprocess.run([*made_by, *pair], check=True, capture_output=True)
        (folder / "site.conf").write_text(self.site())
        user = "user root;" if os.geteuid() == 0 else ""
        (folder / "nginx.conf").write_text(AROUND.format(folder=folder, user=user))
        assert NGINX
        command = [NGINX, "-c", str(folder / "nginx.conf"), "-e", str(folder / "error.log")]
        self.nginx = subprocess.Popen(command)

    def started(self, back):
        server = subprocess.Popen(server_command(back, workers=1), env=self.environment, cwd=ROOT)
        wait_until_ready(back, server)
        return server

    def site(self):
        """The page of the documentation, filled in; the second server is a line beside the first."""
        site = (ROOT / "docs/deploy/nginx.conf").read_text()
        filled = {
            "server 127.0.0.1:8417 fail_timeout=2s;": "".join(
                f"server 127.0.0.1:{back} fail_timeout=2s;" for back in self.backs
            ),
            "listen 443": f"listen 127.0.0.1:{self.port}",
            "server_name SERVER_NAME;": f"server_name {NAME};",
            "ssl_certificate CERTIFICATE": f"ssl_certificate {self.folder}/crt",
            "PRIVATE_KEY": f"{self.folder}/key",
        }
        for word, said in filled.items():
            assert word in site
            site = site.replace(word, said)
        return site

    def stop(self):
        for process in (self.nginx, *self.servers):
            process.terminate()
            process.wait()


@pytest.fixture(scope="module")
def two_servers(shop, open_folder):
    made = Proxied(shop, open_folder())
    yield made
    made.stop()


@pytest.fixture
def proxied(two_servers):
    return two_servers.port


@pytest.fixture
def browser(proxied):
    trusting = ssl._create_unverified_context()  # noqa: S323 - the certificate was made a moment ago
    made = Browser(proxied, trusting, f"127.0.0.{next(ADDRESSES)}")
    for _ in range(50):
        with suppress(OSError):
            made.ask("GET", "/api/v1/session")
            return made
        time.sleep(0.1)
    pytest.fail("nginx did not come up")


def test_one_signs_in_through_it_and_cookies_go_by_https_alone(browser):
    answer, found = browser.ask("POST", "/api/v1/session", {"username": "wren", "password": "heron"})
    assert (answer.status, found["person"]["username"]) == (200, "wren")
    cookies = answer.headers.get_all("Set-Cookie")
    assert len(cookies) >= 2
    assert all("Secure" in cookie for cookie in cookies)
    assert "max-age=31536000" in answer.headers["Strict-Transport-Security"]
    shown, _ = browser.ask("GET", "/api/v1/shelf")
    assert shown.status == 200


def test_wrong_passwords_of_one_address_lock_nobody_else_out(browser, proxied):
    """Each browser is an address of its own on loopback; the proxy says which."""
    for _ in range(9):
        browser.ask("POST", "/api/v1/session", {"username": "wren", "password": "wrong"})
    locked, _ = browser.ask("POST", "/api/v1/session", {"username": "wren", "password": "heron"})
    assert locked.status == 429
    other = Browser(proxied, browser.tls, "127.0.0.9")
    other.ask("GET", "/api/v1/session")
    answer, _ = other.ask("POST", "/api/v1/session", {"username": "wren", "password": "heron"})
    assert answer.status == 200


def test_an_address_that_somebody_makes_up_is_not_believed(browser):
    """A stranger's own X-Forwarded-For does not give them more guesses."""
    codes = [
        browser.ask(
            "POST", "/api/v1/session", {"username": "teal", "password": "x"}, **{"X-Forwarded-For": f"192.0.2.{number}"}
        )[0].status
        for number in range(10)
    ]
    assert codes[-1] == 429


def test_another_name_is_refused(browser):
    answer, _ = browser.ask("GET", "/api/v1/session", Host="somebody-else.test")
    assert answer.status == 400


def test_one_of_two_servers_is_killed_under_load_and_nothing_is_lost(browser, shop, two_servers):
    """As a browser does: what was not acknowledged is sent again until it is, to whichever server answers."""
    own = Browser(two_servers.port, browser.tls, "127.0.0.10")
    own.ask("GET", "/api/v1/session")
    own.ask("POST", "/api/v1/session", {"username": "wren", "password": "heron"})
    sent = [str(uuid4()) for _ in range(40)]
    for number, entry in enumerate(sent):
        if number == 10:
            kill_all(two_servers.servers[0].pid)
        if number == 25:
            two_servers.servers[0].wait()
            two_servers.servers[0] = two_servers.started(two_servers.backs[0])
            kill_all(two_servers.servers[1].pid)
        for _ in range(50):
            with suppress(OSError, http.client.HTTPException):
                body = {"id": entry, "kind": "other", "words": f"behind a proxy {number}"}
                if own.ask("POST", f"/api/v1/jobs/{shop.job}/owed", body)[0].status in {200, 201}:
                    break
            time.sleep(0.1)
        else:
            pytest.fail(f"entry {number} was never acknowledged")
    _, owed = own.ask("GET", f"/api/v1/jobs/{shop.job}/owed")
    kept = [debt["key"] for debt in owed if debt["words"].startswith("behind a proxy")]
    assert sorted(kept) == sorted(sent)
