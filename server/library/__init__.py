"""Lessons with their drafts and published versions; the bench."""
