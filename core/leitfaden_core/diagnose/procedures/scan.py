"""Data lists of the scan tool, few channels each, and its codes."""

from collections.abc import Callable
from dataclasses import dataclass

from leitfaden_core.channels import channel
from leitfaden_core.diagnose.procedures.base import CODE_SPREAD, DiagnosticTest, Examined, Outcome
from leitfaden_core.expect import load_sheet
from leitfaden_core.monitors import CODES
from leitfaden_core.rigs import Rig, rig_channels
from leitfaden_core.words import say


@dataclass(frozen=True)
class _List:
    """A data list: its readings are channels with their statistics."""

    id: str
    words: str
    condition: str
    readings: tuple[tuple[str, str], ...]
    after_a_night: bool = False


#: Data lists worth calling up.
_LISTS = (
    _List(
        "koeo.temperatures",
        "temperatures at key on after a night",
        "koeo",
        (("ect", "mean"), ("iat", "mean"), ("egt_1", "mean"), ("egt_2", "mean")),
        after_a_night=True,
    ),
    _List(
        "koeo.pressures",
        "pressures and airflow at key on",
        "koeo",
        (("map", "mean"), ("charge_pressure", "mean"), ("baro", "mean"), ("maf", "mean"), ("dpf_dp", "mean")),
    ),
    _List(
        "koeo.positions",
        "positions at key on",
        "koeo",
        (("throttle", "mean"), ("app", "mean"), ("egr_position", "mean")),
    ),
    _List(
        "cold_idle.start",
        "cold idle",
        "cold_idle",
        (("rpm", "mean"), ("map", "mean"), ("maf", "mean"), ("injector_ms", "mean")),
    ),
    _List("warm_up.temperature", "warm-up", "warm_up", (("ect", "max"),)),
    _List(
        "hot_idle.trims",
        "trims at hot idle",
        "hot_idle",
        (("total_trim", "mean"), ("total_trim_2", "mean"), ("rpm", "mean")),
    ),
    _List(
        "hot_idle.air",
        "air at hot idle",
        "hot_idle",
        (("maf", "mean"), ("map", "mean"), ("idle_air", "mean"), ("load", "mean")),
    ),
    _List(
        "hot_idle.oxygen",
        "front oxygen sensor at hot idle",
        "hot_idle",
        (
            ("ho2s_b1s1_v", "min"),
            ("ho2s_b1s1_v", "max"),
            ("ho2s_b1s1_v", "freq"),
            ("lambda_wideband", "mean"),
            ("lambda_wideband", "max"),
        ),
    ),
    _List(
        "hot_idle.fuel",
        "injection and spark at hot idle",
        "hot_idle",
        (("injector_ms", "mean"), ("spark", "mean"), ("fuel_mass", "mean"), ("rail_pressure", "mean")),
    ),
    _List(
        "hot_idle.egr",
        "recirculation at hot idle",
        "hot_idle",
        (("egr_position", "mean"), ("egr_dp", "mean"), ("charge_pressure", "mean"), ("dpf_dp", "mean")),
    ),
    _List("hot_idle.temperatures", "temperatures at hot idle", "hot_idle", (("ect", "mean"), ("iat", "mean"))),
    _List(
        "no_load_2500.trims", "trims at 2500 1/min", "no_load_2500", (("total_trim", "mean"), ("total_trim_2", "mean"))
    ),
    _List(
        "no_load_2500.air",
        "air at 2500 1/min",
        "no_load_2500",
        (("maf", "mean"), ("map", "mean"), ("throttle", "mean"), ("charge_pressure", "mean"), ("dpf_dp", "mean")),
    ),
    _List(
        "no_load_2500.oxygen",
        "front oxygen sensor at 2500 1/min",
        "no_load_2500",
        (("ho2s_b1s1_v", "min"), ("ho2s_b1s1_v", "max"), ("ho2s_b1s1_v", "freq")),
    ),
    _List(
        "snap_throttle.air",
        "snap throttle",
        "snap_throttle",
        (("maf", "max"), ("map", "max"), ("map", "min"), ("charge_pressure", "max")),
    ),
    _List("cruise_80.trims", "trims at cruise", "cruise_80", (("total_trim", "mean"), ("total_trim_2", "mean"))),
    _List(
        "cruise_80.air",
        "air at cruise",
        "cruise_80",
        (("maf", "mean"), ("map", "mean"), ("charge_pressure", "mean"), ("dpf_dp", "mean"), ("egr_position", "mean")),
    ),
    _List(
        "cruise_80.rear", "rear oxygen sensor at cruise", "cruise_80", (("ho2s_b1s2_v", "min"), ("ho2s_b1s2_v", "max"))
    ),
    _List(
        "cruise_80.temperatures",
        "temperatures at cruise",
        "cruise_80",
        (("ect", "mean"), ("iat", "mean"), ("egt_1", "mean"), ("egt_2", "mean")),
    ),
    _List(
        "wot_pull.air",
        "air in the full-load pull",
        "wot_pull",
        (("maf", "mean"), ("ve", "mean"), ("map", "mean"), ("charge_pressure", "mean")),
    ),
    _List(
        "wot_pull.mixture",
        "mixture in the full-load pull",
        "wot_pull",
        (("ho2s_b1s1_v", "mean"), ("lambda_wideband", "mean"), ("injector_ms", "mean"), ("fuel_mass", "mean")),
    ),
    _List(
        "wot_pull.pressures",
        "pressures in the full-load pull",
        "wot_pull",
        (
            ("charge_pressure", "max"),
            ("baro", "mean"),
            ("dpf_dp", "mean"),
            ("rail_pressure", "mean"),
            ("wastegate_duty", "mean"),
        ),
    ),
    _List(
        "decel.oxygen",
        "overrun",
        "decel_fuel_cut",
        (("ho2s_b1s1_v", "min"), ("lambda_wideband", "max"), ("map", "mean")),
    ),
)


def scan_tests(rig: Rig) -> list[DiagnosticTest]:
    bands = load_sheet(rig).bands
    found = []
    for known in _LISTS:
        condition, there = known.condition, rig_channels(rig)
        readings = [(ch, stat) for ch, stat in known.readings if ch in there and (condition, ch, stat) in bands]
        if not readings:
            continue
        outcomes = []
        for ch, stat in readings:
            entry, band = channel(ch), bands[condition, ch, stat]
            step = 0.1 if stat == "freq" else entry.step
            quantity = "frequency" if stat == "freq" else entry.quantity
            words_of = f"{entry.label}{'' if stat == 'mean' else ' ' + stat}"
            outcomes.append(
                Outcome(
                    words_of,
                    quantity=quantity,
                    spread=max(band.deviation, step / 2.0),
                    error=step / 3.5,
                    step=step,
                    channel=ch,
                    stat=stat,
                )
            )
        found.append(
            DiagnosticTest(
                f"scan.{known.id}",
                say("Scan tool: {words}", words=known.words),
                instrument="scan_tool",
                place=",".join(dict.fromkeys(ch for ch, _s in readings)),
                condition=condition,
                outcomes=tuple(outcomes),
                read=_lane_reader(condition, tuple(readings)),
                after_a_night=known.after_a_night,
            )
        )
    return found


def _lane_reader(condition: str, readings: tuple[tuple[str, str], ...]) -> Callable[[Examined], list[float]]:
    def read(car: Examined) -> list[float]:
        return [car.vehicle.run(condition).statistic(condition, ch, stat) for ch, stat in readings]

    return read


def codes_test() -> DiagnosticTest:
    names = sorted(CODES)
    return DiagnosticTest(
        "codes",
        "Scan tool: codes after two drives",
        instrument="codes",
        place="control unit",
        condition="hot_idle",
        outcomes=tuple(Outcome(name, quantity="ratio", spread=CODE_SPREAD, error=0.0, step=1.0) for name in names),
        read=lambda car: [float(name in car.codes) for name in names],
    )
