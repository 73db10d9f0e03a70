"""Mean-value engine model: air path, fuel, torque, exhaust, heat.

Scalar functions in SI units, compiled where the simulator calls them.
"""
