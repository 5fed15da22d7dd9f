"""Lessons as files: `edrix-lesson/1`, steps that an instructor writes once and holds often.

Everything that is wrong is found at once, each with its JSONPath. docs/lesson-file.md describes the
fields. Engines, practice engines and sheets are named as they are called where it is held.
"""

from typing import Any, Literal, NamedTuple, get_args

from valvetrain.angles import MOST_TYPED_DEG, normalise_deg
from valvetrain.constants import (
    LEAST_COUNTDOWN_S,
    MOST_COUNTDOWN_S,
    MOST_LESSON_STEPS,
    MOST_LESSON_TITLE,
    MOST_LESSON_WORDS,
    MOST_STEP_MINUTES,
)
from valvetrain.document import DocumentError, Node
from valvetrain.drill import KINDS

LESSON_FORMAT = "edrix-lesson/1"

StepKind = Literal["text", "bench", "question", "drill", "practice", "sheet"]
View = Literal["whole", "overlap", "clearance", "section"]
VIEWS: tuple[View, ...] = get_args(View)


class LessonStep(NamedTuple):
    """Fields that its kind does not have stay as they are here. named is the practice engine or the
    sheet of a class, by its title."""

    kind: StepKind
    title: str
    text: str = ""
    notes: str = ""
    """For the instructor's own screen."""
    minutes: int = 0
    """How long it is planned to take; 0 where that is open."""
    engine: str = ""
    at_deg: float | None = None
    """Where the crank stands; None, of a question: at a place by chance."""
    view: View = "whole"
    cover: bool = False
    """Whether what tells is covered."""
    question: str = ""
    seconds: int | None = None
    """The count-down; None: closed by hand."""
    named: str = ""


class Lesson(NamedTuple):
    title: str
    about: str
    steps: tuple[LessonStep, ...]

    @property
    def minutes(self) -> int:
        return sum(step.minutes for step in self.steps)


def read_lesson(document: Any) -> Lesson:
    """Raises DocumentError with every fault that was found."""
    root = Node(document)
    if not root.is_object(f"an object, as {LESSON_FORMAT} describes it"):
        raise DocumentError(root.faults)
    root["format"].choice(LESSON_FORMAT)
    _only(root, _FIELDS)
    lesson = Lesson(
        root["title"].text("what the lesson is called", most=MOST_LESSON_TITLE).strip(),
        _words(root["about"], "what it is about"),
        tuple(_step(node) for node in root["steps"].items("the steps", most=MOST_LESSON_STEPS)),
    )
    if not lesson.steps and not root.faults:
        root["steps"].given("at least one step")
    if root.faults:
        raise DocumentError(root.faults)
    return lesson


def write_lesson(lesson: Lesson) -> dict[str, Any]:
    """As JSON values; `read_lesson` reads it back. What says nothing is left out."""
    return {
        "format": LESSON_FORMAT,
        "title": lesson.title,
        **({"about": lesson.about} if lesson.about else {}),
        "steps": [_written(step) for step in lesson.steps],
    }


_FIELDS = ("format", "title", "about", "steps")
_COMMON = ("kind", "title", "text", "notes", "minutes")
_OWN: dict[StepKind, tuple[str, ...]] = {
    "text": (),
    "bench": ("engine", "at_deg", "view", "cover"),
    "question": ("engine", "question", "at_deg", "seconds"),
    "drill": ("engine",),
    "practice": ("named",),
    "sheet": ("named",),
}
"""The fields that each kind of step has besides those of all."""


def _step(node: Node) -> LessonStep:
    if not node.is_object("an object, one step"):
        return LessonStep("text", "")
    kind = node["kind"].choice(*_OWN)
    own = _OWN[kind]
    _only(node, (*_COMMON, *own))
    return LessonStep(
        kind,
        node["title"].text("what this step is called", most=MOST_LESSON_TITLE).strip(),
        _words(node["text"], "what is said"),
        _words(node["notes"], "notes for the instructor"),
        0
        if node["minutes"].missing
        else node["minutes"].whole("minutes", low=0, high=MOST_STEP_MINUTES),
        node["engine"].text("the engine's name", most=200).strip() if "engine" in own else "",
        _at(node["at_deg"]) if "at_deg" in own else None,
        "whole" if "view" not in own or node["view"].missing else node["view"].choice(*VIEWS),
        "cover" in own and not node["cover"].missing and node["cover"].yes_no(),
        _question(node["question"]) if "question" in own else "",
        _seconds(node["seconds"]) if "seconds" in own else None,
        node["named"].text(f"the title of the {kind}", most=MOST_LESSON_TITLE).strip()
        if "named" in own
        else "",
    )


def _only(node: Node, known: tuple[str, ...]) -> None:
    for name in node.value:
        if name not in known:
            node[name].fault(f"is not known here; known are {', '.join(known)}")


def _words(node: Node, wanted: str) -> str:
    return "" if node.missing else node.text(wanted, most=MOST_LESSON_WORDS, empty=True).strip()


def _at(node: Node) -> float | None:
    if node.missing or node.value is None:
        return None
    return normalise_deg(node.number("crank degrees", low=-MOST_TYPED_DEG, high=MOST_TYPED_DEG))


def _question(node: Node) -> str:
    return node.choice(*(kind.id for kind in KINDS))


def _seconds(node: Node) -> int | None:
    if node.missing or node.value is None:
        return None
    return node.whole("seconds", low=LEAST_COUNTDOWN_S, high=MOST_COUNTDOWN_S)


_SILENT = LessonStep("text", "")


def _written(step: LessonStep) -> dict[str, Any]:
    said = step._asdict()
    kept = ("kind", "title", *(name for name in said if said[name] != getattr(_SILENT, name)))
    return {name: said[name] for name in dict.fromkeys(kept)}


def lesson_schema() -> dict[str, Any]:
    """The JSON Schema (draft 2020-12): what a schema can say of the file."""
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": LESSON_FORMAT,
        "description": "A lesson on valve clearance adjustment: steps in the order they are held.",
        "type": "object",
        "required": ["format", "title", "steps"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": LESSON_FORMAT},
            "title": {"type": "string", "minLength": 1, "maxLength": MOST_LESSON_TITLE},
            "about": {"type": "string", "maxLength": MOST_LESSON_WORDS},
            "steps": {
                "type": "array",
                "minItems": 1,
                "maxItems": MOST_LESSON_STEPS,
                "items": {"oneOf": [_step_schema(kind) for kind in _OWN]},
            },
        },
    }


def _step_schema(kind: StepKind) -> dict[str, Any]:
    own = _OWN[kind]
    fields: dict[str, Any] = {
        "kind": {"const": kind},
        "title": {"type": "string", "minLength": 1, "maxLength": MOST_LESSON_TITLE},
        "text": {"type": "string", "maxLength": MOST_LESSON_WORDS},
        "notes": {"type": "string", "maxLength": MOST_LESSON_WORDS},
        "minutes": {"type": "integer", "minimum": 0, "maximum": MOST_STEP_MINUTES},
    }
    of_own: dict[str, Any] = {
        "engine": {"type": "string", "minLength": 1, "maxLength": 200},
        "at_deg": {
            "type": ["number", "null"], "minimum": -MOST_TYPED_DEG, "maximum": MOST_TYPED_DEG,
        },
        "view": {"enum": list(VIEWS)},
        "cover": {"type": "boolean"},
        "question": {"enum": [one.id for one in KINDS]},
        "seconds": {
            "type": ["integer", "null"], "minimum": LEAST_COUNTDOWN_S, "maximum": MOST_COUNTDOWN_S,
        },
        "named": {"type": "string", "minLength": 1, "maxLength": MOST_LESSON_TITLE},
    }  # fmt: skip
    needed = [name for name in own if name in ("engine", "question", "named")]
    return {
        "type": "object",
        "required": ["kind", "title", *needed],
        "additionalProperties": False,
        "properties": fields | {name: of_own[name] for name in own},
    }
