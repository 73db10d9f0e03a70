"""Limits and resistances that several parts of the step share."""

import math

RPM = 60.0 / (2.0 * math.pi)
#: Slower than this the engine does not fire; above it a running engine is recognised. [rad/s]
STALL_SPEED, RUN_SPEED = 18.0, 42.0
#: What comes nearer to zero than this is zero: decaying for ever would end in numbers that the processor handles slowly. [rad/s], [-]
STANDSTILL, PLATE_SHUT = 0.02, 1e-6
#: Share of unburnt fuel that an oxygen sensor's electrode does not oxidise. [-]
UNBURNT_UNSEEN = 0.7
#: Revolutions of the starter until the control unit knows where the crankshaft stands. [s]
SYNC_AFTER = 0.95
#: Resistance of the low-ohmic outputs, of the control unit's pull-down, in ohm.
SENSOR_OUTPUT, MAP_OUTPUT, PULL_DOWN = 1000.0, 100.0, 220e3
#: A meter signal below this for this long is taken as lost. [V], [s]
MAF_LOW, MAF_LOST_AFTER = 0.2, 0.2
#: Signal while the wire is glowed clean. [V]
BURN_OFF_VOLTS = 4.6
#: MAP voltages outside these are taken as lost. [V]
MAP_LOW, MAP_HIGH = 0.1, 4.9
#: Thermistor voltages outside these for half a second are taken as lost. [V]
NTC_LOW, NTC_HIGH = 0.05, 4.9
