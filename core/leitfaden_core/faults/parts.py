"""Parts of an engine: one name for each."""

#: How the vocabulary of sensors, wires and wrong parts calls a part -> its one name.
PARTS = {
    **dict.fromkeys(("map", "map_sensor"), "MAP sensor"),
    **dict.fromkeys(("charge", "charge_sensor"), "charge pressure sensor"),
    **dict.fromkeys(("maf", "maf_housing"), "airflow meter"),
    **dict.fromkeys(("iat", "iat_sensor"), "IAT sensor"),
    **dict.fromkeys(("ect", "ect_sensor"), "ECT sensor"),
    "ambient": "ambient pressure sensor",
    "rail": "rail pressure sensor",
    "dpf_dp": "filter sensor",
    "egt_1": "exhaust temperature sensor 1",
    "egt_2": "exhaust temperature sensor 2",
    **dict.fromkeys(("b1s1", "ho2s_b1s1"), "front oxygen sensor"),
    **dict.fromkeys(("b1s2", "ho2s_b1s2"), "rear oxygen sensor"),
    "wideband": "wideband sensor",
    "dpf": "particle filter",
}


def part_called(name: str) -> str:
    """The one name of a part, from any of the names that vocabularies have for it.

    >>> part_called("map_sensor"), part_called("map"), part_called("thermostat")
    ('MAP sensor', 'MAP sensor', 'thermostat')
    """
    return PARTS.get(name, name)
