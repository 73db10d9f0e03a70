"""Physical constants and reference states, each in its one home."""

R_AIR = 287.05  #: J/(kg K), dry air
GAMMA = 1.4  #: ratio of specific heats of air
R_GAS = 8.314462618  #: J/(mol K)
FARADAY = 96485.33212  #: C/mol
ZERO_CELSIUS = 273.15  #: K
OXYGEN_MASS_SHARE = 0.232  #: kg oxygen per kg of air
STANDARD_PRESSURE = 101300.0  #: Pa
