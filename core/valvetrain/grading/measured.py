"""Marks for what was measured: the reading, the verdict that follows from it, and the place.

- reading: within the instructor's tolerance of the key. A key is known no better than its own
  uncertainty U (expanded, k = 2): after the decision rules of ISO 14253-1 (from memory of the
  editions of 1998 and 2013) a reading is proved wrong only beyond tolerance + U; between the two
  nobody can tell, and the student gets the point;
- verdict: tight, within or loose, judged on the student's *own* figure. An error is paid
  for once: a wrong reading costs its own point, and a verdict that follows from it is
  right. Without a figure the verdict is judged on the key.
  "Can't tell" is right too where the figure lies within the gauge's own uncertainty of a
  limit (the zone in which ISO 14253-1 lets nobody prove either side);
- both take the figure that was settled on, where one is written, in place of the reading;
- position: the valve was on its heel at the stop that the student names.
"""

from collections.abc import Collection
from decimal import Decimal

from valvetrain.engine import Engine
from valvetrain.grading.columns import CLOSING
from valvetrain.grading.mark import Mark, Terms, same_for_all
from valvetrain.grading.sheet import Entry, SpecVerdict, spec_verdict
from valvetrain.heel import ValveState, state_at, valve_margin_deg
from valvetrain.spec_words import exact, limits_words
from valvetrain.units import Unit, to_record_mm


def mark_reading(engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark:
    error_mm = None if entry.settled_mm is None else entry.settled_mm - key_mm
    tolerance_mm = terms.tolerance_mm
    uncertainty_mm = terms.key_u_mm(entry.valve)
    unit = engine.clearance[engine.valve[entry.valve].role].unit
    allowed = f"±{exact(tolerance_mm, unit)}"
    if error_mm is None:
        return Mark(False, "No reading.", f"No reading; the key is {exact(key_mm, unit)}.")
    read, key = exact(entry.settled_mm, unit), exact(key_mm, unit)
    figures = f"Read {read}, key {key}: off by {_signed(error_mm, unit)}"
    if abs(error_mm) <= tolerance_mm:
        says = "Agrees with the reference."
        return Mark(True, says, f"{figures}, within {allowed}.")
    if abs(error_mm) <= terms.allowed_mm(entry.valve):
        # The same words: that it was near a limit would narrow the key down.
        says = "Agrees with the reference."
        doubt = f"the key is known to ±{exact(uncertainty_mm, unit)} only: in doubt, counted right"
        return Mark(True, says, f"{figures}, outside {allowed}; {doubt}.")
    size = "larger" if error_mm > 0 else "smaller"
    says = f"Reads {size} than the reference by more than the allowed {exact(tolerance_mm, unit)}."
    return Mark(False, says, f"{figures}, outside {allowed}.")


def mark_closing(engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark | None:
    """The closing gap, as a reading is marked. None where a valve has none, or its key has none."""
    closing_key_mm = terms.closing_mm.get(entry.valve)
    if closing_key_mm is None or engine.valve[entry.valve].role not in engine.closing:
        return None
    closing = Entry(entry.valve, reading_mm=entry.length_mm(CLOSING))
    return mark_reading(engine, closing, closing_key_mm, terms)


def mark_verdict(engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark:
    by_key = spec_verdict(engine, entry.valve, key_mm)
    if entry.verdict is None:
        return Mark(False, "No verdict.", f"No verdict; by the key it is {by_key}.")
    if entry.verdict is SpecVerdict.CANNOT_TELL:
        return _mark_doubt(engine, entry, key_mm, terms)
    if entry.settled_mm is None:
        right = entry.verdict == by_key
        says = "Right, although no figure supports it." if right else "Not right."
        return Mark(right, says, f"Said {entry.verdict}; by the key it is {by_key}.")
    role = engine.valve[entry.valve].role
    follows = spec_verdict(engine, entry.valve, entry.settled_mm)
    right = entry.verdict == follows
    spec = engine.clearance[role]
    low_mm, high_mm = to_record_mm(spec.low_mm), to_record_mm(spec.high_mm)
    limits = limits_words(low_mm, high_mm, spec.unit)
    against = f"{exact(entry.settled_mm, spec.unit)} against {limits}"
    says = f"{against} is {follows}" + ("." if right else f"; you wrote {entry.verdict}.")
    if right and abs(entry.settled_mm - key_mm) > terms.allowed_mm(entry.valve):
        # Told wherever the reading's own mark is lost, whatever the key would be called: else it
        # would tell on which side of a limit the key lies.
        says = f"Follows from your own reading: {says}"
    if shop := spec.shop_words:
        says = f"{says} So judged: {shop}."
    return Mark(right, says, f"{says} By the key it is {by_key}.")


def _mark_doubt(engine: Engine, entry: Entry, key_mm: Decimal, terms: Terms) -> Mark:
    """Whether it is true that this gauge cannot tell: the figure lies within U of a limit."""
    if entry.settled_mm is None:
        return Mark(False, "No figure shows that nobody can tell.", "No figure supports it.")
    role = engine.valve[entry.valve].role
    limits_mm, unit = engine.limits_mm[role], engine.clearance[role].unit
    limit_mm = min(limits_mm, key=lambda limit: abs(entry.settled_mm - limit))  # type: ignore[operator]
    off_mm = abs(entry.settled_mm - limit_mm)
    right = off_mm <= terms.gauge_mm
    read, limit = exact(entry.settled_mm, unit), exact(limit_mm, unit)
    figures = f"{read} is {exact(off_mm, unit)} from the limit of {limit}"
    if right:
        says = f"{figures}, and the gauge tells no better than ±{exact(terms.gauge_mm, unit)}."
    else:
        says = f"{figures}: that is clear; the gauge uncertainty is ±{exact(terms.gauge_mm, unit)}."
    by_key = spec_verdict(engine, entry.valve, key_mm)
    return Mark(right, says, f"{says} By the key it is {by_key}.")


def mark_position(engine: Engine, entry: Entry, _asks: Collection[str] = ()) -> Mark:
    if entry.crank_deg is None:
        return same_for_all(False, "No stop given.")
    valve = engine.valve[entry.valve]
    margin = valve_margin_deg(engine, valve, entry.crank_deg)
    if margin >= 0:
        return same_for_all(
            True, f"At {entry.crank_deg:g}° it is on its heel, {margin:.0f}° from the edge."
        )
    own = engine.seen_by(valve)
    state = state_at(own, valve.role, engine.cycle_deg(valve.cylinder, entry.crank_deg))
    where = (
        "on its ramp, where the gap reads small"
        if state is ValveState.RAMP
        else "held open by its lobe, where there is no gap"
    )
    turn = f"turn {-margin:.0f}° or more to reach the heel"
    return same_for_all(False, f"At {entry.crank_deg:g}° it is {where}; {turn}.")


def _signed(length: Decimal, unit: Unit) -> str:
    return f"{'−' if length < 0 else '+'}{exact(abs(length), unit)}"
