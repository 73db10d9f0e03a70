"""A vehicle under somebody's hands: whoever does the same gets the same, and it can be left and come back to."""

import os
import subprocess
import sys
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from leitfaden_core.errors import LeitfadenError
from leitfaden_core.faults import FaultSpec, Onset, parse_fault
from leitfaden_core.monitors import OnBoardDiagnosis, trouble_codes, watched_run
from leitfaden_core.rigs import load_rig, rig_ids, variant_ids
from leitfaden_core.scripts import Script, load_script
from leitfaden_core.scripts.document import Segment, Surroundings
from leitfaden_core.simulate import Machine, simulate
from leitfaden_core.simulate.actions import (
    CloseHose,
    Drive,
    FitPart,
    HoldActuator,
    HoldLoad,
    HoldSpeed,
    LapseTime,
    LetActuatorGo,
    MovePedal,
    MovePlug,
    Neutral,
    OpenHose,
    PullPlug,
    PutFault,
    PutPartBack,
    PutPlug,
    ResetLearned,
    SizeFault,
    Snap,
    Surround,
    SwitchConsumers,
    TakeFault,
    TurnKey,
    script_actions,
)
from leitfaden_core.simulate.layout import LANES
from leitfaden_core.simulate.naming import NAMED, Naming
from leitfaden_core.simulate.run import machine_for
from strategies import faults

pytestmark = pytest.mark.model

FEW = settings(max_examples=8, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
LEAK = FaultSpec(kind="manifold_vacuum_leak", params={"area_mm2": 3.0})
LOOSE = FaultSpec(
    kind="connector_intermittent", params={"circuit": "iat"}, onset=Onset(mode="random", on_s=0.4, off_s=0.7)
)
SHORT = Script(
    schema_version=1,
    id="short",
    name="short",
    description="a start, a drive and a snap",
    start="hot",
    segments=[
        Segment(label="idle", seconds=2.0, pedal=0.0),
        Segment(label="drive", seconds=3.0, roller=(1800.0, 2600.0), gear="road", hold_load=0.3),
        Segment(label="tip in", seconds=1.0, roller=(2600.0, 2700.0), gear="road", pedal=0.5, pedal_ramp=0.4),
        Segment(label="move a plug", seconds=2.0, pedal=0.0, wiggle="iat", time_lapse=5.0),
        Segment(label="snap", seconds=2.5, snap=True),
        Segment(label="hold", seconds=2.0, hold_speed=2500.0),
    ],
)


def same(left: Any, right: Any) -> bool:
    """Whether two records hold the same bits, where none is defined included."""
    return all(left[name].tobytes() == right[name].tobytes() for name in left.dtype.names)


def hot(rig_id: str = "R1", seed: int = 3) -> Machine:
    return Machine(load_rig(rig_id), seed, start="hot")


@pytest.mark.parametrize("rig_id", rig_ids())
@FEW
@given(data=st.data())
def test_time_in_any_portions_gives_the_same_numbers_as_the_script(rig_id: str, data: st.DataObject) -> None:
    rig, broken = load_rig(rig_id), [data.draw(faults(load_rig(rig_id)))]
    whole = simulate(rig, SHORT, broken, 7, cold_memory=True)
    machine, parts = machine_for(rig, SHORT, broken, 7, None, whole.memory), []
    for done, frames in script_actions(SHORT):
        for action in done:
            machine.act(action)
        while frames:
            portion = data.draw(st.integers(1, frames))
            parts.append(machine.advance(portion))
            frames -= portion
    assert same(np.concatenate(parts), whole.lanes)


@pytest.mark.parametrize("rig_id", rig_ids())
@FEW
@given(data=st.data())
def test_one_that_is_restored_goes_on_as_if_nothing_had_been(rig_id: str, data: st.DataObject) -> None:
    rig = load_rig(rig_id)
    first, second = Machine(rig, 11, start="hot"), Machine(rig, 11, start="cold")
    first.act(PutFault(name="a", fault=data.draw(faults(rig))))
    first.act(Drive(roller=(1500.0, 2800.0), gear="road", seconds=6.0))
    first.act(MovePedal(to=0.4, seconds=3.0))
    first.advance(data.draw(st.integers(1, 400)))
    snapshot = first.snapshot()
    second.restore(snapshot)
    assert same(second.advance(300), first.advance(300))
    # And again from the same snapshot, since restoring must not use it up.
    second.restore(snapshot)
    second.advance(300)
    assert second.state.tobytes() == first.state.tobytes() or same(second.advance(200), first.advance(200))


def test_a_snapshot_is_small() -> None:
    machine = hot()
    machine.act(PutFault(name="loose", fault=LOOSE))
    machine.advance(2000)
    assert len(machine.snapshot().state) < 8_000


def test_chance_goes_on_and_never_repeats() -> None:
    machine = hot()
    first, second = machine.advance(500)["iat_volts"], machine.advance(500)["iat_volts"]
    assert not np.array_equal(first, second)
    assert np.std(second - second.mean()) > 1e-3


def test_a_fault_that_comes_and_goes_keeps_its_rhythm_when_its_size_is_changed() -> None:
    def present(resize: bool) -> Any:
        machine = hot()
        away = FaultSpec(kind="iat_offset", params={"K": 20.0}, onset=Onset(mode="random", on_s=0.5, off_s=0.5))
        machine.act(PutFault(name="x", fault=away))
        before = machine.advance(600)["iat_ohms"]
        if resize:
            machine.act(SizeFault(name="x", params={"K": 30.0}))
        after = machine.advance(600)["iat_ohms"]
        level = (before.min() + before.max()) / 2.0
        return np.concatenate([before, after]) < level

    assert np.array_equal(present(False), present(True))
    assert 0.2 < present(True).mean() < 0.8


def test_a_leak_opens_and_shuts_under_the_hand() -> None:
    machine = hot()
    sound = machine.advance(1500)["total_trim"][-200:].mean()
    machine.act(PutFault(name="hose", fault=LEAK))
    leaking = machine.advance(1500)["total_trim"][-200:].mean()
    machine.act(SizeFault(name="hose", params={"area_mm2": 6.0}))
    wider = machine.advance(1500)["total_trim"][-200:].mean()
    machine.act(TakeFault(name="hose"))
    mended = machine.advance(2500)["total_trim"][-200:].mean()
    assert sound + 5.0 < leaking < wider
    assert abs(mended - sound) < 4.0


def test_a_plug_that_is_off_is_an_open_circuit_and_takes_the_sensors_own_defect_with_it() -> None:
    machine = hot()
    machine.act(PullPlug(circuit="ect"))
    assert machine.advance(100)["ect_volts"][-1] > 4.9
    machine.act(PutPlug(circuit="ect"))
    assert machine.advance(100)["ect_volts"][-1] < 2.0


def test_time_lapse_and_weather_stand_in_the_record_and_act() -> None:
    machine = Machine(load_rig("R1"), 1)
    machine.act(TurnKey(to="on"))
    machine.act(LapseTime(factor=20.0))
    assert set(machine.advance(50)["time_lapse"]) == {20.0}
    machine.act(LapseTime(factor=1.0))
    machine.act(Surround(weather=Surroundings(temp_C=-5.0, baro_kPa=84.0)))
    rows = machine.advance(50)
    assert rows["time_lapse"][-1] == 1.0 and rows["baro_true"][-1] == pytest.approx(84.0)


def test_what_was_learned_can_be_forgotten() -> None:
    machine = Machine(load_rig("R1"), 1, start="hot", learned=np.full(8, 0.12))
    machine.act(ResetLearned())
    assert not machine.learned.any()


def test_feet_and_rollers_reach_what_they_hold() -> None:
    machine = hot()
    machine.act(HoldSpeed(rpm=2500.0))
    assert machine.advance(1000)["rpm"][-100:].mean() == pytest.approx(2500.0, abs=40.0)
    machine.act(Drive(roller=(2500.0, 2000.0), gear="road", seconds=2.0))
    machine.act(HoldLoad(share=0.3))
    rows = machine.advance(1200)
    assert rows["rpm"][-100:].mean() == pytest.approx(2000.0, rel=0.05)
    assert rows["torque_true"][-100:].mean() == pytest.approx(0.3 * machine.rig.engine.rated_torque, rel=0.1)
    machine.act(Neutral())
    machine.act(Snap())
    assert machine.advance(300)["throttle_true"].max() > 95.0


@pytest.mark.parametrize(
    ("action", "sentence"),
    [
        (TakeFault(name="x"), "unknown fault 'x' in the vehicle"),
        (SizeFault(name="hose", params={"area_mm2": 900.0}), "allowed is 0.1 to 200 mm²"),
        (PutFault(name="hose", fault=LEAK), "a fault called 'hose' is in the vehicle already"),
        (PutFault(name="y", fault=FaultSpec(kind="wastegate_stuck")), "does not exist on rig R1"),
        (PullPlug(circuit="rail"), "unknown circuit 'rail' on rig R1"),
        (PutPlug(circuit="ect"), "the plug of 'ect' is on"),
        (CloseHose(hose="charge pipe"), "unknown hose 'charge pipe' on rig R1"),
        (OpenHose(hose="purge hose"), "'purge hose' is open"),
        (PutPartBack(part="thermostat"), "the old part is in"),
        (HoldActuator(actuator="vanes"), "unknown actuator 'vanes' on rig R1"),
        (LetActuatorGo(actuator="purge valve"), "the purge valve is not held"),
        (HoldLoad(share=0.5), "a load is held on the roller bench only"),
    ],
)
def test_what_cannot_be_done_is_said_and_changes_nothing(action: Any, sentence: str) -> None:
    machine, other = hot(), hot()
    for one in (machine, other):
        one.act(PutFault(name="hose", fault=LEAK))
        one.advance(50)
    with pytest.raises(LeitfadenError) as told:
        machine.act(action)
    assert sentence in told.value.message
    assert same(machine.advance(100), other.advance(100))


@pytest.mark.parametrize(
    "doings",
    [
        [],
        [MovePedal(to=0.3, seconds=1.234)],
        [HoldSpeed(rpm=2000.0)],
        [Drive(roller=(1000.0, 2500.0), gear="road", seconds=2.5)],
        [SwitchConsumers(lights=True, air_conditioning=True)],
        [SwitchConsumers(lights=True, air_conditioning=False), MovePedal(to=0.1, seconds=6.0)],
    ],
    ids=str,
)
def test_hands_rest_when_they_say_and_what_they_do_then_is_what_they_do_later(doings: list[Any]) -> None:
    machine = Machine(load_rig("R1"), start="hot")
    machine.advance(73)
    for doing in doings:
        machine.act(doing)
    rest = machine.hands.rest_from
    once = machine.hands.rows(machine.rig, rest, 1)
    assert (machine.hands.rows(machine.rig, rest, 900) == once).all()
    before = machine.hands.rows(machine.rig, 73, max(rest - 73, 0))
    assert not doings or isinstance(doings[0], HoldSpeed) or (before[0] != once).all()
    # Row by row, as a bench is stepped, it is what it is in one go.
    other = Machine(load_rig("R1"), start="hot")
    other.advance(73)
    for doing in doings:
        other.act(doing)
    alone = b"".join(machine.advance(1).tobytes() for _ in range(rest + 50))
    assert alone == other.advance(rest + 50).tobytes()


def test_all_engines_have_the_same_record_of_numbers() -> None:
    """The compiled loop is called with whatever engine's record: it must find every number where it is in the
    others.
    """
    assert len({Machine(load_rig(name)).params.dtype for name in [*rig_ids(), *variant_ids()]}) == 1


def test_a_hand_that_moves_the_plug_opens_a_loose_contact_only_meanwhile() -> None:
    machine = hot()
    machine.act(
        PutFault(
            name="loose", fault=FaultSpec(kind="signal_open", params={"circuit": "iat"}, onset=Onset(mode="wiggle"))
        )
    )
    assert machine.advance(50)["iat_volts"].max() < 4.5
    machine.act(MovePlug(place="iat"))
    assert machine.advance(50)["iat_volts"].min() > 4.9
    machine.act(MovePlug(place=None))
    assert machine.advance(50)["iat_volts"][-1] < 4.5


class TestHandwork:
    """Hoses closed, parts exchanged, actuators held: what follows, follows from the engine."""

    def trim(self, machine: Machine) -> float:
        machine.advance(600)
        return float(machine.advance(400)["stft"].mean())

    def test_a_closed_hose_ends_its_leak_and_an_open_one_brings_it_back(self) -> None:
        machine = hot()
        sound = self.trim(machine)
        machine.act(PutFault(name="leak", fault=FaultSpec(kind="brake_servo_leak", params={"area_mm2": 2.5})))
        leaking = self.trim(machine)
        machine.act(CloseHose(hose="brake servo hose"))
        closed = self.trim(machine)
        machine.act(OpenHose(hose="brake servo hose"))
        assert leaking > sound + 8 and closed < leaking - 8 and self.trim(machine) > closed + 8

    def test_closing_another_hose_changes_nothing(self) -> None:
        rows = []
        for hoses in ((), ("breather hose", "small vacuum hoses")):
            machine = hot()
            machine.act(PutFault(name="leak", fault=FaultSpec(kind="brake_servo_leak")))
            for hose in hoses:
                machine.act(CloseHose(hose=hose))
            rows.append(machine.advance(300))
        assert same(*rows)

    def test_another_part_takes_the_defect_along_or_brings_its_own(self) -> None:
        low = FaultSpec(kind="maf_under_read", params={"gain": 0.7})
        flows = []
        for done in ([], [FitPart(part="airflow meter")], [FitPart(part="airflow meter", brings=low)]):
            machine = hot()
            machine.act(PutFault(name="meter", fault=low))
            for action in done:
                machine.act(action)
            rows = machine.advance(200)
            flows.append(float((rows["maf"] / rows["maf_true"])[100:].mean()))
        assert flows[0] == pytest.approx(0.7, abs=0.04) and flows[1] == pytest.approx(1.0, abs=0.06)
        assert flows[2] == pytest.approx(flows[0], abs=0.01)

    def test_the_old_part_brings_its_defect_back(self) -> None:
        machine = hot()
        machine.act(PutFault(name="meter", fault=FaultSpec(kind="maf_under_read", params={"gain": 0.7})))
        machine.act(FitPart(part="airflow meter"))
        good = machine.advance(200)["maf"][100:].mean()
        machine.act(PutPartBack(part="airflow meter"))
        assert machine.advance(200)["maf"][100:].mean() < 0.8 * good

    def test_a_held_actuator_moves_unless_it_is_stuck(self) -> None:
        def opening(*faults: str) -> float:
            machine = Machine(load_rig("R4"), start="hot")
            for name in faults:
                machine.act(PutFault(name=name, fault=FaultSpec(kind=name)))
            machine.act(HoldActuator(actuator="EGR valve", share=0.8))
            held = float(machine.advance(300)["egr_position"][-1])
            machine.act(LetActuatorGo(actuator="EGR valve"))
            return held - float(machine.advance(300)["egr_position"][-1])

        assert opening() > 20 and abs(opening("egr_stuck_closed")) < 2

    def test_a_dead_cylinder_is_not_missed(self) -> None:
        def load(*off: int) -> float:
            machine = hot()
            machine.act(PutFault(name="dead", fault=FaultSpec(kind="dead_cylinder", params={"cylinder": 2.0})))
            for cylinder in off:
                machine.act(HoldActuator(actuator=f"injector of cylinder {cylinder}"))
            machine.advance(800)
            return float(machine.advance(200)["load"].mean())

        assert load(2) == pytest.approx(load(), rel=0.03) and load(3) > 1.15 * load()


def test_an_instant_of_another_vehicle_is_refused() -> None:
    machine = hot()
    for other in (Machine(load_rig("R2"), 7), Machine(load_rig("R1"), 8)):
        with pytest.raises(LeitfadenError, match="another vehicle"):
            machine.restore(other.snapshot())


def test_the_workshop_day_is_what_a_machine_makes_of_its_actions() -> None:
    rig, script = load_rig("R2"), load_script("workshop_day")
    run = simulate(rig, script, [LEAK], 4)
    machine = machine_for(rig, script, [LEAK], 4, None, run.memory)
    rows = []
    for done, frames in script_actions(script):
        for action in done:
            machine.act(action)
        rows.append(machine.advance(frames))
    assert same(np.concatenate(rows), run.lanes)


@pytest.mark.parametrize("rig", [*rig_ids(), *variant_ids()])
def test_every_value_of_a_row_is_written_by_the_step(rig: str) -> None:
    machine, rows = Machine(load_rig(rig), 1), np.full((50, len(LANES.names or ())), -12345.0, dtype=np.float32)
    machine.advance(50, rows.view(LANES)[:, 0])
    assert not (rows == -12345.0).any()


class _Onlooker:
    """Counts what it sees; from some row on it cannot any more."""

    def __init__(self, blind_from: int = 10**9) -> None:
        self.seen: list[np.ndarray] = []
        self.blind_from = blind_from

    def feed(self, rows: np.ndarray) -> None:
        if sum(map(len, self.seen)) + len(rows) > self.blind_from:
            raise RuntimeError("blind")
        self.seen.append(rows.copy())

    def clear(self) -> None:
        raise AssertionError("nobody clears codes here")


class TestFollowed:
    """Those who look at every row: the names of conditions, the control unit's own monitors."""

    def test_who_looks_on_beside_a_drive_sees_every_row_once_and_in_its_order(self) -> None:
        onlookers = _Onlooker(), _Onlooker()
        run = simulate(load_rig("R1"), load_script("workshop_day"), [LEAK], 3, followers=onlookers)
        for onlooker in onlookers:
            assert len(onlooker.seen) > 5  # it looked on, rather than afterwards
            assert same(np.concatenate(onlooker.seen), run.lanes)

    def test_what_goes_wrong_with_an_onlooker_is_told(self) -> None:
        with pytest.raises(RuntimeError, match="blind"):
            simulate(load_rig("R1"), load_script("workshop_day"), [], 3, followers=(_Onlooker(9_000),))

    @pytest.mark.parametrize("rig", rig_ids())
    def test_monitors_beside_a_drive_find_what_they_find_afterwards(self, rig: str) -> None:
        engine, day = load_rig(rig), load_script("workshop_day")
        for found in ([], [parse_fault("signal_open:circuit=iat")], [parse_fault("thermostat_stuck_open")]):
            run, told = watched_run(engine, day, found, 5)
            assert told == trouble_codes(run)
            assert same(run.lanes, simulate(engine, day, found, 5).lanes)

    def test_codes_come_while_it_runs_and_a_snapshot_keeps_them(self) -> None:
        machine = hot()
        machine.follow(OnBoardDiagnosis(machine.rig))
        machine.advance(100)
        before = machine.snapshot()
        machine.act(PullPlug(circuit="iat"))
        machine.advance(100)
        assert codes(machine) == [("P0113", "confirmed")]
        after = machine.snapshot()
        machine.restore(before)
        machine.advance(100)
        assert codes(machine) == []
        machine.restore(after)
        assert codes(machine) == [("P0113", "confirmed")]

    def test_clearing_makes_monitors_begin_anew_and_what_is_still_broken_comes_back(self) -> None:
        machine = hot()
        diagnosis = OnBoardDiagnosis(machine.rig)
        machine.follow(diagnosis)
        machine.act(PullPlug(circuit="iat"))
        machine.advance(100)
        diagnosis.clear()
        assert diagnosis.report().codes == []
        machine.advance(100)
        assert codes(machine) == [("P0113", "confirmed")]

    def test_a_two_trip_code_is_confirmed_by_the_second_drive(self) -> None:
        machine = Machine(load_rig("R1"), 1, start="hot")
        machine.follow(OnBoardDiagnosis(machine.rig))
        machine.act(PutFault(name="meter", fault=FaultSpec(kind="maf_under_read", params={"gain": 0.72})))
        found = []
        for _ in range(2):
            machine.act(TurnKey(to="start"))
            machine.advance(150)
            machine.act(TurnKey(to="on"))
            machine.advance(9000)
            found.append(codes(machine))
            machine.act(TurnKey(to="off"))
            machine.advance(800)
        assert found == [[("P0171", "pending")], [("P0171", "confirmed")]]

    @pytest.mark.parametrize("rig_id", rig_ids())
    @pytest.mark.parametrize("fault", [None, "signal_open:circuit=ect", "fuel_pressure_low:factor=0.6"])
    def test_codes_are_the_same_in_any_portions(self, rig_id: str, fault: str | None) -> None:
        rig, chance = load_rig(rig_id), np.random.default_rng(9)
        run = simulate(rig, load_script("workshop_day"), [parse_fault(fault)] if fault else [], 2)
        whole, parts = OnBoardDiagnosis(rig), OnBoardDiagnosis(rig)
        whole.feed(run.lanes)
        at = 0
        while at < len(run.lanes):
            portion = int(chance.integers(1, 700))
            parts.feed(run.lanes[at : at + portion])
            at += portion
        for diagnosis in (whole, parts):
            diagnosis.end_drive()
        assert parts.report() == whole.report()
        assert (fault is None) == (whole.report().codes == [])

    @pytest.mark.parametrize("rig_id", rig_ids())
    def test_on_the_workshop_day_a_name_never_contradicts_the_script(self, rig_id: str) -> None:
        """Where a script reads a condition, the state of a sound engine bears the same name, or none yet."""
        rig, script = load_rig(rig_id), load_script("workshop_day")
        run = simulate(rig, script, [], 2)
        names = Naming(rig).feed(run.lanes)
        for condition in set(script.conditions()) - {"snap_throttle"}:
            first, last = (round(second * 100) for second in script.span(condition))
            found = {NAMED[k].id for k in names[first:last] if k >= 0}
            # Not every engine cuts its fuel in overrun; all other conditions it must reach.
            assert found == {condition} or (condition == "decel_fuel_cut" and not found), (condition, found)

    def test_by_hand_a_condition_is_named_when_it_has_settled(self) -> None:
        machine, naming = hot(), Naming(load_rig("R1"))
        machine.follow(naming)
        machine.advance(300)
        assert naming.now is None
        machine.advance(300)
        assert naming.now == "hot_idle"
        machine.act(HoldSpeed(rpm=2500.0))
        machine.advance(800)
        assert naming.now == "no_load_2500"
        machine.act(TurnKey(to="off"))
        machine.advance(100)
        assert naming.now is None


def codes(machine: Machine) -> list[tuple[str, str]]:
    """Codes of the one who follows a machine, with their status."""
    diagnosis = machine.followers[0]
    assert isinstance(diagnosis, OnBoardDiagnosis)
    return [(stored.code, stored.status) for stored in diagnosis.report().codes]


def test_uncompiled_for_a_debugger_it_gives_the_same_numbers() -> None:
    told = (
        "from leitfaden_core.rigs import load_rig; from leitfaden_core.simulate import Machine; "
        "print(Machine(load_rig('R3'), 3, start='hot').advance(6).tobytes().hex())"
    )
    environment = os.environ | {"LEITFADEN_UNCOMPILED": "1", "PYTHONPATH": os.pathsep.join(sys.path)}
    plain = subprocess.run(
        [sys.executable, "-W", "ignore", "-c", told], env=environment, check=True, capture_output=True, text=True
    )
    walked = np.frombuffer(bytes.fromhex(plain.stdout.strip()), dtype=LANES)
    compiled = hot("R3").advance(6)
    for name in LANES.names or ():
        np.testing.assert_allclose(walked[name], compiled[name], rtol=1e-6, atol=1e-7, err_msg=name)
