"""A picture of every screen in every state, for eyes to go through: ./test --tour FOLDER [--before FOLDER].

States: light, dim, 1024 wide, at 200 % (half the window), without its data, and in an empty shop. An index page shows
them side by side; with --before it says which changed since an earlier tour and by how much, the most changed first.
"""

from __future__ import annotations

import html
import os
import re
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image, ImageChops

from tests.browser.conftest import ROOT, Bench, Served
from tests.browser.expecting import expect
from tests.browser.test_screens import screens
from uvrix.launch import templates

WINDOW = {"width": 1280, "height": 800}
NARROW, DOUBLED = {"width": 1024, "height": 768}, {"width": 640, "height": 400}
WITHOUT_DATA = ("/shelf", "/library", "/stock", "/figures", "/parcels", "/messages", "/people", "/jobs/32/ohms")
EMPTY = (
    *("/setup", "/shelf", "/wall", "/library", "/stock", "/stock/lots", "/figures", "/figures/learning", "/parcels"),
    *("/messages", "/meters", "/people", "/jobs/new", "/library/plans", "/library/proof"),
)
INVITE = "import django; django.setup(); from uvrix.shop.accounts.services import invite; print(invite('lead'))"


class EmptyShop(Served):
    """A shop on its first day."""

    def make(self) -> None:
        templates.ensure(Path(os.environ["UVRIX_TEMPLATES"]), templates.SCHEMA)
        templates.clone(templates.SCHEMA, self.environment["UVRIX_DB_NAME"])
        self.start()

    def token(self) -> str:
        command = [sys.executable, "-c", INVITE]
        return subprocess.run(
            command, env=self.environment, cwd=ROOT, capture_output=True, text=True, check=True
        ).stdout.strip()


@pytest.fixture(scope="session")
def folder():
    made = Path(os.environ["UVRIX_TOUR"])
    made.mkdir(parents=True, exist_ok=True)
    return made


def name_of(address):
    return re.sub(r"[^a-z0-9]+", "-", address.lower().removeprefix("http://127.0.0.1").lstrip(":0123456789")).strip("-")


def shoot(page, folder, address, state):
    # pictures, fonts and the boards' drawings are there
    page.wait_for_load_state("networkidle")
    page.screenshot(path=folder / f"{name_of(address)}.{state}.png", animations="disabled")


@pytest.fixture
def still(bench):
    """A page that asks for nothing by itself, so that it comes to rest."""
    bench.page.route("**/api/v1/live*", lambda route: route.abort())
    return bench


def test_every_screen(still, folder):
    page = still.page
    still.load("/shelf")
    page.get_by_label("Password").wait_for()
    shoot(page, folder, "/signed-out", "light")
    still.sign_in("lead")
    for address, sign in screens(still):
        still.go(address)
        sign.first.wait_for()
        shoot(page, folder, address, "light")
        still.in_dim_theme(lambda where=address: shoot(page, folder, where, "dim"))
        for state, size in (("narrow", NARROW), ("doubled", DOUBLED)):
            page.set_viewport_size(size)
            shoot(page, folder, address, state)
        page.set_viewport_size(WINDOW)


def test_without_its_data(still, folder):
    page = still.page
    still.sign_in("lead")
    page.route(re.compile(r"/api/v1/(?!session)"), lambda route: route.abort())
    for address in WITHOUT_DATA:
        still.load(address)
        expect(page.get_by_role("alert").first).to_be_visible(timeout=30_000)
        shoot(page, folder, address, "without-data")


def test_an_empty_shop(chromium, folder, process, tmp_path):
    shop = EmptyShop(f"uvrix_{process}_tour", tmp_path)
    shop.make()
    page = chromium.new_context(viewport=WINDOW).new_page()
    bench = Bench(page, shop)
    page.route("**/api/v1/live*", lambda route: route.abort())
    bench.load(f"/welcome/{shop.token()}")
    page.get_by_label("Your name").fill("Ida Fenn")
    page.get_by_label("Name to sign in with").fill("ida")
    page.get_by_label("Password").fill("quiet-lamp-and-tea")
    shoot(page, folder, "/welcome", "empty")
    page.get_by_role("button", name="Start").click()
    expect(page.get_by_role("heading", name="Set up the shop")).to_be_visible()
    for address in EMPTY:
        bench.load(address)
        page.get_by_role("heading").first.wait_for()
        shoot(page, folder, address, "empty")
    page.context.close()
    shop.stop()
    templates.drop(shop.environment["UVRIX_DB_NAME"])


def changed(now, before):
    """The share of pixels that differ from an earlier picture's; 1 where there is none or its size differs."""
    if not before.exists():
        return 1.0
    with Image.open(now) as new, Image.open(before) as old:
        if new.size != old.size:
            return 1.0
        grey = ImageChops.difference(new.convert("RGB"), old.convert("RGB")).convert("L")
        return 1 - grey.histogram()[0] / (new.width * new.height)


def test_the_page_that_shows_them(folder):
    before = Path(os.environ["UVRIX_TOUR_BEFORE"]) if os.environ.get("UVRIX_TOUR_BEFORE") else None
    pictures = sorted(folder.glob("*.png"))
    assert len(pictures) > 200
    shares = {picture: changed(picture, before / picture.name) if before else 0.0 for picture in pictures}
    if before:
        pictures = sorted((entry for entry in pictures if shares[entry]), key=lambda entry: -shares[entry])
        print(f"{len(pictures)} of {len(shares)} pictures changed")
    rows = []
    for picture in pictures:
        share = f", {100 * shares[picture]:.1f} % changed" if before else ""
        shown = [picture.name, *([str(before.absolute() / picture.name)] if before else [])]
        images = "".join(f'<img loading="lazy" width="640" src="{html.escape(source)}">' for source in shown)
        rows.append(f"<figure><figcaption>{html.escape(picture.stem)}{share}</figcaption>{images}</figure>")
    (folder / "index.html").write_text(f"<!doctype html><meta charset=utf-8><title>Tour</title>{''.join(rows)}")
    print(f"{len(shares)} pictures, shown by {folder / 'index.html'}")
