"""From evidence to cause: candidates, tests, what each would show, what is likely now, what to do next, and when it is
proven.
"""

from leitfaden_core.diagnose.candidates import HISTORY, VICTIMS, Candidate, candidate_of, candidates
from leitfaden_core.diagnose.chains import consequences_of, origins_of
from leitfaden_core.diagnose.costs import minutes_now
from leitfaden_core.diagnose.evidence import Ranked, Taken, posterior, ranked, ruled_out
from leitfaden_core.diagnose.fit import Unexplained, unexplained
from leitfaden_core.diagnose.hidden import hidden_vehicle
from leitfaden_core.diagnose.pairs import with_pairs
from leitfaden_core.diagnose.policy import Way, repaired, until_nothing_is_left, way_of_a_technician
from leitfaden_core.diagnose.procedures import DiagnosticTest, test_of, tests_of
from leitfaden_core.diagnose.proof import LIKELY, Standing, proving_tests, standing
from leitfaden_core.diagnose.ranking import LookAlike, Proposal, look_alikes, next_tests
from leitfaden_core.diagnose.table import Table, table
from leitfaden_core.diagnose.taking import all_shown, take

__all__ = [
    "Unexplained",
    "Way",
    "minutes_now",
    "repaired",
    "unexplained",
    "until_nothing_is_left",
    "way_of_a_technician",
    "HISTORY",
    "LIKELY",
    "VICTIMS",
    "Candidate",
    "LookAlike",
    "Proposal",
    "Ranked",
    "Standing",
    "Table",
    "Taken",
    "DiagnosticTest",
    "all_shown",
    "candidate_of",
    "candidates",
    "consequences_of",
    "hidden_vehicle",
    "look_alikes",
    "next_tests",
    "origins_of",
    "posterior",
    "proving_tests",
    "ranked",
    "ruled_out",
    "standing",
    "table",
    "take",
    "test_of",
    "tests_of",
    "with_pairs",
]
