"""Verdicts: what a reading means in the condition in which it was taken."""

from leitfaden_core.judge.verdict import SchoolRules, Verdict, VerdictKind, judge_reading, no_meaning, reading_scale

__all__ = ["SchoolRules", "Verdict", "VerdictKind", "judge_reading", "no_meaning", "reading_scale"]
