"""Taking a test on a vehicle: what it shows there, with the instruments' own errors."""

from leitfaden_core.diagnose.evidence import Taken
from leitfaden_core.diagnose.procedures import Examined, noisy, test_of, tests_of
from leitfaden_core.instruments.vehicle import Vehicle


def take(vehicle: Vehicle, test_id: str, seed: int | None = None) -> Taken:
    """One test. The same vehicle, test and seed show the same."""
    test = test_of(vehicle.rig, test_id)
    values = test.read(Examined(vehicle))
    return Taken(test.id, tuple(float(v) for v in noisy(test, values, vehicle.seed if seed is None else seed)))


def all_shown(vehicle: Vehicle) -> dict[str, tuple[float, ...]]:
    """What every test shows on a vehicle."""
    car = Examined(vehicle)
    return {
        test.id: tuple(float(v) for v in noisy(test, test.read(car), vehicle.seed)) for test in tests_of(vehicle.rig)
    }
