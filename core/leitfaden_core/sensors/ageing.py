"""What months on the road do to sensors: slower oxygen cells, a film on the airflow meter's element, drifting
thermistors.

Rates are engineering estimates in the size of service intervals as the trade knows them: an unheated oxygen sensor is
due after about 50,000 km, a heated one after about 150,000 km. They hold for ordinary use; poisoning by lead, silicone
or oil is a fault of its own.
"""

#: Additional lag of a cell per 1,000 km, unheated and heated. [s]
CELL_UNHEATED, CELL_HEATED = 0.003, 0.0008
#: Share of the full flow that a film takes from the reading per 1,000 km: an element without burn-off, and a wire that
#: should be glowed clean and is not. [-]
FILM_USUAL, FILM_WITHOUT_BURN_OFF = 0.0004, 0.006
#: Drift of a thermistor per 1,000 km. [K]
THERMISTOR_DRIFT = 0.01


def cell_lag_gained(kilometres: float, heated: bool) -> float:
    """Lag that an oxygen cell gains. [s]"""
    return kilometres / 1000.0 * (CELL_HEATED if heated else CELL_UNHEATED)


def film_gained(kilometres: float, burn_off: bool, works: bool, film: float) -> float:
    """Film on the meter's element after more driving, as the share of full flow that the reading loses: it settles ever
    slower, and glowing the wire after each drive keeps it clean. [-]

    >>> film_gained(10000.0, burn_off=True, works=True, film=0.0)
    0.0
    """
    if burn_off and works:
        return film
    rate = FILM_WITHOUT_BURN_OFF if burn_off else FILM_USUAL
    return film + (1.0 - film) * (1.0 - (1.0 - rate) ** (kilometres / 1000.0))


def thermistor_drift(kilometres: float) -> float:
    """How much too cold an old thermistor tells. [K]"""
    return -kilometres / 1000.0 * THERMISTOR_DRIFT
