"""What practice asks of the model, in workers."""

from typing import Any

from jobs.kinds import HEAVY, Tell, computation
from leitfaden_core.words import say
from practice.items import prepare_station
from practice.models import Assignment


@computation("prepare_station", limit_s=120.0, priority=5)
def prepare_one(wish: Any, tell: Tell) -> None:
    """The station that a learner has just opened."""
    prepare_station(wish["assignment"], wish["station"])


@computation("prepare_assignment", queue=HEAVY, limit_s=900.0, background=True, priority=-5)
def prepare_all(wish: Any, tell: Tell) -> None:
    """All stations of an assignment, before its learner comes."""
    assignment = Assignment.objects.select_related("version").filter(pk=wish["assignment"]).first()
    count = len(assignment.version.document["stations"]) if assignment else 0
    for station in range(count):
        tell(station / count, say("station {station} of {count} is being prepared", station=station + 1, count=count))
        prepare_station(wish["assignment"], station)
