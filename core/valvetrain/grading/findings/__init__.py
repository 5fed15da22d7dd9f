"""Why figures are wrong: explanations of a sheet, each against ordinary scatter.

`explain(case)` gives the findings of one sheet, likeliest first; `copied_pairs(cases)` compares
the sheets of a class.
"""

from valvetrain.grading.findings.columns import explain_columns
from valvetrain.grading.findings.copied import Pair, copied_pairs
from valvetrain.grading.findings.kinds import WRITING_SLIPS, Kind
from valvetrain.grading.findings.lines import explain_lines
from valvetrain.grading.findings.model import Case, Finding, KeyGap, Reference, Scatter
from valvetrain.grading.findings.whole import explain_whole

__all__ = [
    "WRITING_SLIPS",
    "Case",
    "Finding",
    "KeyGap",
    "Kind",
    "Pair",
    "Reference",
    "Scatter",
    "copied_pairs",
    "explain",
]


def explain(case: Case) -> list[Finding]:
    """Every explanation that is clearly better than ordinary scatter, likeliest first."""
    found = explain_columns(case)
    if case.read:
        based = explain_whole(case)
        if based.finding is not None:
            found.append(based.finding)
        found += explain_lines(case, based)
    return sorted(found, key=lambda finding: -finding.log_odds)
