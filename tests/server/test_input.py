"""Hostile input: what cannot be kept or shown is refused at the door, in a sentence, and computes nothing."""

import json
from typing import Any

import pytest
from django.test import Client

from api.json import DEEPEST
from lessons.models import Lesson
from server_helpers import body


def raw(client: Client, path: str, text: str | bytes) -> tuple[int, Any]:
    answer = client.post(
        path, text, content_type="application/json", headers={"X-Change-Id": "7a3cd1a2-8f4e-4a53-9a0f-3f7a7f5b6c10"}
    )
    return answer.status_code, answer.json()


def bench(fault: dict[str, Any]) -> str:
    return json.dumps({"channels": ["maf"], "faults": [fault]})


LEAK = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}


@pytest.mark.parametrize(
    ("text", "status", "sentence"),
    [
        ('{"channels": ["maf"], "seed": NaN}', 400, "not JSON"),
        ('{"channels": ["maf"], "faults": [{"kind": "maf_dirty", "params": {"x": Infinity}}]}', 400, "not JSON"),
        ('{"channels": ["maf\\u0000"]}', 400, "NUL"),
        ('{"channels": ["\\ud800"]}', 400, "not JSON"),
        (b'{"channels": ["\xff\xfe"]}', 400, "not JSON"),
        ("[" * 400 + "]" * 400, 400, "nested deeper"),
        ('{"a":' * (DEEPEST + 2) + "1" + "}" * (DEEPEST + 2), 400, "nested deeper"),
        ('{"channels": [' + ",".join(["0"] * 60_000) + "]}", 400, "more than"),
        ('{"channels": ["maf"], "rig": "' + "R" * 200_000 + '"}', 400, "longer than"),
        ('{"channels": ["maf"], "seed": true}', 422, "seed"),
        ('{"channels": ["maf"], "seed": "7"}', 422, "seed"),
        ('{"channels": ["maf"], "seed": 1e300}', 422, "seed"),
        ('{"channels": ["maf"], "colour": "red"}', 422, "colour"),
        ('{"channels": ["maf"], "script": "settle_memory"}', 422, "unknown script"),
        (bench(LEAK | {"onset": {"mode": "random", "on_s": 1e-300, "off_s": 1.0}}), 422, "allowed is 0.02 to 3600 s"),
        (bench(LEAK | {"onset": {"mode": "random", "on_s": 1e-3, "off_s": 1.0}}), 422, "allowed is 0.02 to 3600 s"),
        (bench(LEAK | {"onset": {"mode": "permanent", "for_s": 1e-9}}), 422, "allowed is 1 to 3600 s"),
        (bench({"kind": "manifold_vacuum_leak", "params": {"area_mm2": True}}), 422, "area_mm2"),
        (bench({"kind": "manifold_vacuum_leak", "params": {f"p{k}": 1.0 for k in range(40)}}), 422, "params"),
    ],
)
def test_the_bench_refuses_it(world: Any, text: str | bytes, status: int, sentence: str) -> None:
    got, answer = raw(world.client("trainer"), "/api/bench/run", text)
    assert got == status and sentence in answer["message"], answer


@pytest.mark.parametrize(
    "document",
    [
        {"title": "x" * 161},
        {"cautions": ["careful"] * 21},
        {"faults": [LEAK | {"onset": {"mode": "random", "on_s": 1e-300, "off_s": 1e-300}}]},
        {
            "stations": [
                {
                    "kind": "measure",
                    "id": "m",
                    "title": "m",
                    "reading": {"condition": "hot_idle", "channel": "maf"},
                    "faulty": 1,
                }
            ]
        },
        {"stations": [{"kind": "explain", "id": "m", "title": "m", "text": "x" * 20_001}]},
        {"schema_version": 2},
        {"schema_version": True},
    ],
)
def test_a_draft_with_such_parts_is_refused_and_the_stored_one_stays(world: Any, document: dict[str, Any]) -> None:
    status, answer = body(
        world.client("trainer"),
        "put",
        f"/api/lessons/{world.lesson.pk}/draft",
        {"revision": 1, "document": world.document | document},
    )
    assert status == 422 and answer["message"]
    assert Lesson.objects.get(pk=world.lesson.pk).draft == world.document


@pytest.mark.parametrize(
    "path", ["/api/atlas/pages/iat?rig=%00", "/api/audit?before=1e9", "/api/puzzles/%00", "/api/people/%00/link"]
)
def test_addresses_with_odd_signs_get_a_sentence(world: Any, path: str) -> None:
    client = world.client("lead")
    status, answer = body(
        client, "post" if path.endswith("link") else "get", path, {} if path.endswith("link") else None
    )
    assert 400 <= status < 500 and answer["message"]


def test_answers_are_strict_json(world: Any) -> None:
    """A channel without a value is null, never NaN, which no browser reads."""
    answer = world.client("trainer").post(
        "/api/bench/run", {"channels": ["lambda_true"]}, content_type="application/json"
    )
    assert answer.status_code == 200
    assert b"NaN" not in answer.content and b"Infinity" not in answer.content
    assert None in json.loads(answer.content)["lanes"]["lambda_true"]["run"]
