"""The served product and a driver that speaks a technician's gestures."""

from __future__ import annotations

import os
import shutil
import signal
import subprocess
from collections.abc import Callable, Generator, Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Locator, Page, ViewportSize, sync_playwright

from tests.browser.expecting import PATIENCE_MS, expect
from uvrix.launch.cluster import free_port
from uvrix.launch.start import server_command, wait_until_ready
from uvrix.launch.templates import copy_demo

ROOT = Path(__file__).parents[2]
SAMPLES = ROOT / "docs/formats/samples"
AXE = ROOT / "web/node_modules/axe-core/axe.min.js"
CHROMIUM = [
    *("--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run"),
    *("--use-fake-device-for-media-stream", "--use-fake-ui-for-media-stream"),
    *("--disable-background-networking", "--disable-component-update", "--disable-sync"),
    # a page of a test lives too briefly for optimised code to pay
    "--js-flags=--no-opt",
]
# React Router reads the address again when it is told that the history moved; the screen changes when it has its code.
IN_THE_APP = """address => new Promise(done => {
    const drawn = () => { seen.disconnect(); requestAnimationFrame(() => requestAnimationFrame(done)) };
    const seen = new MutationObserver(drawn);
    seen.observe(document.getElementById("root"), { childList: true, subtree: true });
    setTimeout(drawn, 500);
    history.pushState(null, "", address);
    dispatchEvent(new PopStateEvent("popstate"));
})"""
# Controls whose right or left edge lies below something else, though they are in sight.
COVERED = """() => [...document.querySelectorAll("button, a[href], select, input")].filter(control => {
    const box = control.getBoundingClientRect(), middle = box.top + box.height / 2;
    if (box.width < 8 || !control.checkVisibility({ opacityProperty: true, visibilityProperty: true })) return false;
    return [box.left + 4, box.right - 4].some(x => {
        const top = document.elementFromPoint(x, middle), label = top?.closest("label");
        const beside = top && !control.contains(top) && !top.contains(control) && !label?.contains(control);
        const centre = document.elementFromPoint(box.left + box.width / 2, middle);
        return beside && centre === control && control.closest("main") && top.closest("main");
    });
}).map(control => control.outerHTML.slice(0, 120))"""
WINDOW: ViewportSize = {"width": 1280, "height": 800}
FAILED = pytest.StashKey[bool]()
SIGN_INS = {
    "technician": ("mirren", "heron-at-low-tide"),
    "front-desk": ("odile", "parcels-before-noon"),
    "lead": ("casper", "lamp-over-the-bench"),
}


class Served:
    """The production server in a process of its own, on a database of its own."""

    def __init__(self, database: str, data: Path) -> None:
        self.data = data
        self.environment = {**os.environ, "UVRIX_DB_NAME": database, "UVRIX_DATA": str(data)}
        # the cookies of each role that signed in through the page
        self.signed_in: dict[str, list[Any]] = {}
        self.port = free_port()
        self.server: subprocess.Popen[bytes] | None = None

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"

    def start(self) -> None:
        self.server = subprocess.Popen(server_command(self.port, workers=1), env=self.environment, cwd=ROOT)
        wait_until_ready(self.port, self.server)

    def stop(self) -> None:
        assert self.server
        self.server.terminate()
        self.server.wait()

    def kill(self) -> None:
        """End it and its workers as a power cut would, without a word."""
        assert self.server
        for child in subprocess.run(
            ["pgrep", "-P", str(self.server.pid)], capture_output=True, text=True, check=False
        ).stdout.split():
            os.kill(int(child), signal.SIGKILL)
        self.server.kill()
        self.server.wait()

    def restart(self) -> None:
        self.stop()
        self.start()

    def make(self) -> None:
        """The demo shop in a new database, and the server on it."""
        copy_demo(Path(os.environ["UVRIX_TEMPLATES"]), self.environment["UVRIX_DB_NAME"], self.data)
        self.signed_in.clear()
        self.start()

    def make_anew(self) -> None:
        """As for the first test, whatever a test left behind."""
        self.stop()
        self.make()


@pytest.fixture(scope="session")
def served(tmp_path_factory, process) -> Iterator[Served]:
    server = Served(f"uvrix_{process}_browser", tmp_path_factory.mktemp("data"))
    server.make()
    yield server
    server.stop()


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium-headless-shell"), args=CHROMIUM)
        yield browser
        browser.close()


class Bench:
    """What a person does at the screen."""

    def __init__(self, page: Page, served: Served) -> None:
        self.page = page
        self.served = served
        self.broken: list[str] = []
        # whether whoever signed in has loaded no page yet
        self._coming = False
        page.on("pageerror", self._note_error)
        page.on("console", self._note_refused)

    def leave(self) -> None:
        """Note no more of what happens on the page."""
        self.page.remove_listener("pageerror", self._note_error)
        self.page.remove_listener("console", self._note_refused)

    def _note_error(self, error) -> None:
        self.broken.append(str(error))

    def _note_refused(self, message) -> None:
        """What the page's policy refuses is a request outside; to hear of every request costs a sixth of a run."""
        if "Content Security Policy" in message.text:
            self.broken.append(message.text)

    def go(self, address: str) -> None:
        """Follow a link to an address of the app: inside it where it is open, as a click would."""
        address = address.removeprefix(self.served.address)
        inside = not self._coming and self.page.url.startswith(self.served.address) and self._pages.count() == 1
        if inside:
            self.page.evaluate(IN_THE_APP, address)
        else:
            self.load(address)

    def load(self, address: str) -> None:
        """Load a page anew, as by its address or in a new tab: what changed behind the app's back is seen."""
        self._coming = False
        self.page.goto(self.served.address + address.removeprefix(self.served.address))

    @property
    def _pages(self) -> Locator:
        return self.page.get_by_role("navigation", name="Pages")

    def sign_in(self, role: str = "technician", at: str = "", *, by_page: bool = False) -> None:
        """Be somebody, at an address: through the page, or with the cookies of whoever of that role did so before.

        Where no address is named, the first one that is gone to is the first page that is loaded.
        """
        if not by_page:
            self.page.context.add_cookies(self.served.signed_in.get(role, []))
        if not at:
            if not self._is(role):
                self.page.context.clear_cookies()
                self.sign_in(role, "/shelf")
                self.page.goto("about:blank")
            self._coming = True
            return
        pages, asked = self._pages, self.page.get_by_label("Password", exact=True)
        self.load(at)
        expect(pages.or_(asked)).to_be_visible()
        if pages.is_visible():
            return
        name, password = SIGN_INS[role]
        self.page.get_by_label("Name").fill(name)
        asked.fill(password)
        self.page.get_by_role("button", name="Sign in").click()
        expect(pages).to_be_visible()
        if not by_page:
            self.served.signed_in[role] = self.page.context.cookies()

    def _is(self, role: str) -> bool:
        """Whether the cookies of the window are those of whoever is of that role."""
        person = self.page.request.get(f"{self.served.address}/api/v1/session").json()["person"]
        return bool(person) and person["username"] == SIGN_INS[role][0]

    def open_job(self, serial: str) -> None:
        self.page.get_by_role("link", name=serial).first.click()
        expect(self.page.get_by_text(serial)).to_be_visible()
        self.page.get_by_role("navigation", name="Steps").get_by_role("link", name="Memory").click()

    def new_job(self, serial: str, model: str = "teal-8", complaint: str = "Snow.", name: str = "") -> str:
        """Open a job by the short form, its board named where the library has none; gives its address."""
        page = self.page
        self.go("/jobs/new")
        page.get_by_label("Serial of the card").fill(serial)
        if name:
            page.get_by_label("Board model").select_option(label="not in the library yet …")
            page.get_by_label("What is printed on the board").fill(name)
        else:
            page.get_by_label("Board model").select_option(model)
        page.get_by_label("Customer", exact=True).fill("Una Brack")
        page.get_by_label("Complaint").fill(complaint)
        page.get_by_role("button", name="Open the job").click()
        expect(page.get_by_role("heading", name="The customer says")).to_be_visible()
        return page.url.removesuffix("/arrive")

    def job_of(self, serial: str) -> str:
        """The address of a card's job, asked from the API."""
        found = self.page.request.get(f"{self.served.address}/api/v1/jobs?search={serial}").json()
        return f"/jobs/{found[0]['number']}/memory"

    def drop(self, *files: Path) -> None:
        """Drop files anywhere on the page, as from a file manager."""
        carried = self.page.evaluate_handle("() => new DataTransfer()")
        for file in files:
            self.page.evaluate(
                "([carried, name, bytes]) => carried.items.add(new File([new Uint8Array(bytes)], name))",
                [carried, file.name, list(file.read_bytes())],
            )
        for event in ("dragover", "drop"):
            self.page.dispatch_event("main", event, {"dataTransfer": carried})

    def click_photograph(self, *pixels: tuple[float, float]) -> None:
        """Click at pixels of the photograph that lies under a model being drawn."""
        image = self.page.locator("svg image")
        for x, y in pixels:
            here = image.evaluate(
                "(image, [x, y]) => { const p = new DOMPoint(x, y).matrixTransform(image.getScreenCTM());"
                " return [p.x, p.y] }",
                [x, y],
            )
            self.page.mouse.click(*here)

    @property
    def finding(self):
        return self.page.get_by_test_id("finding")

    @property
    def mark(self):
        return self.page.get_by_test_id("mark")

    def answer_truly(self) -> None:
        """Mark with either answer: the wrong one is refused and the other taken, as when one looks again."""
        for answer in ("yes", "no"):
            self.mark.get_by_label(answer, exact=True).check()
            self.mark.get_by_role("button", name="Mark this chip").click()
            taken, refused = self.mark.get_by_text("is marked, by"), self.mark.get_by_role("alert")
            expect(taken.or_(refused)).to_be_visible()
            if taken.is_visible():
                return

    def check_access(self, *rules: str) -> None:
        """axe finds nothing serious, by all its rules or those named."""
        if not self.page.evaluate("() => 'axe' in window"):
            self.page.evaluate(AXE.read_text())
        asked = {"resultTypes": ["violations"], **({"runOnly": list(rules)} if rules else {})}
        found = self.page.evaluate("asked => axe.run(document, asked)", asked)
        serious = [
            (violation["id"], [node["target"] for node in violation["nodes"]][:3])
            for violation in found["violations"]
            if violation["impact"] in ("serious", "critical")
        ]
        assert serious == []

    def in_dim_theme(self, look: Callable[[], None]) -> None:
        """Look at the page as the theme switch would leave it, then go back to the light theme."""
        self.page.emulate_media(reduced_motion="reduce")  # colours are what they will be, at once
        self.page.evaluate("document.documentElement.dataset.theme = 'dim'")
        look()
        self.page.evaluate("document.documentElement.dataset.theme = 'light'")

    def nothing_cut(self) -> None:
        """Nothing runs out of the window at its width, and no control below what stands beside it."""
        wide = self.page.evaluate("() => [document.documentElement.scrollWidth, window.innerWidth]")
        assert wide[0] <= wide[1]
        assert self.page.evaluate(COVERED) == []

    def page_stands_still(self) -> None:
        """Where panels scroll of themselves, the page behind them has nothing to scroll to."""
        room = self.page.locator("main").locator("xpath=..")
        assert room.evaluate("room => room.scrollHeight - room.clientHeight") == 0


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """A browser test that fails is tried once more in a new shop, and the summary says so; a thorough run fails."""
    if os.environ.get("UVRIX_THOROUGH"):
        return
    for item in items:
        if item.get_closest_marker("browser"):
            item.add_marker(pytest.mark.flaky(reruns=1))


class Window:
    """A page that tests use one after the other: one that has run the app once opens it in half the time."""

    def __init__(self, chromium: Browser) -> None:
        self.context = chromium.new_context(viewport=WINDOW)
        self.context.set_default_timeout(PATIENCE_MS)
        self.page = self.context.new_page()

    def forget(self) -> None:
        """Nothing of the test is left: no sign-in, no draft, no route, no other size."""
        page = self.page
        for other in self.context.pages:
            if other is not page:
                other.close()
        page.unroute_all(behavior="ignoreErrors")
        page.set_viewport_size(WINDOW)
        address = page.evaluate("sessionStorage.clear(), location.origin")
        page.goto("about:blank")
        self.context.clear_cookies()
        cdp = self.context.new_cdp_session(page)
        cdp.send("Storage.clearDataForOrigin", {"origin": address, "storageTypes": "all"})
        cdp.detach()


@pytest.fixture(scope="session")
def windows() -> Iterator[list[Window]]:
    """The window that the last test left, if it can be used again."""
    kept: list[Window] = []
    yield kept
    for window in kept:
        window.context.close()


@pytest.fixture
def bench(chromium: Browser, served: Served, windows: list[Window], request) -> Iterator[Bench]:
    """A technician's bench in a window as new; `own_window` is for tests that listen in it or look at first loads."""
    if getattr(request.node, "execution_count", 1) > 1:
        served.make_anew()
    own = request.node.get_closest_marker("own_window")
    window = windows.pop() if windows and not own else Window(chromium)
    bench = Bench(window.page, served)
    yield bench
    bench.leave()
    failed = request.node.stash.get(FAILED, False)
    if own or failed or not window.page.url.startswith(served.address):
        window.context.close()
    else:
        window.forget()
        windows.append(window)
    assert bench.broken == []


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item, call: pytest.CallInfo[None]) -> Generator[None, Any, Any]:
    """Whether a test failed, for its window."""
    report = yield
    if call.when == "call":
        item.stash[FAILED] = report.failed
    return report


def pytest_terminal_summary(terminalreporter) -> None:
    """Why a first try failed, or nobody would learn from a test that passes at the second."""
    for report in terminalreporter.stats.get("rerun", []):
        terminalreporter.section(f"first try of {report.nodeid}")
        terminalreporter.write_line(report.longreprtext)
