"""Sizes between those that a table has simulated: what they show, how well that fits, and what a long stretch is
worth.
"""

import numpy as np
import pytest

from leitfaden_core.diagnose import standing, table, tests_of
from leitfaden_core.diagnose.evidence import LOUDEST, STANDS_STILL, TAILS, joint_likelihood
from leitfaden_core.diagnose.evidence import test_likelihoods as likelihoods
from leitfaden_core.rigs import load_rig, rig_ids
from vehicles import evidence, odd_car

pytestmark = pytest.mark.model

tests_of.__test__ = False  # type: ignore[attr-defined]


def _moving(rig_id: str, test: str) -> list[int]:
    """Points from which a test's readings move by more than five spreads to the next larger size."""
    causes = table(load_rig(rig_id))
    part = causes.slices[test]
    onwards = np.abs(causes.halfway(part)[1]) / causes.spread[part]
    return [int(k) for k in np.flatnonzero(onwards.max(axis=1) > 5.0)]


def _counts(length: float) -> float:
    """What a stretch of so many spreads says less than one size alone. [nat]"""
    return float(-0.5 * np.log1p(length**2 / (2.0 * np.pi)))


class TestStretch:
    @pytest.mark.parametrize("rig_id", rig_ids())
    @pytest.mark.parametrize("share", [0.0, 0.3, 0.9])
    def test_any_size_of_a_stretch_fits_half_as_well_as_the_simulated_one(self, rig_id: str, share: float) -> None:
        """All readings of a test at one place between two sizes: half of what is said of the point's own readings,
        which may stay there, falls away, and what is said of the stretch stays.
        """
        causes = table(load_rig(rig_id))
        for test in ("scan.hot_idle.oxygen", "scan.hot_idle.trims", "scan.hot_idle.temperatures"):
            part = causes.slices.get(test)
            for k in _moving(rig_id, test)[::5] if part else []:
                between = causes.points[k, part] + share * causes.halfway(part)[1, k]
                own, there = (likelihoods(causes, test, v)[0, k] for v in (causes.points[k, part], between))
                lengths = np.linalg.norm(causes.halfway(part)[:, k] / causes.width(part)[k], axis=-1)
                least = max(_counts(lengths.sum()) - np.log(2.0), -LOUDEST)
                assert own >= there >= least - 1e-6
                assert share > 0.0 or there == own

    def test_readings_at_different_places_of_a_stretch_do_not_fit(self) -> None:
        """Of two readings that both run with the size, one at the small end and the other at the large one is no size
        at all.
        """
        causes = table(load_rig("R1"))
        tried = 0
        for test in tests_of(causes.rig):
            part = causes.slices[test.id]
            for k in _moving("R1", test.id)[::9]:
                half = causes.halfway(part)[1, k]
                both = np.flatnonzero(np.abs(half) > 8.0 * causes.width(part)[k])
                if len(both) < 2:
                    continue
                torn = causes.points[k, part].copy()
                torn[both[0]] += half[both[0]]
                torn[both[1]] -= half[both[1]]
                fits, torn_fits = (likelihoods(causes, test.id, v)[0, k] for v in (causes.points[k, part] + half, torn))
                assert torn_fits < fits - 2.5
                tried += 1
        assert tried > 5

    @pytest.mark.parametrize("length", [0.5, 1.0, 3.0, 10.0, 40.0])
    def test_a_long_stretch_counts_by_the_mean_of_its_likelihood(self, length: float) -> None:
        """Against the double integral: of the density of a reading over all sizes of the stretch that may be meant, and
        over all that may be true.
        """
        places = np.linspace(-length / 2.0, length / 2.0, 401)
        mean = np.log(np.exp(joint_likelihood((places[:, None] - places[None, :])[None])).mean())
        assert _counts(length) == pytest.approx(mean, abs=0.07)

    @pytest.mark.parametrize("rig_id", rig_ids())
    def test_each_point_counts_by_the_length_of_its_stretch(self, rig_id: str) -> None:
        causes = table(load_rig(rig_id))
        part = causes.slices["scan.hot_idle.temperatures"]
        lengths = np.linalg.norm(causes.halfway(part) / causes.width(part), axis=-1).sum(axis=0)
        assert lengths[0] == 0.0 and lengths.max() > 10.0
        for k in np.argsort(lengths)[:: len(lengths) // 12]:
            values = causes.points[k, part]
            if k in causes.courses or np.isnan(values).any():
                continue
            here = likelihoods(causes, "scan.hot_idle.temperatures", values)[0, k]
            # As likely as not the readings stay where the simulated size has them; a fifth of a spread is no way.
            wanted = np.log(0.5 + 0.5 * np.exp(_counts(lengths[k]))) if lengths[k] > STANDS_STILL else 0.0
            assert here == pytest.approx(wanted, abs=1e-6)

    @pytest.mark.parametrize("rig_id", rig_ids())
    def test_what_is_there_or_not_has_nothing_between(self, rig_id: str) -> None:
        causes = table(load_rig(rig_id))
        for test in tests_of(causes.rig):
            part = causes.slices[test.id]
            there_or_not = [outcome.yes_or_no or test.id == "codes" for outcome in test.outcomes]
            assert not causes.halfway(part)[:, :, there_or_not].any()
        by_chance = np.unique(causes.courses)
        assert not causes.halfway(slice(None))[:, by_chance].any()

    def test_no_test_speaks_louder_than_it_may(self) -> None:
        causes = table(load_rig("R1"))
        for test in tests_of(causes.rig):
            part = causes.slices[test.id]
            heard = likelihoods(causes, test.id, causes.points[0, part] + 1e3 * causes.spread[part])
            assert heard.min() >= -LOUDEST and heard.max() <= 1e-9

    def test_tails_are_those_of_student(self) -> None:
        """One reading z spreads away: (1 + z²/ν) to the power -(ν + 1)/2 (Student 1908)."""
        for z in (0.5, 1.0, 3.0):
            assert joint_likelihood(np.array([z])) == pytest.approx(-0.5 * (TAILS + 1.0) * np.log1p(z * z / TAILS))


class TestVehicles:
    CODES = ("codes", "scan.no_load_2500.oxygen", "part.front oxygen sensor", "look.exhaust and its sensors")

    def test_a_sensor_that_sticks_between_two_named_voltages_is_not_proven_to_breathe_exhaust(self) -> None:
        vehicle = odd_car("R6", "ho2s_stuck:volts=0.641817", 1360161)
        now = standing(table(load_rig("R6")), evidence(vehicle, *self.CODES, "scan.hot_idle.oxygen"))
        assert not now.proven or now.candidate == "ho2s_stuck"
