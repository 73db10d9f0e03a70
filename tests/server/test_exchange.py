"""Lessons out and in through the server: package, paper, questions."""

import base64
import json
from datetime import timedelta
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest
from django.test import Client
from django.utils import timezone
from PIL import Image

from leitfaden_core.lessons.exchange import package_schema
from lessons.models import Lesson, Picture
from server_helpers import body


def send(client: Client, path: str, content: bytes) -> tuple[int, Any]:
    """A file as the body of a request."""
    answer = client.post(
        path,
        data=content,
        content_type="application/octet-stream",
        headers={"X-Change-Id": f"{hash(content) % 10**8:08d}-0000-4000-8000-000000000000"},
    )
    return answer.status_code, answer.json()


def test_a_package_moves_to_another_school_and_is_the_same_lesson(world: Any) -> None:
    answer = world.client("trainer").get(f"/api/lessons/{world.lesson.pk}/package")
    assert answer.status_code == 200 and "attachment" in answer.headers["Content-Disposition"]
    status, made = send(world.client("other_trainer"), "/api/packages", answer.content)
    assert status == 200 and made["draft"] == world.document and made["version"] is None
    assert made["id"] != world.lesson.pk


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04", b'{"format": "leitfaden-lesson", "version": 1}', b"[" * 5000])
def test_a_broken_package_changes_nothing_and_says_all_that_is_wrong(world: Any, content: bytes) -> None:
    before = Lesson.objects.count()
    status, refused = send(world.client("trainer"), "/api/packages", content)
    assert status == 422 and refused["code"] == "bad_package" and refused["problems"]
    assert "nothing was changed" in refused["message"] and Lesson.objects.count() == before


def test_one_that_is_too_large_is_refused_before_it_is_read(world: Any) -> None:
    assert send(world.client("trainer"), "/api/packages", b" " * 12_100_000)[0] == 413


def test_script_in_a_text_stays_text(world: Any) -> None:
    document = json.loads(json.dumps(world.document))
    document["stations"][0]["text"] = "<script>alert(1)</script>"
    package = {"format": "leitfaden-lesson", "version": 1, "core_version": "x", "lesson": document}
    status, made = send(world.client("trainer"), "/api/packages", json.dumps(package).encode())
    assert status == 200 and made["draft"]["stations"][0]["text"] == "<script>alert(1)</script>"


@pytest.mark.parametrize("what", ["worksheet", "key"])
def test_worksheet_and_key_are_pdf(world: Any, what: str) -> None:
    answer = world.client("trainer").get(f"/api/lessons/{world.lesson.pk}/paper/{what}?seed=7")
    assert answer.status_code == 200 and answer.content.startswith(b"%PDF-") and len(answer.content) > 8_000
    assert f"{what}.pdf" in answer.headers["Content-Disposition"]


def test_questions_go_out_and_statements_come_in(world: Any) -> None:
    client = world.client("trainer")
    text = client.get(f"/api/lessons/{world.lesson.pk}/paper/questions?seed=7").content.decode()
    assert "::Judge these readings 1::" in text
    status, found = send(client, "/api/statements", b"Zirconia conducts ions when hot.{TRUE#It does.}")
    assert status == 200
    assert found == [{"text": "Zirconia conducts ions when hot.", "right": "true", "reason": "It does."}]
    assert send(client, "/api/statements", b"nothing")[0] == 422


def test_the_published_schema_is_current() -> None:
    kept = json.loads((Path(__file__).parents[2] / "docs" / "lesson-package.schema.json").read_text(encoding="utf-8"))
    assert json.loads(json.dumps(package_schema())) == kept, (
        "write it anew: manage.py export_schema docs/lesson-package.schema.json"
    )


class TestPictures:
    """Own pictures: kept cleaned, seen in one's own school only, taken along in a package."""

    def file(self) -> bytes:
        made = BytesIO()
        Image.new("RGB", (2400, 1200), "navy").save(made, "PNG")
        return made.getvalue()

    def shown(self, world: Any, name: str) -> dict[str, Any]:
        document = json.loads(json.dumps(world.document))
        document["stations"][0] |= {"pictures": [{"id": name, "alt": "a blue wall"}]}
        return {"format": "leitfaden-lesson", "version": 1, "core_version": "x", "lesson": document}

    def test_a_picture_is_seen_by_the_learners_of_the_school_and_by_no_other(self, world: Any) -> None:
        trainer = world.client("trainer")
        status, kept = send(trainer, "/api/pictures", self.file())
        assert status == 200 and (kept["width"], kept["height"]) == (1600, 800)
        seen = world.client("learner").get(f"/api/pictures/{kept['id']}")
        assert seen.status_code == 200 and seen.headers["Content-Type"] == "image/webp"
        assert "immutable" in seen.headers["Cache-Control"]
        assert world.client("other_trainer").get(f"/api/pictures/{kept['id']}").status_code == 404
        assert send(trainer, "/api/pictures", self.file() + b" ")[1]["id"] == kept["id"]
        assert Picture.objects.count() == 1

    def test_what_is_none_is_refused_and_nothing_kept(self, world: Any) -> None:
        status, refused = send(world.client("trainer"), "/api/pictures", b"<svg onload='alert(1)'/>")
        assert (status, refused["code"]) == (422, "bad_picture") and not Picture.objects.exists()

    def test_it_moves_to_another_school_with_its_lesson(self, world: Any) -> None:
        trainer, other = world.client("trainer"), world.client("other_trainer")
        kept = send(trainer, "/api/pictures", self.file())[1]
        package = self.shown(world, kept["id"])
        picture = trainer.get(f"/api/pictures/{kept['id']}").content
        package["pictures"] = {kept["id"]: base64.b64encode(picture).decode()}
        status, made = send(other, "/api/packages", json.dumps(package).encode())
        assert status == 200, made
        again = json.loads(other.get(f"/api/lessons/{made['id']}/package").content)
        [name] = again["pictures"]
        assert made["draft"]["stations"][0]["pictures"][0]["id"] == name
        assert other.get(f"/api/pictures/{name}").status_code == 200

    def test_a_school_that_is_full_forgets_what_no_lesson_shows_any_more(
        self, world: Any, monkeypatch: pytest.MonkeyPatch
    ) -> None:
        monkeypatch.setattr("lessons.pictures.MOST", 3)
        trainer = world.client("trainer")
        made = [BytesIO() for _ in range(4)]
        for file, colour in zip(made, ("navy", "olive", "teal", "maroon"), strict=True):
            Image.new("RGB", (60, 40), colour).save(file, "PNG")
        used, idle, fresh = (send(trainer, "/api/pictures", file.getvalue())[1]["id"] for file in made[:3])
        body(trainer, "post", "/api/lessons", {"document": self.shown(world, used)["lesson"]})
        more = made[3].getvalue()
        assert send(trainer, "/api/pictures", more)[1]["code"] == "too_many_pictures", "all are of today"
        Picture.objects.filter(digest__in=[used, idle]).update(added_at=timezone.now() - timedelta(days=2))
        assert send(trainer, "/api/pictures", more)[0] == 200
        assert set(Picture.objects.values_list("digest", flat=True)) >= {used, fresh}
        assert not Picture.objects.filter(digest=idle).exists()

    def test_a_lesson_whose_picture_is_not_there_is_not_published(self, world: Any) -> None:
        document = self.shown(world, "c" * 64)["lesson"]
        trainer = world.client("trainer")
        status, lesson = body(trainer, "post", "/api/lessons", {"document": document})
        assert status == 200
        status, refused = body(trainer, "post", f"/api/lessons/{lesson['id']}/publish", {"learners": []})
        assert status == 422 and "not in your school" in refused["message"]
