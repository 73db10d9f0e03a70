"""Editing together: versions side by side, putting lessons away, words for colleagues."""

from typing import Any

from lessons.models import Lesson
from server_helpers import body


class TestVersions:
    def test_what_has_changed_from_a_version_to_the_draft_is_told_station_by_station(self, world: Any) -> None:
        client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
        stations = [dict(station) for station in world.document["stations"]]
        last, first = stations.pop(), stations[0]
        first["title"] = "Another title"
        stations.append({"kind": "reflect", "id": "new-one", "title": "New", "words": 3})
        changed = world.document | {"title": "Renamed", "stations": stations}
        body(client, "put", f"{path}/draft", {"revision": 1, "document": changed})

        found = body(client, "get", f"{path}/changes?before=1&after=0")[1]
        told = [(part["station"], part["what"]) for part in found]
        assert told == [("", "changed"), (first["id"], "changed"), ("new-one", "added"), (last["id"], "removed")]
        assert found[1]["fields"] == [
            {
                "field": "title",
                "called": "title",
                "before": world.document["stations"][0]["title"],
                "after": "Another title",
            }
        ]
        assert body(client, "get", f"{path}/changes?before=1&after=1")[1] == []

    def test_a_station_that_was_moved_is_told_as_moved_and_no_other(self, world: Any) -> None:
        client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
        stations = list(world.document["stations"])
        stations.append(stations.pop(0))
        body(client, "put", f"{path}/draft", {"revision": 1, "document": world.document | {"stations": stations}})
        found = body(client, "get", f"{path}/changes?before=1&after=0")[1]
        assert [(part["station"], part["what"]) for part in found] == [(stations[-1]["id"], "moved")]

    def test_a_version_can_be_read_as_it_was_and_taken_back(self, world: Any) -> None:
        client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
        body(client, "put", f"{path}/draft", {"revision": 1, "document": world.document | {"title": "Renamed"}})
        rows = body(client, "get", f"{path}/versions")[1]
        assert [(row["number"], row["title"], row["assigned"]) for row in rows] == [(1, world.document["title"], 1)]
        kept = body(client, "get", f"{path}/versions/1")[1]["document"]
        status, back = body(client, "put", f"{path}/draft", {"revision": 2, "document": kept})
        assert status == 200 and not back["changed_since_version"]
        assert body(client, "get", f"{path}/versions/9")[0] == 404


class TestPuttingAway:
    def test_a_lesson_that_is_put_away_keeps_its_learners_and_can_be_taken_back(self, world: Any) -> None:
        client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}"
        assert body(client, "put", f"{path}/archived", {"archived": True})[1]["archived"] is True
        row = next(row for row in body(client, "get", "/api/lessons")[1] if row["id"] == world.lesson.pk)
        assert row["archived"] and row["revision"] == 1
        assert len(body(world.client("learner"), "get", "/api/assignments")[1]) == 1
        assert body(client, "put", f"{path}/archived", {"archived": False})[1]["archived"] is False
        trail = body(world.client("lead"), "get", "/api/audit")[1]
        assert "put away" in str(trail) and "took back" in str(trail)


class TestComments:
    def test_a_word_for_a_colleague_stands_at_its_station_until_it_is_settled(self, world: Any) -> None:
        path, station = f"/api/lessons/{world.lesson.pk}/comments", world.document["stations"][1]["id"]
        status, made = body(world.client("trainer"), "post", path, {"station": station, "text": "  Too hard?  "})
        assert status == 200 and made["text"] == "Too hard?" and made["author"] == "Trainer Test"
        colleague = world.client("lead")
        assert [(row["station"], row["settled"]) for row in body(colleague, "get", path)[1]] == [(station, False)]
        assert body(colleague, "put", f"{path}/{made['id']}", {"settled": True})[1]["settled"] is True
        assert world.lesson.revision == Lesson.objects.get(pk=world.lesson.pk).revision

    def test_comments_without_words_or_at_no_station_are_refused(self, world: Any) -> None:
        client, path = world.client("trainer"), f"/api/lessons/{world.lesson.pk}/comments"
        assert body(client, "post", path, {"text": "   "})[0] == 422
        assert body(client, "post", path, {"station": "nowhere", "text": "x"})[0] == 404
        assert body(client, "put", f"{path}/999", {"settled": True})[0] == 404

    def test_another_school_sees_none_of_it(self, world: Any) -> None:
        path = f"/api/lessons/{world.lesson.pk}"
        for part in ("comments", "versions", "versions/1", "changes?before=1"):
            assert body(world.client("other_trainer"), "get", f"{path}/{part}")[0] == 404
        assert body(world.client("other_trainer"), "put", f"{path}/archived", {"archived": True})[0] == 404
