"""Fuel and burning: injector, exhaust gases, cylinders against their bank's sensor."""

from functools import cache

from leitfaden_core.engine.battery import dead_time
from leitfaden_core.engine.torque import mixture_torque, nitrogen_oxides
from leitfaden_core.explore.drawing import Drawing, Hand, Hands, Numbers, Pose, Seen, drawings, number
from leitfaden_core.explore.kinds.oxygen import cell_volts
from leitfaden_core.instruments.gas import dry_gas
from leitfaden_core.simulate.limits import UNBURNT_UNSEEN
from leitfaden_core.words import say

# --- injector
# ----------------------------------------------------------------------------------------------------------------

#: Injector of the drawing: flow held open at its nominal pressure difference. [mg/ms], [kPa]
OPEN_FLOW, NOMINAL = 3.0, 300.0
#: Its dead time at 14 V. [ms]
DEAD_TIME = 1.0


def _injector(hands: Hands) -> Numbers:
    pulse, volts = number(hands, "pulse"), number(hands, "volts")
    dead = DEAD_TIME * dead_time(volts)
    flow = OPEN_FLOW * (number(hands, "kpa") / NOMINAL) ** 0.5
    available = 120_000.0 / number(hands, "speed") / (1.0 if hands["mode"] == "sequential" else 2.0)
    return {
        "dead": dead,
        "flow": flow,
        "fuel": flow * max(pulse - dead, 0.0),
        "available": available,
        "duty": 100.0 * pulse / available,
        "opened": float(pulse > dead),
    }


def _injector_says(hands: Hands, numbers: Numbers) -> str:
    if not numbers["opened"]:
        return say(
            "The pulse is shorter than the needle takes to lift ({dead:.2f} ms at this voltage): nothing flows.",
            dead=numbers["dead"],
        )
    if numbers["duty"] > 100.0:
        return say("The pulse is longer than the cycle: the injector stays open, and more fuel cannot be asked for.")
    if numbers["duty"] > 85.0:
        return say(
            "{duty:.0f} % of the cycle: beyond about 85 % the needle hardly has time to shut.", duty=numbers["duty"]
        )
    return say(
        "Of {pulse:.2f} ms the first {dead:.2f} lift the needle. Flow goes with the root of the pressure: four times "
        "the pressure, twice the fuel.",
        pulse=number(hands, "pulse"),
        dead=numbers["dead"],
    )


drawings.register(
    Drawing(
        "injector",
        "Injector: window and root of pressure",
        "What a pulse gives, how long there is for it, and what pressure and battery make of it",
        hands=(
            Hand("pulse", "pulse", quantity="time_ms", low=0, high=30, start=3, step=0.1, digits=1),
            Hand(
                "kpa",
                "pressure difference over the needle",
                quantity="pressure_diff",
                low=50,
                high=1200,
                start=300,
                step=10,
            ),
            Hand("volts", "battery", quantity="voltage", low=8, high=15, start=14, step=0.1, digits=1),
            Hand("speed", "engine speed", quantity="speed", low=200, high=7000, start=3000, step=50),
            Hand(
                "mode",
                "one opening in",
                start="sequential",
                choices=(("sequential", "two turns (sequential)"), ("batch", "each turn (batch)")),
            ),
        ),
        seen=(
            Seen("dead", "dead time", "time_ms", 2),
            Seen("flow", "flow while open", "injector_flow", 2),
            Seen("fuel", "fuel of one pulse", "fuel_mass", 1),
            Seen("available", "time there is", "time_ms", 1),
            Seen("duty", "share of it", "percent", 0),
        ),
        poses=(
            Pose(
                "idle",
                "Idle",
                {"pulse": 2.5, "kpa": 300.0, "volts": 14.0, "speed": 750.0, "mode": "sequential"},
                "A sixtieth of the time.",
            ),
            Pose(
                "limit",
                "80 % at 6000",
                {"pulse": 16.0, "kpa": 300.0, "volts": 14.0, "speed": 6000.0, "mode": "sequential"},
                "Two turns take 20 ms at 6000 1/min, so 80 % are 16 ms.",
            ),
            Pose(
                "pressure",
                "Four times the pressure",
                {"pulse": 3.0, "kpa": 1200.0, "volts": 14.0, "speed": 3000.0, "mode": "sequential"},
                "Twice the flow, not four times.",
            ),
            Pose(
                "weak",
                "Weak battery",
                {"pulse": 2.5, "kpa": 300.0, "volts": 9.0, "speed": 250.0, "mode": "sequential"},
                "The needle takes longer to lift; the unit adds that time back, if it knows the voltage.",
            ),
        ),
        look=_injector,
        tells=_injector_says,
        along="kpa",
        over=("fuel",),
        holds="Orifice in liquid and dead time by voltage (Heywood 1988, sec. 7.3); an injector of 3 mg/ms at 300 kPa.",
    )
)

# --- combustion
# ----------------------------------------------------------------------------------------------------------------


def _combustion(hands: Hands) -> Numbers:
    phi, missed = 1.0 / number(hands, "lambda"), number(hands, "missed") / 100.0
    gas = dry_gas(phi, missed, 0.97 if hands["place"] == "behind" else 0.0)
    oxides = nitrogen_oxides(0.7, 0.06 + number(hands, "egr") / 100.0, phi, 0.0) * (1.0 - missed)
    return {
        "o2": gas.o2,
        "co": gas.co,
        "co2": gas.co2,
        "hc": gas.hc_ppm,
        "nox": oxides,
        "torque": 100.0 * mixture_torque(phi) * (1.0 - missed),
        "worked_back": gas.lam,
    }


def _combustion_says(hands: Hands, numbers: Numbers) -> str:
    lam = number(hands, "lambda")
    if number(hands, "missed") > 0.0:
        return say(
            "Strokes that do not burn send their air and their fuel out together: oxygen {o2:.1f} % and "
            "hydrocarbons {hc:.0f} ppm rise side by side. The cell answers to the oxygen and reads lean.",
            o2=numbers["o2"],
            hc=numbers["hc"],
        )
    if lam < 0.99:
        return say(
            "Too little air: CO stands for what could not burn ({co:.1f} %), oxygen is nearly gone.", co=numbers["co"]
        )
    if lam > 1.01:
        return say(
            "Air to spare: {o2:.1f} % oxygen is what burning did not use; it was not set free by the fuel. CO is low.",
            o2=numbers["o2"],
        )
    return say("Lambda 1: CO2 near its peak, a little CO and a little oxygen side by side.")


drawings.register(
    Drawing(
        "combustion",
        "What burning leaves",
        "Gases before and behind the catalyst over the mixture, with strokes that do not burn and with "
        "recirculated gas",
        hands=(
            Hand("lambda", "mixture λ", quantity="lambda", low=0.7, high=1.4, start=1.0, step=0.01, digits=2),
            Hand("missed", "strokes that do not burn", quantity="percent", low=0, high=25, start=0, step=1),
            Hand("egr", "recirculated gas", quantity="percent", low=0, high=25, start=0, step=1),
            Hand(
                "place",
                "place",
                start="before",
                choices=(("before", "before the catalyst"), ("behind", "behind a sound catalyst")),
            ),
        ),
        seen=(
            Seen("o2", "oxygen", "percent", 1),
            Seen("co", "carbon monoxide", "percent", 2),
            Seen("co2", "carbon dioxide", "percent", 1),
            Seen("hc", "hydrocarbons [ppm hexane]", "count", 0),
            Seen("nox", "nitrogen oxides, raw index", "count", 0),
            Seen("torque", "torque of the mixture", "percent", 0),
        ),
        poses=(
            Pose(
                "rich",
                "Rich, 0.90",
                {"lambda": 0.9, "missed": 0.0, "egr": 0.0, "place": "before"},
                "Several percent of carbon monoxide, almost no oxygen.",
            ),
            Pose(
                "one",
                "Lambda 1",
                {"lambda": 1.0, "missed": 0.0, "egr": 0.0, "place": "before"},
                "Carbon dioxide close to its peak.",
            ),
            Pose(
                "lean",
                "Lean, 1.05",
                {"lambda": 1.05, "missed": 0.0, "egr": 0.0, "place": "before"},
                "About one percent of oxygen; nitrogen oxides at their worst.",
            ),
            Pose(
                "missed",
                "A cylinder without spark",
                {"lambda": 1.0, "missed": 25.0, "egr": 0.0, "place": "before"},
                "Oxygen and hydrocarbons together: the mark of a misfire.",
            ),
            Pose(
                "egr",
                "Recirculation",
                {"lambda": 1.0, "missed": 0.0, "egr": 12.0, "place": "before"},
                "Mostly inert gas takes heat: the flame is cooler, and less nitrogen oxide forms.",
            ),
        ),
        look=_combustion,
        tells=_combustion_says,
        along="lambda",
        over=("o2", "co", "co2", "nox"),
        holds=(
            "Spindt 1965 and Heywood 1988, sec. 4.9 and 11.2; λ 0.7 to 1.4. Nitrogen oxides are an index, before the "
            "catalyst."
        ),
    )
)

# --- cylinders against their bank's sensor
# ----------------------------------------------------------------------------------------------------------------

CYLINDERS = 4
#: What the loop may add or take. [-]
LOOP_LIMIT = 0.25


@cache
def _cylinder(fault: str, size: float, correction: float) -> tuple[tuple[float, ...], float]:
    """Mixture phi of each cylinder, and what the bank's sensor makes of the gas of all."""
    phis = [1.0 + correction] * CYLINDERS
    if fault == "injector":
        phis[1] = 0.0
    elif fault == "weak":
        phis[1] *= 1.0 - size
    elif fault == "leaking":
        phis[1] *= 1.0 + size
    burnt = list(phis)
    if fault == "spark":
        # Fuel that has not burnt is seen only in part; its air is seen in full.
        burnt[1] = phis[1] * (1.0 - UNBURNT_UNSEEN)
    return tuple(phis), sum(burnt) / CYLINDERS


def _cylinders(hands: Hands) -> Numbers:
    fault, size = str(hands["fault"]), number(hands, "size") / 100.0
    correction = 0.0
    if hands["loop"] == "closed":
        # Mixture is linear in the correction: one step finds where the sensor sees lambda 1.
        sensed = _cylinder(fault, size, 0.0)[1]
        correction = min(max(1.0 / sensed - 1.0, -LOOP_LIMIT), LOOP_LIMIT)
    phis, sensed = _cylinder(fault, size, correction)
    firing = [phi for k, phi in enumerate(phis) if phi > 0.0 and not (fault == "spark" and k == 1)]
    others = [phi for k, phi in enumerate(phis) if k != 1]
    found = {f"lambda_{k + 1}": min(1.0 / phi, 9.99) if phi > 0.0 else 9.99 for k, phi in enumerate(phis)}
    return found | {
        "sensed": 1.0 / sensed,
        "volts": cell_volts(sensed),
        "trim": 100.0 * correction,
        "firing": len(firing) / sum(firing),
        "others": len(others) / sum(others),
    }


def _cylinders_says(hands: Hands, numbers: Numbers) -> str:
    if hands["fault"] == "none":
        return say("All four burn the same mixture: what the sensor sees is what each of them has.")
    if hands["loop"] == "open":
        return say(
            "The sensor sees the gas of all four: lambda {sensed:.2f}. It cannot say whose it is.",
            sensed=numbers["sensed"],
        )
    if numbers["trim"] > 1.0:
        limit = say("It reaches its limit.") if numbers["trim"] > 99.0 * LOOP_LIMIT else ""
        feeds = say(
            "The oxygen of one cylinder makes the loop feed all of them: {trim:+.0f} %. The others now burn at lambda "
            "{others:.2f}: a lean code, and rich cylinders.",
            trim=numbers["trim"],
            others=numbers["others"],
        )
        return f"{feeds} {limit}".strip()
    return say(
        "The loop takes fuel from all four ({trim:+.0f} %), and the three sound ones run lean at {others:.2f}.",
        trim=numbers["trim"],
        others=numbers["others"],
    )


drawings.register(
    Drawing(
        "cylinders",
        "Cylinders against their bank's sensor",
        "Four cylinders, one sensor: what each burns, and what the mixed gas tells",
        hands=(
            Hand(
                "fault",
                "cylinder 2",
                start="spark",
                choices=(
                    ("none", "sound"),
                    ("spark", "no spark"),
                    ("injector", "injector dead or shut off"),
                    ("weak", "injector gives too little"),
                    ("leaking", "injector gives too much"),
                ),
            ),
            Hand("size", "by how much", quantity="percent", low=0, high=60, start=30, step=1),
            Hand("loop", "mixture control", start="closed", choices=(("closed", "closed loop"), ("open", "open loop"))),
        ),
        seen=(
            Seen("lambda_1", "cylinder 1", "lambda", 2),
            Seen("lambda_2", "cylinder 2", "lambda", 2),
            Seen("lambda_3", "cylinder 3", "lambda", 2),
            Seen("lambda_4", "cylinder 4", "lambda", 2),
            Seen("sensed", "the sensor sees", "lambda", 2),
            Seen("others", "cylinders 1, 3 and 4 burn", "lambda", 2),
            Seen("trim", "correction", "trim", 1),
        ),
        poses=(
            Pose("sound", "All sound", {"fault": "none", "size": 30.0, "loop": "closed"}, "One lambda for all."),
            Pose(
                "spark",
                "No spark, open loop",
                {"fault": "spark", "size": 30.0, "loop": "open"},
                "Unburnt air passes the sensor: it reads lean though every cylinder was given the right mixture.",
            ),
            Pose(
                "closed",
                "No spark, closed loop",
                {"fault": "spark", "size": 30.0, "loop": "closed"},
                "The unit believes the sensor and enriches all: three good cylinders run rich.",
            ),
            Pose(
                "off",
                "Injector shut off",
                {"fault": "injector", "size": 30.0, "loop": "closed"},
                "No raw fuel reaches the catalyst, but a cylinder that pumps air does: this bank must leave "
                "closed loop.",
            ),
            Pose(
                "leaking",
                "Injector leaks",
                {"fault": "leaking", "size": 60.0, "loop": "closed"},
                "One rich cylinder makes the others lean.",
            ),
        ),
        look=_cylinders,
        tells=_cylinders_says,
        holds="Mixed gas in proportion; unburnt fuel is seen in part, as in the simulator. The loop's limit is 25 %.",
    )
)
