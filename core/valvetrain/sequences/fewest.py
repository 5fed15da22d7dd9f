"""The provably smallest number of stops, and among those plans the one with the best margin.

Each valve may be set on one or more arcs of the 720 degree circle, shrunk by the margin m on
both sides. A plan is a set of points that hits an arc of every valve.

- For a given m it is enough to look at the right ends of the shrunk arcs: any point of a
  plan can be moved ahead to the first right end without leaving an arc it hits. An exact
  search over those (`_cover`) tells whether k points suffice.
- The best m for k points is half the length of a stretch from one arc's left end to one's
  right end (a point in the middle of a common stretch is as far from both as it can be), so
  it is found by bisection over those values, which are finitely many.
- Restricted to given places, the places are the points, and the best m is one of the
  margins that valves have there.
"""

from collections.abc import Callable, Sequence
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from valvetrain.angles import CYCLE_DEG, SAME_ANGLE_DEG, normalise_deg
from valvetrain.engine import Engine, Valve
from valvetrain.heel import heel_is_left, margin_deg, off_heel_arcs, reaches
from valvetrain.lobe import FloatArray
from valvetrain.sequences.method import Method
from valvetrain.sequences.plan import Proposal, Route
from valvetrain.sequences.recognise import marks_at, needs_places, place_words

Arc = tuple[float, float]
"""A stretch from its left end to its right end, which may exceed 720."""


def propose_fewest(engine: Engine, route: Route) -> tuple[Proposal, ...]:
    """A smallest plan for every valve that can be set with the margin asked for."""
    places = _mark_places(engine) if route.marks_only else None
    valves = _settable(engine, places, route.min_margin_deg)
    if not valves:
        return ()
    if places is None:
        points = _best_free_points(engine, valves, route.min_margin_deg)
    else:
        points = _best_places(_margins(engine, valves, places), places, route.min_margin_deg)
    margins = _margins(engine, valves, points)
    # Each valve goes to the stop where it is furthest from the edge of its heel.
    chosen = margins.argmax(axis=1)
    return tuple(
        Proposal(
            crank_deg=point,
            valves=tuple(v.number for v, at in zip(valves, chosen, strict=True) if at == index),
            find_by=place_words(engine, point),
        )
        for index, point in enumerate(points)
    )


def heel_arcs(engine: Engine, valve: Valve) -> tuple[Arc, ...]:
    """Where on the crank this valve is on its heel; nowhere, where lobe and decompressor meet."""
    fire_deg = engine.fire_deg[valve.cylinder]
    if not heel_is_left(engine, valve):
        return ()
    off = sorted(
        (normalise_deg(arc.from_deg + fire_deg), arc.to_deg - arc.from_deg)
        for arc in off_heel_arcs(engine.seen_by(valve), valve.role)
    )
    round_once = [*off, (off[0][0] + CYCLE_DEG, off[0][1])]
    return tuple((start + length, then) for (start, length), (then, _) in pairwise(round_once))


def _mark_places(engine: Engine) -> list[float]:
    angles = {angle for mark in engine.marks for angle in mark.crank_degs()}
    return sorted(angle for angle in angles if marks_at(engine, angle))


def _settable(engine: Engine, places: Sequence[float] | None, min_margin_deg: float) -> list[Valve]:
    """The valves that can be set at all: on an arc that is wide enough, or at a place."""
    if places is None:
        return [
            valve
            for valve in engine.valves
            if any(
                reaches((right - left) / 2, min_margin_deg)
                for left, right in heel_arcs(engine, valve)
            )
        ]
    if not places:
        return []
    best = _margins(engine, list(engine.valves), places).max(axis=1)
    return [v for v, m in zip(engine.valves, best, strict=True) if reaches(m, min_margin_deg)]


def _margins(engine: Engine, valves: Sequence[Valve], points: Sequence[float]) -> FloatArray:
    """Margin of each valve (rows) at each point (columns)."""
    at = np.asarray(points, dtype=np.float64)
    rows = [margin_deg(engine.seen_by(v), v.role, at - engine.fire_deg[v.cylinder]) for v in valves]
    return np.vstack(rows)


def _best_free_points(
    engine: Engine, valves: Sequence[Valve], min_margin_deg: float
) -> list[float]:
    arcs = list(dict.fromkeys(heel_arcs(engine, valve) for valve in valves))

    def plan_for(margin: float, most: int | None = None) -> list[float] | None:
        points = _right_ends(arcs, margin)
        return None if points is None else _smallest(arcs, points, margin, most)

    first = plan_for(min_margin_deg)
    if first is None:
        raise AssertionError("every valve here has an arc that is wide enough")
    fewest = len(first)
    lefts, rights = (np.array([arc[i] for own in arcs for arc in own]) for i in (0, 1))
    # From any left end ahead to any right end, once round at the most.
    stretches = np.unique(((rights[None, :] - lefts[:, None]) % CYCLE_DEG / 2).round(9))
    candidates = [m for m in stretches.tolist() if m > min_margin_deg]

    def serves(margin: float) -> list[float] | None:
        return plan_for(margin - SAME_ANGLE_DEG, fewest)

    points = _last_that_serves(candidates, serves) or first
    return _centred(engine, valves, points)


def _last_that_serves(
    candidates: Sequence[float], serves: Callable[[float], list[float] | None]
) -> list[float] | None:
    """Bisection: what serves at one margin serves at every smaller one."""
    best = None
    low, high = 0, len(candidates)
    while low < high:
        middle = (low + high) // 2
        found = serves(candidates[middle])
        if found is None:
            high = middle
        else:
            best, low = found, middle + 1
    return best


def _right_ends(arcs: Sequence[tuple[Arc, ...]], margin: float) -> list[float] | None:
    """Right ends of the shrunk arcs; None where a valve has none left."""
    ends = []
    for own in arcs:
        wide = [right - margin for left, right in own if reaches((right - left) / 2, margin)]
        if not wide:
            return None
        ends += [normalise_deg(end) for end in wide]
    return sorted(set(ends))


def _smallest(
    arcs: Sequence[tuple[Arc, ...]], points: Sequence[float], margin: float, most: int | None
) -> list[float] | None:
    """A smallest subset of the points that hits every valve's shrunk arcs; None where that takes
    more than most of them."""
    at = np.asarray(points, dtype=np.float64)
    hit = np.zeros((len(arcs), len(points)), dtype=bool)
    for row, own in enumerate(arcs):
        for arc in own:
            hit[row] |= _hit_by(arc, at, margin)
    # One whole number for each point, with a bit for each valve that it serves.
    packed = np.packbits(hit, axis=0, bitorder="little").T
    masks = [int.from_bytes(column.tobytes(), "little") for column in packed]
    everything = (1 << len(arcs)) - 1
    found = _cover(masks, everything, most)
    return None if found is None else [points[index] for index in found]


def _hit_by(arc: Arc, points: FloatArray, margin: float) -> NDArray[np.bool_]:
    """Which points lie on the arc, shrunk by the margin at both ends."""
    left, right = arc[0] + margin, arc[1] - margin
    inside = (points - left + SAME_ANGLE_DEG) % CYCLE_DEG
    wide_enough = right >= left - SAME_ANGLE_DEG
    return wide_enough & (inside <= right - left + 2 * SAME_ANGLE_DEG)


def _cover(masks: Sequence[int], everything: int, most: int | None = None) -> list[int] | None:
    """Indices of a smallest family of masks whose union is everything; with most, of any family of
    no more than that, None where there is none. Exact: deepens until the first size that suffices,
    branching on what the fewest masks can supply."""
    search = _Search(masks)
    if most is not None:
        return search.cover(everything, most)
    size = 0
    while (found := search.cover(everything, size)) is None:
        size += 1
    return found


def _undominated(masks: Sequence[int]) -> list[int]:
    """Indices of masks that are in no other mask (one of each that are equal)."""
    order = sorted(range(len(masks)), key=lambda i: masks[i].bit_count(), reverse=True)
    kept: list[int] = []
    for index in order:
        if not any(masks[index] | masks[other] == masks[other] for other in kept):
            kept.append(index)
    return kept


class _Search:
    """Covers by given masks; what was found to be out of reach is not searched for again."""

    def __init__(self, masks: Sequence[int]) -> None:
        self.masks = masks
        self.useful = _undominated(masks)
        self.out_of_reach: dict[int, int] = {}
        """By what is missing: the size that does not suffice."""

    def cover(self, missing: int, size: int) -> list[int] | None:
        """Indices of at most size masks whose union holds everything missing; None."""
        if missing == 0:
            return []
        if self.out_of_reach.get(missing, 0) >= size:
            return None
        gains = sorted(((self.masks[i] & missing).bit_count() for i in self.useful), reverse=True)
        if sum(gains[:size]) < missing.bit_count():
            return None
        for index in self._hardest(missing):
            rest = self.cover(missing & ~self.masks[index], size - 1)
            if rest is not None:
                return [index, *rest]
        self.out_of_reach[missing] = size
        return None

    def _hardest(self, missing: int) -> list[int]:
        """The masks that hold what fewest of them do, those that hold most first."""
        hardest: list[int] = []
        left = missing
        while left:
            bit = left & -left
            left ^= bit
            supply = [i for i in self.useful if self.masks[i] & bit]
            if not hardest or len(supply) < len(hardest):
                hardest = supply
        return sorted(hardest, key=lambda i: -(self.masks[i] & missing).bit_count())


def _centred(engine: Engine, valves: Sequence[Valve], points: list[float]) -> list[float]:
    """Moves each point into the middle of what its valves have in common.

    Each valve belongs to the point where its margin is best; the least margin cannot fall.
    """
    chosen = _margins(engine, valves, points).argmax(axis=1)
    moved = []
    for index, point in enumerate(points):
        own = [v for v, at in zip(valves, chosen, strict=True) if at == index]
        if not own:
            continue
        behind, ahead = CYCLE_DEG, CYCLE_DEG
        for valve in own:
            for left, right in heel_arcs(engine, valve):
                if _hit_by((left, right), np.array([point]), 0.0)[0]:
                    behind = min(behind, (point - left) % CYCLE_DEG)
                    ahead = min(ahead, (right - point) % CYCLE_DEG)
        moved.append(normalise_deg(point + (ahead - behind) / 2))
    return moved


def _best_places(
    margins: FloatArray, places: Sequence[float], min_margin_deg: float
) -> list[float]:
    everything = (1 << margins.shape[0]) - 1

    def cover_for(margin: float, most: int | None = None) -> list[int] | None:
        masks = [0] * len(places)
        for bit, row in enumerate(margins >= margin - SAME_ANGLE_DEG):
            if not row.any():
                return None
            for index in np.flatnonzero(row):
                masks[index] |= 1 << bit
        return _cover(masks, everything, most)

    first = cover_for(min_margin_deg)
    if first is None:
        raise AssertionError("every valve here has a place that serves")
    candidates = [m for m in np.unique(margins).tolist() if m > min_margin_deg]

    def serves(margin: float) -> list[float] | None:
        found = cover_for(margin, len(first))
        return None if found is None else [places[i] for i in found]

    return _last_that_serves(candidates, serves) or [places[i] for i in first]


METHOD = Method(
    "fewest-stops",
    "Fewest stops",
    "the provably smallest number of stops, with the best margin",
    "the very angles of the stops",
    propose_fewest,
    needs=needs_places,
)
