"""Value sheets of engines that ship without one: computed once in the background, and kept for every machine."""

from jobs import services as jobs
from jobs.kinds import kind_called
from jobs.models import Computation
from leitfaden_core.expect import MissingSheet, has_sheet, keep_sheet
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say


def require_sheet(rig: Rig) -> None:
    """Have an engine's value sheet computed. Computing says how far it is."""
    if not has_sheet(rig):
        jobs.answered("sheet", {"rig": rig.id})
        fetch_sheet(rig)


def fetch_sheet(rig: Rig) -> None:
    """Bring a sheet to this machine that another one has computed."""
    if has_sheet(rig):
        return
    done = Computation.objects.filter(
        key=jobs.key_of(kind_called("sheet"), {"rig": rig.id}), state=Computation.State.DONE
    ).first()
    if done is None:
        raise MissingSheet(say("the value sheet of {rig} is not there yet", rig=rig.name), rig=rig.id)
    keep_sheet(rig, jobs.value_of(done))
