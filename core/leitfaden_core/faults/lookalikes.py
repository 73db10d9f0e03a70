"""Faults that no steady reading, no code and no multimeter at rest can tell from others, with the test that does."""

from leitfaden_core.faults.spec import FaultSpec

#: Kind -> what shows it apart from everything that looks like it.
SHOWN_ONLY_BY = {
    "brake_servo_leak": "Clamp the servo hose, release it, clamp it again: only then does the trim fall and return.",
    "pcv_torn": "Pinch the breather hose, release it, pinch it again; feel for suction at the filler cap.",
    "connector_intermittent": "Move the plug while a meter keeps minimum and maximum, or while a recorder runs with few channels.",
    "catalyst_worn": "Gas analysis before and behind the catalyst, both hot; where there is a rear sensor, its swing at steady cruise.",
    "purge_stuck_closed": "A hand on the canister's hose at raised speed: a sound valve lets the manifold draw there.",
    "ect_dead_spot": "Warm the unplugged sensor slowly and watch its resistance all the way up and down.",
    "iat_dead_spot": "Warm the unplugged sensor slowly and watch its resistance all the way up and down.",
    "injector_coil_shorted": "Current clamp around the injectors' common supply, then the resistance of each coil.",
    "reference_pulled_down": "Unplug the sensors on the reference one after the other: it returns with the damaged one.",
    "control_unit_reference_weak": "Unplug all sensors on the reference: what a damaged sensor held down returns, a weak regulator's does not.",
    "maf_burnoff_inoperative": "Oscilloscope on the meter's signal for ten seconds after key-off, following a hot run.",
}


def separating_test(one: FaultSpec, two: FaultSpec) -> str | None:
    """The named test that separates two faults that look alike in everything else; None where none is known."""
    return SHOWN_ONLY_BY.get(one.kind) or SHOWN_ONLY_BY.get(two.kind)
