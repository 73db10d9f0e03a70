"""The limits on which schools differ, as one document: each with its range, its usual value and what it is for."""

from dataclasses import dataclass
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field, model_validator

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.judge.relations import RelationRules
from leitfaden_core.judge.traces import OxygenLimits
from leitfaden_core.judge.verdict import SchoolRules, ServiceBand
from leitfaden_core.words import say


@dataclass(frozen=True)
class Rule:
    """One limit: what it decides, where verdicts use it, and why schools differ."""

    id: str
    label: str
    unit: str
    low: float
    high: float
    usual: float
    used_by: str
    why: str


_TRIMS, _RELATIONS, _OXYGEN = SchoolRules(), RelationRules(), OxygenLimits()
RULES = (
    Rule(
        *("trim_good", "Fuel trim that needs no search", "%", 0.5, 25.0, _TRIMS.trim_good),
        "Verdicts on trims, on the bench and in lessons",
        (
            "No natural constant: wear, fuel and the maker's tolerance set what is normal. Some call anything "
            "but zero a finding, others accept 10 %."
        ),
    ),
    Rule(
        *("trim_investigate", "Fuel trim beyond which a fault is certain", "%", 1.0, 50.0, _TRIMS.trim_investigate),
        "Verdicts on trims, on the bench and in lessons",
        (
            "Between the two limits a trim is suspect. The control unit's own limit for a code, often 25 %, is "
            "the limit of a monitor and not of quality."
        ),
    ),
    Rule(
        *("pressures_kpa", "Pressures at key on agree within", "kPa", 0.5, 15.0, _RELATIONS.pressures_kpa),
        "Relations between readings",
        (
            "Engine off, every pressure sensor reads the surroundings. How far two may lie apart is the sum of "
            "their tolerances."
        ),
    ),
    Rule(
        *("temperatures_k", "Temperatures after a soak agree within", "K", 1.0, 20.0, _RELATIONS.temperatures_k),
        "Relations between readings",
        "After a night all thermometers should agree; a garage with a heater or the morning sun asks for more room.",
    ),
    Rule(
        *("soak_hours", "Standing time until temperatures must agree", "h", 2.0, 24.0, _RELATIONS.soak_hours),
        "Relations between readings",
        "A large engine in a warm hall needs longer than a small one outside.",
    ),
    Rule(
        *("tracks_volts", "Two tracks of one sensor agree within", "V", 0.05, 1.0, _RELATIONS.tracks_volts),
        "Relations between readings",
        "The control unit's own limit for its code is wider than what a careful eye accepts.",
    ),
    Rule(
        *(
            "airflow_percent",
            "Airflow meter agrees with speed and pressure within",
            "%",
            5.0,
            40.0,
            _RELATIONS.airflow_percent,
        ),
        "Relations between readings",
        "The filling that the comparison assumes is itself only known within some percent.",
    ),
    Rule(
        *("drop_volts", "Sensor ground lies above battery minus by at most", "V", 0.02, 0.5, _RELATIONS.drop_volts),
        "Relations between readings",
        "Quoted are 50 to 200 mV; what a signal bears depends on the slope of its sensor.",
    ),
    Rule(
        *("filling_low", "Filling at full load, naturally aspirated, from", "%", 50.0, 95.0, _RELATIONS.filling_low),
        "Relations between readings",
        (
            "Older two-valve engines reach 75 to 85 %, newer ones the low and middle nineties; the meter's error "
            "enters in full."
        ),
    ),
    Rule(
        *(
            "filling_high",
            "Filling at full load, naturally aspirated, up to",
            "%",
            90.0,
            130.0,
            _RELATIONS.filling_high,
        ),
        "Relations between readings",
        "More than all of the displacement asks for tuned pipes, or for a meter that reads too much.",
    ),
    Rule(
        *(
            "charged_filling_low",
            "Filling at full load, charged, referred to the surrounding air, from",
            "%",
            80.0,
            200.0,
            _RELATIONS.charged_filling_low,
        ),
        "Relations between readings",
        (
            "A charged engine takes in more than its displacement of surrounding air, as its boost has it; "
            "referred to the manifold it would be below 100 % again."
        ),
    ),
    Rule(
        *(
            "charged_filling_high",
            "Filling at full load, charged, referred to the surrounding air, up to",
            "%",
            120.0,
            400.0,
            _RELATIONS.charged_filling_high,
        ),
        "Relations between readings",
        "Boost pressure over the surrounding one, less what the charge is warmer behind its cooler.",
    ),
    Rule(
        *("wideband_end", "The display of a wideband sensor ends at lambda", "-", 1.1, 2.0, _TRIMS.wideband_end),
        "Verdicts on lambda, on the bench and in lessons",
        (
            "The sensor reads up to air, gauges and data lists end earlier: at 1.99, at 1.33, at 20:1. At the "
            "end of a display nothing is told."
        ),
    ),
    Rule(
        *("narrowband_low", "A sound narrowband sensor goes below", "V", 0.05, 0.4, _OXYGEN.low),
        "Findings on a narrowband signal",
        "Quoted are 0 to 0.3 V; the lean plateau rises with age and with the wire's resistance.",
    ),
    Rule(
        *("narrowband_high", "A sound narrowband sensor goes above", "V", 0.6, 0.95, _OXYGEN.high),
        "Findings on a narrowband signal",
        "The rich plateau of a hot sensor is 0.85 to 0.95 V and falls with heat and age; some schools accept 0.7 V.",
    ),
    Rule(
        *("narrowband_edge_ms", "Its edge from 300 to 600 mV takes at most", "ms", 20.0, 500.0, _OXYGEN.edge_ms),
        "Findings on a narrowband signal",
        "A common workshop value is 100 ms; a soot-covered sensor is slower without being broken.",
    ),
    Rule(
        *("narrowband_swings", "It swings in closed loop at least", "1/s", 0.2, 5.0, _OXYGEN.swings_per_second),
        "Findings on a narrowband signal",
        "The rate depends on delay, controller and load: a count is a hint about the loop, not a grade for the engine.",
    ),
    Rule(
        *("narrowband_centre", "A narrowband's swings are counted across", "V", 0.3, 0.85, _OXYGEN.centre),
        "Findings on a narrowband signal",
        (
            "Engines with a catalyst cycle about 0.45 V; some small engines hold a point on the rich side, about "
            "0.7 to 0.8 V."
        ),
    ),
    Rule(
        *("narrowband_works", "A narrowband is judged from an element of", "°C", 250.0, 500.0, _OXYGEN.works_c),
        "When an oxygen sensor is judged",
        (
            "The cell becomes active between 300 and 350 °C; some quote 260 °C. Where nothing displays the "
            "element, coolant and time after the start stand in for it."
        ),
    ),
    Rule(
        *("wideband_works", "A wideband is judged from an element of", "°C", 500.0, 850.0, _OXYGEN.wideband_works_c),
        "When an oxygen sensor is judged",
        (
            "Designs run at 650 to 800 °C, and a data list shows a value some way below. Some teach one fixed "
            "650 °C; after a short stop a heated element is still on its way there."
        ),
    ),
    Rule(
        *("narrowband_warm", "Where no element is displayed: from a coolant of", "°C", 0.0, 95.0, _OXYGEN.warm_c),
        "When an oxygen sensor is judged",
        (
            "The element works from 300 to 350 °C on; the coolant only stands in for it. Some wait for a hot "
            "engine, others for a warm hand."
        ),
    ),
    Rule(
        *(
            "narrowband_delay",
            "Where no element is displayed: after the start's first",
            "s",
            0.0,
            600.0,
            _OXYGEN.delay_s,
        ),
        "When an oxygen sensor is judged",
        "A heater may wait until no water can hit the ceramic: at once, some seconds, or minutes, as the maker has it.",
    ),
    Rule(
        *("cold_richest", "Commanded lambda of a cold start, at least", "-", 0.3, 0.95, _RELATIONS.cold_richest),
        "Relations between readings",
        (
            "How rich a cold engine is fed depends on its temperature and on the seconds since it caught; it is "
            "a command, not a measured value."
        ),
    ),
    Rule(
        *("victims", "Of spoilt parts (sooted sensor, worn catalyst, oily hose), victims of another fault", "%"),
        *(0.0, 95.0, 50.0),
        "Tests that would decide between causes",
        (
            "Some renew the sensor that reads wrong; others hold a sooted one nearly always for the victim of a "
            "rich mixture. The more are victims, the more evidence it takes to blame the part, and the sooner "
            "its origin is looked for."
        ),
    ),
)


class RuleBook(BaseModel):
    """A school's limits, and its own service values. Unknown names and values outside a rule's range are refused."""

    model_config = ConfigDict(extra="forbid", strict=True, allow_inf_nan=False, frozen=True)

    trim_good: float = _TRIMS.trim_good
    trim_investigate: float = _TRIMS.trim_investigate
    pressures_kpa: float = _RELATIONS.pressures_kpa
    temperatures_k: float = _RELATIONS.temperatures_k
    soak_hours: float = _RELATIONS.soak_hours
    tracks_volts: float = _RELATIONS.tracks_volts
    airflow_percent: float = _RELATIONS.airflow_percent
    drop_volts: float = _RELATIONS.drop_volts
    filling_low: float = _RELATIONS.filling_low
    filling_high: float = _RELATIONS.filling_high
    charged_filling_low: float = _RELATIONS.charged_filling_low
    charged_filling_high: float = _RELATIONS.charged_filling_high
    wideband_end: float = _TRIMS.wideband_end
    narrowband_low: float = _OXYGEN.low
    narrowband_high: float = _OXYGEN.high
    narrowband_edge_ms: float = _OXYGEN.edge_ms
    narrowband_swings: float = _OXYGEN.swings_per_second

    narrowband_centre: float = _OXYGEN.centre
    narrowband_works: float = _OXYGEN.works_c
    wideband_works: float = _OXYGEN.wideband_works_c
    narrowband_warm: float = _OXYGEN.warm_c
    narrowband_delay: float = _OXYGEN.delay_s
    cold_richest: float = _RELATIONS.cold_richest
    victims: float = 50.0

    own: Annotated[tuple[ServiceBand, ...], Field(strict=False)] = ()

    @model_validator(mode="after")
    def _in_range(self) -> "RuleBook":
        for rule in RULES:
            value = getattr(self, rule.id)
            if not rule.low <= value <= rule.high:
                raise LeitfadenError(
                    say(
                        "{label} is {value:g} {unit}; allowed is {low:g} to {high:g} {unit}",
                        label=rule.label,
                        value=value,
                        unit=rule.unit,
                        low=rule.low,
                        high=rule.high,
                    )
                )
        if self.trim_good >= self.trim_investigate:
            raise LeitfadenError(
                "the trim that needs no search must be smaller than the one beyond which a fault is certain"
            )
        if self.filling_low >= self.filling_high or self.charged_filling_low >= self.charged_filling_high:
            raise LeitfadenError("the lowest usual filling must be smaller than the highest")
        return self

    def of_trims(self) -> SchoolRules:
        """What verdicts on single readings use."""
        return SchoolRules(self.trim_good, self.trim_investigate, self.wideband_end, self.own)

    def of_relations(self) -> RelationRules:
        """What verdicts on relations use."""
        return RelationRules(**{name: getattr(self, name) for name in RelationRules.__dataclass_fields__})

    def of_oxygen(self) -> OxygenLimits:
        """What findings on a narrowband signal use."""
        return OxygenLimits(
            low=self.narrowband_low,
            high=self.narrowband_high,
            edge_ms=self.narrowband_edge_ms,
            swings_per_second=self.narrowband_swings,
            centre=self.narrowband_centre,
            works_c=self.narrowband_works,
            wideband_works_c=self.wideband_works,
            warm_c=self.narrowband_warm,
            delay_s=self.narrowband_delay,
        )
