"""Who may call what: every address and method of the URL map against a table written by hand."""

from __future__ import annotations

import itertools
from uuid import uuid4

import pytest
from django.urls import URLPattern, URLResolver, get_resolver
from rest_framework.response import Response
from rest_framework.views import APIView

from tests.api.conftest import PNG, close_files
from uvrix.shop.ohms.models import Meter

ALL: set[str | None] = {"technician", "front-desk", "lead"}
BENCH: set[str | None] = {"technician", "lead"}
PUBLIC = ALL | {None}

# (address, method): roles that may; every other role gets 403, the signed-out 401.
TABLE: dict[tuple[str, str], set[str | None]] = {
    ("practice", "GET"): BENCH,
    ("practice/day", "GET"): BENCH,
    ("practice/jobs", "POST"): BENCH,
    ("practice/cards", "POST"): BENCH,
    ("practice/cards/of-job", "POST"): {"lead"},
    ("practice/cards/<uuid:file>", "GET"): BENCH,
    ("practice/cards/<uuid:file>", "DELETE"): {"lead"},
    ("jobs/<int:number>/practice", "GET"): BENCH,
    ("jobs/<int:number>/practice", "DELETE"): BENCH,
    ("jobs/<int:number>/practice/steps", "POST"): BENCH,
    ("jobs/<int:number>/practice/help", "POST"): BENCH,
    ("jobs/<int:number>/practice/end", "GET"): BENCH,
    ("jobs/<int:number>/practice/end", "POST"): BENCH,
    ("jobs/<int:number>/practice/named", "PUT"): BENCH,
    ("jobs/<int:number>/practice/card", "GET"): BENCH,
    ("jobs/<int:number>/practice/sight/<str:place>", "GET"): BENCH,
    ("session", "GET"): PUBLIC,
    ("session", "POST"): PUBLIC,
    ("session", "DELETE"): ALL,
    ("invitations/<str:token>", "GET"): PUBLIC,
    ("invitations/<str:token>", "POST"): PUBLIC,
    ("session/second-factor", "GET"): ALL,
    ("session/second-factor", "POST"): ALL,
    ("session/second-factor", "PUT"): ALL,
    ("session/second-factor/end", "POST"): ALL,
    ("people/<str:username>/recovery", "POST"): {"lead"},
    ("schema", "GET"): ALL,
    ("board-models", "GET"): ALL,
    ("board-models", "POST"): BENCH,
    ("board-models/<str:slug>", "GET"): ALL,
    ("board-models/<str:slug>/file", "GET"): ALL,
    ("board-models/<str:slug>/photographs", "POST"): ALL,
    ("board-models/<str:slug>/editions", "GET"): ALL,
    ("board-models/<str:slug>/editions/<int:edition>", "GET"): ALL,
    ("board-models/<str:slug>/inherited", "GET"): ALL,
    ("board-models/<str:slug>/family", "POST"): BENCH,
    ("board-models/<str:slug>/lent-map", "GET"): ALL,
    ("board-models/<str:slug>/print", "GET"): ALL,
    ("board-drafts", "POST"): BENCH,
    ("board-drafts/blank", "GET"): BENCH,
    ("board-drafts/saved", "POST"): BENCH,
    ("board-drafts/placement", "POST"): BENCH,
    ("unknown-boards", "POST"): ALL,
    ("board-suggestions", "POST"): ALL,
    ("library-pack", "GET"): BENCH,
    ("library-pack", "POST"): {"lead"},
    ("library-pack/compared", "POST"): BENCH,
    ("bench-plans", "GET"): ALL,
    ("bench-plans", "POST"): BENCH,
    ("board-models/<str:slug>/plan", "PUT"): BENCH,
    ("board-models/<str:slug>/sides", "PUT"): BENCH,
    ("board-models/<str:slug>/sketch", "GET"): BENCH,
    ("board-models/<str:slug>/teardown", "GET"): ALL,
    ("board-models/<str:slug>/teardown", "PUT"): BENCH,
    ("board-models/<str:slug>/watchlist", "GET"): ALL,
    ("board-models/<str:slug>/watchlist", "PUT"): BENCH,
    ("parcels", "GET"): ALL,
    ("parcels", "POST"): ALL,
    ("parcels/<uuid:parcel>/called-off", "POST"): ALL,
    ("jobs/<int:number>/owed", "GET"): ALL,
    ("jobs/<int:number>/owed", "POST"): ALL,
    ("jobs/<int:number>/waivers", "POST"): {"lead"},
    ("jobs/<int:number>/settled", "POST"): BENCH,
    ("jobs/<int:number>/paste-and-pads", "GET"): ALL,
    ("jobs/<int:number>/paste-and-pads", "POST"): BENCH,
    ("jobs/<int:number>/teardown", "GET"): ALL,
    ("jobs/<int:number>/teardown", "POST"): BENCH,
    ("jobs/<int:number>/hypotheses", "GET"): ALL,
    ("jobs/<int:number>/hypotheses", "POST"): BENCH,
    ("jobs/<int:number>/ohms", "GET"): ALL,
    ("jobs/<int:number>/power", "POST"): BENCH,
    ("jobs/<int:number>/photo-points", "POST"): BENCH,
    ("jobs/<int:number>/readings", "POST"): BENCH,
    ("jobs/<int:number>/readings/earlier", "GET"): ALL,
    ("jobs/<int:number>/sweeps", "POST"): BENCH,
    ("jobs/<int:number>/fuse-swaps", "POST"): BENCH,
    ("jobs/<int:number>/alike", "GET"): ALL,
    ("jobs/<int:number>/chips", "GET"): ALL,
    ("jobs/<int:number>/slot", "GET"): ALL,
    ("jobs/<int:number>/volts", "GET"): ALL,
    ("jobs/<int:number>/draws", "POST"): BENCH,
    ("jobs/<int:number>/rungs", "POST"): BENCH,
    ("reported-power", "POST"): ALL,
    ("jobs/<int:number>/phases", "POST"): BENCH,
    ("jobs/<int:number>/rail-loads", "POST"): BENCH,
    ("jobs/<int:number>/tried", "POST"): BENCH,
    ("customers", "GET"): ALL,
    ("customers/<int:customer>/merge", "POST"): {"lead"},
    ("jobs/<int:number>/customer", "POST"): {"lead"},
    ("jobs/<int:number>/starts", "POST"): BENCH,
    ("jobs/<int:number>/converters/<str:node>", "GET"): ALL,
    ("supplies", "GET"): ALL,
    ("supplies", "PUT"): BENCH,
    ("supplies/watched", "POST"): BENCH,
    ("supplies/<int:supply>/off", "POST"): BENCH,
    ("jobs/<int:number>/rework", "GET"): ALL,
    ("jobs/<int:number>/rework", "POST"): BENCH,
    ("jobs/<int:number>/rework/before", "GET"): ALL,
    ("acts/<uuid:act>/withdrawal", "POST"): BENCH,
    ("jobs/<int:number>/declared-parts", "GET"): ALL,
    ("jobs/<int:number>/declared-parts", "POST"): BENCH,
    ("jobs/<int:number>/lots", "POST"): BENCH,
    ("jobs/<int:number>/proof", "GET"): ALL,
    ("jobs/<int:number>/proof/logs", "POST"): BENCH,
    ("jobs/<int:number>/proof/checks", "POST"): BENCH,
    ("jobs/<int:number>/proof/figures", "POST"): BENCH,
    ("jobs/<int:number>/proof/faults", "POST"): BENCH,
    ("log-columns", "GET"): ALL,
    ("log-columns", "PUT"): BENCH,
    ("proof-protocol", "GET"): ALL,
    ("proof-protocol", "PUT"): {"lead"},
    ("board-models/<str:slug>/proof", "GET"): ALL,
    ("board-models/<str:slug>/proof", "PUT"): {"lead"},
    ("figures", "GET"): ALL,
    ("figures.csv", "GET"): ALL,
    ("learning", "GET"): ALL,
    ("jobs/<int:number>/learning", "POST"): BENCH,
    ("jobs/<int:number>/learning", "DELETE"): BENCH,
    ("jobs/<int:number>/archive", "GET"): BENCH,
    ("archive", "GET"): {"lead"},
    ("archives", "POST"): {"lead"},
    ("backups", "GET"): {"lead"},
    ("offers/<uuid:offer>/answer", "POST"): ALL,
    ("jobs/<int:number>/messages", "GET"): ALL,
    ("jobs/<int:number>/messages", "POST"): ALL,
    ("jobs/<int:number>/message-draft", "GET"): ALL,
    ("jobs/<int:number>/links", "POST"): ALL,
    ("jobs/<int:number>/links", "DELETE"): ALL,
    ("mailbox", "GET"): ALL,
    ("message-templates", "GET"): ALL,
    ("message-templates", "PUT"): {"lead"},
    ("customer/<str:token>", "GET"): PUBLIC,
    ("customer/<str:token>/answer", "POST"): PUBLIC,
    ("customer/<str:token>/report", "GET"): PUBLIC,
    ("jobs/<int:number>/return", "GET"): ALL,
    ("jobs/<int:number>/return", "POST"): ALL,
    ("jobs/<int:number>/return/waivers", "POST"): {"lead"},
    ("jobs/<int:number>/comeback", "POST"): ALL,
    ("jobs/<int:number>/report", "GET"): ALL,
    ("jobs/<int:number>/report.pdf", "GET"): ALL,
    ("reminders", "GET"): ALL,
    ("follow-ups/<uuid:follow>/done", "POST"): ALL,
    ("return-settings", "GET"): ALL,
    ("return-settings", "PUT"): {"lead"},
    ("stock", "GET"): ALL,
    ("stock", "POST"): ALL,
    ("stock/life", "GET"): ALL,
    ("stock/life", "PUT"): BENCH,
    ("stock/label", "GET"): ALL,
    ("stock/moves", "POST"): ALL,
    ("stock/sought", "GET"): ALL,
    ("stock/substitutes", "GET"): ALL,
    ("stock/bearers", "GET"): ALL,
    ("stock/lots", "GET"): ALL,
    ("stock/donors", "GET"): ALL,
    ("stock/donors", "POST"): BENCH,
    ("stock/set-moves", "POST"): BENCH,
    ("stock-settings", "GET"): ALL,
    ("stock-settings", "PUT"): {"lead"},
    ("cards/<str:serial>/parts", "GET"): ALL,
    ("cards/<str:serial>/inspections", "POST"): BENCH,
    ("board-models/<str:slug>/values", "GET"): ALL,
    ("board-models/<str:slug>/values", "POST"): BENCH,
    ("part-values/<uuid:value>/withdrawal", "POST"): BENCH,
    ("jobs/<int:number>/fits", "GET"): ALL,
    ("jobs/<int:number>/one-or-all", "GET"): ALL,
    ("jobs/<int:number>/offers", "GET"): ALL,
    ("jobs/<int:number>/offers", "POST"): ALL,
    ("rework-settings", "GET"): ALL,
    ("rework-settings", "PUT"): {"lead"},
    ("jobs/<int:number>/pads/<str:designator>", "GET"): ALL,
    ("jobs/<int:number>/pads/<str:designator>", "POST"): BENCH,
    ("jobs/<int:number>/curves", "POST"): BENCH,
    ("jobs/<int:number>/images", "GET"): ALL,
    ("jobs/<int:number>/image-reads", "POST"): BENCH,
    ("jobs/<int:number>/image-writes", "POST"): BENCH,
    ("images", "GET"): ALL,
    ("images", "POST"): BENCH,
    ("images/<str:sha256>/file", "GET"): BENCH,
    ("images/<str:sha256>/against/<str:other>", "GET"): ALL,
    ("timers", "GET"): ALL,
    ("jobs/<int:number>/timers", "POST"): BENCH,
    ("timers/<uuid:timer>/stopped", "POST"): BENCH,
    ("cautions", "GET"): ALL,
    ("cautions/<str:caution>/seen", "POST"): ALL,
    ("pinouts", "GET"): ALL,
    ("pinouts", "PUT"): BENCH,
    ("jobs/<int:number>/beside", "GET"): ALL,
    ("board-models/<str:slug>/ball-maps/<str:designator>", "GET"): ALL,
    ("meters/taught", "POST"): BENCH,
    ("meters/<int:meter>/heard", "POST"): BENCH,
    ("meters/<int:meter>/checks", "GET"): ALL,
    ("meters/<int:meter>/checks", "POST"): BENCH,
    ("morning-standard", "GET"): ALL,
    ("morning-standard", "PUT"): {"lead"},
    ("meters", "GET"): ALL,
    ("meters", "PUT"): BENCH,
    ("meters/<int:meter>/samples", "POST"): BENCH,
    ("board-models/<str:slug>/reference-cards", "GET"): ALL,
    ("board-models/<str:slug>/reference-cards", "POST"): BENCH,
    ("reference-cards/<uuid:reference>", "GET"): ALL,
    ("reference-cards/<uuid:reference>", "POST"): BENCH,
    ("reference-cards/<uuid:reference>/photographs", "POST"): BENCH,
    ("jobs/<int:number>/shorts", "GET"): ALL,
    ("jobs/<int:number>/injections", "POST"): BENCH,
    ("injections/<uuid:injection>/thermals", "POST"): BENCH,
    ("injections/<uuid:injection>/glows", "POST"): BENCH,
    ("jobs/<int:number>/taken-off", "POST"): BENCH,
    ("jobs/<int:number>/cut-outs", "POST"): BENCH,
    ("jobs/<int:number>/case", "GET"): ALL,
    ("jobs/<int:number>/case/file", "GET"): ALL,
    ("jobs/<int:number>/timeline", "GET"): ALL,
    ("jobs/<int:number>/timeline", "POST"): ALL,
    ("jobs/<int:number>/resume", "GET"): ALL,
    ("jobs/<int:number>/changes", "POST"): ALL,
    ("jobs/<int:number>/time", "GET"): ALL,
    ("jobs/<int:number>/clock", "POST"): BENCH,
    ("jobs/<int:number>/worth", "POST"): ALL,
    ("jobs/<int:number>/tasks", "POST"): ALL,
    ("clock", "GET"): ALL,
    ("clock", "DELETE"): BENCH,
    ("clocks/<uuid:span>/minutes", "POST"): BENCH,
    ("tasks", "GET"): ALL,
    ("tasks/<uuid:task>/taken", "POST"): ALL,
    ("tasks/<uuid:task>/done", "POST"): ALL,
    ("money", "GET"): ALL,
    ("session/password", "PUT"): ALL,
    ("sessions", "GET"): ALL,
    ("sessions/<str:session>", "DELETE"): ALL,
    ("people", "GET"): {"lead"},
    ("audit", "GET"): {"lead"},
    ("people/<path:username>", "PUT"): {"lead"},
    ("invitations", "POST"): {"lead"},
    ("filters", "GET"): ALL,
    ("filters", "POST"): ALL,
    ("filters/<uuid:saved>", "DELETE"): ALL,
    ("live", "GET"): ALL,
    ("setup", "GET"): {"lead"},
    ("labels", "GET"): ALL,
    ("money", "PUT"): {"lead"},
    ("writing", "GET"): PUBLIC,
    ("jobs/<int:number>/ticks", "POST"): BENCH,
    ("known-good", "POST"): BENCH,
    ("known-good/<int:row>", "DELETE"): {"lead"},
    ("board-models/<str:slug>/known-good", "GET"): ALL,
    ("board-models/<str:slug>/known-good/file", "GET"): ALL,
    ("board-models/<str:slug>/known-good/figures", "GET"): ALL,
    ("evidence-files", "POST"): ALL,
    ("evidence/<uuid:evidence>/file", "GET"): ALL,
    ("photographs/<uuid:photograph>/straightened", "POST"): BENCH,
    ("families", "GET"): ALL,
    ("families", "POST"): BENCH,
    ("families/<str:slug>/file", "GET"): ALL,
    ("packages", "GET"): ALL,
    ("packages", "POST"): BENCH,
    ("packages/<str:name>/file", "GET"): ALL,
    ("recipes", "GET"): ALL,
    ("recipes", "POST"): BENCH,
    ("recipes/<str:slug>", "DELETE"): {"lead"},
    ("recipes/<str:slug>/file", "GET"): ALL,
    ("readers", "GET"): ALL,
    ("readers", "POST"): BENCH,
    ("readers/try", "POST"): BENCH,
    ("readers/<str:slug>/file", "GET"): ALL,
    ("shelf", "GET"): ALL,
    ("jobs", "GET"): ALL,
    ("jobs", "POST"): ALL,
    ("jobs/<int:number>", "GET"): ALL,
    ("jobs/<int:number>/orientation", "PUT"): BENCH,
    ("cards/<str:serial>", "GET"): ALL,
    ("jobs/<int:number>/runs", "GET"): ALL,
    ("jobs/<int:number>/runs", "POST"): BENCH,
    ("jobs/<int:number>/runs/typed", "POST"): BENCH,
    ("jobs/<int:number>/report-order", "GET"): ALL,
    ("jobs/<int:number>/recipes", "GET"): ALL,
    ("jobs/<int:number>/recipes", "PUT"): BENCH,
    ("jobs/<int:number>/recipes/worked", "GET"): ALL,
    ("jobs/<int:number>/proven-places", "POST"): BENCH,
    ("jobs/<int:number>/plan", "GET"): ALL,
    ("jobs/<int:number>/attempts", "POST"): BENCH,
    ("attempts/<uuid:attempt>/withdrawal", "POST"): BENCH,
    ("jobs/<int:number>/phone-pass", "POST"): ALL,
    ("phone/<str:token>", "GET"): PUBLIC,
    ("phone/<str:token>", "POST"): PUBLIC,
    ("phone/<str:token>/readings", "GET"): PUBLIC,
    ("phone/<str:token>/readings", "POST"): PUBLIC,
    ("jobs/<int:number>/arrive", "GET"): ALL,
    ("jobs/<int:number>/symptom", "POST"): ALL,
    ("jobs/<int:number>/intake", "POST"): ALL,
    ("jobs/<int:number>/evidence", "POST"): ALL,
    ("evidence/<uuid:evidence>/words", "POST"): BENCH,
    ("jobs/<int:number>/trials", "POST"): BENCH,
    ("trials/<uuid:trial>/withdrawal", "POST"): BENCH,
    ("jobs/<int:number>/reproductions", "POST"): BENCH,
    ("jobs/<int:number>/label", "GET"): ALL,
    ("jobs/<int:number>/look", "GET"): ALL,
    ("jobs/<int:number>/look/regions", "POST"): BENCH,
    ("jobs/<int:number>/look/findings", "POST"): BENCH,
    ("look-findings/<uuid:finding>/withdrawal", "POST"): BENCH,
    ("jobs/<int:number>/photographs", "POST"): ALL,
    ("photographs/<uuid:photograph>/overlay", "POST"): BENCH,
    ("kinds", "GET"): ALL,
    ("habits", "GET"): ALL,
    ("habits", "PUT"): {"lead"},
    ("pictures", "POST"): ALL,
    ("pictures/<str:sha256>", "GET"): ALL,
    ("jobs/<int:number>/finding", "GET"): ALL,
    ("jobs/<int:number>/mark-question", "GET"): ALL,
    ("jobs/<int:number>/marks", "GET"): ALL,
    ("jobs/<int:number>/marks", "POST"): BENCH,
    ("runs/<uuid:run>", "GET"): ALL,
    ("runs/<uuid:run>/file", "GET"): ALL,
    ("runs/<uuid:run>/withdrawal", "POST"): BENCH,
    ("marks/<uuid:mark>/withdrawal", "POST"): BENCH,
}
METHODS = ("GET", "POST", "PUT", "PATCH", "DELETE")


def api_views(resolver=None, prefix=""):
    """Every address below /api/v1/ with its view class."""
    for pattern in (resolver or get_resolver()).url_patterns:
        route = prefix + str(pattern.pattern)
        if isinstance(pattern, URLResolver):
            yield from api_views(pattern, route)
        elif isinstance(pattern, URLPattern) and route.startswith("api/v1/"):
            yield route.removeprefix("api/v1/"), vars(pattern.callback)["view_class"]


def implemented():
    return {(route, method) for route, view in api_views() for method in METHODS if hasattr(view, method.lower())}


def test_the_table_names_every_address_and_method_that_there_is():
    assert implemented() == set(TABLE)


@pytest.fixture
def address(job, drop, technician, upload):
    run = drop("teal-8-cold.csv").json()["id"]
    tried = {"id": str(uuid4()), "do": "reball", "outcome": "no", "minutes": 40}
    attempt = technician.post(f"/api/v1/jobs/{job.pk}/attempts", tried).json()
    picture = upload("pictures", "board.png", PNG).json()
    spot = {"id": str(uuid4()), "kind": "burn", "side": "front", "x_mm": 20, "y_mm": 30}
    finding = technician.post(f"/api/v1/jobs/{job.pk}/look/findings", spot).json()["findings"][0]["id"]
    said = {"id": str(uuid4()), "kind": "log", "source": "the customer", "text": "It stops."}
    said["file"] = upload("evidence-files", "log.txt", b"it stops").json()["sha256"]
    technician.post(f"/api/v1/jobs/{job.pk}/evidence", said)
    announced = {"id": str(uuid4()), "customer": "Ansel Roe", "due": "2026-12-01"}
    technician.post("/api/v1/parcels", announced)
    span = technician.post(f"/api/v1/jobs/{job.pk}/clock", {"id": str(uuid4()), "step": "look"}).json()["running"][0]
    task = technician.post(f"/api/v1/jobs/{job.pk}/tasks", {"id": str(uuid4()), "words": "Strip it."}).json()["tasks"][
        0
    ]
    promised = {"id": str(uuid4()), "kind": "other", "words": "Return its box."}
    technician.post(f"/api/v1/jobs/{job.pk}/owed", promised)
    tested = {"id": str(uuid4()), "cell": "computer", "shows": True}
    cells = technician.post(f"/api/v1/jobs/{job.pk}/trials", tested).json()["cells"]
    trial = next(cell["trials"][0]["id"] for cell in cells if cell["trials"])
    technician.put("/api/v1/meters", {"name": "meter one"})
    meter = Meter.objects.get().pk
    reference, fed = str(uuid4()), str(uuid4())
    technician.post("/api/v1/board-models/teal-8/reference-cards", {"id": reference, "card": "TL8-GOOD"})
    technician.post(f"/api/v1/jobs/{job.pk}/power", {"id": str(uuid4()), "state": "off"})
    injected = {"id": fed, "rail": "mem", "volts": 0.5, "amps": 1}
    technician.post(f"/api/v1/jobs/{job.pk}/injections", injected)
    kept = {"id": str(uuid4()), "sha256": picture["sha256"], "side": "front"}
    photograph = technician.post(f"/api/v1/jobs/{job.pk}/photographs", kept).json()["id"]
    mark = technician.post(
        f"/api/v1/jobs/{job.pk}/marks", {"id": str(uuid4()), "designator": "U18", "typed": "U18", "answer": "yes"}
    )
    if mark.status_code == 422:
        again = {"id": str(uuid4()), "designator": "U18", "typed": "U18", "answer": "no"}
        mark = technician.post(f"/api/v1/jobs/{job.pk}/marks", again)

    def fill(route):
        values = {"<int:number>": job.pk, "<uuid:run>": run, "<uuid:mark>": mark.json()["id"], "<str:slug>": "teal-8"}
        values |= {"<str:serial>": "TL8-1", "<str:token>": "none", "<int:edition>": 1, "<str:name>": "none"}
        values |= {"<uuid:parcel>": announced["id"], "<uuid:act>": uuid4()}
        values |= {"<uuid:span>": span["id"], "<uuid:task>": task["id"]}
        values |= {"<str:session>": "none", "<str:username>": "technician", "<uuid:saved>": uuid4(), "<int:row>": 1}
        values |= {"<int:meter>": meter, "<uuid:reference>": reference, "<uuid:injection>": fed}
        values |= {"<uuid:trial>": trial, "<uuid:evidence>": said["id"]}
        values |= {"<uuid:finding>": finding, "<uuid:photograph>": photograph, "<str:designator>": "U11"}
        values |= {
            "<int:supply>": 1,
            "<int:customer>": 1,
            "<str:node>": "1v8",
            "<str:other>": "none",
            "<str:caution>": "hot",
            "<path:username>": "nobody",
        }
        values |= {
            "<uuid:offer>": uuid4(),
            "<uuid:follow>": uuid4(),
            "<uuid:value>": uuid4(),
            "<uuid:rework>": uuid4(),
            "<uuid:timer>": uuid4(),
        }
        values |= {"<uuid:file>": uuid4(), "<str:place>": "U11"}
        values |= {"<uuid:attempt>": attempt["id"], "<str:sha256>": picture["sha256"]}
        for name, value in values.items():
            route = route.replace(name, str(value))
        assert "<" not in route
        return f"/api/v1/{route}"

    return fill


# The addresses are dealt out to so many tests, which processes share.
HANDS = 6
ROUTES = sorted({route for route, _ in TABLE})


@pytest.fixture
def _let_in(address, monkeypatch):
    """What may be asked is answered with 202 in place of being done: other tests do it."""
    asked = APIView.initial

    def initial(view, request, *args, **kwargs):
        asked(view, request, *args, **kwargs)
        if request.method.lower() in view.http_method_names and hasattr(view, request.method.lower()):
            setattr(view, request.method.lower(), lambda *_, **__: Response(status=202))

    monkeypatch.setattr(APIView, "initial", initial)


@pytest.mark.usefixtures("_let_in")
@pytest.mark.parametrize("hand", range(HANDS))
def test_each_role_gets_what_the_table_says(hand, address, as_role):
    browsers = {role: as_role(role) for role in (None, "technician", "front-desk", "lead")}
    for route, method in itertools.product(ROUTES[hand::HANDS], METHODS):
        allowed = TABLE.get((route, method))
        # a method that nobody may use is asked by whoever may most, and by nobody
        for role in [None, "lead"] if allowed is None else [None, "technician", "front-desk", "lead"]:
            answer = browsers[role].generic(method, address(route), "{}", "application/json")
            close_files(answer)
            if allowed is None:
                assert answer.status_code in (401, 403, 405), (route, method, role)
            elif role in allowed:
                assert answer.status_code == 202, (route, method, role, answer.content)
            else:
                assert answer.status_code == (401 if role is None else 403), (route, method, role)
                assert answer["Content-Type"] == "application/problem+json"


def test_a_change_without_the_csrf_token_is_refused(people, job):
    from rest_framework.test import APIClient

    strict = APIClient(enforce_csrf_checks=True)
    strict.force_login(people["technician"], backend="django.contrib.auth.backends.ModelBackend")
    answer = strict.put(f"/api/v1/jobs/{job.pk}/orientation", {"side": "back", "turns": 1})
    assert answer.status_code == 403
    assert strict.post("/api/v1/session", {"username": "a", "password": "b"}).status_code == 403


def test_unknown_ids_are_404_and_unknown_addresses_too(technician):
    for address in (f"runs/{uuid4()}", "jobs/99999", f"jobs/{2**70}", "board-models/none", "cards/none", "nowhere"):
        answer = technician.get(f"/api/v1/{address}")
        assert answer.status_code == 404, address
        assert answer["Content-Type"] == "application/problem+json"


def test_pages_carry_a_strict_policy_and_no_page_may_frame_us(client, db):
    answer = client.get("/shelf")
    policy = answer["Content-Security-Policy"]
    assert "default-src 'none'" in policy
    assert "script-src 'self'" in policy
    assert "unsafe" not in policy
    assert answer["X-Frame-Options"] == "DENY"
    assert answer["X-Content-Type-Options"] == "nosniff"
