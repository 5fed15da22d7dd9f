"""Figures of the rota, each with unit, kind and source.

Kinds: *standard*, as the file format says; *limit* of what is accepted; *chosen* for the working.
"""

MISSING_COST = 1000
"""A place (a student and a task) that is missing. Standard: edrix-rota/1."""
REPEAT_COST = 10
"""Two students together once more. Standard: edrix-rota/1."""
STANDS_EACH = 4
"""Stands that one instructor looks after, where a rota does not say. Standard: edrix-rota/1."""

MOST_STUDENTS, MOST_STANDS, MOST_SLOTS, MOST_TASKS, MOST_INSTRUCTORS = 200, 60, 300, 30, 40
"""Of one rota. Limit."""
MOST_SEATS_ASKED = 100_000
"""Students times tasks times slots: more is months of teaching, and minutes before the solver has
so much as begun. Limit."""
MOST_COOL_H = 240.0
"""The longest cool-down, in hours. Limit."""
MOST_GROUP = 40
"""Students at one stand. Limit."""

SEED = 7
"""The same rota gets the same answer. Chosen."""
SEATS_WORK = 6.0
"""Deterministic work for who comes when, in the solver's units (about a second each on a quiet
machine). Chosen."""
EXACT_WORK = 20.0
"""The same for the proof on a small rota. Chosen."""
QUICK_WORK = 2.0
"""The same for a first look at an end. Chosen."""
REPLAN_QUICK_WORK, REPLAN_WORK = 5.0, 15.0
"""The same for planning anew with few changes: first of those who must move, then of all. Chosen.
"""
REPLAN_SEARCHES = 6
"""Ways of searching that take turns there: more of them change what is found already. Chosen."""
MOST_EXACT = 30_000
"""Questions about pairs (two students, slot, stand, task) of a rota that is proved whole. Chosen.
"""
SWAPS = 60_000
"""Exchanges of two students tried in one polishing. Chosen."""
TRIES = 6
"""Other seatings tried for each end. Chosen."""
EARLIER_TRIES = 2
"""The same for an end that is only not proven to be impossible. Chosen."""
SECONDS = 30.0
"""Wall-clock limit where none is given. Chosen."""
MOST_SECONDS = 3600.0
"""The longest that is worked on one rota. Limit."""
APART_WEIGHT = 50
"""A pair that is to be kept apart and shares a stand, in meetings. Chosen."""
HOT, COLD = 1.0, 0.05
"""Temperatures in meetings: at first worse is taken often, at the end hardly ever. Chosen."""
