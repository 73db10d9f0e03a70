"""Drills: many short items at the size that a learner just finds."""
