"""The rules of the job and its computation: engine, sensors, control unit, faults, bands, verdicts and lessons.

Nothing in here knows a web server, a database or a screen; every part runs from a shell.
"""

__version__ = "0.2.0"
