"""Lessons of a school: drafts, versions, previews."""
