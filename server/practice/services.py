"""What learners and trainers can do with assignments and attempts.

Nothing here asks the model: items are frozen before.
"""

from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Func, IntegerField
from django.db.models.fields.json import KeyTransform
from django.utils import timezone

from api.problems import Conflict, NotFound, Refused
from benches import services as benches
from benches.models import Bench
from jobs import services as jobs
from leitfaden_core import __version__, live
from leitfaden_core.faults import describe_fault, fault_kinds
from leitfaden_core.lessons import (
    consequence,
    kept_view,
    left_out,
    mark_by_key,
    parse_answer,
    parse_lesson,
    require_answer,
    station_engine,
    with_steps,
)
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.words import say
from lessons.models import Lesson, LessonVersion
from people import audit
from people.models import Membership, Role, User
from practice.models import Assignment, Attempt, Entry, ItemKey, ItemView, StationBench, StepTaken


@dataclass(frozen=True)
class Giving:
    """How a version is given: with a closed book; the debrief held until the trainer opens it; with the numbers of
    another learner (for who was ill), by sign-in name.
    """

    closed_book: bool = False
    debrief_held: bool = False
    numbers_of: str = ""


@transaction.atomic
def assign(
    *, member: Membership, version: LessonVersion, learners: list[str], giving: Giving | None = None
) -> list[Assignment]:
    """Give a version to learners of the school, by sign-in name.

    Who has it already keeps it. Their items are prepared in the background.
    """
    giving = giving or Giving()
    users = {
        user.username: user
        for user in User.objects.filter(
            membership__school=member.school, membership__role=Role.LEARNER, username__in=learners
        )
    }
    unknown = [name for name in learners if name not in users]
    if unknown:
        raise Refused(say("'{name}' is no learner of your school.", name=unknown[0]), code="unknown_learner")
    how: dict[str, Any] = {"assigned_by": member.user, "closed_book": giving.closed_book}
    how |= {"debrief_held": giving.debrief_held} | _numbers(version, giving.numbers_of)
    given = [Assignment.objects.get_or_create(version=version, learner=users[name], defaults=how) for name in learners]
    new = [row for row, made in given if made]
    if new:
        names = ", ".join(row.learner.username for row in new)
        audit.note(member, "assigned", f"{version.document['title']}, version {version.number}, to {names}")
    for row in new:
        jobs.ask("prepare_assignment", {"assignment": row.pk})
    return [row for row, _made in given]


def _numbers(version: LessonVersion, learner: str) -> dict[str, int]:
    """The seed that a learner has for this version."""
    if not learner:
        return {}
    other = Assignment.objects.filter(version=version, learner__username=learner).first()
    if other is None:
        raise Refused(
            say("'{learner}' has not been given this version, so there are no numbers to repeat.", learner=learner),
            code="no_seed",
        )
    return {"seed": other.seed}


@transaction.atomic
def open_debriefs(member: Membership, lesson: Lesson) -> int:
    """Open the debriefs of a lesson that were held; how many."""
    held = Assignment.objects.filter(version__lesson=lesson, debrief_held=True)
    count = held.update(debrief_held=False)
    if count:
        audit.note(member, "debrief_opened", f"{lesson.draft['title']}, for {count}")
    return count


def assignment_of(member: Membership, assignment_id: int) -> Assignment:
    """A learner's own assignment; another's is not found."""
    found = (
        Assignment.objects.of_learner(member.user).select_related("version__lesson").filter(pk=assignment_id).first()
    )
    if found is None:
        raise NotFound("This lesson is not assigned to you.")
    return found


@transaction.atomic
def start_attempt(*, member: Membership, assignment_id: int) -> Attempt:
    """Start, or go on with, one's attempt at an assigned lesson."""
    return Attempt.objects.get_or_create(assignment=assignment_of(member, assignment_id))[0]


def attempt_of(member: Membership, attempt_id: int) -> Attempt:
    """An attempt that the member may see: a learner their own, trainers and leads those of their school."""
    rows = Attempt.objects.select_related("assignment__version", "assignment__learner")
    if member.role == Role.LEARNER:
        rows = rows.filter(assignment__learner=member.user)
    else:
        rows = rows.filter(assignment__version__lesson__school=member.school)
    found = rows.filter(pk=attempt_id).first()
    if found is None:
        raise NotFound(
            "There is no such attempt of yours."
            if member.role == Role.LEARNER
            else "There is no such attempt in your school."
        )
    return found


def stations_of(attempt: Attempt) -> list[dict[str, Any]]:
    """The stations of the published lesson, as they are stored."""
    return list(attempt.assignment.version.document["stations"])


def work_of(member: Membership, attempt_id: int) -> Attempt:
    """A learner's own attempt with ``station_count``, and no more than a station's page needs: whole classes ask for it
    in one second.
    """
    stations = KeyTransform("stations", "assignment__version__document")
    rows = Attempt.objects.filter(pk=attempt_id, assignment__learner=member.user).only(
        "assignment_id", "reached", "left_out", "finished_at"
    )
    found = rows.annotate(
        station_count=Func(stations, function="jsonb_array_length", output_field=IntegerField())
    ).first()
    if found is None:
        raise NotFound("There is no such attempt of yours.")
    return found


def open_station(member: Membership, attempt: Attempt, index: int) -> ItemView:
    """What the learner sees at a station of their :func:`work_of`, when they have come as far.

    Raises
    ------
    Computing
        When it is not prepared yet.
    """
    count: int = attempt.station_count  # type: ignore[attr-defined]
    if index >= count:
        raise NotFound(say("The lesson has {count} stations.", count=count))
    if index in attempt.left_out:
        raise NotFound("Your way through this lesson does not lead to this station.")
    if index > attempt.reached:
        raise Refused(
            say("Station {station} opens when the stations before it are answered.", station=index + 1),
            code="not_open_yet",
        )
    return _prepared(member, attempt, index)


def _prepared(member: Membership, attempt: Attempt, index: int) -> ItemView:
    item = ItemView.objects.filter(assignment_id=attempt.assignment_id, station=index).only("station", "view")
    found = item.first()
    if found is None:
        wish = {"assignment": attempt.assignment_id, "station": index}
        jobs.answered("prepare_station", wish, jobs.Asker(member.user))
        found = item.first()
    if found is None:
        raise NotFound("This station is gone: its lesson was taken back.")
    return found


@transaction.atomic
def bench_at(member: Membership, attempt: Attempt, index: int, anew: bool) -> Bench:
    """The running engine of a station of the learner's :func:`work_of`, as they left it; ``anew``: put up again as it
    was at first.
    """
    open_station(member, attempt, index)
    locked = Attempt.objects.select_for_update(of=("self",)).select_related("assignment__version").get(pk=attempt.pk)
    if locked.finished_at is not None:
        raise Conflict("This attempt is finished; its engine is put away.", code="finished")
    kept = StationBench.objects.filter(attempt=locked, station=index).select_related("bench").first()
    if kept is not None and not anew:
        return kept.bench
    lesson = parse_lesson(locked.assignment.version.document)
    engine = station_engine(lesson, index, locked.assignment.seed)
    if engine is None:
        raise NotFound("No engine runs at this station.")
    if kept is not None:
        kept.bench.delete()
    beginning, cover = engine
    bench = benches.open_bench(member=member, beginning=beginning, name=lesson.stations[index].title[:80], cover=cover)
    StationBench.objects.create(attempt=locked, station=index, bench=bench)
    return bench


@dataclass(frozen=True)
class Act:
    """Something that was done on a running engine, so long after it was put up. [s]"""

    seconds: float
    words: str


def done_at(attempt: Attempt, index: int) -> list[Act]:
    """What a learner has done on the running engine of a station, first to last; nothing where none ran."""
    kept = StationBench.objects.filter(attempt=attempt, station=index).first()
    if kept is None:
        return []
    bench = benches.kept(kept.bench_id)
    words = live.told(bench.beginning, bench.journal)
    return [Act(done.seconds, said) for done, said in zip(bench.journal, words, strict=True)]


@transaction.atomic
def take_step(attempt: Attempt, item: ItemView, name: str, choice: str) -> StepTaken:
    """Make a choice at a step of an open station: what comes of it is told, and it stays. One that is made already is
    told again.
    """
    locked = Attempt.objects.select_for_update().only("finished_at").get(pk=attempt.pk)
    if locked.finished_at is not None:
        raise Conflict("This attempt is finished; its answers stay as they are.", code="finished")
    taken = {step.name: step for step in steps_at(attempt, item)}
    if name in taken:
        return taken[name]
    key = ItemKey.objects.get(assignment_id=attempt.assignment_id, station=item.station)
    parts = key.parts[str(UnitSystem.METRIC)]
    found = consequence(key.kind, parts, name, choice, {step.name: step.choice for step in taken.values()})
    told = {"choice": choice, "comes": found.comes, "hurts": found.hurts}
    return StepTaken.objects.create(attempt=attempt, station=item.station, name=name, **told)


def steps_at(attempt: Attempt, item: ItemView) -> list[StepTaken]:
    """The steps that a learner has taken at a station, first to last."""
    return list(attempt.steps.filter(station=item.station))


@transaction.atomic(savepoint=False)
def store_answer(*, attempt: Attempt, item: ItemView, answer: dict[str, Any]) -> int | None:
    """Append an answer to an open station to the journal and open the next one on the learner's way; its index, None at
    the end.

    Nothing is told of marks here: that is for the debrief.
    """
    locked = Attempt.objects.select_for_update().only("reached", "left_out", "finished_at").get(pk=attempt.pk)
    if locked.finished_at is not None:
        raise Conflict("This attempt is finished; its answers stay as they are.", code="finished")
    view = kept_view(item.view)
    if view.final and attempt.entries.filter(station=item.station).exists():
        raise Conflict("This answer stays as it is: what came after it hangs on it.", code="final")
    taken = {step.name: step.choice for step in steps_at(attempt, item)}
    given = with_steps(parse_answer(view.kind, answer), taken)
    require_answer(view, given)
    Entry.objects.create(attempt=attempt, station=item.station, answer=given.model_dump())
    if view.final:
        locked.left_out = _left_out(attempt.pk)
    count: int = attempt.station_count  # type: ignore[attr-defined]
    following = next((k for k in range(item.station + 1, count) if k not in locked.left_out), None)
    locked.reached = max(locked.reached, item.station if following is None else following)
    locked.save(update_fields=["reached", "left_out"])
    return following


def _left_out(attempt_id: int) -> list[int]:
    """Stations to which the answers so far do not lead."""
    attempt = Attempt.objects.select_related("assignment__version", "assignment__learner").get(pk=attempt_id)
    points = {row["index"]: row["points"] for row in _mark(attempt)}
    return left_out(parse_lesson(attempt.assignment.version.document), points)


def prepare_to_finish(member: Membership, attempt: Attempt) -> None:
    """Have every station's item: those of attempts that began before items were frozen are prepared now.

    Computing while they are not.
    """
    for index in range(len(stations_of(attempt))):
        if index in attempt.left_out:
            continue
        _prepared(member, attempt, index)


@transaction.atomic(savepoint=False)
def finish_attempt(*, attempt: Attempt) -> Attempt:
    """Close an attempt when every station is answered."""
    locked = Attempt.objects.select_for_update().only("finished_at", "left_out").get(pk=attempt.pk)
    attempt.left_out = locked.left_out
    if locked.finished_at is not None:
        attempt.refresh_from_db()
    else:
        answers = last_answers(attempt)
        way = [index for index in range(len(stations_of(attempt))) if index not in attempt.left_out]
        missing = [index for index in way if index not in answers]
        if missing:
            raise Refused(say("Station {station} has no answer yet.", station=missing[0] + 1), code="unanswered")
        attempt.finished_at, attempt.core_version = timezone.now(), __version__
        attempt.marked, attempt.told = _mark(attempt), _tell(attempt)
        attempt.save(update_fields=["finished_at", "marked", "told", "core_version"])
    return attempt


def last_answers(attempt: Attempt) -> dict[int, dict[str, Any]]:
    """The answer that counts at each station: the last one."""
    last = attempt.entries.order_by("station", "-id").distinct("station")
    return dict(last.values_list("station", "answer"))


def answer_at(attempt: Attempt, item: ItemView) -> dict[str, Any] | None:
    """The answer that counts at one station, with its kind; None before there is any."""
    last = attempt.entries.filter(station=item.station).order_by("-id").values_list("answer", flat=True).first()
    return None if last is None else {"kind": item.view["kind"]} | last


def marks(attempt: Attempt) -> list[dict[str, Any]]:
    """Points and parts per station: as kept when the attempt was finished, else from the frozen keys."""
    return _mark(attempt) if attempt.marked is None else list(attempt.marked)


def _mark(attempt: Attempt) -> list[dict[str, Any]]:
    """Points and parts per station, from the frozen keys and the journal."""
    answers, units = last_answers(attempt), UnitSystem(attempt.assignment.learner.units)
    keys = {key.station: key for key in ItemKey.objects.filter(assignment_id=attempt.assignment_id)}
    rows: list[dict[str, Any]] = []
    lesson = parse_lesson(attempt.assignment.version.document)
    for index, station in enumerate(lesson.stations):
        row = {
            "index": index,
            "kind": station.kind,
            "title": station.title,
            "points": None,
            "answered": index in answers,
            "left_out": index in attempt.left_out,
            "vehicle": lesson.own_vehicle(station, attempt.assignment.seed),
            "parts": [],
        }
        key = keys.get(index)
        if index in answers and index not in attempt.left_out and key is not None and "problem" not in key.parts:
            mark = mark_by_key(key.kind, key.parts[str(units)], answers[index], units)
            row |= {"points": mark.points, "parts": mark.parts}
        rows.append(row)
    return rows


def told(attempt: Attempt) -> dict[str, Any]:
    """What the debrief says of the car: as kept when the attempt was finished, else now."""
    return attempt.told or _tell(attempt)


def _tell(attempt: Attempt) -> dict[str, Any]:
    version = attempt.assignment.version
    document, rules = parse_lesson(version.document), version.rules
    faults = document.faults_of(attempt.assignment.seed)
    kinds = [fault_kinds.get(fault.kind) for fault in faults]
    limits = say(
        "good within ±{good:g} %, investigate beyond ±{limit:g} %",
        good=rules.book.trim_good,
        limit=rules.book.trim_investigate,
    )
    return {
        "cause": ", ".join(describe_fault(fault) for fault in faults) or say("Nothing was wrong"),
        "repair": [kind.repair for kind in kinds],
        "proof": [kind.proof for kind in kinds if kind.proof],
        "rules": say(
            "Trims: {limits} (version {number} of the school's rules, in force at publication). "
            "A neighbouring verdict counts half.",
            limits=limits,
            number=rules.number,
        ),
    }


def score(rows: list[dict[str, Any]]) -> float | None:
    """Mean points of the marked stations, in percent; None before any is marked."""
    points = [row["points"] for row in rows if row["points"] is not None]
    return round(100.0 * sum(points) / len(points), 1) if points else None
