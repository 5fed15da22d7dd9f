"""What is asked of a class at a place, the proof of every wrong answer, and the misconceptions.

Places are checked by the oracle of `test_any_engine`, which shares no code with the core. Figures:
one inch is 25.4 mm exactly (ISO 31-1, the international inch of 1959), so one thou is 0.0254 mm.
What each misconception is, is common practice of the trade.
"""

import itertools
import re
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.conftest import engine_document, engine_firing
from tests.core.test_any_engine import (
    ENGINES,
    oracle_fire_deg,
    oracle_margin_deg,
    oracle_off_heel,
)
from valvetrain.drill import (
    ABOUT,
    KINDS,
    CannotAskError,
    Misconception,
    deal,
    is_right,
    put,
    put_anew,
    tally,
    why_wrong,
)
from valvetrain.engine_file import read_engine

SCREW = {"kind": "screw", "pitch_mm": 1.0, "screw_at": "pushrod", "rocker_ratio": 1.45}
SHIM = {"kind": "shim", "place": "under-bucket", "sizes_mm": {"from": 2.0, "to": 3.0, "step": 0.05}}
READ = {name: read_engine(document) for name, document in ENGINES.items()}


def all_put(engine, kind, step=30):
    """Every question of a kind at places all round the cycle."""
    for crank_deg in range(0, 720, step):
        try:
            yield put(engine, kind, crank_deg, seed=crank_deg)
        except CannotAskError:
            continue


def margins(document, question):
    """By the oracle: each valve's margin at the question's place."""
    engine, fire = read_engine(document), oracle_fire_deg(document)
    off = {role.value: oracle_off_heel(document, role.value) for role in engine.roles}
    return {
        valve.number: oracle_margin_deg(
            off[valve.role.value], question.crank_deg - fire[valve.cylinder]
        )
        for valve in engine.valves
    }


class TestEveryWrongAnswer:
    @pytest.mark.parametrize("name", ENGINES)
    def test_every_wrong_option_is_proved_wrong(self, name):
        engine = READ[name]
        for kind in KINDS:
            for question in all_put(engine, kind.id):
                for option in question.options:
                    if is_right(question, [option.id]):
                        continue
                    wrong = why_wrong(question, [option.id])
                    assert wrong is not None, (kind.id, question, option)
                    assert wrong.says.endswith(".")

    @given(st.data())
    @settings(max_examples=60, deadline=None)
    def test_so_is_every_set_of_valves(self, data):
        engine = READ[data.draw(st.sampled_from(["four, 1-3-4-2", "six", "vee twelve", "three"]))]
        question = put(engine, "which-valves", data.draw(st.integers(0, 719)), 1)
        chosen = data.draw(st.sets(st.sampled_from([o.id for o in question.options]), min_size=1))
        assert (why_wrong(question, chosen) is None) == is_right(question, chosen)

    @pytest.mark.parametrize("name", ["four, 1-3-4-2", "three", "vee twin, 52 degrees", "six"])
    def test_a_valve_that_may_not_be_set_strikes_where_the_proof_turns_to(self, name):
        """At that angle its cylinder is in the very middle between opening and closing."""
        document, engine, fire = ENGINES[name], READ[name], oracle_fire_deg(ENGINES[name])
        seen = 0
        for question in all_put(engine, "which-valves"):
            for number, margin in margins(document, question).items():
                if margin > -8:
                    continue
                wrong = why_wrong(question, [str(number), *question.answer])
                if wrong.mistake == Misconception.FULL_TURN or question.answer == ("none",):
                    continue
                valve = engine.valve[number]
                off = oracle_off_heel(document, valve.role.value)
                there = oracle_margin_deg(off, wrong.crank_deg - fire[valve.cylinder])
                assert there == pytest.approx(-sum(off) / 20, abs=0.2)
                assert f"{-margin:.0f}° inside" in wrong.says or margin % 1 == 0.5
                seen += 1
        assert seen > 10

    @pytest.mark.parametrize("name", ["four, 1-3-4-2", "six", "three", "twin 180"])
    def test_who_sets_what_may_be_set_a_full_turn_on_is_told_so(self, name):
        document, engine = ENGINES[name], READ[name]
        told = 0
        for question in all_put(engine, "which-valves"):
            turned = question._replace(crank_deg=question.crank_deg + 360)
            asked = {option.id for option in question.options}
            there = [str(n) for n, margin in margins(document, turned).items() if margin >= 0]
            there = [number for number in there if number in asked]
            if not set(there) - set(question.answer):
                continue
            assert why_wrong(question, there).mistake == Misconception.FULL_TURN
            told += 1
        assert told


class TestByHeart:
    """Facts of the trade: 1-3-4-2, companions 1-4 and 2-3, valves 1 to 8 from the front."""

    FOUR = engine_firing([1, 3, 4, 2], adjuster=SCREW)

    def test_setting_the_cylinder_that_rocks_is_the_companion_mistaken(self):
        """At firing TDC of 1, cylinder 4 rocks: its valves are 7 and 8."""
        question = put(self.FOUR, "which-valves", 0, 1)
        wrong = why_wrong(question, ["7", "8"])
        assert wrong.mistake == Misconception.COMPANION
        assert "Cylinder 4 rocks: its companion 1 is the one to set." in wrong.says
        assert why_wrong(question, ["7"]).mistake == Misconception.LOBE

    def test_leaving_one_out_is_no_misconception_and_names_it(self):
        question = put(self.FOUR, "which-valves", 0, 1)
        assert {"1", "2"} < set(question.answer)
        wrong = why_wrong(question, [one for one in question.answer if one != "2"])
        assert wrong.mistake == ""
        assert "Valve 2 " in wrong.says

    def test_none_of_them_is_right_only_where_none_may_be_set(self):
        single = READ["single"]
        answers = {q.answer for q in all_put(single, "which-valves", step=10)}
        assert ("none",) in answers
        assert len(answers) > 1
        question = put(self.FOUR, "which-valves", 0, 1)
        assert why_wrong(question, ["none"]).says
        assert why_wrong(question, [*question.answer, "none"]).says

    def test_who_stops_at_the_ignition_mark_sets_what_may_be_set_at_the_dead_centre(self):
        """With a wide intake: at 20° before firing TDC the intake's ramp is not over yet."""
        document = engine_document([1], layout="single", ramp_deg=25)
        document["timing"]["intake"] = {"opens_btdc": 10, "closes_abdc": 130}
        document["marks"] = [
            {"on": "crank", "label": "T", "deg": 0, "means": "tdc"},
            {"on": "crank", "label": "F", "deg": 325, "means": "ignition"},
        ]
        question = put(read_engine(document), "which-valves", 685, 1)
        assert question.answer == ("1",)
        assert why_wrong(question, ["1", "2"]).mistake == Misconception.IGNITION_MARK

    def test_a_mark_tells_the_dead_centre_and_not_the_stroke(self):
        document = engine_document([1, 3, 4, 2])
        document["marks"] = [
            {"on": "crank", "label": "0", "deg": 0, "means": "tdc"},
            {"on": "crank", "label": "F", "deg": 348, "means": "ignition"},
        ]
        engine = read_engine(document)
        mark = put(engine, "which-mark", 360, 1)
        assert mark.answer == ("dead-centre",)
        assert why_wrong(mark, ["firing"]).mistake == Misconception.FULL_TURN
        assert why_wrong(mark, ["ignition"]).mistake == ""
        spark = put(engine, "which-mark", 708, 1)
        assert spark.answer == ("ignition",)
        assert why_wrong(spark, ["dead-centre"]).mistake == Misconception.IGNITION_MARK
        with pytest.raises(CannotAskError, match="No mark stands at the pointer here"):
            put(engine, "which-mark", 100, 1)

    def test_the_stroke_a_full_turn_away(self):
        """Cylinder 3 fires at 180°; at 50° it fired 590° ago, and compresses (720 − 180 + 50)."""
        question = put(self.FOUR, "which-stroke", 50, 1, about=3)
        assert question.answer == ("compression",)
        assert why_wrong(question, ["exhaust"]).mistake == Misconception.FULL_TURN
        assert "720 − 180 + 50 = 590°" in " ".join(question.steps)

    def test_the_rule_of_nine_serves_a_four_and_not_a_three(self):
        for question in all_put(self.FOUR, "does-the-sum-serve", step=5):
            assert question.answer[0].startswith("yes-")
        fails = [
            question
            for question in all_put(READ["three"], "does-the-sum-serve", step=5)
            if question.answer[0].startswith("no-")
        ]
        assert fails
        for question in fails:
            said = next(option.id for option in question.options if option.id.startswith("yes-"))
            wrong = why_wrong(question, [said])
            assert wrong.mistake == Misconception.SUM_RULE
            assert wrong.crank_deg is not None

    def test_a_smaller_gap_is_tight_and_wants_a_thinner_shim(self):
        """Room and shim together stay the same: less shim, more gap."""
        seen = set()
        for seed in range(30):
            engine = engine_firing([1, 3, 4, 2], adjuster=SHIM)
            question = put(engine, "thinner-or-thicker", 0, seed)
            low, high = engine.limits_mm[
                engine.valve[int(question.asks.split()[1])].role
            ]  # fmt: skip
            shown = Decimal(re.search(r"reads ([0-9.]+) mm", question.asks).group(1))
            says = {option.id: option.says for option in question.options}
            assert says[question.answer[0]] == (
                "a thinner shim" if shown < low else "a thicker shim"
            )
            assert shown < low or shown > high
            other = next(o for o in ("wider", "narrower") if o != question.answer[0])
            assert why_wrong(question, [other]).mistake == Misconception.WRONG_WAY
            verdict = put(engine, "tight-or-loose", 0, seed)
            seen.add(verdict.answer)
            if verdict.answer != ("within",):
                swapped = {"tight": "loose", "loose": "tight"}[verdict.answer[0]]
                assert why_wrong(verdict, [swapped]).mistake == Misconception.REVERSED
        assert seen == {("tight",), ("within",), ("loose",)}

    def test_thou_into_millimetres_by_the_inch(self):
        for seed in range(20):
            question = put(self.FOUR, "which-unit", 0, seed)
            thou = Decimal(re.search(r", (\d+) thou", question.asks).group(1))
            assert abs(Decimal(question.answer[0]) - thou * Decimal("25.4") / 1000) <= Decimal(
                "0.005"
            )
            copied = f"{thou / 100:.2f}"
            assert why_wrong(question, [copied]).mistake == Misconception.UNIT

    def test_the_nut_is_allowed_for_the_other_way(self):
        for seed in range(20):
            question = put(self.FOUR, "lock-nut", 0, seed)
            by = Decimal(re.search(r"gap by ([0-9.]+) mm", question.asks).group(1))
            aim = Decimal(re.search(r"You want ([0-9.]+) mm", question.asks).group(1))
            right = aim - by if "it opens" in question.asks else aim + by
            assert Decimal(question.answer[0]) == right
            assert why_wrong(question, [f"{aim:.2f}"]).mistake == Misconception.NUT
        with pytest.raises(CannotAskError, match="no lock nut"):
            put(engine_firing([1, 3, 4, 2], adjuster=SHIM), "lock-nut", 0, 1)

    def test_a_warm_engine_waits(self):
        question = put(self.FOUR, "warm-engine", 0, 1)
        assert question.answer == ("wait",)
        for other in ("write", "correct", "set"):
            assert why_wrong(question, [other]).mistake == Misconception.WARM
        with pytest.raises(CannotAskError, match="measured hot"):
            put(read_engine(ENGINES["four, 1-4-3-2 in thou"]), "warm-engine", 0, 1)

    def test_on_its_heel_a_leaf_finds_the_clearance_and_on_the_lobe_nothing(self):
        on_heel = put(self.FOUR, "what-it-reads", 0, 1, about=1)
        middle = self.FOUR.clearance[self.FOUR.valve[1].role].middle_mm
        assert Decimal(on_heel.answer[0]) == middle.quantize(Decimal("0.01"))
        open_now = put(self.FOUR, "what-it-reads", self.FOUR.full_lift_deg(
            self.FOUR.valve[1]), 1, about=1)  # fmt: skip
        assert open_now.answer == ("0.00",)
        assert why_wrong(open_now, [f"{middle:.2f}"]).mistake == Misconception.LOBE


class TestSteps:
    @pytest.mark.parametrize("name", ENGINES)
    def test_every_sum_adds_up(self, name):
        """`720 − 180 + 50 = 590`: worked out again by Python."""
        sums = 0
        for seed in range(3):
            for question in deal(READ[name], seed):
                for step in (*question.steps, question.because):
                    for said in re.finditer(
                        r"((?:[0-9.]+ [−+] )+[0-9.]+) = ([0-9.]+)(?=°|:| mm|\.)", step
                    ):
                        terms = said[1].replace("−", "-").split()
                        value = Decimal(terms[0])
                        for sign, term in (
                            itertools.batched(terms[1:], 2)
                            if hasattr(itertools, "batched")
                            else zip(terms[1::2], terms[2::2], strict=True)
                        ):
                            value += Decimal(term) if sign == "+" else -Decimal(term)
                        # Angles of uneven firing are told to six figures.
                        assert float(value) == pytest.approx(float(said[2]), abs=1e-2)
                        sums += 1
        assert sums > 5


class TestMisconceptions:
    def test_there_are_ten_each_with_all_that_a_lesson_needs(self):
        assert len(Misconception) == len(ABOUT) == 10
        for about in ABOUT.values():
            assert about.label
            assert about.says.endswith(".")
            assert about.cure.endswith(".")

    @pytest.mark.parametrize("mistake", Misconception)
    def test_the_question_that_asks_it_finds_it(self, mistake):
        document = engine_document([1, 3, 4, 2], adjuster=SCREW)
        document["marks"] = [{"on": "crank", "label": "F", "deg": 348, "means": "ignition"}]
        engines = [read_engine(document), READ["three"]]
        kind = ABOUT[mistake].asked
        found = {
            wrong.mistake
            for engine in engines
            for step in (0, 348)
            for question in [*all_put(engine, kind, 1 if "sum" in kind else 30), *(
                put(engine, kind, step, 0) for _ in range(kind == "which-mark" and step == 348
                                                          and engine.marks != ()))]
            for wrong in question.wrongs
        }  # fmt: skip
        assert mistake in found


class TestTally:
    def test_the_room_in_votes_and_misconceptions(self):
        question = put(TestByHeart.FOUR, "which-valves", 0, 1)
        right = list(question.answer)
        told = tally(question, [(right, 3), (["7", "8"], 3), (["7", "8"], 1), (["7"], 0)])
        assert told.right == 1
        assert told.votes["7"] == 3
        assert told.votes["1"] == 1
        assert told.mistakes == ((Misconception.COMPANION, 2, 1), (Misconception.LOBE, 1, 0))
        assert told.shows.mistake == Misconception.COMPANION

    def test_nobody_answered(self):
        question = put(TestByHeart.FOUR, "which-valves", 0, 1)
        told = tally(question, [])
        assert (told.right, told.mistakes, told.shows) == (0, (), None)
        assert set(told.votes.values()) == {0}


def test_a_question_that_comes_back_is_of_its_kind_and_at_another_place():
    engine = TestByHeart.FOUR
    anew = {put_anew(engine, "which-stroke", seed).asks for seed in range(12)}
    assert len(anew) > 1
    assert put_anew(READ["single"], "fires-next", 1) is None
    assert put_anew(engine, "no-such-kind", 1) is None
    with pytest.raises(CannotAskError, match="There is no question"):
        put(engine, "no-such-kind", 0, 1)


def test_too_near_to_an_edge_is_not_argued_about():
    engine = TestByHeart.FOUR
    for question in all_put(engine, "which-valves", step=7):
        for number, margin in margins(engine_document([1, 3, 4, 2]), question).items():
            offered = str(number) in {option.id for option in question.options}
            assert offered == (abs(margin) >= 7.95), (number, margin)
    with pytest.raises(CannotAskError, match="too near to a dead centre"):
        put(engine, "which-stroke", 0, 1)
    with pytest.raises(CannotAskError, match="about to fire"):
        put(engine, "fires-next", 175, 1)
    with pytest.raises(CannotAskError, match="fully open"):
        put(engine, "does-the-sum-serve", 0, 1)
