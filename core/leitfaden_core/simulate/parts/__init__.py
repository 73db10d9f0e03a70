"""The parts of a vehicle: each file declares the numbers of its part and the steps that change them.

What a step may touch stands in its signature: the records of the parts that it reads or changes, by their names in
:mod:`leitfaden_core.simulate.state`.
"""
