"""From an aim to a published lesson, and through it twice: as a careful learner, and as one who guesses."""

import random
from typing import Any

import pytest

from leitfaden_core.lessons import aims, check_lesson, check_words, parse_lesson
from practice.models import Assignment, Attempt
from server_helpers import body, right_answers, work_through

#: One for each family of sensors: aim and engine.
LESSONS = {
    "oxygen": ("nb-side-not-size", "R1"),
    "airflow": ("maf-flat-error", "R5"),
    "pressure": ("map-key-on-rulers", "R2"),
    "temperature": ("temp-divider", "R2"),
}


def typed(reading: dict[str, Any], luck: random.Random) -> str:
    """Some number in the reading's unit."""
    return f"{luck.uniform(0, 100):.1f} {reading['unit'].replace('-', '')}"


def guess(view: dict[str, Any], luck: random.Random) -> dict[str, Any]:
    """An answer that is complete and says nothing of the engine."""
    kind = view["kind"]
    verdicts = ("good", "suspect", "faulty", "not_decidable")
    answers: dict[str, Any] = {
        "judge": lambda: {"verdicts": [luck.choice(verdicts) for _ in view["readings"]]},
        "predict": lambda: {"ways": [luck.choice(("higher", "lower", "same")) for _ in view["readings"]]},
        "conclude": lambda: {"cause": luck.choice(view["causes"])["id"]},
        "separate": lambda: {"test": luck.choice(view["tests"])["id"]},
        "order": lambda: {"order": luck.sample([test["id"] for test in view["tests"]], len(view["tests"]))},
        "verify": lambda: {"state": luck.choice(("mended", "not_mended", "not_shown"))},
        "match": lambda: {"values": luck.sample([value["id"] for value in view["values"]], len(view["values"]))},
        "measure": lambda: {"reading": typed(view["readings"][0], luck)},
        "live": lambda: {
            "typed": [typed(reading, luck) for reading in view["readings"]],
            "noticed": " ".join(["nothing"] * view["words"]),
        },
        "sheet": lambda: {
            "engines": [
                {"verdict": luck.choice(("sound", "faulty")), "tells": luck.randrange(len(sheet))}
                for sheet in view["sheets"]
            ],
            "why": " ".join(["because"] * view["words"]),
        },
        "plates": lambda: {"meanings": [luck.choice(view["meanings"])["id"] for _ in view["plates"]]},
        "pins": lambda: {"roles": [luck.choice(view["roles"])["id"] for _ in view["pins"]]},
        "myth": lambda: {"said": {s["id"]: luck.choice(("true", "false")) for s in view["statements"]}},
        "calculate": lambda: {"steps": {view["steps"][-1]["symbol"]: f"{luck.uniform(0, 100):.1f}"}},
        "reflect": lambda: {"text": "I do not know what to say here so I write this down now"},
        "explain": lambda: {"seen": True},
        "show": lambda: {"seen": True},
    }
    return {"kind": kind} | answers[kind]()


@pytest.mark.slow
@pytest.mark.parametrize("family", LESSONS)
def test_a_careful_learner_gets_all_points_and_a_guessing_one_few(world: Any, family: str) -> None:
    aim, rig = LESSONS[family]
    trainer, known = world.client("trainer"), aims()[aim]
    wish = {"aim": aim, "rig": rig, "level": known.level, "minutes": known.minutes}
    document = body(trainer, "post", "/api/lessons/propose", wish)[1]["document"]
    lesson = parse_lesson(document)
    assert [*check_lesson(lesson), *check_words(lesson)] == []
    number = body(trainer, "post", "/api/lessons", {"document": document})[1]["id"]
    given = body(trainer, "post", f"/api/lessons/{number}/publish", {"learners": ["learner", "second_learner"]})
    assert given[0] == 200, given[1]

    scores = {}
    for who in ("learner", "second_learner"):
        client = world.client(who)
        assignment = Assignment.objects.get(version__lesson=number, learner__username=who)
        started = body(client, "post", f"/api/assignments/{assignment.pk}/attempt", {})[1]
        attempt = Attempt.objects.get(pk=started["id"])
        careful = right_answers(attempt)
        views = list(assignment.views.order_by("station").values_list("view", flat=True))
        luck = random.Random(5)
        work_through(client, attempt, careful if who == "learner" else [guess(view, luck) for view in views])
        assert body(client, "post", f"/api/attempts/{attempt.pk}/finish", {})[0] == 200
        debrief = body(client, "get", f"/api/attempts/{attempt.pk}/debrief")[1]
        scores[who] = debrief["score"]
        assert all(row["answered"] for row in debrief["stations"])
        assert debrief["cause"] and debrief["repair"]
    assert scores["learner"] == 100.0
    assert scores["second_learner"] < 70.0
