"""Opening, listing and closing benches, and what a process that has one in hand writes down of it."""

from dataclasses import dataclass
from typing import Any
from uuid import UUID

from django.db import transaction
from django.db.models import Count
from django.utils import timezone

from api.problems import Computing, Conflict, NotFound
from benches.models import Bench, Doing
from jobs.models import Computation
from jobs.services import ask
from leitfaden_core import __version__
from leitfaden_core.expect import MissingSheet
from leitfaden_core.live import Beginning, Cover, Done, doing_of
from leitfaden_core.rigs import is_shipped, load_rig
from leitfaden_core.words import say
from people.models import Membership
from simulations.sheets import require_sheet

#: A person's benches at once; the least used one makes room by hand.
MOST_BENCHES = 12
NO_FAULTS = "Only trainers and leads break something on a bench."
#: What only those may do who build lessons.
BREAKING = frozenset({"put_fault", "size_fault", "take_fault"})


def open_bench(*, member: Membership, beginning: Beginning, name: str = "", cover: Cover | None = None) -> Bench:
    """A new bench of a person; with a cover, one whose engine keeps its secret. Such a one does not take a place among
    the person's own: the station that it belongs to has one.
    """
    if cover is None and benches_of(member).count() >= MOST_BENCHES:
        raise Conflict(
            say("You have {most} benches; close one that you no longer need.", most=MOST_BENCHES),
            code="too_many_benches",
        )
    return Bench.objects.create(
        person=member.user,
        name=name or load_rig(beginning.rig).name,
        beginning=beginning.model_dump(mode="json"),
        cover=None if cover is None else cover.model_dump(mode="json"),
        core_version=__version__,
    )


@transaction.atomic
def open_trial(*, member: Membership, beginning: Beginning, name: str, cover: Cover) -> Bench:
    """A bench as a station gives it, for who makes the station; their last one is put away."""
    Bench.objects.filter(person=member.user, cover__isnull=False).delete()
    return open_bench(member=member, beginning=beginning, name=name, cover=cover)


def benches_of(member: Membership) -> Any:
    """A person's own benches with how much was done on each, the last used first."""
    return Bench.objects.filter(person=member.user, cover__isnull=True).annotate(doings=Count("journal"))


def bench_of(member: Membership, bench_id: int, covered: bool = False) -> Bench:
    """One of a person's own benches; ``covered``: or one that a station gave them. What such a one shows is not kept or
    taken along.
    """
    found = Bench.objects.filter(pk=bench_id, person=member.user).first()
    if found is None or (found.cover is not None and not covered):
        raise NotFound("There is no such bench, or it is another person's.")
    return found


@dataclass(frozen=True)
class Kept:
    """What is kept of a bench."""

    beginning: Beginning
    cover: Cover | None
    journal: list[Done]
    changes: dict[UUID, int]  # ids of what was done -> frame
    frame: int


def kept(bench_id: int) -> Kept:
    """What is kept of a bench; NotFound when it was closed."""
    bench = Bench.objects.filter(pk=bench_id).first()
    if bench is None:
        raise NotFound("This bench was closed.")
    rows = list(bench.journal.order_by("number"))
    journal = [Done(row.frame, doing_of(row.doing)) for row in rows]
    last = max([bench.frame, *(row.frame for row in rows[-1:])])
    cover = None if bench.cover is None else Cover.model_validate(bench.cover)
    changes = {row.change: row.frame for row in rows}
    return Kept(Beginning.model_validate(bench.beginning), cover, journal, changes, last)


def journal_until(bench: Bench, frame: int) -> list[list[Any]]:
    """What was done on a bench before a frame: frame and doing, as kept."""
    rows = bench.journal.filter(frame__lt=frame).order_by("number").values_list("frame", "doing")
    return [list(row) for row in rows]


def fetch_sheet_of(rig_id: str) -> bool:
    """Have the value sheet of a bench's engine on this machine, where there is one; have it computed where not. Whether
    it is there: without it nothing is judged yet.
    """
    try:
        require_sheet(load_rig(rig_id))
    except (Computing, MissingSheet):
        return False
    return True


def keep_doing(bench_id: int, number: int, frame: int, change: UUID, doing: Any) -> None:
    """Append a line to a bench's journal."""
    raw = doing.model_dump(mode="json", exclude_none=True)
    Doing.objects.create(bench_id=bench_id, number=number, frame=frame, change=change, doing=raw)


def keep_frames(frames: dict[int, int]) -> None:
    """Write down how far benches have run: number of a bench -> frame."""
    now = timezone.now()
    run = [Bench(pk=bench_id, frame=frame, used_at=now) for bench_id, frame in frames.items()]
    Bench.objects.bulk_update(run, ["frame", "used_at"])


def hold(bench_id: int, address: str) -> None:
    """Write down which process has a bench in hand."""
    Bench.objects.filter(pk=bench_id).update(held_at=address)


def held_at(bench_id: int) -> str:
    """Where a bench is in hand."""
    return str(Bench.objects.filter(pk=bench_id).values_list("held_at", flat=True).first() or "")


def share_of_causes(rig_id: str) -> float:
    """How much of what the causes show on an engine has been simulated, in twentieths; asks for the rest, which takes
    minutes and goes on when nobody waits. All of it for the engines that ship; nothing where that has failed.
    """
    if is_shipped(load_rig(rig_id)):
        return 1.0
    if not fetch_sheet_of(rig_id):
        return 0.0
    asked = ask("all_causes", {"rig": rig_id})
    if asked.is_over:
        return 1.0 if asked.state == Computation.State.DONE else 0.0
    return int(20.0 * min(asked.share, 0.95)) / 20.0
