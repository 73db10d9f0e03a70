"""What the displays show of an engine with some faults in a condition: the answer behind a switch of a card."""

from dataclasses import dataclass

from leitfaden_core.atlas.documents import RunSwitch
from leitfaden_core.channels import channel
from leitfaden_core.expect import has_sheet, load_sheet
from leitfaden_core.rigs import load_rig, rig_channels
from leitfaden_core.scripts import script_with
from leitfaden_core.simulate import stored_statistics


@dataclass(frozen=True)
class Outcome:
    """A value in an option of a switch; None where that engine has no such channel. ``outside``: of the band of sound
    engines.
    """

    option: str
    channel: str
    value: float | None
    low: float | None
    high: float | None
    outside: bool


def outcomes(switch: RunSwitch) -> list[Outcome]:
    """All values of all options."""
    found = []
    for option in switch.options:
        rig, condition = load_rig(option.rig), option.condition or switch.condition
        shown = stored_statistics(rig, script_with(condition), [list(option.faults)])[0][condition]
        bands = load_sheet(rig).bands if has_sheet(rig) else {}
        for name in switch.channels:
            value = shown.get(name, {}).get(switch.statistic) if name in rig_channels(rig) else None
            value = None if value is None or value != value else float(value)
            band = bands.get((condition, name, switch.statistic))
            outside = value is not None and band is not None and not band.holds(value, channel(name).step)
            found.append(
                Outcome(option.label, name, value, band.low if band else None, band.high if band else None, outside)
            )
    return found
