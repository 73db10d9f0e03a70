"""A database of every release migrates forward with its data; a copy of it restores."""

import json
import os
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from leitfaden_host.cluster import Cluster

ROOT = Path(__file__).parents[2]
RELEASES = sorted((ROOT / "tests" / "data" / "releases").glob("*.dump"))
LOOK = """
import json
from django.test import Client
from people.models import School, User, RulesVersion
from lessons.models import LessonVersion
from practice.models import Attempt
finished, half = Attempt.objects.get(finished_at__isnull=False), Attempt.objects.get(finished_at__isnull=True)
client = Client()
def signed(who, name):
    known = {"username": name, "password": "hollerbach"}
    return who.post("/api/session", known, content_type="application/json")
signed_in = signed(client, "brandt")
debrief = client.get(f"/api/attempts/{finished.pk}/debrief").json()
learner = Client()
signed(learner, "sommer")
station = learner.get(f"/api/attempts/{half.pk}/stations/{half.reached}")
print(json.dumps({
    "school": School.objects.get().name, "people": User.objects.count(),
    "demo": User.objects.filter(is_demo=True).count(),
    "rules": [[row.number, row.book.trim_good, row.book.trim_investigate] for row in RulesVersion.objects.all()],
    "versions": [version.rules.number for version in LessonVersion.objects.all()],
    "seeds": [half.assignment.seed, finished.assignment.seed], "reached": half.reached, "answers": half.entries.count(),
    "signed_in": signed_in.status_code, "score": debrief["score"], "cause": debrief["cause"],
    "station": station.json()["station"]["kind"],
}))
"""


@pytest.fixture
def cluster() -> Cluster:
    return Cluster("test-database")


@pytest.fixture
def database(cluster: Cluster, request: pytest.FixtureRequest) -> Iterator[str]:
    name = f"leitfaden_upgrade_{os.getpid()}"
    cluster.sql(f"drop database if exists {name} with (force)")
    cluster.client("createdb", name)
    yield name
    cluster.sql(f"drop database if exists {name} with (force)")


@pytest.mark.parametrize("release", RELEASES, ids=lambda path: path.stem)
def test_a_database_of_that_release_goes_on_with_all_its_data(cluster: Cluster, database: str, release: Path) -> None:
    cluster.client("pg_restore", "--no-owner", "--exit-on-error", str(release), database=database)
    environment = os.environ | {
        "LEITFADEN_DB_NAME": database,
        "LEITFADEN_JOBS_INLINE": "1",
        "DJANGO_SETTINGS_MODULE": "config.settings",
    }
    manage = [sys.executable, str(ROOT / "server" / "manage.py")]
    subprocess.run([*manage, "migrate", "-v0"], env=environment, check=True)
    look = [sys.executable, "-c", f"import django; django.setup()\n{LOOK}"]
    found = json.loads(subprocess.run(look, env=environment, check=True, capture_output=True, text=True).stdout)
    assert found == {
        "school": "Hollerbach District Workshop School",
        "people": 6,
        "demo": 6,
        "rules": [[1, 5.0, 10.0]],
        "versions": [1],
        "seeds": [204, 117],
        "reached": 3,
        "answers": 3,
        "signed_in": 200,
        "score": found["score"],
        "cause": "Air leak behind the throttle (2 mm²)",
        "station": "judge",
    }
    assert 0.0 < found["score"] < 100.0
