"""Speed figures: the simulator, alone and against C, the way from a changed fault to new lanes, the size of the first
page, memory.
"""

import gzip
import json
import os
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from http import HTTPStatus
from tempfile import TemporaryDirectory
from typing import Any
from unittest import mock

import numpy as np
from benchmark.loop import against_c
from django.conf import settings
from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction
from django.test import Client, override_settings

from demo.figures import lessons
from leitfaden_core import __version__
from leitfaden_core.diagnose import Taken, candidates, next_tests, table, test_of
from leitfaden_core.diagnose.table import SOUND, Subject, compute_readings
from leitfaden_core.expect import compute_sheet, load_sheet
from leitfaden_core.faults import parse_fault
from leitfaden_core.judge import weigh_reading
from leitfaden_core.rigs import load_rig
from leitfaden_core.scripts import load_script
from leitfaden_core.simulate import warm_up_compiler
from leitfaden_core.simulate.layout import LTFT_CELLS
from leitfaden_core.simulate.run import run_script
from people.models import Membership, Role, School, User

ROUNDS, EDITS = 7, 25
#: Edits before those that count: as many as a process keeps runs, until when each asks for memory that nobody has
#: touched before. On a virtual machine that alone takes up to half as long as the drive.
NEW_MEMORY = 13
CHANNELS = ["rpm", "maf", "total_trim", "ho2s_b1s1_v"]


def _seconds(work: Callable[[], Any]) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def simulation_speed() -> dict[str, float]:
    """Simulated seconds per wall second, one thread, after warm-up; median and best of several runs."""
    rig, script = load_rig("R1"), load_script("workshop_day")
    leak, memory = [parse_fault("manifold_vacuum_leak")], np.full(2 * LTFT_CELLS, 0.02)
    times = [_seconds(lambda: run_script(rig, script, leak, 1, None, memory)) for _ in range(ROUNDS)]
    return {
        "script_s": round(script.seconds, 1),
        "median_x_real_time": round(script.seconds / statistics.median(times)),
        "best_x_real_time": round(script.seconds / min(times)),
    }


def first_call() -> dict[str, float]:
    """Seconds from a new process to its first simulated drive, with the compiler's cache as set-up left it."""
    code = "from leitfaden_core.simulate import warm_up_compiler; warm_up_compiler()"
    return {"seconds": round(_seconds(lambda: subprocess.run([sys.executable, "-c", code], check=True)), 2)}


#: A case: so many causes, of the most common ones of a rig.
CASE_CAUSES = 40


def judgement() -> dict[str, float]:
    """Value sheet from the store and cold, one verdict, the table of a case cold and warm, the ranking of the next
    test.
    """
    rig = load_rig("R1")
    load_sheet.cache_clear()
    figures = {"sheet_from_store_s": _seconds(lambda: load_sheet(rig))}
    figures["sheet_of_200_cold_s"] = _seconds(lambda: compute_sheet(rig, first_seed=77_000))
    common = sorted(candidates(rig)[1:], key=lambda cause: -cause.prior)[:CASE_CAUSES]
    subjects = [*SOUND, *(Subject((spec,)) for cause in common for spec in cause.sizes)]
    with (
        TemporaryDirectory() as empty,
        mock.patch.dict(os.environ, {"LEITFADEN_CACHE": empty}),
        mock.patch("leitfaden_core.diagnose.table._shipped", lambda rig: {}),
    ):
        figures["table_of_a_case_cold_s"] = _seconds(lambda: compute_readings(rig, subjects))
        figures["table_of_a_case_from_store_s"] = _seconds(lambda: compute_readings(rig, subjects))
        causes = table(rig, only=tuple(cause.id for cause in common))
    taken = [Taken("codes", tuple(0.0 for _ in test_of(rig, "codes").outcomes))]
    rankings = sorted(_seconds(lambda: next_tests(causes, taken)) for _ in range(ROUNDS))
    verdicts = sorted(_seconds(lambda: weigh_reading(causes, "hot_idle", "maf", 1.6)) for _ in range(4 * ROUNDS))
    figures |= {
        "next_test_ms": 1000.0 * statistics.median(rankings),
        "verdict_ms": 1000.0 * statistics.median(verdicts),
    }
    return {name: round(value, 3) for name, value in figures.items()} | {
        "causes": len(common),
        "vehicles": len(subjects),
    }


def memory() -> dict[str, float]:
    """Largest memory of this process, after everything else was measured."""
    return {"peak_MB": round(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024.0)}


def edit_to_lanes() -> dict[str, float]:
    """Milliseconds from a changed fault size to the answered lanes, through the whole server; every size is new,
    nothing is remembered. Beside it how many bare drives of the same length that is, each driven just before its edit:
    a machine whose speed changes by the minute changes both. The first edits of a process stand apart.

    Works as a trainer of a school that exists only inside a transaction, which is taken back at the end.
    """
    times, drives = [], []
    rig, script, memory = load_rig("R1"), load_script("workshop_day"), np.full(2 * LTFT_CELLS, 0.02)
    # Without the queue: what a worker does and what the server makes of it, in one process.
    with override_settings(JOBS_INLINE=True), transaction.atomic():
        trainer = User.objects.create_user("bench-trainer")
        Membership.objects.create(user=trainer, school=School.objects.create(name="Bench"), role=Role.TRAINER)
        client = Client(headers={"Accept-Encoding": "gzip"})  # as every browser does
        client.force_login(trainer)
        for k in range(NEW_MEMORY + EDITS):
            fault = {"kind": "manifold_vacuum_leak", "params": {"area_mm2": round(1.0 + 0.07 * k, 3)}}
            drives.append(1000.0 * _seconds(lambda: run_script(rig, script, [], 1, None, memory)))
            start = time.perf_counter()
            answer = client.post(
                "/api/bench/run",
                {"faults": [fault], "channels": CHANNELS, "good": k == 0},  # as the page asks: once for the sound one
                content_type="application/json",
            )
            times.append(1000.0 * (time.perf_counter() - start))
            if answer.status_code != HTTPStatus.OK:
                raise CommandError(f"the bench run was refused: {answer.content.decode()[:200]}")
        transaction.set_rollback(True)
    later, ordered = slice(NEW_MEMORY, None), sorted(times[NEW_MEMORY:])
    in_drives = [edit / drive for edit, drive in zip(times[later], drives[later], strict=True)]
    return {
        "median_ms": round(statistics.median(ordered)),
        "p95_ms": round(ordered[int(0.95 * (len(ordered) - 1))]),
        "in_drives": round(statistics.median(in_drives), 2),
        "edits": len(ordered),
        "first_median_ms": round(statistics.median(times[1:NEW_MEMORY])),
    }


#: What the router loads for somebody who is not signed in.
FIRST_PAGE = ("index.html", "src/features/session/SignInPage.vue")


def first_page() -> dict[str, float]:
    """Compressed size of all scripts and styles that the first page loads, those that it imports later included."""
    manifest = json.loads((settings.WEB_DIST / ".vite" / "manifest.json").read_text(encoding="utf-8"))
    wanted, files = list(FIRST_PAGE), set()
    while wanted:
        entry = manifest[wanted.pop()]
        if entry["file"] in files:
            continue
        files |= {entry["file"], *entry.get("css", [])}
        wanted += entry.get("imports", [])
    sizes = {"script_kB": 0.0, "style_kB": 0.0}
    for name in files:
        sizes["script_kB" if name.endswith(".js") else "style_kB"] += (
            len(gzip.compress((settings.WEB_DIST / name).read_bytes(), 6)) / 1000.0
        )
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
        call_command("migrate", verbosity=0, interactive=False)
        figures: dict[str, Any] = {
            "core": __version__,
            "simulation": simulation_speed(),
            "rigs": against_c(),
            "first_call": first_call(),
        }
        figures |= {
            "edit_to_lanes": edit_to_lanes(),
            "first_page": first_page(),
            "judgement": judgement(),
            "lessons": lessons(),
            "memory": memory(),
        }
        if options["json"]:
            self.stdout.write(json.dumps(figures, indent=1))
            return
        aims = {
            "simulation": "aim: over 1500 x real time",
            "rigs": "aim: each over 1500 x real time, ratio to the same loop in C at least 0.75",
            "first_call": "aim: under 2 s",
            "memory": "aim: under 400 MB, with judgement 500 MB",
            "judgement": (
                "aim: sheet 35 s cold, 0.2 s stored; verdict 5 ms; case of 40 causes 30 s cold, 0.2 s stored; "
                "next test 50 ms"
            ),
            "lessons": (
                "aim: proposal under 5 s, checks 2 s, changed station p95 300 ms, package 2 s, a drill's item "
                "150 ms (prepared ahead)"
            ),
            "edit_to_lanes": "aim: p95 under 180 ms",
            "first_page": "aim: scripts under 400 kB",
        }
        for name, aim in aims.items():
            self.stdout.write(f"{name:<14} {figures[name]}   {aim}")
