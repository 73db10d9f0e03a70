"""A person's recordings: kept, listed, given away, read in."""

import io
from typing import Any

import numpy as np

from api.problems import Conflict, NotFound, Refused
from benches.models import Recording
from leitfaden_core.recordings import Capture, Event, Stretch
from leitfaden_core.rigs import load_rig
from leitfaden_core.simulate import FRAME
from leitfaden_core.words import say
from people.models import Membership, User

#: Of a person.
MOST_RECORDINGS = 60
#: Of a stretch. [s]
LONGEST = 900.0


def recordings_of(member: Membership) -> Any:
    """A person's recordings without their values, the newest first."""
    return Recording.objects.filter(person=member.user).defer("content")


def recording_of(member: Membership, recording_id: int) -> Recording:
    """One of a person's recordings."""
    found = Recording.objects.filter(pk=recording_id, person=member.user).first()
    if found is None:
        raise NotFound("There is no such recording, or it is another person's.")
    return found


def require_stretch(first: int, last: int) -> None:
    """Refused for frames that are no stretch, or one that is too long to be kept."""
    if not 0 < (last - first) * FRAME <= LONGEST:
        raise Refused(
            say("What is kept is a stretch of {minutes:.0f} minutes at most.", minutes=LONGEST / 60), code="bad_stretch"
        )


def require_room(member: Membership) -> None:
    """Conflict when a person has as many as they may have."""
    if Recording.objects.filter(person=member.user).count() >= MOST_RECORDINGS:
        raise Conflict(
            say("You have {most} recordings; delete one that you no longer need.", most=MOST_RECORDINGS),
            code="too_many_recordings",
        )


def keep(person: User, name: str, capture: Capture) -> Recording:
    """Put a recording into a person's library."""
    content = io.BytesIO()
    columns = {name: np.asarray(values, dtype=np.float32) for name, values in capture.columns.items()}
    np.savez_compressed(content, time=np.asarray(capture.time), **columns)  # type: ignore[arg-type]
    return Recording.objects.create(
        person=person,
        name=name,
        rig=capture.rig.id,
        seconds=float(capture.time[-1] - capture.time[0]),
        channels=capture.channels,
        events=[{"seconds": event.seconds, "words": event.words} for event in capture.events],
        stretches=[{"condition": s.condition, "start": s.start, "end": s.end} for s in capture.stretches],
        content=content.getvalue(),
    )


def capture_of(recording: Recording) -> Capture:
    """A kept recording with its values."""
    with np.load(io.BytesIO(recording.content)) as kept:
        time = kept["time"]
        columns = {name: np.asarray(kept[name], dtype=np.float64) for name in recording.channels}
    events = tuple(Event(event["seconds"], "action", event["words"]) for event in recording.events)
    return Capture(load_rig(recording.rig), time, columns, events, tuple(Stretch(**s) for s in recording.stretches))


def row(recording: Recording) -> dict[str, Any]:
    """A recording in the list."""
    return {
        "id": recording.pk,
        "name": recording.name,
        "rig": recording.rig,
        "seconds": recording.seconds,
        "channels": recording.channels,
        "made_at": recording.made_at.isoformat(),
    }
