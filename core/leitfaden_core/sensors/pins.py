"""Voltages at the control unit's pins outside which it takes a signal as lost, and its circuit monitors complain."""

#: Channel of the pin -> lowest and highest voltage that a sound sensor and wire can give. [V]
PIN_LIMITS = {
    "maf_volts": (0.2, 4.95),
    "map_volts": (0.1, 4.9),
    "iat_volts": (0.05, 4.9),
    "ect_volts": (0.05, 4.9),
    "tp_volts": (0.15, 4.85),
    "tp2_volts": (0.15, 4.85),
    "rail_volts": (0.15, 4.9),
    "charge_volts": (0.2, 4.9),
    "egr_volts": (0.15, 4.85),
    "egr_dp_volts": (0.1, 4.9),
    "app_volts": (0.3, 4.85),
    "app2_volts": (0.15, 2.45),
    "baro_volts": (0.2, 4.9),
    "dpf_dp_volts": (0.1, 4.9),
}
