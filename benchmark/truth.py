"""How often the judge and the diagnosis are right, promised against got, on engines and vehicles of their own seeds:
``./leitfaden bench --truth``.

Nothing here looks at a test's own numbers: fresh engines are simulated, faults are drawn, and what the judge says of
their readings is counted. Intervals are Wilson's, of 95 %.
"""

import argparse
import json
import sys
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from multiprocessing import get_context
from typing import Any

from benchmark.readings import any_readings, single_readings, sound_engines
from benchmark.vehicles import hidden_vehicles, sound_vehicles, statements, two_fault_vehicles
from leitfaden_core.diagnose import table
from leitfaden_core.rigs import load_rig, rig_ids


def main() -> None:
    """All figures; ``--count`` scales the numbers of engines and vehicles."""
    parser = argparse.ArgumentParser(prog="leitfaden bench --truth")
    parser.add_argument("--count", type=float, default=1.0, help="share of the full numbers: 1 takes an hour or two")
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--only", choices=("sound", "single", "any", "hidden", "nothing", "said", "two"))
    options = parser.parse_args([name for name in sys.argv[1:] if name != "--truth"])
    share = options.count
    parts: dict[str, Callable[[Any], list[dict[str, Any]]]] = {
        "sound": lambda pool: sound_engines(max(round(100 * share), 4), pool),
        "single": lambda pool: single_readings(max(round(120 * share), 10), pool),
        "any": lambda pool: any_readings(max(round(12 * share), 2), pool),
        "hidden": lambda pool: hidden_vehicles(max(round(1000 * share), 6), pool),
        "nothing": lambda pool: sound_vehicles(max(round(600 * share), 6), pool),
        "said": lambda pool: statements(max(round(1800 * share), 6), pool),
        "two": lambda pool: two_fault_vehicles(max(round(120 * share), 6), pool),
    }
    for name in rig_ids():
        table(load_rig(name), workers=1)
    with ProcessPoolExecutor(2, mp_context=get_context("fork")) as pool:
        for part, figures in parts.items():
            if options.only in {None, part}:
                _show(figures(pool), options.json)


def _show(rows: list[dict[str, Any]], as_json: bool) -> None:
    if as_json:
        print("\n".join(json.dumps(entry) for entry in rows), flush=True)
        return
    for entry in rows:
        vehicles = f" of {entry['vehicles']} vehicles" if "vehicles" in entry else ""
        got = f"{entry['got_percent']:5.1f} % ({entry['from']:.1f} to {entry['to']:.1f} %, of {entry['of']}{vehicles})"
        print(f"{entry['what'][:96]:96}  promised {entry['promised']:18}  got {got}", flush=True)


if __name__ == "__main__":
    main()
