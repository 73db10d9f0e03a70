"""Show: lanes along the script, good against faulty."""

from typing import Annotated, Literal

from pydantic import Field, model_validator

from leitfaden_core.channels import channel
from leitfaden_core.faults import FaultSpec
from leitfaden_core.lessons.item import Item
from leitfaden_core.lessons.kind import LaneWish, StationKind, empty_lane
from leitfaden_core.lessons.shapes import MarkedStation, Name, Seen, StationDocument, StationKey, StationView
from leitfaden_core.scripts import condition


class Show(StationDocument):
    """Lanes: good against faulty along the script."""

    kind: Literal["show"] = "show"
    channels: Annotated[list[Name], Field(min_length=1, max_length=8, title="lanes")]
    show_good: Annotated[bool, Field(title="sound engine shown")] = True
    focus: Annotated[Name | None, Field(title="condition to look at")] = None

    @model_validator(mode="after")
    def _is_known(self) -> "Show":
        for name in self.channels:
            channel(name)
        if self.focus is not None:
            condition(self.focus)
        return self


class ShowView(StationView):
    """Which lanes, and where to look first."""

    kind: Literal["show"] = "show"
    channels: list[str]
    show_good: bool
    focus: str | None = None


class ShowSeen(Seen):
    """It was looked at."""

    kind: Literal["show"] = "show"


class ShowKey(StationKey):
    """Nothing to answer."""

    kind: Literal["show"] = "show"


class MarkedShow(MarkedStation):
    """Nothing to mark."""

    kind: Literal["show"] = "show"


class ShowKind(StationKind[Show]):
    """Lanes along the script."""

    id = "show"
    marks = False
    document = Show
    view_shape = ShowView
    answer_shape = ShowSeen
    key_shape = ShowKey
    marked_shape = MarkedShow

    def channels(self, station: Show) -> list[str]:
        return station.channels

    def work(self, station: Show) -> float:
        return 0.5 * len(station.channels)

    def view(self, item: Item[Show]) -> ShowView:
        station = item.station
        return ShowView(
            **self.heading(item),
            has_lanes=True,
            channels=station.channels,
            show_good=station.show_good,
            focus=station.focus,
        )

    def lanes(self, item: Item[Show]) -> LaneWish:
        station = item.station
        good = item.car.good if station.show_good else None
        return LaneWish(item.car.run, station.channels, good, bands=station.show_good)

    def shows_sound(self, station: Show, faults: tuple[FaultSpec, ...]) -> list[str]:
        return station.channels if station.show_good or not faults else []

    def undefined(self, item: Item[Show]) -> str | None:
        return empty_lane(item.car.run, item.station.channels)
