"""Speed figures: the simulator, the way from a changed fault to new lanes, the size of the first page."""

import gzip
import json
import re
import statistics
import time
from collections.abc import Callable
from typing import Any

import numpy as np
from django.conf import settings
from django.core.management.base import BaseCommand
from django.test import RequestFactory

from accounts.models import Membership, School, User
from leitfaden_core import __version__
from leitfaden_core.faults import parse_fault
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import warm_up_compiler
from leitfaden_core.simulate.plan import make_plan
from leitfaden_core.simulate.run import run_plan
from library import api, schemas

ROUNDS, EDITS = 7, 25
CHANNELS = ["rpm", "maf", "total_trim", "ho2s_b1s1_v"]


def _seconds(work: Callable[[], Any]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def simulation_speed() -> dict[str, float]:
    """Simulated seconds per wall second, one thread, after warm-up; median and best of several runs."""
    rig, script = load_rig("R1"), load_script("workshop_day")
    plan = make_plan(rig, script, [parse_fault("manifold_vacuum_leak")], 1)
    memory = np.full(4, 0.02)
    times = [_seconds(lambda: run_plan(plan, memory)) for _ in range(ROUNDS)]
    return {"script_s": round(script.seconds, 1), "median_x_real_time": round(script.seconds / statistics.median(times)), "best_x_real_time": round(script.seconds / min(times))}


def edit_to_lanes() -> dict[str, float]:
    """Milliseconds from a changed fault size to the serialised lanes, every size new, nothing remembered."""
    member = Membership(user=User(username="bench"), school=School(name="bench"), role="trainer")
    request = RequestFactory().post("/api/bench/run")
    request.member = member  # type: ignore[attr-defined]
    view = api.bench_run.__wrapped__
    times = []
    for k in range(EDITS):
        payload = schemas.BenchIn(faults=[{"kind": "manifold_vacuum_leak", "params": {"area_mm2": 1.0 + 0.07 * k}}], channels=CHANNELS)
        times.append(1000.0 * _seconds(lambda payload=payload: view(request, payload)))  # type: ignore[misc]
    ordered = sorted(times[1:])
    return {"median_ms": round(statistics.median(ordered)), "p95_ms": round(ordered[int(0.95 * (len(ordered) - 1))]), "edits": len(ordered)}


def first_page() -> dict[str, float]:
    """Compressed size of the scripts and styles that the first page asks for."""
    page = (settings.WEB_DIST / "index.html").read_text(encoding="utf-8")
    sizes = {"script_kB": 0.0, "style_kB": 0.0}
    for address in re.findall(r'(?:src|href)="/static/([^"]+\.(?:js|css))"', page):
        packed = len(gzip.compress((settings.WEB_DIST / address).read_bytes(), 6)) / 1000.0
        sizes["script_kB" if address.endswith(".js") else "style_kB"] += packed
    return {name: round(size, 1) for name, size in sizes.items()}


class Command(BaseCommand):
    """bench [--json]."""

    help = "Speed figures"

    def add_arguments(self, parser: Any) -> None:
        """Output form."""
        parser.add_argument("--json", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        """Measure and print."""
        warm_up_compiler()
        figures = {"core": __version__, "simulation": simulation_speed(), "edit_to_lanes": edit_to_lanes(), "first_page": first_page()}
        if options["json"]:
            self.stdout.write(json.dumps(figures, indent=1))
            return
        aims = {"simulation": "aim: over 1500 x real time", "edit_to_lanes": "aim: p95 under 250 ms", "first_page": "aim: scripts under 400 kB"}
        for name, aim in aims.items():
            self.stdout.write(f"{name:<14} {figures[name]}   {aim}")
