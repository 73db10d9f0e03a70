"""One module per group of faults; importing this package registers them all."""

from leitfaden_core.faults.kinds import (
    air_path,
    airflow_meter,
    circuit,
    fuel,
    mechanical,
    oxygen,
    position,
    pressure,
    recirculation,
    temperature,
    turbo,
    wrong_part,
)

__all__ = [
    "air_path",
    "airflow_meter",
    "circuit",
    "fuel",
    "mechanical",
    "oxygen",
    "position",
    "pressure",
    "recirculation",
    "temperature",
    "turbo",
    "wrong_part",
]
