"""What can be done with drills: make one, take the next item, answer it, look at the figures."""

from typing import Any

from django.db import IntegrityError, transaction
from django.utils import timezone

from api.problems import Conflict, NotFound, Refused
from drills import scheduling
from drills.models import Drill, Standing, Trial
from jobs import services as jobs
from leitfaden_core import __version__
from leitfaden_core.drills import Ask, DrillKey, Entry, cost_in_words, detection, price_of
from leitfaden_core.drills import Trial as Tried
from leitfaden_core.words import say
from lessons.services import lesson_of
from people.models import Membership, Role, User

#: Drills that a learner may make for themselves.
OWN = 20


def drill_of(member: Membership, drill_id: int) -> Drill:
    """A drill that the member may see."""
    found = Drill.objects.seen_by(member).filter(pk=drill_id).first()
    if found is None:
        raise NotFound("There is no such drill in your school.")
    return found


def entries_wished(member: Membership, lesson: int, kinds: list[str]) -> tuple[str, list[dict[str, Any]]]:
    """The entries of a lesson, or of kinds of faults, with a title. Computing while the engines are tried.

    Raises
    ------
    Refused
        Where a learner asks for a lesson's: it would tell its faults.
    """
    if lesson and member.role == Role.LEARNER:
        raise Refused("A drill out of a lesson is made by its trainer.", code="trainers_only")
    if not lesson and not kinds:
        raise Refused("Choose at least one kind of fault, or a lesson.", code="empty")
    title, document = "", None
    if lesson:
        chosen = lesson_of(member, lesson)
        title, document = chosen.title, chosen.draft
    row = jobs.answered("drill_entries", {"document": document, "kinds": kinds}, jobs.Asker(member.user))
    return title, jobs.value_of(row)


def create(member: Membership, title: str, entries: list[dict[str, Any]]) -> Drill:
    """Keep a drill: the school's, or a learner's own."""
    learner = member.user if member.role == Role.LEARNER else None
    if learner is not None and Drill.objects.filter(learner=learner).count() >= OWN:
        raise Refused(say("You have {most} drills of your own; delete one first.", most=OWN), code="too_many")
    made = [Entry.model_validate(entry) for entry in entries]
    named = title.strip() or ", ".join(entry.label for entry in made)
    return Drill.objects.create(
        school=member.school, learner=learner, title=named[:160], entries=entries, made_by=member.user
    )


def delete(member: Membership, drill_id: int) -> None:
    """A drill with its trials; learners only their own, trainers the school's."""
    drill = drill_of(member, drill_id)
    if member.role == Role.LEARNER and drill.learner_id != member.user.pk:
        raise Refused("This drill is your school's.", code="not_yours")
    drill.delete()


def open_trial(member: Membership, drill: Drill) -> Trial:
    """The learner's item that waits for an answer, a new one where none does. Computing while it is not there."""
    mine = Trial.objects.filter(drill=drill, learner=member.user, answered_at=None)
    trial = mine.first() or _new_trial(drill, member.user) or mine.get()
    if trial.view is None:
        wish = {"ask": trial.ask, "units": member.user.units}
        made = jobs.value_of(jobs.answered("drill_item", wish, jobs.Asker(member.user)))
        trial.view, trial.key, trial.core_version = made["view"], made["key"], __version__
        trial.save(update_fields=["view", "key", "core_version"])
    return trial


def _new_trial(drill: Drill, learner: User) -> Trial | None:
    """A new trial; None when another page of the learner has just made one."""
    try:
        with transaction.atomic():
            ask = scheduling.next_ask(drill, learner)
            return Trial.objects.create(drill=drill, learner=learner, ask=ask.model_dump(mode="json"))
    except IntegrityError:
        return None


@transaction.atomic
def answer(member: Membership, trial_id: int, said: str, confidence: int) -> Trial:
    """Answer one's open item, once; the next one is prepared behind it.

    Raises
    ------
    Conflict
        When it was answered before: what was said first stays.
    """
    trial = Trial.objects.select_for_update().filter(pk=trial_id, learner=member.user).first()
    if trial is None or trial.key is None:
        raise NotFound("There is no such item of yours.")
    if trial.answered_at is not None:
        raise Conflict("This item is answered; what you said first stays.", code="answered")
    pair = Ask.model_validate(trial.ask).form == "pair"
    if (said in {"first", "second"}) != pair:
        raise Refused(
            "Say which of the two is faulty." if pair else "Say whether the engine is sound or faulty.", code="unfit"
        )
    trial.said, trial.confidence, trial.answered_at = said, confidence, timezone.now()
    trial.right = said == trial.key["right"]
    trial.save(update_fields=["said", "confidence", "answered_at", "right"])
    scheduling.take_note(trial)
    following = _new_trial(trial.drill, member.user)
    if following is not None:
        wish = {"ask": following.ask, "units": member.user.units}
        transaction.on_commit(lambda: jobs.ask("drill_item", wish, jobs.Asker(member.user)) and None)
    return trial


def told(trial: Trial) -> dict[str, Any]:
    """What is said after an answer."""
    key = DrillKey.model_validate(trial.key)
    ask = Ask.model_validate(trial.ask)
    return {
        "right": trial.right,
        "said": trial.said,
        "key": trial.key,
        "cost": cost_in_words(key) if price_of(trial.said, key) else "",
        "size": Entry(fault=ask.fault, rigs=(ask.rig,)).size_in_words(ask.share),
    }


def figures(drill: Drill, learner: User) -> dict[str, Any]:
    """What a learner's trials of a drill say of them."""
    trials = list(drill.trials.filter(learner=learner, answered_at__isnull=False))
    asks = [Ask.model_validate(trial.ask) for trial in trials]
    tried = [
        Tried(None if ask.form == "pair" else ask.faulty, bool(trial.right), trial.confidence or 50)
        for ask, trial in zip(asks, trials, strict=True)
    ]
    found = detection(tried)
    standings = {row.kind: row for row in Standing.objects.filter(learner=learner)}
    return {
        "learner": learner.display_name,
        **{name: getattr(found, name) for name in ("faulty", "hits", "sound", "false_alarms", "d_prime", "bias")},
        **{name: getattr(found, name) for name in ("pairs", "pairs_right", "d_prime_pairs")},
        "sureness": [
            {"confidence": row.confidence, "trials": row.trials, "right": row.right} for row in found.sureness
        ],
        "minutes_in_vain": sum(
            price_of(trial.said, DrillKey.model_validate(trial.key)) for trial in trials if not trial.right
        ),
        "kinds": [
            _of_kind(entry, asks, trials, standings.get(entry.fault.kind)) for entry in scheduling.entries_of(drill)
        ],
    }


def _of_kind(entry: Entry, asks: list[Ask], trials: list[Trial], standing: Standing | None) -> dict[str, Any]:
    shown = [
        bool(trial.right)
        for ask, trial in zip(asks, trials, strict=True)
        if ask.fault.kind == entry.fault.kind and (ask.faulty or ask.form == "pair")
    ]
    threshold = scheduling.staircase_of(standing).threshold
    return {
        "kind": entry.fault.kind,
        "label": entry.label,
        "faulty": len(shown),
        "hits": sum(shown),
        "threshold": entry.size_in_words(threshold) if threshold is not None else "",
        "due": standing.due_at.isoformat() if standing and standing.due_at else None,
    }
