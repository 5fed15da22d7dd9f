"""Records of lists ticked that come back with a class: whether they can have been."""

from pydantic import TypeAdapter

from edrix.safety.models import Opening
from edrix.shapes import Stored
from valvetrain.cautions import StartKind


class _Line(Stored):
    id: str
    says: str


_LINES = TypeAdapter(list[_Line])


def prove(class_id: int) -> None:
    """Raises ValueError for a record whose lines are none."""
    for record in Opening.objects.filter(stand__uses__teaching_class_id=class_id):
        StartKind(record.start)
        _LINES.validate_python(record.opened)
        if (record.closed is None) != (record.closed_at is None):
            raise ValueError("a list was closed at no time, or no list at a time")
        if record.closed is not None:
            _LINES.validate_python(record.closed)
