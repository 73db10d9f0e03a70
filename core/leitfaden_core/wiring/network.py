"""Any DC circuit: resistors, voltage sources and ideal amplifiers between named nodes, solved by modified nodal
analysis.

``[G B; C D]·[v; i] = [j; e]``: Kirchhoff's current law at every node, one more row for each source (Ho, Ruehli and
Brennan, The modified nodal approach to network analysis, IEEE Trans. Circuits and Systems 22, 1975). Every node leaks a
picosiemens to ground, as real insulation does, so that a floating wire has a voltage as a meter would find it.
"""

from dataclasses import dataclass, field

import numpy as np

from leitfaden_core.errors import UnknownName

GROUND = "battery minus"
LEAK_SIEMENS = 1e-12
#: What a voltmeter puts between its tips, and where an ohmmeter's range ends. [ohm]
VOLTMETER_OHMS = 10e6
OHMMETER_TOP_OHMS = 40e6
#: The same leak for the ohmmeter, which needs the conductances to be invertible in double precision.
OHMMETER_LEAK_SIEMENS = 1e-10


@dataclass
class Network:
    """A circuit under construction; :meth:`solve` gives the voltage of every node against ground."""

    resistors: list[tuple[str, str, float]] = field(default_factory=list)
    sources: list[tuple[str, str, float]] = field(default_factory=list)  # plus, minus, volts
    amplifiers: list[tuple[str, str, str, float]] = field(
        default_factory=list
    )  # output, low, high, share: output = low + share·(high − low)
    currents: list[tuple[str, str, float]] = field(default_factory=list)  # from, to, amps

    def resistor(self, a: str, b: str, ohms: float) -> None:
        """A resistor; below a microohm it is taken as one."""
        self.resistors.append((a, b, max(ohms, 1e-6)))

    def source(self, plus: str, minus: str, volts: float) -> None:
        """An ideal voltage source."""
        self.sources.append((plus, minus, volts))

    def amplifier(self, output: str, low: str, high: str, share: float) -> None:
        """An output held at a share of its own supply:

        ``v_out = v_low + share·(v_high − v_low)``; its current comes from ``high``.
        """
        self.amplifiers.append((output, low, high, share))

    def current(self, start: str, end: str, amps: float) -> None:
        """A current that is driven from one node into another."""
        self.currents.append((start, end, amps))

    def nodes(self) -> list[str]:
        """All nodes but ground, sorted."""
        named: set[str] = set()
        for a, b, _ohms in self.resistors:
            named |= {a, b}
        for plus, minus, _volts in self.sources:
            named |= {plus, minus}
        for output, low, high, _share in self.amplifiers:
            named |= {output, low, high}
        for start, end, _amps in self.currents:
            named |= {start, end}
        return sorted(named - {GROUND})

    def solve(self) -> dict[str, float]:
        """Voltage of every node against ground. [V]"""
        names = self.nodes()
        at = {name: k for k, name in enumerate(names)}
        n, extra = len(names), len(self.sources) + len(self.amplifiers)
        matrix, right = np.zeros((n + extra, n + extra)), np.zeros(n + extra)
        for k in range(n):
            matrix[k, k] += LEAK_SIEMENS
        for a, b, ohms in self.resistors:
            for here, there in ((a, b), (b, a)):
                if here != GROUND:
                    matrix[at[here], at[here]] += 1.0 / ohms
                    if there != GROUND:
                        matrix[at[here], at[there]] -= 1.0 / ohms
        for start, end, amps in self.currents:
            for node, sign in ((start, -1.0), (end, 1.0)):
                if node != GROUND:
                    right[at[node]] += sign * amps
        row = n
        for plus, minus, volts in self.sources:
            for node, sign in ((plus, 1.0), (minus, -1.0)):
                if node != GROUND:
                    matrix[at[node], row] += sign
                    matrix[row, at[node]] += sign
            right[row] = volts
            row += 1
        for output, low, high, share in self.amplifiers:
            for node, factor in ((output, 1.0), (low, share - 1.0), (high, -share)):
                if node != GROUND:
                    matrix[row, at[node]] += factor
            for node, sign in ((output, 1.0), (high, -1.0)):
                if node != GROUND:
                    matrix[at[node], row] += sign
            row += 1
        found = np.linalg.solve(matrix, right)
        return {GROUND: 0.0} | {name: float(found[k]) for name, k in at.items()}

    def _check(self, *nodes: str) -> None:
        for node in nodes:
            if node != GROUND and node not in self.nodes():
                raise UnknownName("pin", node, [GROUND, *self.nodes()])

    def volts(self, red: str, black: str) -> float:
        """What a voltmeter of 10 megohm shows between its tips: it loads the circuit that it measures. [V]"""
        self._check(red, black)
        loaded = Network([*self.resistors, (red, black, VOLTMETER_OHMS)], self.sources, self.amplifiers, self.currents)
        voltages = loaded.solve()
        return voltages[red] - voltages[black]

    def ohms(self, red: str, black: str) -> float | None:
        """What an ohmmeter shows between its tips with all power off; None when it is beyond its range ("open"). [ohm]

        Sources and amplifiers are dead: each is the open end that a switched-off supply is.
        """
        self._check(red, black)
        return self.resistances([(red, black)])[0]

    def resistances(self, pairs: list[tuple[str, str]]) -> list[float | None]:
        """:meth:`ohms` of many pairs at once, from one inverse of the conductances: ``R_ab = Z_aa + Z_bb − 2·Z_ab``."""
        names = self.nodes()
        at = {name: k for k, name in enumerate([*names, GROUND])}
        conductance = np.eye(len(at)) * OHMMETER_LEAK_SIEMENS
        for a, b, ohms in self.resistors:
            i, j = at[a], at[b]
            conductance[i, i] += 1.0 / ohms
            conductance[j, j] += 1.0 / ohms
            conductance[i, j] -= 1.0 / ohms
            conductance[j, i] -= 1.0 / ohms
        z = np.linalg.inv(conductance)
        found = [float(z[at[a], at[a]] + z[at[b], at[b]] - 2.0 * z[at[a], at[b]]) for a, b in pairs]
        return [None if ohms > OHMMETER_TOP_OHMS else max(ohms, 0.0) for ohms in found]
