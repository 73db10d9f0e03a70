"""Fill an empty database with the Hollerbach school: people, one lesson, one learner half-way, one finished."""

from pathlib import Path
from typing import Any

import yaml
from django.core.management.base import BaseCommand
from django.db import transaction

from accounts.models import Membership, Role, School, User
from leitfaden_core.lessons import parse_lesson, station_key
from library.services import create_lesson, publish_lesson
from practice.models import Attempt
from practice.services import assign, document_of, finish_attempt, start_attempt, store_answer

PASSWORD = "hollerbach"
PEOPLE = [
    ("albrecht", "Marit", "Albrecht", Role.LEAD),
    ("brandt", "Jonas", "Brandt", Role.TRAINER),
    ("ritter", "Mira", "Ritter", Role.LEARNER),
    ("sommer", "Emil", "Sommer", Role.LEARNER),
    ("vogt", "Lene", "Vogt", Role.LEARNER),
    ("weiss", "Tarik", "Weiss", Role.LEARNER),
]


class Command(BaseCommand):
    """load_demo: does nothing when the school is already there."""

    help = "Load the sample data of the Hollerbach school into an empty database"

    def handle(self, *args: Any, **options: Any) -> None:
        """Load once."""
        if School.objects.filter(name__startswith="Hollerbach").exists():
            return
        with transaction.atomic():
            members = self._people()
            trainer = members["brandt"]
            document = yaml.safe_load((Path(__file__).parents[2] / "lesson.yaml").read_text(encoding="utf-8"))
            lesson = create_lesson(member=trainer, document=parse_lesson(document).model_dump(mode="json"))
            version = publish_lesson(member=trainer, lesson_id=lesson.pk)
            given = {
                row.learner.username: row for row in assign(member=trainer, version=version, learners=["ritter", "sommer", "vogt", "weiss"])
            }
            half = start_attempt(member=members["sommer"], assignment_id=given["sommer"].pk, seed=204)
            self._work(members["sommer"], half, stations=3)
            done = start_attempt(member=members["ritter"], assignment_id=given["ritter"].pk, seed=117)
            self._work(members["ritter"], done, stations=5)
            finish_attempt(member=members["ritter"], attempt_id=done.pk)
        self.stdout.write("The Hollerbach school is loaded.")

    def _people(self) -> dict[str, Membership]:
        school = School.objects.create(name="Hollerbach District Workshop School")
        members = {}
        for username, first, last, role in PEOPLE:
            user = User.objects.create_user(username, password=PASSWORD, first_name=first, last_name=last)
            members[username] = Membership.objects.create(user=user, school=school, role=role)
        return members

    def _work(self, member: Membership, attempt: Attempt, stations: int) -> None:
        """Answer the first stations as a learner with a few misjudgements would."""
        document = document_of(attempt)
        for index in range(stations):
            parts = station_key(document, index, attempt.seed).parts
            kind = document.stations[index].kind
            answer: dict[str, Any] = {"seen": True}
            if kind == "measure":
                answer = {"reading": f"{parts[0]['value']:.1f} %"}
            elif kind == "judge":
                answer = {"verdicts": [self._hasty(part) for part in parts]}
            elif kind == "conclude":
                answer = {"cause": next(part["id"] for part in parts if part["true_cause"])}
            store_answer(member=member, attempt_id=attempt.pk, index=index, answer=answer)

    def _hasty(self, part: dict[str, Any]) -> str:
        """The verdict of somebody who judges numbers without asking for the condition."""
        if part["verdict"] == "not_decidable":
            return "good"
        return "faulty" if part["channel"] == "maf" else str(part["verdict"])
