"""The atlas, its drawings and cards, the glossary, and the search."""

from dataclasses import asdict
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Path, Query, Router

from api.problems import ComputingOut
from atlas import schemas
from jobs.services import answered, asker_of, packed, packed_response
from leitfaden_core.atlas import Page, School, glossary, myths, page_on, page_rigs, pages, plate_groups, schools, search
from leitfaden_core.atlas.documents import page_called, school_called
from leitfaden_core.cautions import CAUTIONS
from leitfaden_core.errors import UnknownName
from leitfaden_core.explore import Drawing, drawings, showing
from leitfaden_core.live.circuit import known_wire
from leitfaden_core.rigs import load_rig
from leitfaden_core.words import in_language
from leitfaden_core.workings import workings
from people.permissions import allowed, may

router = Router(tags=["atlas"])
Name: Any = Path(max_length=60)  # type: ignore[type-arg]
RigName: Any = Query("", max_length=20)  # type: ignore[type-arg]
Words: Any = Query(max_length=80)  # type: ignore[type-arg]


@router.get("/atlas", response={200: schemas.AtlasOut}, operation_id="atlas", summary="All pages")
@allowed("catalogue.read")
def atlas(request: HttpRequest) -> dict[str, Any]:
    return {
        "pages": [
            {
                **page.model_dump(include={"id", "title", "family", "summary", "sensors", "stations", "channels"}),
                "rigs": page_rigs(page),
            }
            for page in pages().values()
        ],
        "drawings": in_language([{"id": drawing.id, "label": drawing.label} for drawing in drawings]),
    }


@router.get(
    "/atlas/pages/{page}",
    response={200: schemas.PageOut},
    operation_id="atlasPage",
    summary="A page, with what is true of it on a rig",
)
@allowed("catalogue.read")
def atlas_page(request: HttpRequest, page: str = Name, rig: str = RigName) -> dict[str, Any]:
    """Without a rig, or with one that lacks the device, the first rig that has it is taken."""
    known = page_called(page)
    having = page_rigs(known)
    chosen = load_rig(rig) if rig else load_rig(having[0])
    chosen = chosen if chosen.id in having else load_rig(having[0])
    here = asdict(page_on(known, chosen))
    if not may(request.member, "values.read"):  # type: ignore[attr-defined]
        here["good"] = []
    return {
        **known.model_dump(include={"id", "title", "family", "also", "summary", "inside", "types"}),
        "tests": [_way(known, k) for k in range(len(known.tests))],
        "workings": in_language([{"id": name, "label": workings.get(name).label} for name in known.workings]),
        "rigs": having,
        "rig": chosen.id,
        **here,
        "drawings": [_drawing(drawings.get(name)) for name in known.drawings],
        "myths": [
            myth.model_dump(include={"id", "claim", "fact"}) for myth in myths().values() if known.id in myth.pages
        ],
        "schools": [_school(card) for card in schools().values() if known.id in card.pages],
    }


def _way(page: Page, number: int) -> dict[str, Any]:
    way = page.tests[number]
    return way.model_dump() | {"cautions": in_language([CAUTIONS[name].words for name in way.cautions])}


def _school(card: School) -> dict[str, Any]:
    switch = card.drawing
    return {
        **card.model_dump(exclude={"runs", "drawing", "pages"}),
        "runs": card.runs is not None,
        "drawing": switch.id if switch else "",
        "options": [option.model_dump() for option in switch.options] if switch else [],
    }


def _drawing(drawing: Drawing) -> dict[str, Any]:
    told = {
        "id": drawing.id,
        "label": drawing.label,
        "shows": drawing.shows,
        "hands": [
            asdict(hand) | {"choices": [{"id": name, "label": label} for name, label in hand.choices]}
            for hand in drawing.hands
        ],
        "seen": [asdict(seen) for seen in drawing.seen],
        "poses": [asdict(pose) for pose in drawing.poses],
        "along": drawing.along,
        "holds": drawing.holds,
    }
    return in_language(told)  # type: ignore[no-any-return]


@router.get(
    "/atlas/drawings/{drawing}",
    response={200: schemas.DrawingOut},
    operation_id="drawing",
    summary="A drawing that can be explored",
)
@allowed("catalogue.read")
def one_drawing(request: HttpRequest, drawing: str = Name) -> dict[str, Any]:
    return _drawing(drawings.get(drawing))


@router.post(
    "/atlas/drawings/{drawing}",
    response={200: schemas.ShownOut, 202: ComputingOut},
    operation_id="showDrawing",
    summary="What a drawing shows with its hands set",
)
@allowed("catalogue.read")
def show_drawing(request: HttpRequest, payload: schemas.HandsIn, drawing: str = Name) -> Any:
    known = drawings.get(drawing)
    hands = known.set(payload.hands)
    if known.simulated:
        wish = {"drawing": known.id, "hands": hands}
        return packed_response(request, packed(answered("drawing", wish, asker_of(request))))
    return asdict(showing(known, hands))


@router.get(
    "/atlas/circuits/{wire}",
    response={200: list[schemas.CircuitStateOut], 202: ComputingOut},
    operation_id="atlasCircuit",
    summary="What a meter shows at the joints of a sound sensor's wires",
)
@allowed("catalogue.read")
def circuit(request: HttpRequest, wire: str = Name, rig: str = RigName) -> HttpResponse:
    known = load_rig(rig or "R1")
    known_wire(known, wire)
    wish = {"rig": known.id, "wire": wire}
    return packed_response(request, packed(answered("atlas_circuit", wish, asker_of(request))))


@router.get(
    "/atlas/schools/{card}",
    response={200: schemas.OutcomesOut, 202: ComputingOut},
    operation_id="schoolOutcomes",
    summary="What the displays show in each option of a card's switch",
)
@allowed("catalogue.read")
def school_outcomes(request: HttpRequest, card: str = Name) -> HttpResponse:
    known = school_called(card)
    if known.runs is None:
        raise UnknownName("card with a switch between engines", card, [c.id for c in schools().values() if c.runs])
    return packed_response(request, packed(answered("school_outcomes", {"card": known.id}, asker_of(request))))


@router.get(
    "/atlas/myths",
    response={200: list[schemas.MythOut]},
    operation_id="myths",
    summary="All misconceptions with their facts",
)
@allowed("lesson.read")
def all_myths(request: HttpRequest) -> list[dict[str, Any]]:
    return [myth.model_dump(include={"id", "claim", "fact"}) for myth in myths().values()]


@router.get("/glossary", response={200: list[schemas.TermOut]}, operation_id="glossary", summary="All terms")
@allowed("catalogue.read")
def terms(request: HttpRequest) -> list[dict[str, Any]]:
    return [term.model_dump() for term in glossary()]


@router.get(
    "/plates",
    response={200: list[schemas.PlateGroupOut]},
    operation_id="plates",
    summary="What the eye sees, group by group",
)
@allowed("catalogue.read")
def plates(request: HttpRequest) -> list[dict[str, Any]]:
    return [group.model_dump() for group in plate_groups()]


@router.get(
    "/search",
    response={200: list[schemas.SearchHitOut]},
    operation_id="search",
    summary="Sensors, faults, codes, conditions, calculations, channels, terms and cards by words",
)
@allowed("catalogue.read")
def searched(request: HttpRequest, words: str = Words) -> list[dict[str, Any]]:
    return [asdict(found) for found in search(words)]
