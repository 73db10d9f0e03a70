"""The way of the air through an engine: its sensors as the rig has them, the parts between them, and what branches off.

Each part and branch names what hands find there: hoses to clamp, parts to exchange, actuators to hold.
"""

from dataclasses import dataclass

from leitfaden_core.faults.hoses import hoses_of
from leitfaden_core.instruments.kinds.parts import parts_of
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.simulate import actuators_on, injector_of
from leitfaden_core.words import per_language, say


@dataclass(frozen=True)
class Station:
    """A part on the way, or a branch off it. ``at``: the sensor before which it sits (empty: at the end), or of a
    branch the station at which it joins. ``channels``: what can be known there.
    """

    id: str
    label: str
    name: str
    at: str = ""
    channels: tuple[str, ...] = ()
    hoses: tuple[str, ...] = ()
    parts: tuple[str, ...] = ()
    actuators: tuple[str, ...] = ()


@dataclass(frozen=True)
class Way:
    """Ids of sensors and parts in the order of the air; the parts; the branches."""

    order: list[str]
    parts: list[Station]
    branches: list[Station]


@dataclass(frozen=True)
class _Kind:
    """A station as rigs may have it: where they have the feature, at the first of these sensors that they have."""

    station: Station
    at: tuple[str, ...]
    needs: str = ""


def _sensors(rig: Rig) -> list[str]:
    """Sensors as the rig has them; the throttle stands before the manifold, whatever was fitted there later."""
    sensors = [sensor.id for sensor in rig.sensors]
    manifold = next((name for name in ("map", "map_truth") if name in sensors), None)
    if manifold and "tp" in sensors and sensors.index(manifold) < sensors.index("tp"):
        sensors.remove("tp")
        sensors.insert(sensors.index(manifold), "tp")
    return sensors


def _inlet(rig: Rig) -> str:
    """The first sensor that sits in the duct: one of the air outside stands before it."""
    in_duct = rig.ambient_sensor is not None and rig.ambient_sensor.ambient_place == "clean_air_pipe"
    return next(sensor.id for sensor in rig.sensors if sensor.id != "baro" or in_duct)


_MANIFOLD = ("map", "map_truth", "tp", "charge")

_PARTS = (
    _Kind(
        Station("filter", "Filter", "air filter and duct", hoses=("air duct",), parts=("air filter", "air duct")),
        ("inlet",),
    ),
    _Kind(
        Station(
            "compressor",
            "Compressor",
            "compressor of the turbocharger",
            channels=("inlet_true",),
            parts=("turbocharger",),
        ),
        ("charge", "iat"),
        "turbo",
    ),
    _Kind(
        Station(
            "cooler",
            "Cooler",
            "charge air cooler and pipes",
            channels=("charge_true",),
            hoses=("charge pipe",),
            parts=("charge hoses",),
        ),
        ("charge", "iat"),
        "turbo",
    ),
    _Kind(
        Station(
            "injectors",
            "Injectors",
            "injectors and fuel supply",
            channels=("injector_ms", "rail_true"),
            parts=("injectors", "fuel pressure regulator", "fuel pump and filter", "fuel"),
            actuators=tuple(injector_of(n) for n in range(1, 13)),
        ),
        ("ect",),
    ),
    _Kind(
        Station(
            "cylinders",
            "Cylinders",
            "cylinders with spark, valves and compression",
            channels=("rpm_true", "torque_true", "spark_true", "lambda_true"),
            parts=("ignition coil, plug and injector of the cylinder", "timing belt setting"),
        ),
        ("ect",),
    ),
    _Kind(
        Station(
            "turbine",
            "Turbine",
            "turbine with its control",
            channels=("exhaust_backpressure",),
            parts=("wastegate", "wastegate hose"),
            actuators=("vanes",),
        ),
        ("wideband", "ho2s_b1s1", "egt_2"),
        "turbo",
    ),
    _Kind(
        Station(
            "catalyst",
            "Catalyst",
            "catalyst",
            channels=("catalyst_true", "lambda_rear", "pressure_behind_catalyst"),
            parts=("catalyst", "exhaust gasket"),
        ),
        ("ho2s_b1s2", "ho2s_b2s2", "dpf_dp", ""),
        "catalyst",
    ),
    _Kind(
        Station(
            "silencer", "Silencer", "silencer and tailpipe", channels=("exhaust_backpressure",), parts=("silencer",)
        ),
        ("",),
    ),
)

_BRANCHES = (
    _Kind(
        Station(
            "breather",
            "breather",
            "crankcase breather",
            hoses=("breather hose",),
            parts=("crankcase ventilation valve",),
        ),
        _MANIFOLD,
    ),
    _Kind(
        Station("servo", "brake servo", "brake servo", hoses=("brake servo hose",), parts=("brake servo",)), _MANIFOLD
    ),
    _Kind(
        Station(
            "vacuum",
            "vacuum hoses",
            "small vacuum hoses and gaskets",
            hoses=("small vacuum hoses",),
            parts=("vacuum hose or gasket",),
        ),
        _MANIFOLD,
    ),
    _Kind(
        Station(
            "purge",
            "purge",
            "purge line from the canister",
            channels=("purge_duty", "purge_true"),
            hoses=("purge hose",),
            parts=("purge valve",),
            actuators=("purge valve",),
        ),
        _MANIFOLD,
    ),
    _Kind(
        Station(
            "egr_way",
            "EGR",
            "exhaust gas recirculation",
            channels=("egr_true", "egr_share_true"),
            hoses=("EGR pipe",),
            parts=("EGR valve", "EGR passage"),
            actuators=("EGR valve",),
        ),
        ("egr", *_MANIFOLD),
        "egr",
    ),
    _Kind(
        Station(
            "recirculation",
            "recirculation",
            "recirculation around the compressor",
            hoses=("recirculation hose",),
            parts=("recirculation valve",),
        ),
        ("charge", "iat"),
        "recirculation_valve",
    ),
    _Kind(
        Station("air_pump", "air pump", "secondary air into the exhaust", hoses=("air pump hose",)),
        ("ho2s_b1s1", "wideband"),
        "secondary_air",
    ),
)

STATIONS = tuple(kind.station for kind in (*_PARTS, *_BRANCHES))


@per_language()
def way_of(rig: Rig) -> Way:
    """The way of the air of a rig, with what of each part and branch it has."""
    sensors = _sensors(rig)
    order, parts = list(sensors), []
    for kind in _PARTS:
        if kind.needs and kind.needs not in rig.features:
            continue
        station = _here(rig, kind, sensors)
        if station is None:
            continue
        parts.append(station)
        order.insert(order.index(station.at) if station.at else len(order), station.id)
    branches = [
        station
        for kind in _BRANCHES
        if (not kind.needs or kind.needs in rig.features)
        and (station := _here(rig, kind, sensors)) is not None
        and (station.hoses or station.parts or station.actuators)
    ]
    return Way(order, parts, branches)


def _here(rig: Rig, kind: _Kind, sensors: list[str]) -> Station | None:
    """A station with what the rig has of it; None where it has no place for it."""
    at = _inlet(rig) if kind.at == ("inlet",) else next((n for n in kind.at if not n or n in sensors), None)
    if at is None:
        return None
    told, known = kind.station, rig_channels(rig)
    hoses, parts, actuators = hoses_of(rig), parts_of(rig), actuators_on(rig)
    return Station(
        told.id,
        say(told.label),
        say(told.name),
        at,
        tuple(name for name in told.channels if name in known),
        tuple(name for name in told.hoses if name in hoses),
        tuple(name for name in told.parts if name in parts),
        tuple(name for name in told.actuators if name in actuators),
    )
