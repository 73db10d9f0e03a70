"""A generator of requests from valid documents with hostile leaves: every kind of station, fault and onset, and the
values that break servers.
"""

import copy
import random
from collections.abc import Iterator
from typing import Any

from leitfaden_core.atlas import myths
from leitfaden_core.channels import CHANNELS
from leitfaden_core.faults import ONSETS, fault_kinds, offered_on
from leitfaden_core.lessons.kinds import KINDS
from leitfaden_core.rigs import Rig, load_rig, rig_channels, rig_ids
from leitfaden_core.scripts import CONDITIONS, Script, load_script, script_ids
from leitfaden_core.workings import workings

HOSTILE: list[Any] = [
    *(None, True, False, 0, -1, 1, 2**31, 2**63, -(2**63), 1e-300, 1e300, 5e-324, -0.0, 0.02, 3600.5),
    *(
        "",
        " ",
        "R1",
        "\u202e",
        "é" * 80,
        "x" * 5000,
        "../../etc/passwd",
        "<script>alert(1)</script>",
        "'; drop table x; --",
        "{{7*7}}",
        "%s%n",
    ),
    *(
        "=1+1",
        "\\",
        "$\\frac{1$",
        "null",
        "NaN",
        "1e309",
        [],
        {},
        [[]],
        [None],
        {"kind": None},
        {"": ""},
        [1] * 100,
        {"a": {"b": {"c": []}}},
    ),
]


#: Kinds of requests; those that only store come more often, since they take no time.
WEIGHTED = [
    *("bench", "station", "check", "publish"),
    *("draft", "create", "answer") * 4,
    *("rules", "people", "settings") * 2,
]


class Hostile:
    """Requests drawn from a seed."""

    def __init__(self, seed: int) -> None:
        self.chance = random.Random(seed)

    def pick(self, values: Any) -> Any:
        return self.chance.choice(list(values))

    def fault(self, rig: Rig) -> dict[str, Any]:
        """A fault that the engine can have, now and then any, at a size within its range, often at its end, with any
        onset.
        """
        offered = offered_on(rig)
        kind = fault_kinds.get(self.pick(offered)) if self.chance.random() < 0.95 else self.pick(fault_kinds)
        params: dict[str, Any] = {}
        for parameter in kind.parameters:
            if parameter.choices:
                params[parameter.id] = self.pick(offered.get(kind.id, {}).get(parameter.id) or parameter.choices)
            elif self.chance.random() < 0.65:
                allowed = parameter.range_for(params)
                params[parameter.id] = self.pick(
                    [allowed.low, allowed.high, self.chance.uniform(allowed.low, allowed.high)]
                )
        mode = self.pick(ONSETS.values())
        numbers = {n.id: self.pick([n.low, n.high, n.start]) for n in mode.numbers}
        return {"kind": kind.id, "params": params, "onset": {"mode": mode.id, **numbers}}

    def channel(self, rig: Rig) -> str:
        """A channel of the engine; rarely one that it does not have."""
        return str(self.pick(rig_channels(rig) if self.chance.random() < 0.99 else CHANNELS))

    def reading(self, rig: Rig, script: Script) -> dict[str, Any]:
        """A place where a value may be read."""
        stat = self.pick(["mean", "mean", "mean", "min", "max"])
        return {"condition": self.pick(script.conditions() or CONDITIONS), "channel": self.channel(rig), "stat": stat}

    def station(self, number: int, rig: Rig, script: Script) -> dict[str, Any]:
        """A station of any kind."""
        base = {
            "id": f"s-{number}",
            "title": "A station",
            "text": self.pick(["", "Words with $x^2$.", "$" * 99, "> " * 99]),
            "given_if": self.pick([None, None, {"station": "s-0", "percent": self.pick([1, 60, 100])}]),
        }
        kind = self.pick([*KINDS, "explain", "show", "measure", "judge"])
        parts: dict[str, Any] = {
            "explain": {"drawing": self.pick(["none", "narrowband", "wideband"])},
            "show": {
                "channels": [self.channel(rig) for _ in range(self.chance.randint(1, 8))],
                "show_good": True,
                "focus": None,
            },
            "measure": {"reading": self.reading(rig, script), "tolerance_percent": self.pick([0.5, 5, 50])},
            "judge": {
                "pool": [self.reading(rig, script) for _ in range(self.chance.randint(1, 6))],
                "count": self.chance.randint(1, 12),
            },
            "conclude": {
                "readings": [self.reading(rig, script) for _ in range(2)],
                "causes": [self.pick([None, self.fault(rig)]) for _ in range(self.chance.randint(2, 4))],
            },
            "myth": {
                "myths": [self.pick(myths()) for _ in range(self.chance.randint(1, 5))],
                "count": self.pick([1, 4, 10]),
            },
            "predict": {"readings": [self.reading(rig, script) for _ in range(self.chance.randint(1, 4))]},
            "calculate": {
                "working": self.pick(workings.ids()),
                "condition": self.pick(script.conditions() or CONDITIONS),
                "given": self.pick([{}, {}, {}, {"x": "1"}]),
            },
            "separate": {
                "causes": [self.fault(rig), self.fault(rig)],
                "tests": self.pick([["look.fuel", "codes"], ["codes", "meter.grounds", "wiggle"]]),
            },
            "order": {
                "causes": [self.fault(rig) for _ in range(self.chance.randint(2, 3))],
                "tests": ["codes", "meter.grounds", self.pick(["wiggle", "look.fuel", "scan.hot_idle.trims"])],
            },
            "verify": {
                "complaint": self.pick(script.conditions() or CONDITIONS),
                "readings": [self.reading(rig, script) for _ in range(self.chance.randint(1, 4))],
            },
            "match": {"readings": [self.reading(rig, script) for _ in range(3)], "faulty": self.pick([True, False])},
            "procedure": {"piece": self.pick(["seized_sensor", "live_leads", "meter_element"])},
            "own": {"readings": [self.reading(rig, script)], "error_percent": self.pick([0, 2, 20])},
            "reflect": {"words": self.pick([0, 5, 200])},
            "live": {
                "channels": self.pick([["rpm"], ["rpm", "ect"], [self.channel(rig)]]),
                "hands": self.pick([[], ["hoses"], ["plugs", "parts", "memory"]]),
                "instruments": self.pick([[], ["multimeter"], ["smoke_generator", "scan_tool"]]),
                "readings": [self.reading(rig, script) for _ in range(self.chance.randint(0, 3))],
            },
            "sketch": {"place": self.reading(rig, script), "tell_fault": self.pick([True, False])},
            "sheet": {
                "readings": [self.reading(rig, script) for _ in range(self.chance.randint(2, 5))],
                "engines": self.pick([1, 2, 4]),
            },
            "plates": {"plates": [self.pick(["tip_soot", "tip_oil", "hose_off", "x"]) for _ in range(3)]},
            "pins": {"wire": self.pick(["ect", "front", "maf", "purge", "map", "x"])},
        }[kind]
        return base | {"kind": kind} | parts

    def lesson(self) -> dict[str, Any]:
        """A whole lesson; most are refused since some reading does not exist on that engine, many are not."""
        rig, script = load_rig(self.pick(rig_ids())), load_script(self.pick(script_ids()))
        return {
            "title": "Hostile",
            "rig": rig.id,
            "script": script.id,
            "faults": [self.fault(rig) for _ in range(self.chance.randint(0, 2))],
            "stations": [self.station(k, rig, script) for k in range(self.chance.randint(1, 4))],
        }

    def spoiled(self, document: Any) -> Any:
        """The document with one to three leaves or branches replaced, removed, doubled or added."""
        spoiled = copy.deepcopy(document)
        for _ in range(self.chance.randint(1, 3)):
            place, name = self.pick(list(_places(spoiled)) or [(spoiled, None)])
            if name is None:
                continue
            act = self.chance.random()
            if act < 0.75:
                place[name] = copy.deepcopy(self.pick(HOSTILE))
            elif act < 0.85:
                del place[name]
            elif isinstance(place, list):
                place.append(copy.deepcopy(place[name]))
            else:
                place[f"{name}_"] = copy.deepcopy(self.pick(HOSTILE))
        return spoiled

    def answer(self) -> dict[str, Any]:
        """An answer of a learner, right in shape or not."""
        return self.pick(
            [
                {"seen": True},
                {"order": self.pick([[], ["0", "1", "2"], ["2", "2", "2"]])},
                {"state": self.pick(["mended", "no", None])},
                {"values": self.pick([[], ["0", "1", "2"], [None, "9", "x"]])},
                {"typed": [self.pick(["1 kPa", "", "x"])], "noticed": self.pick(["it hunts", ""])},
                {"drawn": [self.pick([0.0, 1e9, None]) for _ in range(13)]},
                {"engines": [{"kind": "sheet", "verdict": self.pick(["sound", "faulty"]), "tells": 0}], "why": "x"},
                {"roles": [self.pick(["signal", "x", None]) for _ in range(3)]},
                {"heeded": self.pick([True, False]), "done": {"1": self.pick(["0", "9", ""])}},
                {"readings": [{"kind": "own", "value": self.pick(["1 kPa", "x", ""]), "verdict": "good"}]},
                {
                    "reading": self.pick(
                        ["12.5 %", "NaN %", "1e999 kPa", "٣ %", "%", "−5 %", "0x10 V", "12,5 %", "9" * 60]
                    )
                },
                {"verdicts": [self.pick(["good", "suspect", "faulty", "not_decidable", None, "x"]) for _ in range(6)]},
                {"cause": self.pick(["0", "1", "99", "-1", "٣"])},
            ]
        )

    def request(self, lesson: int, attempt: int, revision: int) -> tuple[str, str, Any]:
        """Method, path and body of one request as somebody might send it."""
        document = self.lesson()
        if self.chance.random() < 0.8:
            document = self.spoiled(document)
        kind = self.pick(WEIGHTED)
        station = self.pick([0, 0, 1, 2, 40, -1])
        rig = load_rig(self.pick(rig_ids()))
        bench = {
            "rig": rig.id,
            "script": self.pick(script_ids()),
            "channels": [self.channel(rig)],
            "faults": [self.fault(rig)],
        }
        made: dict[str, tuple[str, str, Any]] = {
            "bench": ("post", "/api/bench/run", self.spoiled(bench) if self.chance.random() < 0.7 else bench),
            "station": (
                "post",
                "/api/preview/station",
                {"document": document, "station": station, "seed": self.pick([0, 1, 2**31 - 1])},
            ),
            "check": ("post", "/api/preview/check", {"document": document}),
            "draft": ("put", f"/api/lessons/{lesson}/draft", {"revision": revision, "document": document}),
            "create": ("post", "/api/lessons", {"document": document}),
            "answer": ("post", f"/api/attempts/{attempt}/stations/{max(station, 0)}/answer", {"answer": self.answer()}),
            "rules": ("put", "/api/rules", self.spoiled({"number": 1, "values": {"trim_good": 5.0}, "note": ""})),
            "people": ("post", "/api/people", self.spoiled({"people": [{"username": "a-b.c", "role": "learner"}]})),
            "settings": ("patch", "/api/session", self.spoiled({"units": "metric"})),
            "publish": ("post", f"/api/lessons/{lesson}/publish", self.spoiled({"learners": []})),
        }
        return made[kind]


def _places(data: Any) -> Iterator[tuple[Any, Any]]:
    """Every place in a document that can hold a value."""
    names: Any = list(data) if isinstance(data, dict) else range(len(data)) if isinstance(data, list) else []
    for name in names:
        yield data, name
        yield from _places(data[name])
