"""Own service values of a school: written in a person's words with a unit, kept in the channel's unit."""

from typing import Any

from django.db import transaction

from api.problems import NotFound, Refused
from leitfaden_core.channels import channel
from leitfaden_core.expect import OwnValue
from leitfaden_core.judge import ServiceBand
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.words import say
from people import audit
from people.models import Membership
from people.services import change_own_values
from values.models import ServiceValue

#: Of a school.
MOST = 500


@transaction.atomic
def keep_value(*, member: Membership, rig: Rig, value: OwnValue, vehicle: str = "") -> ServiceValue:
    """Keep a service value in the place of an earlier one for the same place; ``vehicle``: the one it was taken at."""
    if value.channel not in rig_channels(rig):
        raise Refused(
            say("{rig} has no {channel}.", rig=rig.name, channel=channel(value.channel).label), code="no_such_channel"
        )
    kept = ServiceValue.objects.filter(school=member.school)
    place: dict[str, Any] = {"rig": rig.id, "condition": value.condition, "channel": value.channel}
    if kept.count() >= MOST and not kept.filter(**place).exists():
        raise Refused(
            say("A school keeps {most} service values at most; delete some first.", most=MOST), code="too_many_values"
        )
    row, _new = ServiceValue.objects.update_or_create(
        school=member.school,
        **place,
        defaults={
            "low": value.low,
            "high": value.high,
            "source": value.source,
            "vehicle": vehicle.strip(),
            "made_by": member.user,
        },
    )
    audit.note(member, "service_value", row.source, **place)
    _into_rules(member, say("service value of {channel}, {rig}", channel=channel(value.channel).label, rig=rig.name))
    return row


def _into_rules(member: Membership, note: str) -> None:
    """Verdicts go by the school's service values as by its other rules."""
    own = [
        ServiceBand(
            rig=row.rig,
            condition=row.condition,
            channel=row.channel,
            low=row.low,
            high=row.high,
            source=", ".join(filter(None, (row.source, row.vehicle))),
        )
        for row in ServiceValue.objects.filter(school=member.school)
    ]
    change_own_values(member=member, own=own, note=note)


@transaction.atomic
def delete_value(*, member: Membership, value_id: int) -> None:
    """Delete one of the school's service values."""
    row = ServiceValue.objects.filter(school=member.school, pk=value_id).first()
    if row is None:
        raise NotFound("There is no such service value in your school.")
    audit.note(member, "service_value_deleted", row.source, rig=row.rig, condition=row.condition, channel=row.channel)
    row.delete()
    _into_rules(member, say("without the service value of {channel}", channel=channel(row.channel).label))
