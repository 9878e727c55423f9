"""The OpenAPI schema against the running API: whatever fits the schema, or does not, gets the answer that it says."""

from __future__ import annotations

from collections import Counter
from contextlib import suppress

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis.errors import Unsatisfiable

from tests.api.conftest import OWN_HOST, misfits
from tests.conftest import THOROUGH
from uvrix.shop.config.roles import Role

# Thorough: more than 10,000 requests a role.
CASES_AN_OPERATION, ROLES = (25, list(Role)) if THOROUGH else (3, [Role.LEAD])
# The operations are dealt out to so many tests, which processes share.
HANDS = 8


def has_wrong_input(operation) -> bool:
    """Whether anything can be sent that the schema does not allow; that any text is a slug takes long to find out."""
    given = [parameter.definition for parameter in operation.iter_parameters()]
    return bool(operation.body) or any(
        entry["in"] != "path"
        or set(entry["schema"]) - {"description", "title"} != {"type"}
        or entry["schema"]["type"] != "string"
        for entry in given
    )


@pytest.mark.fuzz
@pytest.mark.in_turn(4)
@pytest.mark.parametrize("hand", range(HANDS))
@pytest.mark.parametrize("schema", ROLES, indirect=True)
def test_no_input_breaks_an_endpoint_and_every_answer_is_what_the_schema_says(schema, hand):
    from schemathesis.generation import GenerationMode

    answers: Counter[int] = Counter()
    wrong: dict[tuple[str, str], str] = {}
    operations = [result.ok() for result in schema.get_all_operations()]
    for operation in operations[hand::HANDS]:
        if operation.path.endswith("/session"):
            continue
        for mode in GenerationMode if has_wrong_input(operation) else [GenerationMode.POSITIVE]:

            @settings(max_examples=CASES_AN_OPERATION, deadline=None, suppress_health_check=list(HealthCheck))
            @given(case=operation.as_strategy(generation_mode=mode))
            def check(case):
                answer = case.call(headers=OWN_HOST)
                answers[answer.status_code] += 1
                for kind, said in misfits(case, answer).items():
                    wrong.setdefault((case.operation.path, kind), said)

            with suppress(Unsatisfiable):  # what little can be wrong was not met in so few tries
                check()
    assert list(wrong.values()) == []
    print(f"{sum(answers.values())} requests: {dict(sorted(answers.items()))}")
    assert answers[401] == 0, "nobody is signed out"
    assert answers[200] > 0
    assert sum(answers.values()) > 50
