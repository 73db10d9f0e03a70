"""Verdicts: what a reading, a signal or a relation means in the condition in which it was taken."""

from leitfaden_core.judge.complaint import after_complaint
from leitfaden_core.judge.lanes import LaneVerdict, judge_lanes
from leitfaden_core.judge.relations import RelationRules, RelationVerdict, Seen, check_relations
from leitfaden_core.judge.rules import RULES, Rule, RuleBook
from leitfaden_core.judge.signature import Departure, Row, by_sight, matrix, signature
from leitfaden_core.judge.smallest import Told, smallest_sizes
from leitfaden_core.judge.steps import Cell, Column, leak_places, trim_steps
from leitfaden_core.judge.symptoms import (
    STATES,
    Cause,
    Noticed,
    Symptom,
    causes_of,
    noticed,
    symptom_table,
    symptoms,
    told_symptom,
)
from leitfaden_core.judge.traces import Finding, OxygenLimits, catches, drop_outs, moves_with, narrowband_findings
from leitfaden_core.judge.verdict import (
    ALARMS,
    ANSWERS,
    Reading,
    SchoolRules,
    ServiceBand,
    Verdict,
    VerdictKind,
    judge_reading,
    judge_together,
    no_meaning,
    reading_scale,
)
from leitfaden_core.judge.weighing import PRECONDITIONS, Alternative, Weighed, weigh_reading

__all__ = [
    "after_complaint",
    "ALARMS",
    "ANSWERS",
    "Alternative",
    "Reading",
    "judge_together",
    "LaneVerdict",
    "judge_lanes",
    "PRECONDITIONS",
    "RULES",
    "STATES",
    "Cause",
    "Departure",
    "Finding",
    "OxygenLimits",
    "Noticed",
    "RelationRules",
    "RelationVerdict",
    "Row",
    "Rule",
    "RuleBook",
    "SchoolRules",
    "ServiceBand",
    "Seen",
    "Symptom",
    "Verdict",
    "VerdictKind",
    "Weighed",
    "catches",
    "causes_of",
    "check_relations",
    "drop_outs",
    "judge_reading",
    "matrix",
    "moves_with",
    "narrowband_findings",
    "no_meaning",
    "noticed",
    "reading_scale",
    "Cell",
    "Column",
    "Told",
    "by_sight",
    "leak_places",
    "signature",
    "smallest_sizes",
    "trim_steps",
    "symptom_table",
    "symptoms",
    "told_symptom",
    "weigh_reading",
]
