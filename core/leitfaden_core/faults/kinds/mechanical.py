"""Faults inside the engine."""

from leitfaden_core.errors import OutOfRange, UnknownName
from leitfaden_core.faults.catalogue import Effect, FaultKind, Leads, Parameter, Values, fault_kinds
from leitfaden_core.rigs import Rig
from leitfaden_core.words import say

#: Shares of cylinders without spark and without fuel: of all, and of these in the second bank.
NO_SPARK, NO_FUEL = ("dead_spark", "dead_spark_second"), ("dead_fuel", "dead_fuel_second")

_ROTATING = "Keep hands and leads away from belt and fan; ignition voltage is dangerous."


def _dead(values: Values, rig: Rig) -> list[Effect]:
    number = float(values["cylinder"])
    if number > rig.engine.cylinders:
        raise OutOfRange("fault dead_cylinder: cylinder", number, 1, rig.engine.cylinders, "-")
    if values["cause"] == "spark" and "spark" not in rig.features:
        where = say("of fault dead_cylinder on rig {id}, which has no spark", id=rig.id)
        raise UnknownName("cause", "spark", ["fuel"], where=where)
    return _at_cylinder(NO_SPARK if values["cause"] == "spark" else NO_FUEL, int(number), rig)


def _at_cylinder(hooks: tuple[str, str], number: int, rig: Rig) -> list[Effect]:
    share = 1.0 / rig.engine.cylinders
    # Bank 1 holds cylinder 1 and all other odd ones.
    acting = hooks if "two_banks" in rig.features and number % 2 == 0 else hooks[:1]
    effects = [Effect(name, "add", share, cylinder=number) for name in acting]
    return [*effects, Effect("dead_cylinders", "add", 2.0 ** (number - 1), cylinder=number)]


def without_fuel(number: int, rig: Rig) -> list[Effect]:
    """What it does to an engine when a cylinder, counted from 1, gets no fuel."""
    return _at_cylinder(NO_FUEL, number, rig)


fault_kinds.register(
    FaultKind(
        "dead_cylinder",
        "One cylinder does not fire",
        group="mechanical",
        meaning=(
            "Without spark the mixture leaves unburnt, without fuel pure air leaves; either way oxygen reaches "
            "the sensor that the others did not leave."
        ),
        place="ho2s_b1s1",
        parameters=(
            Parameter("cause", "cause", choices=("spark", "fuel")),
            Parameter(
                "cylinder",
                "cylinder",
                unit="-",
                low=1.0,
                high=12.0,
                steps=(1.0, 2.0, 3.0),
                words="cylinder {value:g}",
                neutral=None,
            ),
        ),
        effects=_dead,
        repair="Renew coil, plug or injector, whichever was proven; spare the catalyst from further misfire.",
        cautions=(
            _ROTATING,
            "Unburnt fuel overheats the catalyst: do not let the engine run longer than the test needs.",
        ),
        proof="Speed drop when each cylinder is shut off in turn: this one changes nothing.",
        part="ignition coil, plug and injector of the cylinder",
        prior=2.0,
        measured_by=("cylinders",),
        leads_to=(Leads("catalyst_worn", "unburnt fuel overheats the catalyst"),),
        ways=lambda chosen, rig: [[{"cylinder": float(k + 1)}] for k in range(rig.engine.cylinders)],
    )
)
fault_kinds.register(
    FaultKind(
        "valve_timing_retarded",
        "Valve timing late",
        group="mechanical",
        meaning="Belt or chain fitted late or jumped: charge is pushed back out of the cylinders, most at low speed.",
        place="crankshaft",
        parameters=(Parameter("deg", "late by", unit="° crankshaft", low=2.0, high=40.0, steps=(6.0, 12.0, 18.0)),),
        # About 0.9 % of the filling for each degree at standstill, half of that at rated speed: 15° cost some 10 % in
        # the middle.
        effects=lambda values, rig: [Effect("breath_lost", "max", 0.009 * float(values["deg"]))],
        repair="Set the valve timing by the maker's marks; find out why it moved.",
        cautions=("Turn the engine by hand only, key off, and never against its running direction.",),
        proof=(
            "Marks, compression of all cylinders low alike, volumetric efficiency low with trims near zero on a "
            "metered engine."
        ),
        part="timing belt setting",
        prior=0.7,
    )
)
fault_kinds.register(
    FaultKind(
        "base_timing_off",
        "Base ignition timing wrong",
        group="mechanical",
        meaning=(
            "The distributor stands turned: every spark comes earlier (+) or later (-) than the control unit believes."
        ),
        place="crankshaft",
        parameters=(
            Parameter("deg", "earlier by", unit="° crankshaft", low=-25.0, high=20.0, steps=(-5.0, -10.0, 8.0)),
        ),
        effects=lambda values, rig: [Effect("spark_shift", "add", float(values["deg"]))],
        repair="Set base timing by the maker's procedure, with the set-timing step done first, and tighten the clamp.",
        cautions=(
            _ROTATING,
            "Timing light leads and sleeves away from belt and fan. Too early a spark can kick the starter back.",
        ),
        proof="Timing light after the set-timing step, against the value on the label.",
        needs="distributor",
        look="The clamp of the distributor is loose.",
        prior=0.5,
        measured_by=("gauge.timing_light",),
    )
)
