"""Computations: asked for once, merged, bounded, fair between people, survived by whoever waits."""

import os
import signal
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest
from django.db import connection
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob

from api.problems import Busy, Computing, Refused
from jobs import kinds, services
from jobs.housekeeping import forget_lost, throw_away
from jobs.models import Computation
from jobs.services import Asker
from jobs.tasks import GAVE_UP, TRIES, compute
from leitfaden_core.errors import LeitfadenError
from people.models import User
from server_helpers import body

ROOT = Path(__file__).parents[2]
BENCH = {"channels": ["maf"], "faults": [{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}]}


@pytest.fixture(autouse=True)
def queued(settings: Any) -> None:
    settings.JOBS_INLINE = False


@pytest.fixture
def kind() -> Iterator[list[Any]]:
    """A kind of computation of the test's own; what it was asked for, in order."""
    asked: list[Any] = []

    def work(wish: Any, tell: kinds.Tell) -> Any:
        asked.append(wish)
        tell(0.5, "half of it")
        if wish.get("refuse"):
            raise LeitfadenError("there is no such thing")
        if wish.get("crash"):
            raise RuntimeError("a secret detail")
        return {"answer": wish}

    kinds.computation("of_the_test", supersedes=True)(work)
    kinds.computation("in_background", background=True)(work)
    yield asked
    for name in ("of_the_test", "in_background"):
        del kinds.load_kinds()[name]


@pytest.fixture
def person(db: None) -> User:
    return User.objects.create_user("somebody")


class TestAsking:
    def test_the_same_question_of_two_people_is_one_job_and_one_answer(self, kind: list[Any], person: User) -> None:
        first = services.ask("of_the_test", {"n": 1}, Asker(person))
        second = services.ask("of_the_test", {"n": 1}, Asker(User.objects.create_user("another"), "page"))
        assert first.key == second.key and ProcrastinateJob.objects.count() == 1
        compute(first.key)
        assert services.value_of(services.answered("of_the_test", {"n": 1})) == {"answer": {"n": 1}}
        assert kind == [{"n": 1}]

    def test_an_answer_that_is_not_there_says_how_far_it_is(self, kind: list[Any], person: User) -> None:
        services.ask("of_the_test", {"n": 0}, Asker(User.objects.create_user("earlier")))
        with pytest.raises(Computing, match="waits behind 1 others") as told:
            services.answered("of_the_test", {"n": 1}, Asker(person))
        assert told.value.parts()["retry_after_s"] == 0.25

    def test_a_refusal_of_the_model_is_kept_and_given_in_its_own_words(self, kind: list[Any], person: User) -> None:
        compute(services.ask("of_the_test", {"refuse": True}, Asker(person)).key)
        for _ in range(2):
            with pytest.raises(Refused, match="there is no such thing"):
                services.answered("of_the_test", {"refuse": True}, Asker(person))
        assert len(kind) == 1

    def test_a_crash_is_a_sentence_without_its_detail_and_is_tried_again_later(
        self, kind: list[Any], person: User
    ) -> None:
        compute(services.ask("of_the_test", {"crash": True}, Asker(person)).key)
        with pytest.raises(Refused, match="could not be computed") as told:
            services.answered("of_the_test", {"crash": True}, Asker(person))
        assert told.value.status == 503 and "secret" not in told.value.message
        Computation.objects.update(finished_at=timezone.now() - timedelta(seconds=60))
        assert services.ask("of_the_test", {"crash": True}, Asker(person)).state == Computation.State.QUEUED

    def test_a_changed_model_is_asked_anew(
        self, kind: list[Any], person: User, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        before = services.ask("of_the_test", {"n": 1}, Asker(person)).key
        monkeypatch.setattr(services, "source_fingerprint", lambda: "another")
        assert services.ask("of_the_test", {"n": 1}, Asker(person)).key != before


class TestBounds:
    def test_somebody_who_drags_a_slider_has_only_the_last_size_computed(self, kind: list[Any], person: User) -> None:
        keys = [services.ask("of_the_test", {"n": n}, Asker(person, "page")).key for n in range(20)]
        assert list(Computation.objects.values_list("key", flat=True)) == [keys[-1]]
        for key in keys:
            compute(key)
        assert kind == [{"n": 19}]

    def test_the_questions_of_another_person_or_page_keep_their_place(self, kind: list[Any], person: User) -> None:
        services.ask("of_the_test", {"n": 1}, Asker(User.objects.create_user("another"), "page"))
        for n, page in enumerate(("one page", "another page"), 2):
            services.ask("of_the_test", {"n": n}, Asker(person, page))
        assert Computation.objects.count() == 3

    def test_a_person_has_one_job_running_at_a_time(self, kind: list[Any], person: User) -> None:
        for n in range(2):
            services.ask("of_the_test", {"n": n}, Asker(person))
        assert set(ProcrastinateJob.objects.values_list("lock", flat=True)) == {f"person-{person.pk}"}

    def test_too_much_at_once_is_busy_and_says_when_to_come_back(
        self, kind: list[Any], person: User, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr(services, "PERSON_MAY_QUEUE", 0)
        with pytest.raises(Busy) as told:
            services.ask("of_the_test", {"n": 1}, Asker(person))
        assert told.value.status == 429 and told.value.retry_after

    def test_the_busy_answer_carries_the_header(self, world: Any, monkeypatch: pytest.MonkeyPatch) -> None:
        monkeypatch.setattr(services, "ALL_MAY_QUEUE", 0)
        answer = world.client("trainer").post("/api/bench/run", BENCH, content_type="application/json")
        assert (answer.status_code, answer.headers["Retry-After"]) == (429, "5")

    def test_what_nobody_waits_for_any_more_is_not_computed(self, kind: list[Any], person: User) -> None:
        forgotten = services.ask("of_the_test", {"n": 1}, Asker(person)).key
        wanted = services.ask("in_background", {"n": 2}).key
        Computation.objects.update(asked_at=timezone.now() - timedelta(minutes=1))
        for key in (forgotten, wanted):
            compute(key, in_worker=True)
        assert kind == [{"n": 2}] and not Computation.objects.filter(key=forgotten).exists()

    def test_old_answers_go_and_then_the_oldest_until_the_rest_is_small(
        self, kind: list[Any], person: User, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        keys = [services.ask("in_background", {"n": n}).key for n in range(4)]
        for age, key in enumerate(reversed(keys)):
            compute(key)
            Computation.objects.filter(key=key).update(
                asked_at=timezone.now() - timedelta(days=5 * age), result=b"x" * 100
            )
        monkeypatch.setattr("jobs.housekeeping.MOST_BYTES", 250)
        throw_away()
        assert set(Computation.objects.values_list("key", flat=True)) == set(keys[-2:])

    def test_a_row_whose_job_is_gone_is_forgotten_so_that_it_can_be_asked_again(
        self, kind: list[Any], person: User
    ) -> None:
        lost = services.ask("of_the_test", {"n": 1}, Asker(person)).key
        alive = services.ask("in_background", {"n": 2}).key
        Computation.objects.update(asked_at=timezone.now() - timedelta(minutes=1))
        ProcrastinateJob.objects.filter(queueing_lock=lost)._raw_delete("default")
        assert forget_lost() == 1 and Computation.objects.get().key == alive

    def test_a_computation_that_takes_too_long_is_given_up_with_its_worker_and_says_so(
        self, person: User, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        ended = threading.Event()
        codes: list[int] = []
        monkeypatch.setattr("jobs.tasks.os._exit", lambda code: (codes.append(code), ended.set()))
        monkeypatch.setattr("jobs.tasks._keep_error", lambda key, error: codes.append(error["code"]))
        kinds.computation("endless", limit_s=0.05)(lambda wish, tell: ended.wait(20))
        try:
            compute(services.ask("endless", {}, Asker(person)).key, in_worker=True)
        finally:
            del kinds.load_kinds()["endless"]
        assert codes == ["time_limit", GAVE_UP]

    def test_one_that_takes_its_worker_down_twice_is_not_tried_a_third_time(
        self, kind: list[Any], person: User
    ) -> None:
        key = services.ask("of_the_test", {"n": 1}, Asker(person)).key
        Computation.objects.filter(key=key).update(tries=TRIES)
        compute(key, in_worker=True)
        assert kind == [] and Computation.objects.get(key=key).error["code"] == "gave_up"


@pytest.fixture
def worker(transactional_db: None) -> Iterator[Any]:
    """Starts real workers on the test's database; they end with the test."""
    environment = os.environ | {"LEITFADEN_DB_NAME": str(connection.settings_dict["NAME"])}
    started: list[subprocess.Popen[bytes]] = []

    def start() -> subprocess.Popen[bytes]:
        started.append(subprocess.Popen([sys.executable, str(ROOT / "server" / "manage.py"), "work"], env=environment))
        return started[-1]

    yield start
    for process in started:
        process.terminate()
        try:
            process.wait(30)
        except subprocess.TimeoutExpired:  # how a worker ends is not what these tests are about
            process.kill()
            process.wait(30)
    with connection.cursor() as cursor:  # our own listener too, so that the database can be dropped
        cursor.execute(
            "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and "
            "pid <> pg_backend_pid()"
        )


class TestWithARealWorker:
    def test_the_bench_answers_from_a_worker_also_when_the_first_one_is_killed(self, world: Any, worker: Any) -> None:
        first = worker()
        trainer = world.client("trainer")
        status, lanes = _patiently(trainer, BENCH)
        assert status == 200 and len(lanes["lanes"]["maf"]["run"]) > 1000
        first.send_signal(signal.SIGKILL)
        first.wait()
        worker()
        other = BENCH | {"seed": 5}
        assert _patiently(trainer, other)[0] == 200

    @pytest.mark.slow
    def test_twelve_people_at_once_are_all_answered(self, world: Any, worker: Any) -> None:
        worker()
        answers: list[int] = []

        def ask(n: int) -> None:
            client = world.client("trainer" if n % 2 else "lead")
            answers.append(_patiently(client, BENCH | {"seed": 100 + n // 2})[0])
            connection.close()

        threads = [threading.Thread(target=ask, args=(n,)) for n in range(12)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert answers == [200] * 12


def _patiently(client: Any, ask: dict[str, Any]) -> tuple[int, Any]:
    """As the page does: the same request again while it is being computed."""
    until = time.monotonic() + 120.0
    while time.monotonic() < until:
        status, answer = body(client, "post", "/api/bench/run", ask)
        if status not in {202, 429}:
            break
        threading.Event().wait(answer.get("retry_after_s", 0.5))
    return status, answer
