"""A school for load figures: fills an empty database.

Run in the server's environment: ``manage.py shell`` reads no more than :func:`fill`.
"""

from typing import Any

TRAINERS, LEARNERS = 30, 200
PASSWORD = "load-figures-only"
TITLE = "Under load"

#: A lesson of all kinds of stations, small enough that two hundred learners' items are prepared within minutes.
LESSON: dict[str, Any] = {
    "title": TITLE,
    "rig": "R1",
    "faults": [{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}}],
    "stations": [
        {"kind": "explain", "id": "a", "title": "What is asked", "text": "Read, then go on."},
        {"kind": "show", "id": "b", "title": "Look", "channels": ["maf", "total_trim", "ho2s_b1s1_v"]},
        {
            "kind": "measure",
            "id": "c",
            "title": "Measure",
            "reading": {"condition": "hot_idle", "channel": "total_trim"},
        },
        {
            "kind": "judge",
            "id": "d",
            "title": "Judge",
            "count": 4,
            "pool": [
                {"condition": condition, "channel": channel}
                for condition in ("hot_idle", "cruise_80", "wot_pull")
                for channel in ("maf", "total_trim", "ect", "iat")
            ],
        },
        {
            "kind": "conclude",
            "id": "e",
            "title": "Conclude",
            "readings": [
                {"condition": "hot_idle", "channel": "total_trim"},
                {"condition": "cruise_80", "channel": "total_trim"},
            ],
            "causes": [
                {"kind": "manifold_vacuum_leak", "params": {"area_mm2": 2.0}},
                {"kind": "maf_under_read", "params": {"gain": 0.85}},
                None,
            ],
        },
    ],
}


def fill(learners: int = LEARNERS) -> None:
    """People with one password, one lesson each for the trainers, one published lesson for all learners."""
    from django.contrib.auth.hashers import make_password

    from lessons.services import create_lesson, publish_lesson
    from people.models import Membership, Role, School, User
    from practice.services import assign

    school, password = School.objects.create(name="Load"), make_password(PASSWORD)
    names = [(f"trainer-{k}", Role.TRAINER) for k in range(TRAINERS)] + [
        (f"learner-{k}", Role.LEARNER) for k in range(learners)
    ]
    for name, role in names:
        Membership.objects.create(user=User.objects.create(username=name, password=password), school=school, role=role)
    trainers = list(Membership.objects.filter(school=school, role=Role.TRAINER).select_related("user", "school"))
    for member in trainers[1:]:
        create_lesson(member=member, document=LESSON | {"title": f"Draft of {member.user.username}"})
    lesson = create_lesson(member=trainers[0], document=LESSON)
    version = publish_lesson(member=trainers[0], lesson_id=lesson.pk)
    assign(member=trainers[0], version=version, learners=[name for name, role in names if role == Role.LEARNER])
