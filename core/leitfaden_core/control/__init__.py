"""The control unit: fuelling with trims, idle control, substitution.

It acts on what it believes, never on what is true.
"""
