"""Limits and resistances that several parts of the step share."""

import math

from leitfaden_core.sensors.pins import PIN_LIMITS

RPM = 60.0 / (2.0 * math.pi)
#: Slower than this nothing burns, not even at the starter; slower than the second a running engine has stalled; above
#: the third it is recognised as running. [rad/s]
FIRES_ABOVE, STALL_SPEED, RUN_SPEED = 7.0, 18.0, 42.0
#: What comes nearer to zero than this is zero: decaying for ever would end in numbers that the processor handles
#: slowly. [rad/s], [-]
STANDSTILL, PLATE_SHUT = 0.02, 1e-6
#: Share of unburnt fuel that an oxygen sensor's electrode does not oxidise. [-]
UNBURNT_UNSEEN = 0.7
#: Revolutions until the control unit knows where crankshaft and camshaft stand. [-]
SYNC_AFTER = 1.5
#: Engine temperature above which a restart counts as hot: fuel boils by what it is, not by the weather. [K]
HOT_RESTART = 323.0
#: Signals outside these are taken as lost, some of them only after a while. [V]
(MAF_LOW, MAF_HIGH), (MAP_LOW, MAP_HIGH), (BARO_LOW, BARO_HIGH) = (
    PIN_LIMITS[name] for name in ("maf_volts", "map_volts", "baro_volts")
)
(NTC_LOW, NTC_HIGH), (TP_LOW, TP_HIGH), (RAIL_LOW, RAIL_HIGH) = (
    PIN_LIMITS[name] for name in ("ect_volts", "tp_volts", "rail_volts")
)
FEEDBACK_LOW, FEEDBACK_HIGH = PIN_LIMITS["egr_dp_volts"]
(TP2_LOW, TP2_HIGH), (APP_LOW, APP_HIGH), (APP2_LOW, APP2_HIGH) = (
    PIN_LIMITS[name] for name in ("tp2_volts", "app_volts", "app2_volts")
)
#: Time for which a lost meter, throttle position or thermistor is waited for. [s]
MAF_LOST_AFTER, TP_LOST_AFTER, NTC_LOST_AFTER = 0.2, 0.3, 0.5
#: Signal while the wire is glowed clean. [V]
BURN_OFF_VOLTS = 4.6
#: The control unit's converter sees nothing above this. [V]
CONVERTER_TOP = 5.0
#: A hose that slips off opens fully over this much pressure. [Pa]
BOOST_LEAK_LIP = 4e3
#: Time in which the clean-air pipe before a compressor follows. [s]
CLEAN_AIR_LAG = 0.02
#: Share of the exhaust's heat above the surroundings that it loses to turbine and wastegate housing, and to the pipe up
#: to the catalyst. [-]
BYPASS_COOLED, PIPE_COOLED = 0.03, 0.03
#: Battery voltage for which the power of a heater is told. [V]
BATTERY_CHARGED = 14.1
#: Time after key-off for which the main relay keeps the control unit and its reference supplied. [s]
RELAY_HOLD = 6.0
#: Both tracks of an electronic throttle add up to the reference that the control unit measures at its own pin, and the
#: first track of a pedal sensor is twice the second, within these. [V]
TRACKS_AGREE, APP_TRACKS_AGREE = 0.20, 0.15
#: Charge over its target at which fuel is cut, and at which it comes back. [-]
OVERBOOST_CUT, OVERBOOST_RESUME = 1.25, 1.05
#: Opening at which an electronic throttle rests without drive. [-]
LIMP_PLATE = 0.07
#: Coolant above which the canister is purged [K]; series resistance at which the purge valve's coil no longer pulls
#: [ohm].
PURGE_ABOVE, PURGE_DROPS_OUT = 333.0, 15.0
#: Time in which the throttle plate follows. [s]
PLATE_LAG = 0.020
#: What SAE J1979 can show of an oxygen sensor lies between 0 and this: negative volts only a meter sees. [V]
J1979_VOLTS_TOP = 1.275
#: Highest lambda that SAE J1979 can show in its wide-range parameters. [-]
J1979_LAMBDA_TOP = 1.99997
#: Time since something that has not happened. [s]
NEVER = 1e9
#: Wall of the pipe around the front oxygen sensor: its time, the flow (as a share of the full one) at which it lies
#: halfway between the air under the bonnet and the gas, and the share of the difference between gas and wall that an
#: unheated element loses. Estimates, set so that an unheated sensor falls asleep within about ten minutes of idling and
#: stays awake on the road. [s], [-], [-]
BOSS_TIME, BOSS_HALF_FLOW, BOSS_SHARE = 250.0, 0.1, 0.36
