"""Bands: from the model as it stands, and true to their word for engines that were not in the sample."""

import os
import shutil
import subprocess
import sys
from pathlib import Path
from statistics import NormalDist

import numpy as np
import pytest

import leitfaden_core
from leitfaden_core.channels import CHANNELS
from leitfaden_core.errors import BadDocument
from leitfaden_core.expect import SPREAD, band_of, individual_engine, load_sheet, parse_own, sheet_fingerprint
from leitfaden_core.expect.fingerprint import _MODEL, _sources
from leitfaden_core.expect.population import even_population
from leitfaden_core.expect.sheet import COVERED, Regression, compute_sheet, width_causes, write_sheet
from leitfaden_core.rigs import load_rig, rig_ids
from leitfaden_core.simulate import steady_statistics

pytestmark = pytest.mark.model

RIG = load_rig("R1")
CORE = Path(leitfaden_core.__file__).parent


@pytest.mark.parametrize("rig_id", rig_ids())
def test_the_shipped_sheet_belongs_to_this_model(rig_id: str) -> None:
    assert load_sheet(load_rig(rig_id)).fingerprint == sheet_fingerprint(load_rig(rig_id)), (
        f"compute it anew: ./leitfaden expect {rig_id} --rebuild"
    )


@pytest.mark.parametrize(
    ("file", "old", "new", "rebuilt"),
    [
        pytest.param("sensors/wideband.py", "lambda", "lambda", "", marks=pytest.mark.slow),
        ("sensors/wideband.py", "compiled\n", "compiled\nNEW = 1.0\n", "R3"),
        pytest.param("sensors/airflow.py", "compiled\n", "compiled\nNEW = 1.0\n", "R1 R4 R5", marks=pytest.mark.slow),
        ("faults/kinds/air_path.py", "Air leak behind the throttle", "Leak of air behind the throttle", ""),
        pytest.param(
            "rigs/data/R2.yaml", "name: Greenhouse van", "name: Van of the greenhouse", "", marks=pytest.mark.slow
        ),
        pytest.param(
            "engine/torque.py", "compiled\n", "compiled\nNEW = 1.0\n", "R1 R2 R3 R4 R5 R6", marks=pytest.mark.slow
        ),
    ],
)
def test_a_change_asks_to_compute_what_it_touches_and_a_word_nothing(
    tmp_path: Path, file: str, old: str, new: str, rebuilt: str
) -> None:
    """In a copy of the core with one change: whose readings of all causes would be computed anew."""
    copy = tmp_path / "core" / "leitfaden_core"
    shutil.copytree(CORE, copy, ignore=shutil.ignore_patterns("__pycache__"))
    text = (copy / file).read_text(encoding="utf-8")
    assert old in text
    (copy / file).write_text(text.replace(old, new, 1), encoding="utf-8")
    asked = (
        "from leitfaden_core.diagnose.table import _fingerprint as f\n"
        "from leitfaden_core.rigs import load_rig, rig_ids\n"
        "print(' '.join(f(load_rig(r)) for r in rig_ids()))"
    )
    changed, present = (
        subprocess.run(
            [sys.executable, "-c", asked],
            env=os.environ | {"PYTHONPATH": str(core)},
            capture_output=True,
            text=True,
            check=True,
        ).stdout.split()
        for core in (copy.parent, CORE.parent)
    )
    assert " ".join(r for r, a, b in zip(rig_ids(), changed, present, strict=True) if a != b) == rebuilt


#: What a run loads and what no number of a sound engine comes from: the compiler, files, words, units of displays,
#: registers, who looks on beside it, faults and the circuits by their names.
NO_NUMBERS = ("compiled.py", "errors.py", "files.py", "registry.py", "validation.py", "words.py", "quantities/")
NO_SOUND_NUMBERS = ("simulate/store.py", "simulate/beside.py", "faults/", "wiring/circuits.py")


def test_every_source_that_a_sound_engines_numbers_come_from_counts_for_the_sheets() -> None:
    asked = (
        "import sys, leitfaden_core.simulate.run\n"
        "print(*(m.__file__ for n, m in sys.modules.items() if n.startswith('leitfaden_core') and m.__file__))"
    )
    loaded = subprocess.run([sys.executable, "-c", asked], capture_output=True, text=True, check=True).stdout.split()
    names = {Path(path).relative_to(CORE).as_posix() for path in loaded if not path.endswith("__init__.py")}
    numbers = {name for name in names if not name.startswith((*NO_NUMBERS, *NO_SOUND_NUMBERS))}
    assert {"chance.py", "simulate/step.py"} < numbers
    assert numbers - set(_sources(_MODEL)) == set()


def test_fresh_healthy_engines_stay_in_their_bands_at_the_promised_rate(run) -> None:
    """Coverage: 24 engines of other seeds, every channel and condition.

    A channel alone may have bad luck; all together hold the promise.
    """
    inside, total = 0, 0
    for seed in range(7000, 7024):
        found = steady_statistics(run(seed=seed, individual=individual_engine(RIG, seed)), list(CHANNELS))
        for condition, rows in found.items():
            for name, stats in rows.items():
                band = band_of(load_rig("R1"), condition, name)
                if band is not None and stats["mean"] == stats["mean"]:
                    total += 1
                    inside += band.low <= stats["mean"] <= band.high
    assert total > 5000
    assert inside / total > COVERED - 0.03


def test_bands_are_ordered_and_hold_their_median() -> None:
    for band in load_sheet(load_rig("R1")).bands.values():
        assert band.low <= band.median <= band.high
        assert band.deviation > 0


def test_a_channel_without_meaning_in_a_condition_has_no_band() -> None:
    assert band_of(load_rig("R1"), "decel_fuel_cut", "lambda_true") is None
    assert band_of(load_rig("R1"), "hot_idle", "lambda_true") is not None


def test_individual_engines_repeat_and_lie_around_their_rig() -> None:
    assert individual_engine(RIG, 5) == individual_engine(RIG, 5) != individual_engine(RIG, 6)
    engines = [individual_engine(RIG, seed) for seed in range(200)]
    for name, spread in SPREAD.items():
        values = np.array([engine[name] for engine in engines])
        centre = spread.centre + (RIG.numbers()[name] if spread.around_rig else 0.0)
        assert abs(values - centre).max() <= 2.5 * spread.deviation + 1e-12
        if not spread.one_sided:
            assert values.mean() == pytest.approx(centre, abs=0.3 * spread.deviation)


class TestEvenPopulation:
    """The engines of a sheet stand for all healthy ones better than as many drawn by lot."""

    def numbers(self, engines: list[dict[str, float]]) -> np.ndarray:
        """Deviations of each property from its middle, shape (engines, properties)."""
        middle = np.array([s.centre + (RIG.numbers()[name] if s.around_rig else 0.0) for name, s in SPREAD.items()])
        spreads = np.array([s.deviation for s in SPREAD.values()])
        return (np.array([list(engine.values()) for engine in engines]) - middle) / spreads

    def test_every_part_of_every_spread_is_there_once(self) -> None:
        found = self.numbers(even_population(RIG, 200, 1000))
        two_sided = [k for k, s in enumerate(SPREAD.values()) if not s.one_sided]
        wanted = np.clip([NormalDist().inv_cdf((k + 0.5) / 200) for k in range(200)], -2.5, 2.5)
        assert np.sort(found[:, two_sided], axis=0) == pytest.approx(np.repeat(wanted[:, None], len(two_sided), 1))

    @pytest.mark.parametrize("seed", [1000, 1, 2])
    def test_no_property_goes_with_another(self, seed: int) -> None:
        together = np.corrcoef(self.numbers(even_population(RIG, 200, seed)).T)
        np.fill_diagonal(together, 0.0)
        one_sided = [k for k, s in enumerate(SPREAD.values()) if s.one_sided]
        assert np.abs(np.delete(np.delete(together, one_sided, 0), one_sided, 1)).max() < 0.05
        assert np.abs(together).max() < 0.25  # of what lies to one side only the order was made orthogonal

    def test_what_adds_up_out_of_properties_has_its_middle_and_its_spread(self) -> None:
        """Weights drawn by lot; the sum of many spreads by squares, and the cut at 2.5 takes 1.1 % of each. Engines
        drawn by lot miss the middle by 0.07 of the spread (one over the root of 200).
        """
        two_sided = [k for k, s in enumerate(SPREAD.values()) if not s.one_sided]
        for seed in range(12):
            weights = np.random.default_rng(seed).standard_normal(len(two_sided))
            values = self.numbers(even_population(RIG, 200, seed))[:, two_sided] @ weights
            spread = 0.989 * np.linalg.norm(weights)
            assert values.mean() == pytest.approx(0.0, abs=1e-6 * spread)
            assert values.std() == pytest.approx(spread, rel=0.05)

    def test_few_engines_are_a_population_too(self) -> None:
        assert len({tuple(engine.values()) for engine in even_population(RIG, 4, 50)}) == 4


def test_a_share_of_the_spread_keeps_lesson_cars_ordinary() -> None:
    full, half = individual_engine(RIG, 11), individual_engine(RIG, 11, share=0.5)
    assert half["meter_gain"] - 1.0 == pytest.approx(0.5 * (full["meter_gain"] - 1.0))


def test_a_sheet_survives_being_written_and_read(tmp_path, monkeypatch) -> None:
    sheet = compute_sheet(RIG, members=4, first_seed=50, workers=1)
    path = tmp_path / "R1.json"
    write_sheet(sheet, path)
    assert f'"fingerprint": "{sheet.fingerprint}"' in path.read_text(encoding="utf-8")
    assert path.read_text(encoding="utf-8").count("\n") > 100


class TestWhatMakesABandWide:
    def test_idle_speed_is_wide_because_engines_idle_differently(self) -> None:
        band = band_of(load_rig("R1"), "hot_idle", "rpm")
        assert band is not None and band.causes[0][0] == "idle_target" and band.causes[0][1] > 0.8
        assert "individual engine" in band.why(200)

    def test_barometric_pressure_is_wide_because_of_the_weather(self) -> None:
        band = band_of(load_rig("R2"), "koeo", "baro")
        assert band is not None and band.causes[0][0] == "ambient_pressure"

    def test_shares_of_a_known_sum_come_back(self) -> None:
        chance = np.random.default_rng(0)
        engines = chance.standard_normal((300, 3))
        # Variances 9 and 1: shares 0.9 and 0.1; the third takes no part.
        values = 3.0 * engines[:, 0] + engines[:, 1]
        shares = dict(width_causes(values, Regression(engines).slopes(values), ["a", "b", "c"]))
        assert shares["a"] == pytest.approx(0.9, abs=0.06) and "c" not in shares

    def test_one_sided_limits_lie_inside_the_two_sided(self) -> None:
        assert all(b.low <= b.least <= b.median <= b.most <= b.high for b in load_sheet(load_rig("R4")).bands.values())


class TestOwnValues:
    ENTRY = (
        "- {condition: hot_idle, channel: maf, from: '1.7 g/s', to: '7.2 kg/h', source: 'bench of the school, 12 "
        "March'}"
    )

    def test_are_read_with_their_units_and_source(self) -> None:
        own = parse_own(self.ENTRY)["hot_idle", "maf"]
        assert (own.low, own.high) == (pytest.approx(1.7), pytest.approx(2.0)) and "school" in own.source

    @pytest.mark.parametrize(
        ("text", "words"),
        [
            ("condition: hot_idle", "list"),
            ("- {condition: hot_idle, channel: maf, from: '1.7', to: '2 g/s', source: book}", "unit"),
            ("- {condition: hot_idle, channel: maf, from: '3 g/s', to: '2 g/s', source: book}", "above"),
            ("- {condition: hot idle, channel: maf, from: '1 g/s', to: '2 g/s', source: book}", "condition"),
            ("- {condition: hot_idle, channel: maf, from: '1 g/s', to: '2 g/s'}", "entry 1, source: is missing"),
            ("- [", "YAML"),
        ],
    )
    def test_what_is_wrong_with_them_is_said(self, text: str, words: str) -> None:
        with pytest.raises(BadDocument, match=words):
            parse_own(text)
