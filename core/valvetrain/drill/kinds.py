"""Every kind of question, in the order in which a class meets them.

To add one: a function beside its kin that makes it, and its line here.
"""

from valvetrain.drill import by_the_sum, on_a_sheet, on_paper, on_the_crank, places
from valvetrain.drill.question import QuestionKind

KINDS = (
    QuestionKind("which-valves", "Which valves may be set?", on_the_crank.which_valves,
                 places.some_place),
    QuestionKind("which-stroke", "Which stroke?", on_the_crank.which_stroke, places.some_place,
                 about="cylinder"),
    QuestionKind("fires-next", "Which cylinder fires next?", on_the_crank.fires_next,
                 places.firing_place),
    QuestionKind("who-rocks", "Which cylinder rocks?", on_the_crank.who_rocks, places.firing_place),
    QuestionKind("which-mark", "What does this mark say?", on_the_crank.which_mark,
                 on_the_crank.mark_place),
    QuestionKind("makes-the-sum", "Which valve makes the sum?", by_the_sum.makes_the_sum,
                 by_the_sum.pair_place),
    QuestionKind("does-the-sum-serve", "Does the rule serve here?", by_the_sum.does_the_sum_serve,
                 by_the_sum.pair_place),
    QuestionKind("tight-or-loose", "Tight, within or loose?", on_paper.tight_or_loose,
                 on_paper.any_place, drawn=False, about="valve"),
    QuestionKind("thinner-or-thicker", "Which way is it put right?", on_paper.thinner_or_thicker,
                 on_paper.any_place, drawn=False, about="valve"),
    QuestionKind("what-it-reads", "How much does it read here?", on_paper.what_it_reads,
                 places.some_place, about="valve"),
    QuestionKind("which-unit", "Thou into millimetres", on_paper.which_unit, on_paper.any_place,
                 drawn=False),
    QuestionKind("warm-engine", "The engine is warm", on_paper.warm_engine, on_paper.any_place,
                 drawn=False),
    QuestionKind("lock-nut", "What the nut does", on_paper.lock_nut, on_paper.any_place,
                 drawn=False),
    QuestionKind("find-the-mistake", "Find the mistake on a sheet", on_a_sheet.find_the_mistake,
                 on_paper.any_place, drawn=False),
)  # fmt: skip
BY_ID = {kind.id: kind for kind in KINDS}
