"""Which kind of fault comes next, how large, on which engine, in which form."""

import secrets
from typing import Any

from django.utils import timezone
from fsrs import Card, Rating, Scheduler

from drills.models import Drill, Standing, Trial
from leitfaden_core.drills import FORMS, Ask, Entry, Staircase
from people.models import User

#: Chance that an engine is sound, where one is shown.
SOUND = 0.5
_SCHEDULER = Scheduler(enable_fuzzing=False)


def entries_of(drill: Drill) -> list[Entry]:
    """What a drill is made of."""
    return [Entry.model_validate(entry, strict=False) for entry in drill.entries]


def next_ask(drill: Drill, learner: User) -> Ask:
    """The kind that has been due longest, or else the one that was asked longest ago; on another engine than last
    time.
    """
    draw = secrets.SystemRandom()
    entries = entries_of(drill)
    standings = {row.kind: row for row in Standing.objects.filter(learner=learner)}
    asked = list(drill.trials.filter(learner=learner).order_by("-id").values_list("ask", flat=True)[: len(entries)])
    recently = {ask["fault"]["kind"]: k for k, ask in reversed(list(enumerate(asked)))}
    now = timezone.now()

    def rank(entry: Entry) -> tuple[Any, ...]:
        standing = standings.get(entry.fault.kind)
        due = standing.due_at if standing and standing.due_at else now
        return (due > now, -recently.get(entry.fault.kind, len(entries)), draw.random())

    entry = min(entries, key=rank)
    standing = standings.get(entry.fault.kind)
    stairs = staircase_of(standing)
    others = [rig for rig in entry.rigs if standing is None or rig != standing.last_rig] or list(entry.rigs)
    return Ask(
        fault=entry.fault,
        rig=draw.choice(others),
        share=stairs.share,
        faulty=draw.random() >= SOUND,
        form=draw.choice(FORMS),
        seed=1 + secrets.randbelow(2**29),
    )


def staircase_of(standing: Standing | None) -> Staircase:
    """Where the size of a kind stands."""
    return Staircase.model_validate(standing.staircase) if standing and standing.staircase else Staircase()


def take_note(trial: Trial) -> None:
    """Move the size and the date of the trial's kind. A sound engine says nothing about the size that is found."""
    standing, _made = Standing.objects.select_for_update().get_or_create(learner=trial.learner, kind=trial.kind)
    ask = Ask.model_validate(trial.ask)
    if ask.faulty or ask.form == "pair":
        standing.staircase = staircase_of(standing).after(bool(trial.right)).model_dump(mode="json")
    card = Card.from_dict(standing.card) if standing.card else Card()
    card, _log = _SCHEDULER.review_card(card, _rating(trial))
    standing.card, standing.due_at, standing.last_rig = card.to_dict(), card.due, ask.rig
    standing.save()


def _rating(trial: Trial) -> Rating:
    """Wrong: again; right but not sure: hard; else good."""
    if not trial.right:
        return Rating.Again
    return Rating.Good if (trial.confidence or 0) > 50 else Rating.Hard
