"""A part with another characteristic is fitted: it fits the plug, and lies."""

from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults.catalogue import Effect, FaultKind, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

#: Part -> feature that a rig must have, and the parameters that say how it differs.
_PARTS = {
    "map_sensor": ("map", ("gain", "offset")),
    "charge_sensor": ("charge", ("gain", "offset")),
    "iat_sensor": ("iat", ("resistance_ratio", "gain", "offset")),
    "ect_sensor": ("ect", ("resistance_ratio", "gain", "offset")),
    "maf_housing": ("maf", ("gain", "offset")),
    "injectors": ("petrol", ("gain",)),
}
_CALLED = {
    "map_sensor": "MAP sensor",
    "charge_sensor": "charge pressure sensor",
    "iat_sensor": "IAT sensor",
    "ect_sensor": "ECT sensor",
    "maf_housing": "MAF housing",
    "injectors": "injectors",
}


def _effects(values: Values, rig: Rig) -> list[Effect]:
    part = str(values["part"])
    needs, described = _PARTS[part]
    if needs not in rig.features:
        raise UnknownName(
            "part",
            part,
            [name for name, (need, _d) in _PARTS.items() if need in rig.features],
            where=say("on rig {id}", id=rig.id),
        )
    given = [name for name in ("gain", "offset", "resistance_ratio") if name in values]
    if not given:
        raise LeitfadenError(
            say(
                "fault wrong_part: say how the {part} differs, by {list}",
                part=_CALLED[part],
                list=" or ".join(described),
            )
        )
    for name in given:
        if name not in described:
            raise LeitfadenError(
                say(
                    "fault wrong_part: a {part} differs by {list}, not by {name}",
                    part=_CALLED[part],
                    list=" or ".join(described),
                    name=name,
                )
            )
    gain, offset = float(values.get("gain", 1.0)), float(values.get("offset", 0.0))
    if part == "injectors":
        return [Effect("injector_part", "multiply", gain)]
    if part == "maf_housing":
        shifts = [Effect("meter_shift", "add", offset / 1000.0)] if offset else []
        return [Effect("meter_gain_idle", "multiply", gain), Effect("meter_gain_full", "multiply", gain), *shifts]
    if needs in {"map", "charge"}:
        return [Effect(f"{needs}_part", "multiply", gain), Effect(f"{needs}_shift", "add", offset * 1000.0)]
    return [
        Effect(f"{needs}_resistance", "multiply", float(values.get("resistance_ratio", 1.0))),
        Effect(f"{needs}_slope", "multiply", gain),
        Effect(f"{needs}_offset", "add", offset),
    ]


def _ways(chosen: Values, rig: Rig) -> list[list[Values]]:
    """A thermistor of another resistance, or a part of another gain: both sides."""
    name, less, more = (
        ("resistance_ratio", (0.7, 0.45), 2.2)
        if str(chosen["part"]) in {"iat_sensor", "ect_sensor"}
        else ("gain", (0.9, 0.8), 1.25)
    )
    return [[{name: value} for value in less], [{name: more}]]


fault_kinds.register(
    FaultKind(
        "wrong_part",
        "A part with another characteristic",
        group="wrong_part",
        meaning=(
            "It fits plug and thread, but its curve is another: reading = gain · true + offset, or another "
            "resistance at every temperature."
        ),
        place="wiring",
        parameters=(
            Parameter("part", "part", choices=tuple(_PARTS), called=_CALLED),
            Parameter(
                "gain",
                "reading / true value",
                unit="-",
                low=0.3,
                high=3.0,
                steps=(0.9, 0.8, 1.3),
                words="reads {percent:.3g} % of the true value",
                neutral=1.0,
                optional=True,
            ),
            Parameter(
                "offset",
                "added to the reading, in the channel's unit",
                unit="",
                low=-200.0,
                high=200.0,
                steps=(5.0, 10.0, 20.0),
                optional=True,
                words="{value:+g} added to the reading",
            ),
            Parameter(
                "resistance_ratio",
                "resistance / right resistance",
                unit="-",
                low=0.05,
                high=20.0,
                steps=(0.7, 0.45, 2.2),
                words="{percent:.3g} % of the right resistance",
                neutral=1.0,
                ratio=True,
                optional=True,
            ),
        ),
        effects=_effects,
        repair="Fit the part that the service information names; compare part numbers.",
        cautions=("Key off before unplugging.",),
        proof="Its curve at three points against the table, not one point.",
        suggested={"gain": 0.8},
        part="{part}",
        look="The part number does not fit the service information.",
        prior=0.5,
        measured_by=("look.plugs and cables",),
        ways=_ways,
    )
)
