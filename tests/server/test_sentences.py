"""What a wrong request is told: which place, and what would be right, in our own words."""

from typing import Any

import pytest

from mirrored import is_mirrored, mirrored, spoken
from server_helpers import body

__all__ = ["mirrored", "spoken"]

LIBRARY = ("Input should", "Field required", "Extra inputs", "should have at", "valid ")


@pytest.mark.parametrize(
    ("change", "sentence"),
    [
        ({"title": 7}, "lesson, title: must be text"),
        ({"title": ""}, "lesson, title: must not be empty"),
        ({"title": "x" * 200}, "lesson, title: may have 160 characters at most"),
        ({"stations": "none"}, "lesson, stations: must be a list"),
        ({"stations": []}, "lesson, stations: must not be empty"),
        (
            {"stations": [{"kind": "dance", "id": "a"}]},
            "is of an unknown kind 'dance'; known: 'explain', 'myth', 'show'",
        ),
        ({"stations": [{"id": "a"}]}, "does not say of which kind it is"),
        ({"stations": [{"kind": "explain"}]}, "lesson, stations.0.id: is missing"),
        ({"colour": "red"}, "lesson, colour: is not known here"),
        ({"faults": [{"kind": "iat_offset", "params": {"K": True}}]}, "must be a number"),
        ({"faults": [{"kind": "iat_offset", "onset": {"mode": "sometimes"}}]}, "must be one of 'permanent', 'random'"),
    ],
)
def test_a_wrong_lesson_is_told_in_our_words(world: Any, change: dict[str, Any], sentence: str) -> None:
    status, answer = body(world.client("trainer"), "post", "/api/lessons", {"document": world.document | change})
    assert status == 422 and sentence in answer["message"]
    assert not any(words in answer["message"] for words in LIBRARY)


@pytest.mark.parametrize(
    ("path", "data", "sentence"),
    [
        ("/api/bench/run", {"channels": "maf"}, "channels: must be a list"),
        ("/api/bench/run", {"channels": ["maf"], "seed": "x"}, "seed: must be a whole number"),
        ("/api/bench/run", {}, "channels: is missing"),
        ("/api/preview/check", {"document": 3}, "document: must be a set of named values"),
    ],
)
def test_a_wrong_request_is_told_in_our_words(world: Any, path: str, data: dict[str, Any], sentence: str) -> None:
    status, answer = body(world.client("trainer"), "post", path, data)
    assert (status, answer["message"]) == (422, sentence)


@pytest.mark.usefixtures("mirrored")
@pytest.mark.parametrize(
    ("person", "method", "path", "data"),
    [
        ("trainer", "get", "/api/lessons/999999", None),
        ("trainer", "get", "/api/nowhere", None),
        ("trainer", "post", "/api/lessons", {"document": {"title": 7}}),
        ("learner", "post", "/api/lessons", {"document": {}}),
        ("lead", "post", "/api/people", {"people": [{"username": "X", "role": "learner"}]}),
    ],
)
def test_a_refusal_speaks_the_language_that_is_spoken(
    world: Any, person: str, method: str, path: str, data: Any
) -> None:
    status, answer = body(world.client(person), method, path, data)
    assert 400 <= status < 500 and is_mirrored(answer["message"])
