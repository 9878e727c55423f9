"""How far a new shop is set up."""

from uvrix.core.worth.worth import Money
from uvrix.shop.clock.services import set_money
from uvrix.shop.config.roles import Role


def test_it_counts_what_is_there_besides_the_lead(as_role, people):
    lead = as_role(Role.LEAD)
    assert lead.get("/api/v1/setup").json() == {"money": False, "others": 2, "board_models": 0, "jobs": 0}
    people[Role.TECHNICIAN].is_active = False
    people[Role.TECHNICIAN].save()
    set_money(Money("crowns", 40, 0.5), people[Role.LEAD])
    assert lead.get("/api/v1/setup").json() == {"money": True, "others": 1, "board_models": 0, "jobs": 0}


def test_a_drawn_board_and_a_job_count(as_role, job):
    found = as_role(Role.LEAD).get("/api/v1/setup").json()
    assert (found["board_models"], found["jobs"]) == (1, 1)
