"""The OpenAPI schema against the running API: whatever fits the schema, or does not, gets a proper answer."""

from __future__ import annotations

from collections import Counter
from contextlib import suppress

import pytest
from django.core.signals import request_finished, request_started
from django.db import close_old_connections
from hypothesis import HealthCheck, given, settings
from hypothesis.errors import Unsatisfiable

from uvrix.shop.accounts.models import Role, User
from uvrix.shop.config.access import SignedInSession
from uvrix.shop.config.wsgi import application

CASES_AN_OPERATION = 10


@pytest.mark.fuzz
def test_no_input_breaks_an_endpoint(demo, monkeypatch):
    lead = User.objects.get(role=Role.LEAD)
    # the WSGI client drops cookies; sessions and their tokens are tested in test_access
    monkeypatch.setattr(SignedInSession, "authenticate", lambda *_: (lead, None))
    # the test's one connection must outlive each request
    request_started.disconnect(close_old_connections)
    request_finished.disconnect(close_old_connections)
    try:
        _try_everything()
    finally:
        request_started.connect(close_old_connections)
        request_finished.connect(close_old_connections)


def _try_everything():
    # half as much to import as all other tests together, so it is done where it is used
    import schemathesis
    from schemathesis.checks import not_a_server_error
    from schemathesis.generation import GenerationMode

    headers = {"Host": "localhost"}
    schema = schemathesis.openapi.from_wsgi("/api/v1/schema?format=json", application, headers=headers)
    schema.config.generation.update(with_security_parameters=False)
    answers: Counter[int] = Counter()
    for result in schema.get_all_operations():
        operation = result.ok()  # type: ignore[union-attr]  # a schema that does not load fails the test
        if operation.path.endswith("/session"):
            continue
        for mode in GenerationMode:

            @settings(max_examples=CASES_AN_OPERATION, deadline=None, suppress_health_check=list(HealthCheck))
            @given(case=operation.as_strategy(generation_mode=mode))
            def check(case):
                answer = case.call(headers=headers)
                answers[answer.status_code] += 1
                case.validate_response(answer, checks=[not_a_server_error])

            with suppress(Unsatisfiable):  # an operation without input has no wrong input
                check()
    assert answers[401] == 0, "the lead stays signed in"
    assert answers[200] > 20
    assert sum(answers.values()) > 100
