"""A class as one file: everything of it out, and back into this Edrix or another.

`edrix-class/1` is a zip with a manifest and one JSON file for each table. People come back as new
accounts without a passcode (their instructor gives them one), except the person who reads the
archive back: nobody gets records, or a sheet in their name, by somebody else's file.
"""

import hashlib
import io
import json
import zipfile
from datetime import UTC, datetime, timedelta
from typing import Any

from django.core.exceptions import ValidationError
from django.core.serializers.json import DjangoJSONEncoder
from django.db import DatabaseError, transaction
from django.db.models import Model
from django.utils import timezone

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.archive.tables import (
    ADDED_SINCE,
    ENGINE,
    FORMER_LABELS,
    PARTS,
    PERSON,
    PERSON_FIELDS,
    VERSION,
    fields_of,
    own_times,
    refers_to,
)
from edrix.asking import moving as asking
from edrix.classes import services as classes
from edrix.drills import moving as drills
from edrix.engines import moving as engines
from edrix.errors import FieldFault, InvalidError, NotAllowedError, ServiceError
from edrix.logbook import moving as logbook
from edrix.marking import moving as marking
from edrix.practice import moving as practice
from edrix.rota import moving as rotas
from edrix.safety import moving as safety
from edrix.shapes import refuse_bad_text
from edrix.sheets import moving as sheets
from edrix.stands import moving as stands

FORMAT = "edrix-class/1"
MOST_UNPACKED_BYTES = 120_000_000
MOST_ROWS = 500_000
FIRST_TIME = datetime(2000, 1, 1, tzinfo=UTC)
TEN_YEARS = timedelta(days=3653)
"""A sheet may be set to close at a time to come; no clock is that wrong."""
Row = dict[str, Any]
PROOFS = (
    stands.prove,
    safety.prove,
    practice.prove_weights,
    practice.prove_blind,
    practice.prove_engines,
    practice.prove_runs,
    sheets.prove,
    logbook.prove,
    marking.prove,
    drills.prove,
    asking.prove,
    rotas.prove,
)
"""Each room reads what has come as strictly as it reads what people type."""


class _Exact(DjangoJSONEncoder):
    """Times to the microsecond, as the database has them."""

    def default(self, o: Any) -> Any:
        return o.isoformat() if isinstance(o, datetime) else super().default(o)


def write_archive(user: User, class_id: int) -> tuple[str, bytes]:
    """A class for an instructor of it: the file's name and its bytes."""
    teaching_class = classes.require_instructor(user, class_id)
    tables: dict[str, list[Row]] = {}
    for part in PARTS:
        names = [field.attname for field in fields_of(part.model)]
        ways = {way: class_id for way in (part.of_class, part.also) if way}
        found = part.model._default_manager.filter(**ways)
        tables[part.label] = list(found.order_by("id").distinct().values(*names))
    versions = _referred(tables, VERSION)
    tables[VERSION] = engines.version_rows(versions)
    tables[ENGINE] = engines.engine_rows({row["engine_id"] for row in tables[VERSION]})
    people = User.objects.filter(id__in=_referred(tables, PERSON)).order_by("id")
    tables[PERSON] = list(people.values(*PERSON_FIELDS))
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        sums = {}
        for label, rows in tables.items():
            body = json.dumps(rows, cls=_Exact, ensure_ascii=False).encode()
            packed.writestr(f"{label}.json", body)
            sums[label] = {"rows": len(rows), "sha256": hashlib.sha256(body).hexdigest()}
        manifest = {"format": FORMAT, "class": teaching_class.name, "tables": sums}
        packed.writestr("manifest.json", json.dumps(manifest, ensure_ascii=False, indent=1))
    return f"class-{class_id}.edrix.zip", out.getvalue()


_UNFIT = (
    LookupError,
    TypeError,
    ArithmeticError,
    ValueError,
    AttributeError,
    ValidationError,
    DatabaseError,
    ServiceError,
)
"""What rows raise that nobody's Edrix has written: by the database, or by who reads them."""


@transaction.atomic
def read_archive(user: User, data: bytes) -> int:
    """Makes the class of an archive, whole or not at all; gives its id. Raises InvalidError."""
    if not user.may_teach:
        raise NotAllowedError("Only people who teach make classes.")
    tables = _unpacked(data)
    try:
        return _Reader(user, tables).read()
    except _UNFIT:
        # The sums were right, so no accident did this: somebody wrote into it.
        raise _broken("does not fit together; make it again where it came from") from None


class _Reader:
    """Rows with ids of their own become rows with ids of this database."""

    def __init__(self, user: User, tables: dict[str, list[Row]]):
        self.user, self.tables = user, tables
        self.ids: dict[str, dict[int, int]] = {}

    def read(self) -> int:
        self._name_classes()
        self._people()
        self.ids[ENGINE], self.ids[VERSION] = engines.take_in_rows(
            self.tables[ENGINE], self.tables[VERSION], self.ids[PERSON]
        )
        stands.fill_in_uses(self.tables["stands.Stand"], self.tables["stands.ClassStand"])
        stands.free_names(self.tables["stands.Stand"])
        practice.fill_in_rules(self.tables["practice.PracticeRun"])
        practice.fill_in_seeds(
            self.tables["practice.PracticeRun"], self.tables["practice.PracticeEngine"]
        )
        drills.forget_missed(self.tables["drills.Drill"])
        asking.end_open(self.tables["asking.ClassQuestion"])
        for part in PARTS:
            if part.label == "logbook.LogEntry":
                logbook.renumber(self.tables[part.label], self.ids)
            elif part.label == "rota.Rota":
                rotas.renumber(self.tables[part.label], self.ids)
            self.ids[part.label] = self._take(part.model, self.tables[part.label])
        (class_id,) = self.ids["classes.TeachingClass"].values()
        for prove in PROOFS:
            prove(class_id)
        classes.name_copy(class_id)
        classes.make_instructor(self.user, class_id)
        return class_id

    def _name_classes(self) -> None:
        """Drills of an older archive name no class, and are of all who were in it: what its
        students drilled alone is taken for this one's, and nothing else."""
        rows = self.tables["drills.Drill"]
        if not rows or "teaching_class_id" in rows[0]:
            return
        (row,) = self.tables["classes.TeachingClass"]
        members = self.tables["classes.Membership"]
        students = {member["user_id"] for member in members if member["role"] == "student"}
        kept = [d for d in rows if d["person_id"] in students and d["held"] == "alone"]
        self.tables["drills.Drill"] = [d | {"teaching_class_id": row["id"]} for d in kept]
        ids = {drill["id"] for drill in kept}
        answers = self.tables["drills.DrillAnswer"]
        self.tables["drills.DrillAnswer"] = [a for a in answers if a["drill_id"] in ids]

    def _people(self) -> None:
        """Who taught comes back as a name that nobody can sign in with."""
        members = self.tables["classes.Membership"]
        students = {row["user_id"] for row in members if row["role"] == "student"}
        taken = accounts.taken_sign_in_names()
        ids = self.ids[PERSON] = {}
        for row in self.tables[PERSON]:
            name = _name(row["sign_in_name"])
            _name(row["display_name"])
            if name == self.user.sign_in_name and row["id"] not in students:
                ids[row["id"]] = self.user.id
                continue
            if name in taken:
                name = accounts.free_sign_in_name(row["display_name"], taken)
            taken.add(name)
            person = accounts.make_without_passcode(
                row["display_name"], name, row["unit"], is_active=row["id"] in students
            )
            ids[row["id"]] = person.id

    def _take(self, model: type[Model], rows: list[Row]) -> dict[int, int]:
        made: list[Model] = []
        old_ids: list[int] = []
        own = [f.attname for f in fields_of(model) if refers_to(f) == model._meta.label]
        for row in rows:
            values = {}
            for field in fields_of(model):
                if field.attname not in row and (field.has_default() or field.null):
                    # An archive of an older Edrix, which did not have this column yet.
                    values[field.attname] = field.get_default()
                    continue
                value = row[field.attname]
                if field.primary_key:
                    old_ids.append(int(value))
                    continue
                if field.attname in own:
                    value = None
                elif (label := refers_to(field)) is not None and value is not None:
                    value = self.ids[label][value]
                elif label is None and value is not None:
                    value = field.to_python(value)
                    field.run_validators(value)
                    if field.attname in NAMES and not (field.blank and not value):
                        _name(value)
                    if isinstance(value, datetime):
                        _within_reason(value)
                values[field.attname] = value
            made.append(model(**values))
        times = own_times(model)
        kept = [[getattr(one, name) for name in times] for one in made]
        model._default_manager.bulk_create(made, batch_size=2000)
        if times:
            for one, values_kept in zip(made, kept, strict=True):
                for name, value in zip(times, values_kept, strict=True):
                    setattr(one, name, value)
            model._default_manager.bulk_update(made, times, batch_size=2000)
        ids = dict(zip(old_ids, [int(one.pk) for one in made], strict=True))
        for name in own:
            # Rows of a table that refer to each other: once all are there.
            for one, row in zip(made, rows, strict=True):
                setattr(one, name, None if row[name] is None else ids[row[name]])
            model._default_manager.bulk_update(made, [name.removesuffix("_id")], batch_size=2000)
        return ids


NAMES = ("name", "title")
"""Columns that hold what something is called."""


def _name(value: str) -> str:
    """Raises ValueError for what nobody can have typed into a field of one line."""
    if not value.strip() or any(letter in "\r\n\t" for letter in value):
        raise ValueError(f"{value!r} is no name")
    return value


def _within_reason(at: datetime) -> None:
    """Raises ValueError for a time that no clock of a school has shown."""
    if timezone.is_naive(at) or not FIRST_TIME <= at <= timezone.now() + TEN_YEARS:
        raise ValueError(f"nobody did anything at {at}")


def _referred(tables: dict[str, list[Row]], label: str) -> set[int]:
    """Ids that any row of the tables refers to."""
    found: set[int] = set()
    for part in PARTS:
        for field in fields_of(part.model):
            if refers_to(field) == label:
                found |= {row[field.attname] for row in tables[part.label]} - {None}
    if label == PERSON:
        for row in (*tables.get(VERSION, ()), *tables.get(ENGINE, ())):
            found.add(row["created_by_id"])
    return found


def _unpacked(data: bytes) -> dict[str, list[Row]]:
    """The tables of an archive, each as its manifest says. Raises InvalidError."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(part.file_size for part in packed.infolist()) > MOST_UNPACKED_BYTES:
                raise _broken("unpacks to more than any class has")
            manifest = json.loads(packed.read("manifest.json"))
            if manifest["format"] != FORMAT:
                raise _broken(f"is no {FORMAT}; it may be of a newer Edrix")
            tables: dict[str, list[Row]] = {}
            for label in [*(part.label for part in PARTS), ENGINE, VERSION, PERSON]:
                if label in ADDED_SINCE and label not in manifest["tables"]:
                    tables[label] = []
                    continue
                written_as = label if label in manifest["tables"] else FORMER_LABELS[label]
                body = packed.read(f"{written_as}.json")
                if hashlib.sha256(body).hexdigest() != manifest["tables"][written_as]["sha256"]:
                    raise _broken(f"was damaged on its way: {label} is not as it was written")
                tables[label] = _rows(body)
    except InvalidError:
        raise
    except Exception:  # A broken zip fails in many ways, all meaning this.
        raise _broken("is no archive of a class; choose one that Edrix made") from None
    if sum(map(len, tables.values())) > MOST_ROWS:
        raise _broken("has more rows than any class has")
    return tables


def _rows(body: bytes) -> list[Row]:
    """Raises ValueError for text and figures that no database of ours has held."""

    def no_figure(text: str) -> float:
        raise ValueError(f"{text} is no figure")

    rows: list[Row] = json.loads(body, parse_constant=no_figure)
    for row in rows:
        refuse_bad_text(row)
    return rows


def _broken(problem: str) -> InvalidError:
    return InvalidError(f"This file {problem}.", [FieldFault("file", problem)])
