"""Robot students: one follows *Show me* to the letter, one works as a good student works.

Both know what a page knows: the engine's file, what the server tells, and nothing that is hidden.
"""

from tests.journeys.ports import HttpRun, Json, RefusedError, Run
from valvetrain.engine import Engine, Role, Valve
from valvetrain.heel import valve_margin_deg
from valvetrain.practice.boxes import stacks
from valvetrain.sequences import make_plan

MOST_STEPS = 4500
CLOSING_UP: tuple[Json, ...] = (
    {"do": "count-tools"},
    {"do": "tool-off"},
    {"do": "cover", "on": True},
    {"do": "start"},
)


def follow(run: HttpRun) -> int:
    """Does what *Show me* shows until it shows nothing more; how many steps that took."""
    for done in range(MOST_STEPS):
        step = run.walk()
        if step["says"] is None:
            return done
        assert step["action"] is not None, f"Show me leaves its student alone: {step['says']}"
        run.act({k: v for k, v in step["action"].items() if v is not None})
    raise AssertionError(f"Show me comes to no end: {step}")


class GoodStudent:
    """Works by the manual: measures every gap with leaves on the heel, writes it down, sets what is
    out of spec, turns over, measures again, and closes up.

    What a leaf feels like is told by its pull alone at the levels that say no more.
    """

    def __init__(self, run: Run, engine: Engine, box: str) -> None:
        self.run, self.engine, self.box = run, engine, box
        self.crank_deg: float | None = None
        self.places = {
            valve: stop.crank_deg
            for stop in make_plan(engine, "lobe-away").stops
            for valve in stop.valves
        }
        self.nut_moved_mm: dict[int, float] = {}
        self.out_of_reach: set[int] = set()
        """Valves whose gap no straight leaf reaches."""
        self.wrong: set[str] = set()
        """Mistakes to make on purpose, by the kind of remark that they earn."""

    @property
    def valves(self) -> list[Valve]:
        engine = self.engine
        return [v for v in engine.valves if not engine.adjuster(v.number).adjusts_itself]

    def work(self) -> None:
        """The whole job."""
        self.find_stroke()
        self.let_stand()
        found = {v.number: self.measure_and_write(v) for v in self.valves}
        for valve in self.valves:
            if not self.is_right(valve, found[valve.number]):
                self.set_right(valve, found[valve.number])
        self.close_up()

    def let_stand(self) -> None:
        """A hand on the head tells whether it is warm."""
        self.run.act({"do": "look", "at": "engine"})
        if "warm" in self.run.seen["says"]:
            self.run.act({"do": "wait", "hours": 14})

    def close_up(self) -> None:
        if self.run.seen["view"]["crank_locked"]:
            self.run.act({"do": "lock-crank", "locked": False})
        for action in CLOSING_UP:
            self.run.act(action)

    # The place --------------------------------------------------------------------------------

    def find_stroke(self) -> None:
        """By the followers that are pressed down: which of the two turns the crank is on. Where
        nothing tells, the crank is turned on until something does; from there degrees count."""
        view = self.run.run["view"]
        for _ in range(12):
            both = (view["crank_turn_deg"], view["crank_turn_deg"] + 360.0)
            fit = [deg % 720 for deg in both if self._agrees(deg % 720, view)]
            if len(fit) == 1:
                self.crank_deg = fit[0]
                return
            assert fit, "neither turn agrees with what is seen"
            view = self.run.act({"do": "turn", "by_deg": 60})["view"]
        raise AssertionError("nothing tells which turn the crank is on")

    def _agrees(self, crank_deg: float, view: Json) -> bool:
        down = {one["valve"]: one["down_mm"] for one in view["valves"]}
        margins = {
            v.number: valve_margin_deg(self.engine, v, crank_deg) for v in self.engine.valves
        }
        return all(
            not (margin > 25 and down[number] >= 0.3) and not (margin < -60 and down[number] < 0.3)
            for number, margin in margins.items()
        )

    def to_place(self, valve: Valve) -> None:
        assert self.crank_deg is not None
        ahead = (self.places[valve.number] - self.crank_deg) % 720
        if ahead > 0.01:
            self.run.act({"do": "turn", "by_deg": round(ahead, 1)})
            self.crank_deg = (self.crank_deg + round(ahead, 1)) % 720

    def let_go(self, valve: Valve) -> None:
        train = self.engine.train(valve.number).value
        if valve.role is Role.BRAKE or train in ("pushrod-rocker", "overhead-rocker", "finger",
                                                 "side-valve"):  # fmt: skip
            self.run.act({"do": "push", "valve": valve.number})

    # Measuring --------------------------------------------------------------------------------

    def feel(self, valve: Valve, size_um: int, gap: str = "opening") -> str:
        action: Json = {"do": "try", "valve": valve.number, "gap": gap}
        facts = self.run.act(action | self.leaves(valve, size_um))["facts"]
        if "feel" in facts:
            return str(facts["feel"])
        if not facts["is_in"]:
            return "no"
        pull = facts["pull"]
        return "free" if pull <= 0.2 else "drag" if pull <= 0.7 else "tight"

    def leaves(self, valve: Valve, size_um: int) -> Json:
        taken: Json = {"leaves_um": list(self._stacks(valve)[size_um])}
        return taken | ({"angled": True} if valve.number in self.out_of_reach else {})

    def _stacks(self, valve: Valve) -> dict[int, tuple[int, ...]]:
        box = "angled_um" if valve.number in self.out_of_reach else "leaves_um"
        return stacks(tuple(self.run.run[box])).with_pairs

    def reach(self, valve: Valve) -> None:
        """A straight leaf that does not get in is laid aside for an angled one."""
        if not self.run.run["angled_um"] or valve.number in self.out_of_reach:
            return
        thinnest = min(self.run.run["leaves_um"])
        try:
            self.run.act({"do": "try", "valve": valve.number, "leaves_um": [thinnest]})
        except RefusedError:
            self.out_of_reach.add(valve.number)

    def measure(self, valve: Valve, gap: str = "opening") -> float:
        """By halves between what goes and what does not; a leaf that is held ends it."""
        self.to_place(valve)
        if gap == "opening":
            self.let_go(valve)
        self.reach(valve)
        sizes = sorted(self._stacks(valve))
        spec = self.engine.closing[valve.role] if gap == "closing" else (
            self.engine.clearance[valve.role])  # fmt: skip
        low, high, forced_mm = 0, sizes[-1] + 1, None
        size = min(sizes, key=lambda one: abs(one - float(spec.middle_mm) * 1000))
        while True:
            felt = self.feel(valve, size, gap)
            if felt == "drag":
                # The harder it is held, the less room there is beside it.
                return size / 1000 + (0.65 - self.run.seen["facts"]["pull"]) / 0.4 * 0.02
            low, high = (size, high) if felt == "free" else (low, size)
            between = [one for one in sizes if low < one < high]
            if felt == "tight":
                forced_mm = size / 1000 - (self.run.seen["facts"]["pull"] - 0.75) / 0.2 * 0.02
            elif felt == "no":
                forced_mm = None
            if not between or (low and high - low <= 10):
                return forced_mm or ((low + high) / 2000 if low else 0.0)
            wanted: float = (low + high) / 2
            if felt == "tight":
                wanted = size - 10  # the gap is just below it
            elif felt == "free" and high > sizes[-1]:
                wanted = size + 60
            size = min(between, key=lambda one: abs(one - wanted))

    def measure_and_write(self, valve: Valve) -> dict[str, float]:
        found = {}
        if valve.role in self.engine.closing:
            found["closing"] = self._closing_mm(valve)
            self.write(valve, "closing", found["closing"])
        found["opening"] = self.measure(valve)
        self.write(valve, "first", found["opening"])
        return found

    def _closing_mm(self, valve: Valve) -> float:
        gap_mm = self.measure(valve, "closing")
        if gap_mm:
            return gap_mm
        play = self.run.act({"do": "wiggle", "valve": valve.number, "gap": "closing"})["facts"]
        return 0.015 if play["play"] == "little" else -0.02

    def write(self, valve: Valve, column: str, gap_mm: float) -> None:
        text = f"{max(0.0, gap_mm):.3f}"
        self.run.act({"do": "write", "valve": valve.number, "column": column, "text": text})

    def is_right(self, valve: Valve, found: dict[str, float], inside_mm: float = 0.0) -> bool:
        spec = self.engine.clearance[valve.role]
        pairs = [(spec, found["opening"])]
        if "closing" in found:
            pairs.append((self.engine.closing[valve.role], found["closing"]))
        return all(
            float(s.low_mm) + inside_mm <= mm <= float(s.high_mm) - inside_mm for s, mm in pairs
        )

    # Setting ----------------------------------------------------------------------------------

    def set_right(self, valve: Valve, found: dict[str, float]) -> None:
        for _ in range(6):
            if self.engine.adjuster(valve.number).has_nut:
                self._by_screw(valve)
            else:
                self._by_shim(valve, found)
            self.run.act({"do": "turn", "by_deg": 720})
            found = self._again(valve)
            if self.is_right(valve, found, inside_mm=0.004):
                break
            spec = self.engine.clearance[valve.role]
            moved = found["opening"] - float(spec.middle_mm)
            self.nut_moved_mm[valve.number] = self.nut_moved_mm.get(valve.number, 0.0) + moved
        self.write(valve, "after", found["opening"])
        self.prove_running(valve)
        if "closing" in found:
            self.write(valve, "closing-after", found["closing"])

    def _again(self, valve: Valve) -> dict[str, float]:
        closing = {"closing": self._closing_mm(valve)} if valve.role in self.engine.closing else {}
        return closing | {"opening": self.measure(valve)}

    def _by_screw(self, valve: Valve) -> None:
        """To a leaf, and what no leaf comes to by the angle of the screw."""
        run, number = self.run, valve.number
        self.to_place(valve)
        run.act({"do": "loosen", "valve": number})
        if run.seen["facts"].get("seized"):
            run.act({"do": "loosen", "valve": number, "oil": True})
        self.let_go(valve)
        wanted_um = float(self.engine.clearance[valve.role].middle_mm) * 1000
        wanted_um -= self.nut_moved_mm.get(number, 0.0) * 1000
        size = min(self._stacks(valve), key=lambda one: abs(one - wanted_um + 6))
        run.act({"do": "set", "valve": number} | self.leaves(valve, size))
        screw = self.engine.adjuster(number).screw
        assert screw is not None
        off_mm = (size + 6 - wanted_um) / 1000
        if abs(off_mm) > 0.005:
            by_deg = round(off_mm / screw.gap_per_turn_mm * 360)
            run.act({"do": "screw", "valve": number, "by_deg": by_deg})
        self.tighten(valve, screw.locknut_torque_nm)

    def tighten(self, valve: Valve, torque_nm: float | None) -> None:
        torque = {} if torque_nm is None else {"torque_nm": torque_nm}
        self.run.act({"do": "tighten", "valve": valve.number, **torque})

    def prove_running(self, valve: Valve) -> None:
        """A stack that must go, and one that must not."""
        running = self.engine.clearance[valve.role].running_mm
        if running is None:
            return
        self.to_place(valve)
        self.let_go(valve)
        low, high = (float(mm) * 1000 for mm in running)
        inside = [size for size in self._stacks(valve) if low <= size <= high]
        for size in (min(inside), max(inside)):
            self.feel(valve, size, "running")

    def _by_shim(self, valve: Valve, found: dict[str, float]) -> None:
        engine, number = self.engine, valve.number
        self.to_place(valve)
        shim = engine.adjuster(number).shim
        assert shim is not None
        moved_mm = 0.0
        closing = found.get("closing")
        if closing is not None:
            spec = engine.closing[valve.role]
            if not float(spec.low_mm) <= closing <= float(spec.high_mm):
                moved_mm = self._change_shim(valve, "closing", closing, float(spec.middle_mm))
        opening = found["opening"] + moved_mm
        spec = engine.clearance[valve.role]
        if float(spec.low_mm) <= opening <= float(spec.high_mm):
            return
        if shim.cams_out:
            self._cams(out=True)
        self._change_shim(valve, "opening", opening, float(spec.middle_mm))
        if shim.cams_out:
            self._cams(out=False)

    def _change_shim(self, valve: Valve, gap: str, gap_mm: float, middle_mm: float) -> float:
        """What that adds to the gap."""
        run, number = self.run, valve.number
        run.act({"do": "take-shim", "valve": number, "gap": gap})
        read = run.act({"do": "read-shim", "valve": number, "by": "micrometer", "gap": gap})
        engine = self.engine
        adjuster = engine.closing_adjuster_of(valve.role) if gap == "closing" else (
            engine.adjuster(number))  # fmt: skip
        assert adjuster.shim is not None
        made = [int(size * 1000) for size in adjuster.shim.sizes.all()]
        fitted = min(made, key=lambda size: abs(size - read["facts"]["size_mm"] * 1000))
        wanted = fitted + (gap_mm - middle_mm) * 1000
        size = self.size_to_fit(fitted, wanted, made)
        run.act({"do": "fit-shim", "valve": number, "size_um": size, "gap": gap})
        return (fitted - size) / 1000

    def size_to_fit(self, fitted: int, wanted: float, made: list[int]) -> int:
        """The nearest that is made."""
        return min(made, key=lambda one: abs(one - wanted))

    def lock(self, *, locked: bool) -> None:
        self.run.act({"do": "lock-crank", "locked": locked})

    def to_pin(self) -> None:
        """To the place of the timing pin, where there is one."""
        pins = [m for m in self.engine.marks if m.means == "pin"]
        if not pins:
            return
        assert self.crank_deg is not None
        ahead = min((deg - self.crank_deg) % 720 for m in pins for deg in m.crank_degs())
        if ahead > 0.01:
            self.run.act({"do": "turn", "by_deg": ahead})
            self.crank_deg = (self.crank_deg + ahead) % 720

    def _cams(self, *, out: bool) -> None:
        """Out with the crank locked."""
        run = self.run
        if out:
            self.to_pin()
            self.lock(locked=True)
            run.act({"do": "cams", "out": True})
        else:
            run.act({"do": "cams", "out": False})
            self.lock(locked=False)
