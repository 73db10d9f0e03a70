"""Value sheets of engines that ship without one: computed once in the background, and kept for every machine."""

from jobs import services as jobs
from jobs.kinds import kind_called
from jobs.models import Computation
from leitfaden_core.expect import MissingSheet, has_sheet, keep_sheet
from leitfaden_core.rigs import rig_ids


def require_sheet(rig_id: str) -> None:
    """Have an engine's value sheet computed. Computing says how far it is; UnknownName when there is no such engine."""
    if rig_id not in rig_ids() and not has_sheet(rig_id):
        jobs.answered("sheet", {"rig": rig_id})
        fetch_sheet(rig_id)


def fetch_sheet(rig_id: str) -> None:
    """Bring a sheet to this machine that another one has computed."""
    if has_sheet(rig_id):
        return
    done = Computation.objects.filter(key=jobs.key_of(kind_called("sheet"), {"rig": rig_id}), state=Computation.State.DONE).first()
    if done is None:
        raise MissingSheet(f"the value sheet of {rig_id} is not there yet", rig=rig_id)
    keep_sheet(rig_id, jobs.value_of(done))
