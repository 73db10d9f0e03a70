"""The wiring of a rig at one instant: every plug, pin and wire with what hangs on it, as a
:class:`~leitfaden_core.wiring.network.Network`.

A circuit ``map_signal`` has the pins ``map.supply``, ``map.signal``, ``map.ground`` at the sensor's plug and
``unit.map`` at the control unit. With the plug off, the pins of its harness side keep these names and the sensor's own
are ``map.sensor.supply`` and so on.
"""

from dataclasses import dataclass, field
from typing import Literal

from leitfaden_core.rigs import Rig
from leitfaden_core.sensors.airflow import heater_current
from leitfaden_core.wiring.network import GROUND, Network
from leitfaden_core.wiring.node import (
    CIRCUIT_GROUNDED,
    CIRCUIT_OPEN,
    CIRCUIT_REVERSED,
    CIRCUIT_SHORT_5V,
    CIRCUIT_SHORT_BATTERY,
    CIRCUIT_SOUND,
    CIRCUIT_SWAPPED,
    HEATER_OHMS,
    PRESSURE_OUTPUT,
    REFERENCE_VOLTS,
    REGULATOR_AMPS,
    SENSOR_OUTPUT,
    SHORT_OHMS,
    STRAY_OHMS,
    UNIT_GROUND_OHMS,
)

Key = Literal["off", "on", "running"]
#: Of a sound wire with its two contacts. [ohm]
WIRE_OHMS = 0.05
OPEN_OHMS = 1e9
#: Coil of a solenoid valve. [ohm]
VALVE_OHMS = 24.0
#: Pump cell and sensing cell of a warm wideband sensor. [ohm]
PUMP_OHMS, SENSING_OHMS = 60.0, 300.0


@dataclass(frozen=True)
class WireFault:
    """What is wrong with a wire: a state of :mod:`leitfaden_core.wiring.node` and a resistance in series. [ohm]"""

    state: int = CIRCUIT_SOUND
    ohms: float = 0.0


@dataclass(frozen=True)
class OperatingPoint:
    """What the sensors sense at this instant, as they give it.

    ``shares`` of their supply for 5 V sensors, ``ohms`` of thermistors and exhaust thermometers with those of the
    ``pull_ups`` in the control unit before them, ``volts`` of the airflow meter's output and the oxygen sensors' cells
    with the cells' inner resistance in ``cell_ohms``, and the battery.
    """

    key: Key
    battery: float
    shares: dict[str, float] = field(default_factory=dict)
    ohms: dict[str, float] = field(default_factory=dict)
    pull_ups: dict[str, float] = field(default_factory=dict)
    volts: dict[str, float] = field(default_factory=dict)
    cell_ohms: dict[str, float] = field(default_factory=dict)
    meter_flow: float = 0.0
    burnt_heaters: frozenset[str] = frozenset()  # front, rear, wideband
    pump_ma: float | None = None  # of a wideband sensor, where there is one
    block_amps: float = 0.0  # of starter less alternator, into the engine block
    front_lift: float = 0.0  # V by which the front oxygen sensor's ground lies above the control unit's


def harness(
    rig: Rig,
    point: OperatingPoint,
    faults: dict[str, WireFault] | None = None,
    unplugged: frozenset[str] = frozenset(),
    held: float = 0.0,
) -> Network:
    """The circuit of a rig.

    Parameters
    ----------
    faults : dict
        By the wires' names in :data:`leitfaden_core.simulate.layout.CIRCUITS`.
    unplugged : set
        Wires whose plug is off at the sensor.
    held : float
        Voltage that a damaged sensor leaves of the 5 V reference; 0: none does. [V]
    """
    free = _Builder(rig, point, faults or {}, unplugged, held).build()
    wire = (faults or {}).get("reference", WireFault())
    if point.key == "off" or held > 0.0 or wire.state == CIRCUIT_OPEN:
        return free
    voltages = free.solve()
    amps = (voltages["unit.5v"] - voltages["reference"]) / (rig.wiring.reference_ohms + wire.ohms)
    # The regulator protects itself: beyond its limit it gives a current and no longer a voltage.
    return _Builder(rig, point, faults or {}, unplugged, held, limited=True).build() if amps > REGULATOR_AMPS else free


#: What the key switches: nothing but the battery itself has voltage without it.
SWITCHED = "switched plus"


@dataclass
class _Builder:
    rig: Rig
    point: OperatingPoint
    faults: dict[str, WireFault]
    unplugged: frozenset[str]
    held: float
    limited: bool = False
    net: Network = field(default_factory=Network)

    def build(self) -> Network:
        wiring, net = self.rig.wiring, self.net
        powered = self.point.key != "off"
        net.source("battery plus", GROUND, self.point.battery)
        net.resistor("unit.ground", GROUND, UNIT_GROUND_OHMS)
        # What drives heaters and injectors returns over grounds of its own, so that it does not lift what signals are
        # measured against.
        net.resistor("unit.power ground", GROUND, UNIT_GROUND_OHMS)
        self._wire("sensor_ground", "sensor ground", "unit.ground", 0.0)
        load = wiring.ground_load_ohms * (1.0 if self.point.key == "running" else 4.0)
        self._wire("engine_ground", "engine block", GROUND, 0.0)
        net.resistor("engine block", GROUND, STRAY_OHMS)
        if powered:
            net.resistor("battery plus", SWITCHED, 1e-6)
            net.source("unit.5v", "unit.ground", REFERENCE_VOLTS)
            net.resistor(SWITCHED, "engine block", load)
            net.current(SWITCHED, "engine block", self.point.block_amps)
            if self.held > 0.0:
                net.source("reference", GROUND, self.held)
            elif self.limited:
                net.current("unit.ground", "reference", REGULATOR_AMPS)
                if self.faults.get("reference", WireFault()).state == CIRCUIT_GROUNDED:
                    net.resistor("reference", GROUND, SHORT_OHMS)
            else:
                self._wire("reference", "reference", "unit.5v", wiring.reference_ohms)
        else:
            net.resistor(SWITCHED, GROUND, 0.05)
            net.resistor("unit.5v", "unit.ground", 4700.0)
            self._wire("reference", "reference", "unit.5v", wiring.reference_ohms)
        for name, share in self.point.shares.items():
            self._five_volt(name, share)
        for name, ohms in self.point.ohms.items():
            self._thermometer(name, ohms)
        if "maf" in self.point.volts:
            self._meter()
        for name in ("front", "front2", "rear"):
            if name in self.point.volts:
                self._oxygen(name)
        if self.point.pump_ma is not None:
            self._wideband(self.point.pump_ma)
        if "purge" in self.rig.features:
            self._valve("purge")
        return net

    def _wire(self, name: str, sensor_end: str, unit_end: str, ohms: float) -> None:
        """A wire with its fault. A short lies at the control unit's end, behind whatever resistance the wire has."""
        fault = self.faults.get(name, WireFault())
        series = OPEN_OHMS if fault.state == CIRCUIT_OPEN else ohms + fault.ohms
        self.net.resistor(sensor_end, unit_end, max(series, 1e-6))
        if fault.state == CIRCUIT_GROUNDED:
            self.net.resistor(sensor_end if name == "reference" else unit_end, GROUND, SHORT_OHMS)
        elif fault.state == CIRCUIT_SHORT_5V and self.point.key != "off":
            self.net.resistor(unit_end, "unit.5v", SHORT_OHMS)
        elif fault.state == CIRCUIT_SHORT_BATTERY and self.point.key != "off":
            self.net.resistor(unit_end, SWITCHED, SHORT_OHMS)

    def _heater_drive(self, name: str) -> None:
        """The low side of a heater: driven to ground while the engine runs; a chafed control wire lies on battery
        voltage instead.
        """
        if self.point.key != "off" and self.faults.get(f"{name}_heater", WireFault()).state == CIRCUIT_SHORT_BATTERY:
            self.net.resistor(f"{name}.heater minus", SWITCHED, SHORT_OHMS)
        else:
            # An idle driver is an open switch.
            self.net.resistor(
                f"{name}.heater minus", "unit.power ground", 0.2 if self.point.key == "running" else OPEN_OHMS
            )

    def _heater(self, name: str) -> float:
        return OPEN_OHMS if name in self.point.burnt_heaters else HEATER_OHMS

    def _pin(self, name: str, role: str) -> str:
        """The sensor's own pin: the plug's, or apart from it when it is unplugged."""
        return f"{name}.sensor.{role}" if name in self.unplugged else f"{name}.{role}"

    def _five_volt(self, name: str, share: float) -> None:
        net = self.net
        net.resistor(f"{name}.supply", "reference", 1e-6)
        net.resistor(f"{name}.ground", "sensor ground", 1e-6)
        self._wire(name, f"{name}.signal", f"unit.{name}", 1e-3)
        pull = "unit.5v" if self.rig.wiring.signal_pull == "up" else "unit.ground"
        net.resistor(f"unit.{name}", pull, self.rig.wiring.signal_pull_ohms)
        supply, ground, signal = (self._pin(name, role) for role in ("supply", "ground", "signal"))
        if self.faults.get(name, WireFault()).state == CIRCUIT_SWAPPED:
            ground, signal = signal, ground
        if self.faults.get(name, WireFault()).state == CIRCUIT_REVERSED:
            supply, ground = ground, supply
        net.resistor(supply, ground, self.rig.wiring.sensor_ohms)
        if self.point.key != "off":
            net.amplifier(f"{name}.output", ground, supply, min(max(share, 0.0), 1.0))
        net.resistor(f"{name}.output", signal, PRESSURE_OUTPUT)

    def _thermometer(self, name: str, ohms: float) -> None:
        self.net.resistor("unit.5v", f"unit.{name}", self.point.pull_ups[name])
        self._wire(name, f"{name}.signal", f"unit.{name}", 1e-3)
        self.net.resistor(f"{name}.ground", "sensor ground", 1e-6)
        self.net.resistor(self._pin(name, "signal"), self._pin(name, "ground"), ohms)

    def _meter(self) -> None:
        net, meter = self.net, self.rig.airflow_meter
        assert meter is not None
        self._wire("maf_supply", "maf.supply", SWITCHED, WIRE_OHMS)
        net.resistor("maf.power ground", "engine block", 1e-6)
        supply, power_ground, signal = (self._pin("maf", role) for role in ("supply", "power ground", "signal"))
        amps = heater_current(self.point.meter_flow, meter.meter_full_scale)
        if self.point.key != "off":
            net.current(supply, power_ground, amps)
            low = "unit.ground" if meter.meter_own_ground else power_ground
            net.source("maf.output", low, self.point.volts["maf"])
            net.resistor("maf.output", signal, SENSOR_OUTPUT)
        self._wire("maf", "maf.signal", "unit.maf", 1e-3)
        pull = "unit.5v" if self.rig.wiring.signal_pull == "up" else "unit.ground"
        net.resistor("unit.maf", pull, self.rig.wiring.signal_pull_ohms)

    def _wideband(self, pump_ma: float) -> None:
        """Shared return held at 2.5 V, sensing cell 450 mV above it, pump line driven with the pump current."""
        net = self.net
        pump, sensing, common = (self._pin("wideband", role) for role in ("pump", "sensing", "return"))
        net.resistor(pump, common, PUMP_OHMS)
        net.resistor(sensing, common, SENSING_OHMS)
        net.resistor("wideband.return", "unit.wideband return", WIRE_OHMS)
        net.resistor("wideband.sensing", "unit.wideband sensing", WIRE_OHMS)
        self._wire("wideband", "wideband.pump", "unit.wideband pump", WIRE_OHMS)
        # The pump driver cannot push against an open wire: its own 10 kilohm take the current.
        net.resistor("unit.wideband pump", "unit.wideband return", 10e3)
        if self.point.key != "off":
            net.source("unit.wideband return", "unit.ground", 2.5)
            net.source("unit.wideband sensing", "unit.wideband return", 0.45)
            net.current("unit.wideband return", "unit.wideband pump", pump_ma / 1000.0)
        self._wire("wideband_heater", "wideband.heater plus", SWITCHED, WIRE_OHMS)
        net.resistor(
            self._pin("wideband", "heater plus"), self._pin("wideband", "heater minus"), self._heater("wideband")
        )
        self._heater_drive("wideband")

    def _valve(self, name: str) -> None:
        """A solenoid valve: battery at one end of its coil, the control unit's driver at the other, which is an open
        switch between its pulses.
        """
        self.net.resistor(SWITCHED, f"{name}.plus", WIRE_OHMS)
        self.net.resistor(self._pin(name, "plus"), self._pin(name, "minus"), VALVE_OHMS)
        self._wire(name, f"{name}.minus", f"unit.{name}", WIRE_OHMS)
        self.net.resistor(f"unit.{name}", "unit.power ground", OPEN_OHMS)

    def _oxygen(self, name: str) -> None:
        net, sensors = self.net, self.rig.oxygen_sensors
        assert sensors is not None
        one_wire = sensors.heater_rise == 0.0
        lift = self.point.front_lift if name == "front" and self.point.key == "running" else 0.0
        returns_to = "engine block" if one_wire else "unit.ground"
        if lift:
            net.source(f"{name}.ground", returns_to, lift)
        elif not one_wire:
            net.resistor(f"{name}.ground", returns_to, WIRE_OHMS)
        own_ground = self._pin(name, "ground") if lift or not one_wire else returns_to
        if self.point.key != "off":
            net.source(f"{name}.cell", own_ground, self.point.volts[name])
            net.source(f"unit.{name} bias", "unit.ground", sensors.bias_voltage)
        net.resistor(f"{name}.cell", self._pin(name, "signal"), self.point.cell_ohms.get(name, 1e3))
        self._wire(name, f"{name}.signal", f"unit.{name}", 1e-3)
        net.resistor(f"unit.{name}", f"unit.{name} bias", sensors.bias_resistance)
        if not one_wire:
            self._wire(f"{name}_heater", f"{name}.heater plus", SWITCHED, WIRE_OHMS)
            net.resistor(self._pin(name, "heater plus"), self._pin(name, "heater minus"), self._heater(name))
            self._heater_drive(name)
