"""A vehicle that is stepped: it holds an engine in its state, is changed by actions, and goes on by frames.

A script is one client among others; whoever performs the same actions at the same frames gets the same numbers bit for
bit, in whatever portions time is advanced: chance counts absolute frames, and so do ramps and faults that come and go.
"""

import copy
import zlib
from dataclasses import dataclass, replace
from functools import singledispatchmethod
from typing import Any, Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from leitfaden_core.compiled import of_fixed_types, records
from leitfaden_core.engine.fuel import blended
from leitfaden_core.errors import LeitfadenError, UnknownName
from leitfaden_core.faults import FaultSpec, effects_on, left_with_plugs_off
from leitfaden_core.rigs import Rig
from leitfaden_core.scripts.document import Surroundings
from leitfaden_core.sensors.ageing import cell_lag_gained, film_gained, thermistor_drift
from leitfaden_core.simulate import actions
from leitfaden_core.simulate.hands import KEYS, RAD_PER_RPM, Hands, gear_ratio, roller_speed
from leitfaden_core.simulate.handwork import UNTOUCHED, Handwork
from leitfaden_core.simulate.layout import (
    FOOT_PEDAL,
    FOOT_SNAP,
    FOOT_SPEED,
    FOOT_TORQUE,
    FRAME,
    HOOK,
    HOOK_NAMES,
    HOOKS,
    LTFT_CELLS,
    TRANSPORT_SLOTS,
    blank_rows,
    flat,
)
from leitfaden_core.simulate.params import effect_rows, parameters
from leitfaden_core.simulate.presence import Presence
from leitfaden_core.simulate.start import initial_state
from leitfaden_core.simulate.state import STATE
from leitfaden_core.simulate.step import run
from leitfaden_core.words import say

#: Numbers that come with weather, place and petrol, and those of what is switched on.
_SURROUNDINGS = ("ambient_temp", "ambient_pressure", "fuel_blend", "tank_energy", "tank_density")
_SWITCHED = ("charger_amps",)
#: Currents of lights and heated window, and of a cooling blower with its clutch [A]; torque of the compressor over the
#: engine's rated one [-]; current of a workshop's charger [A].
LIGHTS_AMPS, COOLING_AMPS, COMPRESSOR_SHARE, CHARGER_AMPS = 15.0, 12.0, 0.04, 20.0
#: What ages, by the part that holds it: part of the state and number there.
_AGES = {
    "front oxygen sensor": (("cells", "aged"),),
    "wideband sensor": (("cells", "aged"),),
    "airflow meter": (("raw", "film"),),
    "ECT sensor": (("raw", "ect_drift"),),
    "IAT sensor": (("raw", "iat_drift"),),
}
_RUN = of_fixed_types(run)
#: Faults and plugs at once: more than anybody can follow.
MOST_FAULTS = 12


@dataclass(frozen=True)
class Put:
    """A fault in the vehicle: as it was put in, as it is now, and since which frame."""

    first: FaultSpec
    now: FaultSpec
    since: int


class Follower(Protocol):
    """Somebody who looks at every row that a machine records, such as the monitors of its control unit."""

    def feed(self, rows: NDArray[np.void]) -> object:
        """The next rows."""

    def clear(self) -> None:
        """Codes are cleared: what the control unit remembers of its tests is gone."""


@dataclass(frozen=True)
class Snapshot:
    """A machine at one instant, with those who follow it. ``state`` is compressed; ``of`` is whose instant it is."""

    of: tuple[str, int]  # digest of the rig, seed
    frame: int
    state: bytes
    hands: Hands
    weather: tuple[float, ...]  # the numbers of _SURROUNDINGS and _SWITCHED
    faults: tuple[tuple[str, Put], ...]
    work: Handwork
    aside: tuple[tuple[str, tuple[float, ...]], ...]  # age of parts that lie beside the engine
    followers: tuple[Follower, ...]


class Machine:
    """An engine with sensors, wiring and control unit.

    Parameters
    ----------
    rig : Rig
    seed : int
        Of all chance: the same seed and the same actions at the same frames give the same numbers.
    individual : dict, optional
        Numbers in which this engine differs from its rig (see :func:`params.parameters`).
    start : {"cold", "hot"}
        After a night's soak, or idling after a drive.
    learned : array, optional
        Long-term trims per cell that the control unit begins with, shape (2 * LTFT_CELLS,). [-]
    weather : Surroundings, optional
        In which it has stood, when not in that of the rig.
    work : Handwork
        What hands have done to it before.
    """

    def __init__(
        self,
        rig: Rig,
        seed: int = 0,
        individual: dict[str, float] | None = None,
        start: Literal["cold", "hot"] = "cold",
        learned: NDArray[np.float64] | None = None,
        weather: Surroundings | None = None,
        work: Handwork = UNTOUCHED,
    ) -> None:
        self.rig, self.seed, self.frame = rig, seed, 0
        self.params = parameters(rig, individual or {})
        self._own_blend = float(self.params["fuel_blend"][0])
        if weather is not None:
            self._surround(weather)
        self.state = initial_state(self.params[0], start)
        if learned is not None:
            self.state["mix"]["ltft"] = learned
        self.hands = Hands()
        self.faults: dict[str, Put] = {}
        self.work = work
        self.aside: dict[str, tuple[float, ...]] = {}
        self.followers: tuple[Follower, ...] = ()
        self._hooks = np.array(list(HOOKS.values()))
        self._sound = self._hooks.copy()
        self._chance = np.uint64(seed)
        # What is laid out as long as nobody does anything else.
        self._rest: tuple[Hands, tuple[NDArray[np.void], NDArray[np.uint8]]] | None = None
        self._lay_out()

    @property
    def _identity(self) -> tuple[str, int]:
        return self.rig.digest, self.seed

    @property
    def seconds(self) -> float:
        """Time since its beginning. [s]"""
        return self.frame * FRAME

    @property
    def learned(self) -> NDArray[np.float64]:
        """The long-term trims at present, per cell. [-]"""
        return np.array(self.state["mix"]["ltft"][0])

    def advance(self, frames: int, lanes: NDArray[np.void] | None = None) -> NDArray[np.void]:
        """Go on by some frames of 10 ms; a row of ``layout.LANES`` for each, written into ``lanes`` where they are
        given.
        """
        rows = blank_rows(frames) if lanes is None else lanes
        inputs, present = self.laid_out(frames)
        assert rows.flags.c_contiguous  # the compiled loop writes where it takes them to lie
        _RUN(
            *self._memory,
            present,
            records(inputs),
            self.frame,
            self._chance,
            records(rows),
            self._flat_state,
            flat(rows),
        )
        self.frame += frames
        for follower in self.followers:
            follower.feed(rows)
        return rows

    @property
    def surroundings(self) -> dict[str, float]:
        """Numbers of the individual engine that weather, place and petrol give it now, and a charger."""
        return {name: float(self.params[name][0]) for name in _SURROUNDINGS + _SWITCHED}

    def follow(self, follower: Follower) -> None:
        """Let somebody look at every row from now on; snapshots hold what they know."""
        self.followers = (*self.followers, follower)

    def laid_out(self, frames: int) -> tuple[NDArray[np.void], NDArray[np.uint8]]:
        """What hands do in the next frames, and which of the acting faults are there: one row for each frame, or fewer
        where the last holds from there on.
        """
        if self._rest is not None and self._rest[0] is self.hands:
            return self._rest[1]
        moving = max(self.hands.rest_from - self.frame, 0)
        changing = any(presence.changes for presence in self._presences)
        present = np.ones((frames if changing else 1, len(self._presences) + 1), dtype=np.uint8)
        for k, presence in enumerate(self._presences):
            presence.fill(present[:, k], self.frame, self.hands.moved)
        found = self.hands.rows(self.rig, self.frame, min(moving + 1, frames)), present
        if not moving and not changing:
            self._rest = (self.hands, found)
        return found

    def snapshot(self) -> Snapshot:
        """This instant, to come back to."""
        state = self.state.copy()
        _forget_what_has_passed(state[0])
        followers = copy.deepcopy(self.followers)
        packed = zlib.compress(state.tobytes(), 6)
        return Snapshot(
            self._identity,
            self.frame,
            packed,
            self.hands,
            tuple(self.surroundings.values()),
            tuple(self.faults.items()),
            self.work,
            tuple(self.aside.items()),
            followers,
        )

    def restore(self, snapshot: Snapshot) -> None:
        """Be as at a snapshot of the same rig, seed and individual; LeitfadenError for one of another vehicle."""
        if snapshot.of != self._identity:
            raise LeitfadenError("this is the instant of another vehicle: rig and seed must be the same")
        self.frame, self.hands = snapshot.frame, snapshot.hands
        self.state = np.frombuffer(zlib.decompress(snapshot.state), dtype=STATE).copy()
        for name, value in zip(_SURROUNDINGS + _SWITCHED, snapshot.weather, strict=True):
            self.params[name] = value
        self.faults, self.work, self.aside = dict(snapshot.faults), snapshot.work, dict(snapshot.aside)
        self.followers = copy.deepcopy(snapshot.followers)
        self._lay_out()

    def act(self, action: actions.Action) -> None:
        """Do something to the vehicle, from the next frame on.

        Raises
        ------
        LeitfadenError
            When it cannot be done; nothing has changed then.
        """
        _DOING.dispatch(type(action))(self, action)

    @singledispatchmethod
    def _do(self, action: Any) -> None:
        raise LeitfadenError(say("nobody knows how to do {name}", name=type(action).__name__))

    def _intend(self, **now: Any) -> None:
        """Hands do this from now on; most segments of a drive repeat what they do already."""
        if any(getattr(self.hands, name) != value for name, value in now.items()):
            self.hands = replace(self.hands, **now)

    @_do.register
    def _(self, action: actions.TurnKey) -> None:
        self._intend(key=KEYS[action.to])

    @_do.register
    def _(self, action: actions.MovePedal) -> None:
        # A foot that has held a speed leaves the pedal where it has put it.
        held = self.hands.foot != FOOT_PEDAL
        start = float(self.state["hand"]["pedal"][0]) if held else self.hands.pedal_at(self.frame)
        self.hands = replace(
            self.hands,
            foot=FOOT_PEDAL,
            target=action.to,
            pedal_from=start,
            pedal_since=self.frame,
            pedal_seconds=action.seconds,
        )

    @_do.register
    def _(self, action: actions.HoldSpeed) -> None:
        self.hands = replace(self.hands, foot=FOOT_SPEED, target=action.rpm * RAD_PER_RPM)

    @_do.register
    def _(self, action: actions.HoldLoad) -> None:
        if self.hands.roller is None:
            raise LeitfadenError("a load is held on the roller bench only: drive first")
        share = self.rig.vehicle.cruise_load if action.share == "cruise" else float(action.share)
        self.hands = replace(self.hands, foot=FOOT_TORQUE, target=share * self.rig.engine.rated_torque)

    @_do.register
    def _(self, action: actions.Snap) -> None:
        self.hands = replace(self.hands, foot=FOOT_SNAP, target=0.0)

    @_do.register
    def _(self, action: actions.Drive) -> None:
        first, last = (roller_speed(self.rig, speed) for speed in action.roller)
        frames = max(round(action.seconds / FRAME), 1)
        self.hands = replace(
            self.hands, roller=(first, last, self.frame, frames), gear_ratio=gear_ratio(self.rig, action.gear)
        )

    @_do.register
    def _(self, action: actions.Neutral) -> None:
        self._intend(roller=None)

    @_do.register
    def _(self, action: actions.LapseTime) -> None:
        self._intend(time_lapse=action.factor)

    @_do.register
    def _(self, action: actions.Surround) -> None:
        self._surround(action.weather)

    @_do.register
    def _(self, action: actions.SwitchConsumers) -> None:
        amps = LIGHTS_AMPS * action.lights + COOLING_AMPS * action.air_conditioning
        torque = COMPRESSOR_SHARE * self.rig.engine.rated_torque * action.air_conditioning
        now = self.hands.consumers_at(self.frame)
        self.hands = replace(self.hands, consumers=(now, (amps, torque)), consumers_since=self.frame)

    @_do.register
    def _(self, action: actions.ConnectCharger) -> None:
        self.params["charger_amps"] = CHARGER_AMPS if action.on else 0.0

    @_do.register
    def _(self, action: actions.MovePlug) -> None:
        self._intend(moved=action.place)

    @_do.register
    def _(self, action: actions.PutFault) -> None:
        if action.name in self.faults:
            raise LeitfadenError(
                say("a fault called '{name}' is in the vehicle already; give this one another name", name=action.name)
            )
        if len(self.faults) >= MOST_FAULTS:
            raise LeitfadenError(
                say(
                    "there are {most_faults} faults in the vehicle already; take one out first", most_faults=MOST_FAULTS
                )
            )
        effects_on(action.fault, self.rig)
        self.faults[action.name] = Put(action.fault, action.fault, self.frame)
        self._lay_out()

    @_do.register
    def _(self, action: actions.SizeFault) -> None:
        put = self._fault_called(action.name)
        sized = FaultSpec(kind=put.now.kind, params=dict(put.now.params) | action.params, onset=put.now.onset)
        effects_on(sized, self.rig)
        self.faults[action.name] = replace(put, now=sized)
        self._lay_out()

    @_do.register
    def _(self, action: actions.TakeFault) -> None:
        self._fault_called(action.name)
        del self.faults[action.name]
        self._lay_out()

    @_do.register
    def _(self, action: actions.PullPlug) -> None:
        self._work(self.work.plug_off(self.rig, action.circuit))

    @_do.register
    def _(self, action: actions.PutPlug) -> None:
        self._work(self.work.plug_on(action.circuit))

    @_do.register
    def _(self, action: actions.CloseHose) -> None:
        self._work(self.work.close(self.rig, action.hose))

    @_do.register
    def _(self, action: actions.OpenHose) -> None:
        self._work(self.work.open(action.hose))

    @_do.register
    def _(self, action: actions.FitPart) -> None:
        self._work(self.work.fit(self.rig, action.part, action.brings))
        ages = _AGES.get(action.part, ())
        self.aside.setdefault(action.part, tuple(float(self.state[part][name][0]) for part, name in ages))
        for part, name in ages:
            self.state[part][name] = 0.0

    @_do.register
    def _(self, action: actions.PutPartBack) -> None:
        self._work(self.work.put_back(action.part))
        for (part, name), value in zip(_AGES.get(action.part, ()), self.aside.pop(action.part, ()), strict=True):
            self.state[part][name] = value

    @_do.register
    def _(self, action: actions.HoldActuator) -> None:
        self._work(self.work.hold(self.rig, action.actuator, action.share))

    @_do.register
    def _(self, action: actions.LetActuatorGo) -> None:
        self._work(self.work.let_go(action.actuator))

    @_do.register
    def _(self, action: actions.ResetLearned) -> None:
        self.state["mix"]["ltft"] = np.zeros(2 * LTFT_CELLS)

    @_do.register
    def _(self, action: actions.ClearCodes) -> None:
        for follower in self.followers:
            follower.clear()

    @_do.register
    def _(self, action: actions.DisconnectBattery) -> None:
        if self.hands.key:
            raise LeitfadenError("the battery is disconnected with the key off: turn the key off first")
        self.act(actions.ClearCodes())
        self.act(actions.ResetLearned())
        unit = self.state["unit"]
        unit["idle_base"] = unit["idle_integral"] = self.params["idle_air_base"]
        unit["tp_rest"] = -1.0

    @_do.register
    def _(self, action: actions.PassMonths) -> None:
        if self.hands.key:
            raise LeitfadenError("months pass with the key off: turn the key off first")
        driven = action.months * action.kilometres_a_month
        cells, raw, p = self.state["cells"], self.state["raw"], self.params[0]
        works = not bool((self.effects["hook"] == HOOK_NAMES.index("burnoff_dead")).any())
        cells["aged"] += cell_lag_gained(driven, heated=bool(p["heater_rise"] > 0.0))
        raw["film"] = film_gained(driven, bool(p["burn_off"] > 0.5), works, float(raw["film"][0]))
        for drift in ("ect_drift", "iat_drift"):
            raw[drift] += thermistor_drift(driven)

    def _work(self, work: Handwork) -> None:
        self.work = work
        self._lay_out()

    def _surround(self, weather: Surroundings) -> None:
        ratio, energy, density = blended(weather.ethanol) if "petrol" in self.rig.features else (1.0, 1.0, 1.0)
        now = (weather.temp_C + 273.15, weather.baro_kPa * 1000.0, self._own_blend * ratio, energy, density)
        for name, value in zip(_SURROUNDINGS, now, strict=True):
            self.params[name] = value

    def _fault_called(self, name: str) -> Put:
        if name not in self.faults:
            raise UnknownName("fault", name, self.faults, where="in the vehicle")
        return self.faults[name]

    def _lay_out(self) -> None:
        """What acts at present: the faults, but for those that have left with a plug, and the plugs that are off."""
        off = self.work.unplugged
        acting = [put for put in self.faults.values() if left_with_plugs_off([put.now], off, self.rig)]
        plugs = [FaultSpec(kind="signal_open", params={"circuit": name}) for name in sorted(off)]
        self.effects = effect_rows(self.rig, [put.now for put in acting] + plugs, self.work)
        self._presences = [Presence(put.first, self.seed, put.since) for put in acting] + [
            Presence(plug, self.seed, self.frame) for plug in plugs
        ]
        self._rest = None
        self._flat_state = self.state.view(np.float64)
        self._memory = (
            records(self.params),
            records(self.state),
            records(self._hooks.view(HOOK)),
            self._hooks,
            self._sound,
            records(self.effects),
        )


#: How each kind of action is done: asked by itself, since the method would make a function at every call.
_DOING: Any = vars(Machine)["_do"].dispatcher


def _forget_what_has_passed(state: Any) -> None:
    """Exhaust that the sensors have behind them is never read again; without it a snapshot is small."""
    first, last = int(state["gas"]["read_slot"]), int(state["gas"]["write_slot"])
    ahead = np.zeros(TRANSPORT_SLOTS, dtype=bool)
    ahead[np.arange(first, last + 1) % TRANSPORT_SLOTS] = True
    state["gas"]["phis"][: len(ahead)][~ahead] = 0.0
    state["gas"]["phis"][len(ahead) :][~ahead] = 0.0
