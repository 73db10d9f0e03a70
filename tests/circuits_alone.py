"""Which codes belong to which signal wire: what a broken or shorted one may set, and nothing else."""

#: Wire -> codes of its circuit, one of which is due.
OWN = {
    "maf": {"P0102", "P0103"},
    "map": {"P0107", "P0108"},
    "charge": {"P0237", "P0238"},
    "ambient": {"P2228", "P2229"},
    "tp": {"P0122", "P0123", "P2135"},
    "iat": {"P0112", "P0113"},
    "ect": {"P0117", "P0118"},
    "egt_1": {"P0545", "P0546"},
    "egt_2": {"P2032", "P2033"},
    "front": {"P0131", "P0132", "P0134"},
    "front2": {"P0151", "P0152", "P0154"},
    "rear": {"P0137", "P0138", "P0140"},
    "wideband": {"P2237", "P2238", "P2239"},
    "rail": {"P0192", "P0193"},
    "dpf_dp": {"P2454", "P2455"},
    "egr": {"P0405", "P0406"},
    "egr_dp": {"P0405", "P0406"},
    "app": {"P2122", "P2123", "P2138"},
}
KINDS = ("signal_open", "signal_short_to_ground", "signal_short_to_5v", "signal_short_to_battery")
