"""Thousands of odd requests: none ends in a crash or hangs, and nothing is accepted that a later view cannot show.

The short form runs every time; ``./leitfaden test --long`` sends ten thousand (tests/long/test_long.py).
"""

from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, settings

from fuzzing import call_case, send_hostile
from practice.services import start_attempt


def test_hostile_requests_are_answered_and_what_is_accepted_can_be_shown(world: Any) -> None:
    attempt = start_attempt(member=world.members["learner"], assignment_id=world.assignment.pk)
    report = send_hostile(world, attempt.pk, requests=60, seed=20_261_127)
    assert report.sent == 60
    assert report.hung == [] and report.broken == []
    assert report.accepted > 2, "a generator whose requests are all refused proves little"


#: The kept document, of which another test holds that it is current: asking the server for it takes seconds in every
#: process.
schema = schemathesis.openapi.from_path(Path(__file__).parents[2] / "docs" / "openapi.json")


@pytest.fixture
def lead_client(world: Any) -> Any:
    return world.client("lead")


@schema.parametrize()
@settings(
    max_examples=4,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_every_operation_survives_what_its_own_schema_allows(case: Any, lead_client: Any) -> None:
    status, answer = call_case(lead_client, case)
    assert status < 500, answer
    if status >= 400:
        assert answer["code"] and answer["message"]
