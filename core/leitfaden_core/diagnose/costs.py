"""What a test costs now: the instrument's own time, the way into its condition from where the vehicle stands, and the
size of the job. Minutes are rules of thumb for an accessible engine, open to objection.
"""

from leitfaden_core.diagnose.procedures import DiagnosticTest
from leitfaden_core.scripts import CONDITIONS, condition

#: A vehicle that has run must stand overnight before it is cold again: what the bay is worth meanwhile. [min]
NIGHT = 240.0
#: Warming up an engine that is cold, and going on a road that one is on already. [min]
WARM_UP, NEXT_ON_THE_ROAD = 8.0, 3.0
#: Exchanging a part for a known-good one and putting the old one back. [min]
JOBS: dict[str, float] = {
    "air duct": 10.0,
    "air filter": 6.0,
    "airflow meter": 12.0,
    "MAP sensor": 10.0,
    "MAP sensor hose": 8.0,
    "IAT sensor": 10.0,
    "ECT sensor": 35.0,
    "vacuum hose or gasket": 40.0,
    "front oxygen sensor": 40.0,
    "rear oxygen sensor": 40.0,
    "wideband sensor": 40.0,
    "throttle position sensor": 25.0,
    "fuel": 45.0,
    "fuel pressure regulator": 45.0,
    "fuel pump and filter": 120.0,
    "injectors": 150.0,
    "ignition coil, plug and injector of the cylinder": 45.0,
    "purge valve": 15.0,
    "brake servo": 120.0,
    "catalyst": 240.0,
    "silencer": 90.0,
    "exhaust gasket": 120.0,
    "particle filter": 240.0,
    "turbocharger": 360.0,
    "wastegate": 240.0,
    "thermostat": 90.0,
    "coolant": 40.0,
    "cooling fan": 60.0,
    "alternator": 80.0,
    "timing belt setting": 240.0,
    "control unit": 60.0,
    "EGR valve": 90.0,
    "EGR passage": 120.0,
}
USUAL_JOB = 30.0
#: What a part that was bought in vain costs, in minutes of a shop. [min]
WRONG_PURCHASE = 40.0


def minutes_now(test: DiagnosticTest, taken: list[str], conditions: dict[str, str]) -> float:
    """What a test costs after those that were taken, in this order.

    ``conditions``: the condition of each known test, by its id. The vehicle came in the morning and is cold until
    something has run it. [min]
    """
    where, done = condition(test.condition), test.isolates
    road = where.way_minutes
    own = JOBS.get(done.name, USUAL_JOB) if done and done.what == "part" else test.minutes - road
    ran = any(_runs(name, conditions[name]) for name in taken)
    if test.after_a_night or where.cold:
        return own + (NIGHT if ran else 0.0)
    if not _runs(test.id, test.condition):
        return own
    way = 0.0 if ran else WARM_UP
    if road > 0.0:
        there = bool(taken) and condition(conditions[taken[-1]]).way_minutes > 0.0
        return own + (NEXT_ON_THE_ROAD if there else max(way, road))
    return own + way


def price(test: DiagnosticTest, minutes: float, bad: float) -> float:
    """A test's cost with what it risks: a part that is bought for trying, and is not bad, was bought in vain.

    ``bad``: probability that the part is. [min]
    """
    return minutes + (WRONG_PURCHASE * (1.0 - bad) if test.instrument == "known_good_part" else 0.0)


def _runs(test_id: str, condition: str) -> bool:
    """Whether a test runs the engine. Codes are read from memory."""
    return test_id != "codes" and CONDITIONS[condition].running
