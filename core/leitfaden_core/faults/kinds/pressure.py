"""Faults of pressure sensors and their hoses."""

from leitfaden_core.errors import UnknownName
from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, Range, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

_HOSE = "Ease vacuum hoses off by twisting, never with pliers."
_RAIL = (
    "Fuel in a common rail stands under deadly pressure: never open a line; work only as the maker's service "
    "information says."
)

#: Sensor in the vocabulary -> hook, feature that a rig must have, range of the shift in kPa.
_SHIFTS = {
    "map": ("map_shift", "map", Range(-60.0, 60.0, (4.0, 8.0, 15.0))),
    "charge": ("charge_shift", "charge", Range(-120.0, 120.0, (6.0, 12.0, 25.0))),
    "ambient": ("ambient_shift", "ambient_wire", Range(-40.0, 40.0, (4.0, 8.0, 15.0))),
    "rail": ("rail_shift", "rail", Range(-60000.0, 60000.0, (2000.0, 5000.0, 12000.0))),
    "dpf_dp": ("dpf_dp_shift", "dpf_dp", Range(-30.0, 30.0, (1.0, 3.0, 8.0))),
}


def _shift(values: Values, rig: Rig) -> list[Effect]:
    sensor, kilopascal = str(values["sensor"]), float(values["kPa"])
    hook, needs, _range = _SHIFTS[sensor]
    if needs not in rig.features:
        raise UnknownName(
            "pressure sensor",
            sensor,
            [name for name, (_h, n, _m) in _SHIFTS.items() if n in rig.features],
            where=say("on rig {id}", id=rig.id),
        )
    return [Effect(hook, "add", kilopascal * 1000.0)]


_DP_MODES = {
    "swapped": [Effect("dp_swapped", "set", 1.0)],
    "upstream_blocked": [Effect("dp_upstream_lag", "set", 60.0)],
    "upstream_off": [Effect("dp_upstream", "set", 0.0)],
}

fault_kinds.register(
    FaultKind(
        "map_stuck",
        "MAP sensor stuck",
        group="pressure_sensor",
        meaning="The sensor's output is frozen at one pressure.",
        place="map",
        parameters=(
            Parameter("kPa", "absolute pressure shown", unit="kPa", low=10.0, high=300.0, steps=(60.0, 90.0, 101.0)),
        ),
        effects=lambda values, rig: [Effect("map_stuck", "set", float(values["kPa"]) * 1000.0)],
        repair="Renew the sensor after supply, ground and hose have been proven.",
        cautions=(_HOSE,),
        proof="A hand pump on the port: the reading does not follow.",
        needs="map",
        part="MAP sensor",
        prior=1.0,
        measured_by=("pump.map",),
    )
)
fault_kinds.register(
    FaultKind(
        "map_clipped",
        "MAP sensor does not reach deep vacuum",
        group="pressure_sensor",
        meaning="The sensor moves, but never below this pressure.",
        place="map",
        parameters=(
            Parameter(
                "kPa", "lowest absolute pressure shown", unit="kPa", low=25.0, high=100.0, steps=(40.0, 60.0, 95.0)
            ),
        ),
        effects=lambda values, rig: [Effect("map_lowest", "max", float(values["kPa"]) * 1000.0)],
        repair="Renew the sensor after its hose has been proven.",
        cautions=(_HOSE,),
        proof="A hand pump on the port: right near ambient, too high at deep vacuum.",
        needs="map",
        part="MAP sensor",
        prior=0.5,
        measured_by=("pump.map",),
        # What the pump shows and whether the engine starts change on the way from deep vacuum to none.
        ways=lambda chosen, rig: [[{"kPa": lowest} for lowest in (40.0, 60.0, 72.0, 84.0, 95.0)]],
    )
)
fault_kinds.register(
    FaultKind(
        "map_hose_leak",
        "Hose to the MAP sensor leaks",
        group="pressure_sensor",
        meaning=(
            "The sensor sees a pressure between manifold and ambient; as an air leak the hole is too small to matter."
        ),
        place="map",
        parameters=(
            Parameter(
                "fraction",
                "share of ambient pressure seen",
                unit="-",
                low=0.01,
                high=1.0,
                steps=(0.05, 0.10, 0.25),
                words="sees {percent:.3g} % of ambient pressure",
            ),
        ),
        effects=lambda values, rig: [Effect("map_hose_share", "set", float(values["fraction"]))],
        repair="Renew hose or seal.",
        cautions=(_HOSE,),
        proof="Reads right with the engine off and at full load, high at idle; a pump on the hose does not hold.",
        needs="map",
        part="MAP sensor hose",
        look="The hose of the MAP sensor is cracked.",
        prior=1.5,
        measured_by=("pump.map_hose",),
        leads_to=(Leads("ho2s_contaminated", "rich running soots the sensor"),),
    )
)
fault_kinds.register(
    FaultKind(
        "map_hose_blocked",
        "Hose or port of the MAP sensor narrowed",
        group="pressure_sensor",
        meaning="Oil, ice or a kink delays the pressure at the sensor.",
        place="map",
        parameters=(Parameter("tau_s", "lag", unit="s", low=0.02, high=20.0, steps=(0.1, 0.4, 1.5)),),
        effects=lambda values, rig: [Effect("map_hose_lag", "set", float(values["tau_s"]))],
        repair="Clear port and hose, find where the oil comes from.",
        cautions=(_HOSE,),
        proof="Steady values right, snap throttle late.",
        needs="map",
        part="MAP sensor hose",
        look="The hose of the MAP sensor is kinked and oily.",
        prior=1.0,
        measured_by=("scope.map_follows",),
    )
)
fault_kinds.register(
    FaultKind(
        "pressure_offset",
        "Zero point of a pressure sensor shifted",
        group="pressure_sensor",
        meaning="The same pressure is added to every reading.",
        place="map",
        parameters=(
            Parameter(
                "sensor",
                "sensor",
                choices=tuple(_SHIFTS),
                called={
                    "map": "MAP",
                    "charge": "charge pressure",
                    "ambient": "barometric pressure",
                    "rail": "rail pressure",
                    "dpf_dp": "filter pressure drop",
                },
            ),
            Parameter(
                "kPa",
                "added to the reading",
                unit="kPa",
                low=-60.0,
                high=60.0,
                steps=(4.0, 8.0, 15.0),
                depends_on="sensor",
                ranges={name: allowed for name, (_hook, _needs, allowed) in _SHIFTS.items()},
            ),
        ),
        effects=_shift,
        repair="Renew the sensor.",
        cautions=(_HOSE, _RAIL),
        proof="Key on, engine off: the reading differs from the barometer, or from zero.",
        part="{sensor}",
        prior=1.2,
        measured_by=("pump.{sensor}",),
    )
)
fault_kinds.register(
    FaultKind(
        "dp_hose_fault",
        "Hose of the differential pressure sensor",
        group="pressure_sensor",
        meaning=(
            "Crossed hoses turn the sign; a blocked one brings the pressure late; one that is off brings the "
            "surroundings."
        ),
        place="dpf_dp",
        parameters=(
            Parameter(
                "mode",
                "what is wrong",
                choices=tuple(_DP_MODES),
                called={"upstream_blocked": "upstream one blocked", "upstream_off": "upstream one off"},
            ),
        ),
        effects=lambda values, rig: _DP_MODES[str(values["mode"])],
        repair="Renew or connect the hoses; check them for soot and burnt places.",
        cautions=(_HOSE, "Exhaust parts are hot; run engines only with exhaust extraction."),
        proof="Zero with the engine off; rising with flow; a hand pump on each hose.",
        needs="dpf_dp",
        part="hoses of the filter sensor",
        look="A hose of the filter sensor is burnt, crossed or full of soot.",
        prior=1.0,
    )
)
fault_kinds.register(
    FaultKind(
        "changeover_stuck",
        "Changeover valve of the MAP sensor stuck",
        group="pressure_sensor",
        meaning=(
            "The valve keeps the sensor on the surrounding air: the reading stays at barometric pressure, as if "
            "the sensor were dead."
        ),
        place="map",
        parameters=(),
        effects=lambda values, rig: [Effect("map_hose_share", "set", 1.0)],
        repair="Renew the valve or its drive; the sensor is sound.",
        cautions=(_HOSE,),
        proof=(
            "A hand pump on the sensor's own port: the reading follows. A pump on the hose to the manifold: it "
            "does not."
        ),
        needs="changeover",
        part="changeover valve",
        prior=0.5,
    )
)
