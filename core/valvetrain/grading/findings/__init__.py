"""Why figures are wrong: explanations of a sheet, each against ordinary scatter.

`explain(case)` gives the findings of one sheet, likeliest first; `copied_pairs(cases)` compares
the sheets of a class.
"""

from valvetrain.grading.findings.columns import explain_columns
from valvetrain.grading.findings.copied import Pair, copied_pairs
from valvetrain.grading.findings.kinds import NOT_THE_HAND, WRITING_SLIPS, Kind
from valvetrain.grading.findings.learned import learn
from valvetrain.grading.findings.lines import explain_lines
from valvetrain.grading.findings.model import Case, Finding, KeyGap, Reference, Scatter
from valvetrain.grading.findings.places import explain_places
from valvetrain.grading.findings.whole import explain_whole

__all__ = [
    "NOT_THE_HAND",
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
    "learn",
]


def explain(case: Case) -> list[Finding]:
    """Every explanation that is clearly better than ordinary scatter, likeliest first."""
    found = [*explain_columns(case), *_of_the_figures(case)]
    return sorted(found, key=lambda finding: -finding.log_odds)


def _of_the_figures(case: Case) -> list[Finding]:
    """Explanations compete: where the crank stood is told where it explains more than what may have
    been done to the whole sheet or to single figures; what it explains nothing else is said of."""
    elsewhere = explain_places(case)
    told = _as_written(case)
    if elsewhere is None:
        return told
    own = set(elsewhere.valves)
    rivals = [one for one in told if own & set(one.valves)]
    apart = sum(one.log_odds for one in rivals)
    if apart >= elsewhere.log_odds:
        # Each of the figures' own explanations has the place for its rival.
        return [
            one.beside(elsewhere.kind, elsewhere.log_odds - apart + one.log_odds)
            if one in rivals
            else one
            for one in told
        ]
    if rivals:
        first = max(rivals, key=lambda one: one.log_odds)
        elsewhere = elsewhere.beside(first.kind, apart)
    return [elsewhere, *_as_written(case.without(own))]


def _as_written(case: Case) -> list[Finding]:
    if not case.read:
        return []
    based = explain_whole(case)
    whole = [] if based.finding is None else [based.finding]
    return [*whole, *explain_lines(case, based)]
