"""Value sheets, and a school's own service values beside them."""

import csv
import io
from dataclasses import asdict
from typing import Annotated, Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router, Schema
from pydantic import Field, ValidationError

from api.paper import as_pdf
from api.problems import ComputingOut, Refused
from jobs.kinds import kind_called
from jobs.models import Computation
from jobs.services import answered, asker_of, key_of, packed, packed_response, value_of
from leitfaden_core.errors import UnknownName
from leitfaden_core.expect import SCHOOL, OwnValue
from leitfaden_core.quantities import UnitSystem
from leitfaden_core.rigs import Rig, load_rig
from leitfaden_core.scripts import CONDITIONS
from leitfaden_core.validation import first_wrong
from leitfaden_core.workings.kinds.pressure import station_pressure
from people.changes import once
from people.models import Membership
from people.permissions import allowed
from people.schemas import Wish
from simulations.sheets import require_sheet
from simulations.wishes import as_asked_by
from values import schemas, services
from values.models import ServiceValue
from values.paper import on_paper

router = Router(tags=["values"])
Id: Any = Path(ge=1, le=2**31 - 1)  # type: ignore[type-arg]
RigName: Any = Path(max_length=20)  # type: ignore[type-arg]


class AirIn(Schema):
    """Air and petrol for which the sheet is wanted."""

    celsius: Annotated[float, Field(ge=-20, le=45)] = SCHOOL.celsius
    altitude: Annotated[float, Field(ge=0, le=3000)] = 0.0
    ethanol: Annotated[float, Field(ge=0, le=0.85)] = 0.0

    def told(self) -> list[float]:
        """As the model takes it: the school's weather at that height."""
        kpa = SCHOOL.kpa * station_pressure(self.altitude) / station_pressure(0.0)
        return [self.celsius, kpa, self.ethanol]


class FullIn(Wish):
    """The air for which the full sheet is wanted."""

    air: AirIn


Air: Any = Query(...)  # type: ignore[type-arg]
Condition: Any = Query("hot_idle", max_length=40)  # type: ignore[type-arg]


@router.get(
    "/rigs/{rig}/values",
    response={200: schemas.ValuesOut, 202: ComputingOut},
    operation_id="values",
    summary="What sound engines show in a condition",
)
@allowed("values.read")
def values(request: HttpRequest, rig: str = RigName, condition: str = Condition, air: AirIn = Air) -> HttpResponse:
    known = load_rig(rig)
    if condition not in CONDITIONS:
        raise UnknownName("condition", condition, CONDITIONS)
    require_sheet(known)
    wish = {"rig": known.id, "condition": condition, "air": air.told(), "full": _is_full(known.id, air)}
    return packed_response(request, packed(answered("values", wish, asker_of(request))))


def _is_full(rig: str, air: AirIn) -> bool:
    """Whether a worker has computed the full sheet there: with it the same question has another answer."""
    key = key_of(kind_called("air_sheet"), {"rig": rig, "air": air.told()})
    return Computation.objects.filter(key=key, state=Computation.State.DONE).exists()


@router.post(
    "/rigs/{rig}/values/full",
    response={200: schemas.FullOut, 202: ComputingOut},
    operation_id="fullValues",
    summary="Have the full sheet computed in some air, by a worker: it takes minutes",
)
@allowed("lesson.edit")
def full_values(request: HttpRequest, payload: FullIn, rig: str = RigName) -> Any:
    known = load_rig(rig)
    require_sheet(known)
    answered("air_sheet", {"rig": known.id, "air": payload.air.told()}, asker_of(request))
    return {"full": True}


@router.get(
    "/rigs/{rig}/values/table",
    response={200: None, 202: ComputingOut},
    operation_id="valuesTable",
    summary="The whole value sheet as a table (CSV), in the person's units",
)
@allowed("values.read")
def values_table(request: HttpRequest, rig: str = RigName, air: AirIn = Air) -> HttpResponse:
    known = load_rig(rig)
    return HttpResponse(
        _as_table(request, known, air),
        content_type="text/csv; charset=utf-8",
        headers={"Content-Disposition": f'attachment; filename="values-{known.id}.csv"'},
    )


@router.get(
    "/rigs/{rig}/values/paper",
    response={200: None, 202: ComputingOut},
    operation_id="valuesOnPaper",
    summary="What displays of sound engines show, as PDF in the person's units; blank: with room for what is measured",
)
@allowed("values.read")
def values_on_paper(request: HttpRequest, rig: str = RigName, air: AirIn = Air, blank: bool = False) -> HttpResponse:
    known, member = load_rig(rig), request.member  # type: ignore[attr-defined]
    rows = csv.DictReader(io.StringIO(_as_table(request, known, air)))
    sheet = on_paper(known, air.told(), list(rows), blank, UnitSystem(member.user.units))
    return HttpResponse(
        as_pdf(asdict(sheet), f"{member.school.name} · {known.name}"),
        content_type="application/pdf",
        headers={"Content-Disposition": f'attachment; filename="values-{known.id}.pdf"'},
    )


def _as_table(request: HttpRequest, known: Rig, air: AirIn) -> str:
    """The whole sheet with the school's own values, as CSV."""
    member = request.member  # type: ignore[attr-defined]
    require_sheet(known)
    own = {
        f"{row.condition}/{row.channel}": {
            "low": row.low,
            "high": row.high,
            "source": ", ".join(filter(None, (row.source, row.vehicle))),
        }
        for row in _own(member, known.id)
    }
    wish = {"rig": known.id, "air": air.told(), "own": own, "full": _is_full(known.id, air)} | as_asked_by(member)
    return str(value_of(answered("values_table", wish, asker_of(request), patience=20.0))["content"])


def _own(member: Membership, rig: str) -> Any:
    return ServiceValue.objects.filter(school=member.school, rig=rig).select_related("made_by")


def _rows(member: Membership, rig: str) -> list[dict[str, Any]]:
    return [
        {
            "id": row.pk,
            **{
                name: getattr(row, name)
                for name in ("condition", "channel", "low", "high", "source", "vehicle", "made_at")
            },
            "made_by": row.made_by.display_name if row.made_by else "",
        }
        for row in _own(member, rig)
    ]


@router.get(
    "/rigs/{rig}/service-values",
    response={200: list[schemas.ServiceValueOut]},
    operation_id="serviceValues",
    summary="The school's own service values of an engine",
)
@allowed("values.read")
def service_values(request: HttpRequest, rig: str = RigName) -> list[dict[str, Any]]:
    return _rows(request.member, load_rig(rig).id)  # type: ignore[attr-defined]


@router.put(
    "/rigs/{rig}/service-values",
    response={200: list[schemas.ServiceValueOut]},
    operation_id="keepServiceValue",
    summary="Keep a service value with its source",
)
@allowed("lesson.edit")
@once()
def keep_service_value(
    request: HttpRequest, payload: schemas.ServiceValueIn, rig: str = RigName
) -> list[dict[str, Any]]:
    known, member = load_rig(rig), request.member  # type: ignore[attr-defined]
    try:
        told = payload.dict() | {"from": payload.low, "to": payload.high}
        value = OwnValue.model_validate({name: told[name] for name in ("condition", "channel", "from", "to", "source")})
    except ValidationError as error:
        place, sentence = first_wrong(error)
        raise Refused(f"{place}: {sentence}" if place else sentence, code="bad_value") from None
    services.keep_value(member=member, rig=known, value=value, vehicle=payload.vehicle)
    return _rows(member, known.id)


@router.delete(
    "/rigs/{rig}/service-values/{value_id}",
    response={200: list[schemas.ServiceValueOut]},
    operation_id="deleteServiceValue",
    summary="Delete a service value",
)
@allowed("lesson.edit")
@once()
def delete_service_value(request: HttpRequest, rig: str = RigName, value_id: int = Id) -> list[dict[str, Any]]:
    known, member = load_rig(rig), request.member  # type: ignore[attr-defined]
    services.delete_value(member=member, value_id=value_id)
    return _rows(member, known.id)
