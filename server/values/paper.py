"""A value sheet on paper: displayed values, condition by condition, black on white."""

from itertools import groupby

from leitfaden_core.channels import Channel, channel
from leitfaden_core.lessons.exchange import Block, Sheet
from leitfaden_core.quantities import QUANTITIES, UnitSystem, shown
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.words import say

#: Rows of the table by condition, channel and statistic.
Found = dict[tuple[str, str, str], dict[str, str]]
#: Where a reading is written in.
BLANK = "…………………"


def on_paper(rig: Rig, air: list[float], rows: list[dict[str, str]], blank: bool, units: UnitSystem) -> Sheet:
    """The sheet from the rows of its table; ``air`` is temperature, pressure and the share of ethanol."""
    celsius, kpa, ethanol = air
    place = [shown(celsius, "temperature", 1.0, units), shown(kpa, "pressure_abs", 0.1, units)]
    if ethanol:
        place.append(say("{share:.0f} % ethanol", share=100 * ethanol))
    lines = [
        rig.description,
        say("Of 100 sound engines 95 lie within each band, by the model; in air of {air}.", air=", ".join(place)),
        say("A service value of the school goes before the band; the maker's service information goes first."),
    ]
    displayed = [row for row in rows if row["layer"] == "scan"]
    wanted = [row for row in displayed if row["statistic"] == "mean"]
    found = {(row["condition"], row["channel"], row["statistic"]): row for row in displayed}
    channels = {channel(name).label: channel(name) for name in rig_channels(rig)}
    return Sheet(
        say("Value sheet: {rig}", rig=rig.name),
        lines,
        [
            Block(
                condition,
                "",
                [_heading(blank), *(_row(row, found, channels[row["channel"]], blank) for row in rows_there)],
            )
            for condition, rows_there in groupby(wanted, key=lambda row: row["condition"])
        ],
    )


def _heading(blank: bool) -> list[str]:
    heads = [say("Reading"), say("Unit"), say("Sound engines"), say("Middle"), say("Service value, source")]
    return [*heads, *([say("Measured")] if blank else [])]


def _row(row: dict[str, str], found: Found, of: Channel, blank: bool) -> list[str]:
    own = ", ".join(filter(None, (row["service value"], row["source"])))
    means = dict(QUANTITIES[of.quantity].means)
    low, middle, high = (_worded(row[place], means) for place in ("low", "median", "high"))
    band = _band(low, high)
    lowest, highest = (found.get((row["condition"], row["channel"], stat)) for stat in ("min", "max"))
    if of.swings and lowest and highest:
        low, high = _worded(lowest["low"], means), _worded(highest["high"], means)
        band = say("swings {swing}, mean {mean}", swing=_band(low, high), mean=band)
    return [row["channel"], row["unit"], band, middle, own, *([BLANK] if blank else [])]


def _worded(number: str, means: dict[str, str]) -> str:
    """A number as it is printed; of a state what it means too."""
    return f"{number} ({means[number]})" if number in means else number.replace("-", "\u2212")


def _band(low: str, high: str) -> str:
    return low if low == high else say("{low} to {high}", low=low, high=high)
