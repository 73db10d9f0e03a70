"""Bands in other air are estimated where a population would put them."""

import numpy as np
import pytest

from leitfaden_core.channels import channel
from leitfaden_core.expect import SCHOOL, Air, air_sheet, individual_engine, load_sheet, moved_bands
from leitfaden_core.rigs import load_rig, rig_channels
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import simulate
from leitfaden_core.simulate.run import steady_statistics

pytestmark = pytest.mark.model

SIZE = 12


@pytest.mark.parametrize(
    ("name", "air"),
    [("R1", Air(0.0, 101.3)), ("R2", Air(20.0, 84.0)), ("R3", Air(35.0, 90.0)), ("R1", Air(ethanol=0.2))],
)
def test_the_estimate_lies_where_engines_of_that_air_are(name: str, air: Air) -> None:
    """The mean of twelve sound engines there lies within the estimated band, for at least 19 of 20 displayed values."""
    rig, script = load_rig(name), load_script("workshop_day")
    estimate = moved_bands(load_sheet(rig), rig, air)
    shown = [entry for entry in rig_channels(rig) if channel(entry).layer == "scan"]
    tables = []
    for seed in range(70_000, 70_000 + SIZE):
        run = simulate(rig, script, [], seed, individual_engine(rig, seed) | air.individual(rig))
        tables.append(steady_statistics(run, shown))
    inside = total = 0
    for condition in tables[0]:
        for entry in shown:
            band = estimate.get((condition, entry, "mean"))
            mean = float(np.mean([table[condition][entry]["mean"] for table in tables]))
            if band is None or np.isnan(mean):
                continue
            total += 1
            inside += band.holds(mean, channel(entry).step)
    assert total > 50
    assert inside / total >= 0.95, f"{inside} of {total}"


def test_height_lowers_vacuum_and_hardly_moves_absolute_pressure() -> None:
    rig = load_rig("R2")
    sheet = load_sheet(rig)
    up = moved_bands(sheet, rig, Air(20.0, 79.5))
    absolute = up["hot_idle", "map", "mean"].median - sheet.bands["hot_idle", "map", "mean"].median
    assert abs(absolute) < 5.0  # kPa, while the barometer fell by 21.8 and vacuum with it by as much less


def test_more_ethanol_asks_for_more_fuel() -> None:
    rig = load_rig("R1")
    sheet = load_sheet(rig)
    moved = moved_bands(sheet, rig, Air(ethanol=0.2))
    # The same work comes from nearly the same air: the heat that a mass of air sets free hardly hangs on the blend.
    air = moved["hot_idle", "maf", "mean"].median / sheet.bands["hot_idle", "maf", "mean"].median
    assert 0.98 < air < 1.02
    by = moved["cruise_80", "total_trim", "mean"].median - sheet.bands["cruise_80", "total_trim", "mean"].median
    assert 4.0 < by < 12.0  # %: stoichiometric air for 20 % ethanol is 8 % less (Heywood 1988, appendix D)


def test_at_the_school_nothing_moves() -> None:
    rig = load_rig("R1")
    sheet = load_sheet(rig)
    assert moved_bands(sheet, rig, SCHOOL) == sheet.bands


@pytest.mark.slow
def test_a_population_there_confirms_the_estimate() -> None:
    rig, air = load_rig("R2"), Air(0.0, 90.0)
    estimate, full = moved_bands(load_sheet(rig), rig, air), air_sheet(rig, air, members=16).bands
    for key in (("hot_idle", "map", "mean"), ("hot_idle", "iat", "mean"), ("no_load_2500", "injector_ms", "mean")):
        assert full[key].median == pytest.approx(estimate[key].median, abs=estimate[key].deviation)
