"""Fill an empty database with the Hollerbach school: people, a lesson with one learner half-way and one
finished, and a course of lessons."""

from pathlib import Path
from typing import Any

import yaml
from django.core.management.base import BaseCommand, CommandParser
from django.db import transaction

from demo import course
from leitfaden_core.lessons import parse_lesson, right_answer
from lessons.services import create_lesson, publish_lesson
from people.models import Membership, Role, School, User
from practice.items import prepare_station
from practice.models import Assignment, ItemKey, ItemView
from practice.services import assign, finish_attempt, start_attempt, stations_of, store_answer, work_of

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

    def add_arguments(self, parser: CommandParser) -> None:
        """Without the course where one lesson is enough."""
        parser.add_argument("--no-course", dest="course", action="store_false")

    def handle(self, *args: Any, **options: Any) -> None:
        """Load once."""
        if School.objects.filter(name__startswith="Hollerbach").exists():
            return
        with transaction.atomic():
            members = self._people()
            trainer = members["brandt"]
            document = yaml.load(
                (Path(__file__).parents[2] / "lesson.yaml").read_text(encoding="utf-8"), yaml.CSafeLoader
            )
            lesson = create_lesson(member=trainer, document=parse_lesson(document).model_dump(mode="json"))
            version = publish_lesson(member=trainer, lesson_id=lesson.pk)
            for name, seed, stations in (("sommer", 204, 3), ("ritter", 117, 5)):
                given = Assignment.objects.create(
                    version=version, learner=members[name].user, seed=seed, assigned_by=trainer.user
                )
                self._work(members[name], given, stations)
            assign(member=trainer, version=version, learners=["ritter", "sommer", "vogt", "weiss"])
            for raw in course.kept() if options["course"] else ():
                made = create_lesson(member=trainer, document=parse_lesson(raw).model_dump(mode="json"))
                publish_lesson(member=trainer, lesson_id=made.pk)
        self.stdout.write("The Hollerbach school is loaded.")

    def _people(self) -> dict[str, Membership]:
        school = School.objects.create(name="Hollerbach District Workshop School")
        assert school.rules
        members = {}
        for username, first, last, role in PEOPLE:
            user = User.objects.create_user(username, password=PASSWORD, first_name=first, last_name=last, is_demo=True)
            members[username] = Membership.objects.create(user=user, school=school, role=role)
        return members

    def _work(self, member: Membership, given: Assignment, stations: int) -> None:
        """Answer the first stations as a learner with a few misjudgements would, and finish when these are all."""
        attempt = work_of(member, start_attempt(member=member, assignment_id=given.pk).pk)
        for index in range(len(stations_of(attempt))):
            prepare_station(given.pk, index)
            if index >= stations:
                continue
            key = ItemKey.objects.get(assignment=given, station=index)
            answer = right_answer(key.kind, key.parts["metric"])
            if "verdicts" in answer:
                answer["verdicts"] = [self._hasty(part) for part in key.parts["metric"]]
            store_answer(attempt=attempt, item=ItemView.objects.get(assignment=given, station=index), answer=answer)
        if stations == len(stations_of(attempt)):
            finish_attempt(attempt=attempt)

    def _hasty(self, part: dict[str, Any]) -> str:
        """The verdict of somebody who judges numbers without asking for the condition."""
        if part["verdict"] == "not_decidable":
            return "good"
        return "faulty" if part["channel"] == "maf" else str(part["verdict"])
