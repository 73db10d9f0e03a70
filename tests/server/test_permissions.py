"""Every endpoint for every role, for nobody, and for another school: who may, who may not, and what they are told."""

from collections.abc import Callable
from typing import Any

import pytest
from django.db import transaction

from api.main import api
from practice.services import start_attempt
from server_helpers import body

NOBODY, LEARNER, TRAINER, LEAD = None, "learner", "trainer", "lead"
FOREIGN = ("other_learner", "other_trainer", "other_lead")

BENCH = {"channels": ["maf"]}


def document(world: Any) -> dict[str, Any]:
    return {"document": world.document}


def draft(world: Any) -> dict[str, Any]:
    return document(world) | {"revision": 1}


def station(world: Any) -> dict[str, Any]:
    return document(world) | {"station": 1}


#: operation -> (method, path, body, roles that may). Paths take {lesson}, {assignment}, {attempt}.
LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}
ENDPOINTS: dict[str, tuple[str, str, Any, set[Any]]] = {
    "signIn": ("post", "/api/session", {"username": "x", "password": "y"}, set()),
    "me": ("get", "/api/session", None, {NOBODY, LEARNER, TRAINER, LEAD}),
    "changeSettings": ("patch", "/api/session", {"units": "metric"}, {LEARNER, TRAINER, LEAD}),
    "catalogue": ("get", "/api/catalogue", None, {LEARNER, TRAINER, LEAD}),
    "atlas": ("get", "/api/atlas", None, {LEARNER, TRAINER, LEAD}),
    "atlasPage": ("get", "/api/atlas/pages/iat", None, {LEARNER, TRAINER, LEAD}),
    "drawing": ("get", "/api/atlas/drawings/divider", None, {LEARNER, TRAINER, LEAD}),
    "showDrawing": ("post", "/api/atlas/drawings/divider", {"hands": {}}, {LEARNER, TRAINER, LEAD}),
    "atlasCircuit": ("get", "/api/atlas/circuits/iat?rig=R2", None, {LEARNER, TRAINER, LEAD}),
    "schoolOutcomes": ("get", "/api/atlas/schools/s61", None, {LEARNER, TRAINER, LEAD}),
    "plates": ("get", "/api/plates", None, {LEARNER, TRAINER, LEAD}),
    "glossary": ("get", "/api/glossary", None, {LEARNER, TRAINER, LEAD}),
    "search": ("get", "/api/search?words=trim", None, {LEARNER, TRAINER, LEAD}),
    "signature": ("post", "/api/signatures", {"rig": "R99", "faults": [LEAK]}, {TRAINER, LEAD}),
    "alike": ("post", "/api/signatures/alike", {"rig": "R99", "fault": LEAK}, {TRAINER, LEAD}),
    "matrix": ("get", "/api/rigs/R99/matrix?group=position", None, {TRAINER, LEAD}),
    "steps": ("get", "/api/rigs/R1/steps", None, {TRAINER, LEAD}),
    "diagnosticTests": ("get", "/api/rigs/R1/tests", None, {TRAINER, LEAD}),
    "myths": ("get", "/api/atlas/myths", None, {TRAINER, LEAD}),
    "symptoms": ("get", "/api/symptoms", None, {LEARNER, TRAINER, LEAD}),
    "causes": ("post", "/api/symptoms/causes", {"rig": "R99", "told": ["no_start"]}, {TRAINER, LEAD}),
    "benchRun": ("post", "/api/bench/run", BENCH, {TRAINER, LEAD}),
    "lessons": ("get", "/api/lessons", None, {TRAINER, LEAD}),
    "createLesson": ("post", "/api/lessons", document, {TRAINER, LEAD}),
    "lesson": ("get", "/api/lessons/{lesson}", None, {TRAINER, LEAD}),
    "changeDraft": ("put", "/api/lessons/{lesson}/draft", draft, {TRAINER, LEAD}),
    "archiveLesson": ("put", "/api/lessons/{lesson}/archived", {"archived": False}, {TRAINER, LEAD}),
    "lessonVersions": ("get", "/api/lessons/{lesson}/versions", None, {TRAINER, LEAD}),
    "lessonVersion": ("get", "/api/lessons/{lesson}/versions/1", None, {TRAINER, LEAD}),
    "lessonChanges": ("get", "/api/lessons/{lesson}/changes?before=1", None, {TRAINER, LEAD}),
    "comments": ("get", "/api/lessons/{lesson}/comments", None, {TRAINER, LEAD}),
    "addComment": ("post", "/api/lessons/{lesson}/comments", {"text": "A word"}, {TRAINER, LEAD}),
    "settleComment": ("put", "/api/lessons/{lesson}/comments/1", {"settled": True}, {TRAINER, LEAD}),
    "previewStation": ("post", "/api/preview/station", station, {TRAINER, LEAD}),
    "previewBench": ("post", "/api/preview/bench", station, {TRAINER, LEAD}),
    "addPicture": ("post", "/api/pictures", None, {TRAINER, LEAD}),
    "picture": ("get", f"/api/pictures/{'0' * 64}", None, {LEARNER, TRAINER, LEAD}),
    "stationDifficulty": ("post", "/api/preview/difficulty", station, {TRAINER, LEAD}),
    "checkLesson": ("post", "/api/preview/check", document, {TRAINER, LEAD}),
    "learners": ("get", "/api/learners", None, {TRAINER, LEAD}),
    "publishLesson": ("post", "/api/lessons/{lesson}/publish", {"learners": []}, {TRAINER, LEAD}),
    "openDebriefs": ("post", "/api/lessons/{lesson}/debriefs", {}, {TRAINER, LEAD}),
    "assignLesson": ("post", "/api/lessons/{lesson}/assign", {"learners": []}, {TRAINER, LEAD}),
    "results": ("get", "/api/lessons/{lesson}/results", None, {TRAINER, LEAD}),
    "assignments": ("get", "/api/assignments", None, {LEARNER}),
    "startAttempt": ("post", "/api/assignments/{assignment}/attempt", {}, {LEARNER}),
    "attempt": ("get", "/api/attempts/{attempt}", None, {LEARNER}),
    "attemptStation": ("get", "/api/attempts/{attempt}/stations/0", None, {LEARNER}),
    "attemptLanes": ("get", "/api/attempts/{attempt}/stations/1/lanes", None, {LEARNER}),
    "takeStep": ("post", "/api/attempts/{attempt}/stations/0/steps", {"name": "1", "choice": "0"}, {LEARNER}),
    "stationBench": ("post", "/api/attempts/{attempt}/stations/0/bench", {"anew": False}, {LEARNER}),
    "storeAnswer": ("post", "/api/attempts/{attempt}/stations/0/answer", {"answer": {"seen": True}}, {LEARNER}),
    "finishAttempt": ("post", "/api/attempts/{attempt}/finish", {}, {LEARNER}),
    "debrief": ("get", "/api/attempts/{attempt}/debrief", None, {LEARNER, TRAINER, LEAD}),
    "puzzle": ("get", "/api/puzzles/1", None, {NOBODY, LEARNER, TRAINER, LEAD}),
    "answerPuzzle": ("post", "/api/puzzles/1/answer", {"reading": "maf"}, {NOBODY, LEARNER, TRAINER, LEAD}),
    "seenStation": ("get", "/api/attempts/{attempt}/seen/0", None, {LEARNER, TRAINER, LEAD}),
    "seenLanes": ("get", "/api/attempts/{attempt}/seen/1/lanes", None, {LEARNER, TRAINER, LEAD}),
    "useLink": ("post", "/api/session/link", {"token": "x", "password": "y"}, set()),
    "changePassword": ("post", "/api/session/password", {"old": "x", "new": "y"}, {LEARNER, TRAINER, LEAD}),
    "sessions": ("get", "/api/sessions", None, {LEARNER, TRAINER, LEAD}),
    "endSessions": ("delete", "/api/sessions", None, {LEARNER, TRAINER, LEAD}),
    "people": ("get", "/api/people", None, {LEAD}),
    "addPeople": ("post", "/api/people", {"people": [{"username": "newcomer"}]}, {LEAD}),
    "makeLink": ("post", "/api/people/{person}/link", {}, {LEAD}),
    "changePerson": ("patch", "/api/people/{person}", {"active": False}, {LEAD}),
    "rules": ("get", "/api/rules", None, {TRAINER, LEAD}),
    "changeRules": ("put", "/api/rules", {"number": 1, "values": {"trim_good": 4.0}}, {LEAD}),
    "benches": ("get", "/api/benches", None, {TRAINER, LEAD}),
    "openBench": ("post", "/api/benches", {"beginning": {"rig": "R1"}}, {TRAINER, LEAD}),
    "closeBench": ("delete", "/api/benches/1", None, {TRAINER, LEAD}),
    "reach": ("get", "/api/rigs/R1/reach", None, {LEARNER, TRAINER, LEAD}),
    "judgeKeptTogether": (
        "post",
        "/api/rigs/R99/judged-together",
        {
            "readings": [
                {
                    "instrument": "scan_tool",
                    "place": "map",
                    "condition": "koeo",
                    "what": "map",
                    "label": "MAP",
                    "value": 101.0,
                }
            ]
        },
        {TRAINER, LEAD},
    ),
    "judgeKept": (
        "post",
        "/api/rigs/R99/judged",
        {
            "instrument": "vacuum_gauge",
            "place": "manifold",
            "condition": "hot_idle",
            "what": "vacuum_gauge",
            "label": "vacuum gauge",
            "value": 60.0,
        },
        {TRAINER, LEAD},
    ),
    "workings": ("get", "/api/workings", None, {LEARNER, TRAINER, LEAD}),
    "workOut": (
        "post",
        "/api/workings/air_density",
        {"given": {"p": "101 kPa", "t": "20 °C"}},
        {LEARNER, TRAINER, LEAD},
    ),
    "feedWorking": ("get", "/api/workings/air_density/feed?rig=R1&condition=hot_idle", None, {LEARNER, TRAINER, LEAD}),
    "values": ("get", "/api/rigs/R1/values", None, {TRAINER, LEAD}),
    "fullValues": ("post", "/api/rigs/R99/values/full", {"air": {}}, {TRAINER, LEAD}),
    "valuesOnPaper": ("get", "/api/rigs/R1/values/paper", None, {TRAINER, LEAD}),
    "valuesTable": ("get", "/api/rigs/R1/values/table", None, {TRAINER, LEAD}),
    "serviceValues": ("get", "/api/rigs/R1/service-values", None, {TRAINER, LEAD}),
    "keepServiceValue": (
        "put",
        "/api/rigs/R1/service-values",
        {"condition": "hot_idle", "channel": "maf", "low": "1 g/s", "high": "2 g/s", "source": "a book"},
        {TRAINER, LEAD},
    ),
    "deleteServiceValue": ("delete", "/api/rigs/R1/service-values/1", None, {TRAINER, LEAD}),
    "recordings": ("get", "/api/recordings", None, {TRAINER, LEAD}),
    "benchRecord": (
        "post",
        "/api/benches/1/record",
        {"name": "x", "first": 0, "last": 100, "channels": ["rpm"]},
        {TRAINER, LEAD},
    ),
    "drills": ("get", "/api/drills", None, {LEARNER, TRAINER, LEAD}),
    "drillKinds": ("get", "/api/drills/kinds", None, {LEARNER, TRAINER, LEAD}),
    "createDrill": ("post", "/api/drills", {"kinds": ["gremlin"]}, {LEARNER, TRAINER, LEAD}),
    "deleteDrill": ("delete", "/api/drills/1", None, {LEARNER, TRAINER, LEAD}),
    "nextItem": ("post", "/api/drills/1/next", {}, {LEARNER, TRAINER, LEAD}),
    "answerItem": ("post", "/api/drills/items/1", {"said": "sound", "confidence": 50}, {LEARNER, TRAINER, LEAD}),
    "drillFigures": ("get", "/api/drills/1/figures", None, {LEARNER, TRAINER, LEAD}),
    "lessonPackage": ("get", "/api/lessons/{lesson}/package", None, {TRAINER, LEAD}),
    "takePackage": ("post", "/api/packages", {}, {TRAINER, LEAD}),
    "lessonOnPaper": ("get", "/api/lessons/{lesson}/paper/questions", None, {TRAINER, LEAD}),
    "readStatements": ("post", "/api/statements", {}, {TRAINER, LEAD}),
    "questionKey": ("post", "/api/attempts/{attempt}/disputes/3", {"text": "Why?"}, {LEARNER}),
    "disputes": ("get", "/api/lessons/{lesson}/disputes", None, {TRAINER, LEAD}),
    "settleDispute": ("put", "/api/disputes/1", {"outcome": "stands", "answer": "So."}, {TRAINER, LEAD}),
    "aims": ("get", "/api/aims", None, {TRAINER, LEAD}),
    "proposeLesson": ("post", "/api/lessons/propose", {"page": "no_such", "rig": "R1"}, {TRAINER, LEAD}),
    "lessonFromBench": (
        "post",
        "/api/lessons/from-bench",
        {"bench": 1, "name": "x", "first": 0, "last": 100, "channels": ["rpm"]},
        {TRAINER, LEAD},
    ),
    "readRecording": ("post", "/api/recordings?name=x&rig=R1", None, {TRAINER, LEAD}),
    "recordingLanes": ("get", "/api/recordings/1/lanes", None, {TRAINER, LEAD}),
    "recordingFeed": ("get", "/api/recordings/1/feed/air_density", None, {TRAINER, LEAD}),
    "recordingFile": ("get", "/api/recordings/1/file?format=csv", None, {TRAINER, LEAD}),
    "deleteRecording": ("delete", "/api/recordings/1", None, {TRAINER, LEAD}),
    "school": ("get", "/api/school", None, {TRAINER, LEAD}),
    "changeSchool": ("patch", "/api/school", {"learners_bench": True}, {LEAD}),
    "audit": ("get", "/api/audit", None, {LEAD}),
    # The last: it ends the session of the one who asks.
    "signOut": ("delete", "/api/session", None, {NOBODY, LEARNER, TRAINER, LEAD}),
}
#: Doors that anybody may knock at; they answer for themselves.
KNOCKS = {"signIn": (401, "wrong_password"), "useLink": (404, "not_found")}


@pytest.fixture
def call(world: Any) -> Callable[[str | None, str], tuple[int, Any]]:
    attempt = start_attempt(member=world.members[LEARNER], assignment_id=world.assignment.pk)
    attempt.reached = 1
    attempt.save()

    clients: dict[str | None, Any] = {}

    def make(name: str | None, operation: str) -> tuple[int, Any]:
        method, path, data, _ = ENDPOINTS[operation]
        path = path.format(
            lesson=world.lesson.pk, assignment=world.assignment.pk, attempt=attempt.pk, person="second_learner"
        )
        if name not in clients:
            clients[name] = world.client(name)
        with transaction.atomic():  # each finds the world as it was
            answer = body(clients[name], method, path, data(world) if callable(data) else data)
            transaction.set_rollback(True)
        return answer

    return make


def test_the_table_holds_every_operation_of_the_api() -> None:
    operations = {
        operation["operationId"] for path in api.get_openapi_schema()["paths"].values() for operation in path.values()
    }
    assert operations == set(ENDPOINTS)


def is_as_it_should(operation: str, role: str | None, status: int, answer: Any) -> bool:
    if status >= 400 and (not answer["message"] or "Traceback" in answer["message"]):
        return False
    if operation in KNOCKS:
        return (status, answer["code"]) == KNOCKS[operation]
    if role in ENDPOINTS[operation][3]:
        # Some actions are refused for their state (nothing changed, not finished): a structured 4xx with a reason,
        # never "not allowed".
        return status == 200 or (status in {404, 409, 422} and answer["code"] not in {"not_allowed", "not_signed_in"})
    return (status, answer["code"]) == ((401, "not_signed_in") if role is NOBODY else (403, "not_allowed"))


@pytest.mark.parametrize("role", [NOBODY, LEARNER, TRAINER, LEAD])
def test_roles_get_what_they_may_and_a_sentence_otherwise(call: Any, role: str | None) -> None:
    answers = {operation: call(role, operation) for operation in ENDPOINTS}
    assert {name: told for name, told in answers.items() if not is_as_it_should(name, role, *told)} == {}


OF_A_SCHOOL = [name for name, (_, path, _, _) in ENDPOINTS.items() if "{" in path]


@pytest.mark.parametrize("name", FOREIGN)
def test_another_school_finds_nothing(call: Any, name: str) -> None:
    answers = {operation: call(name, operation) for operation in OF_A_SCHOOL}
    hidden = {(403, "not_allowed"), (403, "not_found"), (404, "not_found"), (404, "not_allowed")}
    assert {which: told for which, told in answers.items() if (told[0], told[1].get("code")) not in hidden} == {}


OF_A_LEARNER = ["startAttempt", "attempt", "attemptStation", "attemptLanes", "storeAnswer", "finishAttempt", "debrief"]
OF_A_LEARNER += ["seenStation", "seenLanes"]


def test_a_learner_does_not_reach_another_learners_work(call: Any) -> None:
    assert {operation: call("second_learner", operation)[0] for operation in OF_A_LEARNER} == dict.fromkeys(
        OF_A_LEARNER, 404
    )
