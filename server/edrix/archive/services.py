"""A class as one file: everything of it out, and back into this Edrix or another.

`edrix-class/1` is a zip with a manifest and one JSON file for each table. People come back as new
accounts without a passcode (their instructor gives them one), except the person who reads the
archive back: nobody gets records, or a sheet in their name, by somebody else's file.
"""

import hashlib
import io
import json
import zipfile
from datetime import datetime
from typing import Any

from django.core.exceptions import ValidationError
from django.core.serializers.json import DjangoJSONEncoder
from django.db import DatabaseError, transaction
from django.db.models import Model

from edrix.accounts import services as accounts
from edrix.accounts.models import User
from edrix.archive.tables import (
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
from edrix.classes import services as classes
from edrix.engines import moving as engines
from edrix.errors import FieldFault, InvalidError, NotAllowedError
from edrix.practice import moving as practice

FORMAT = "edrix-class/1"
MOST_UNPACKED_BYTES = 120_000_000
MOST_ROWS = 500_000
Row = dict[str, Any]


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
        found = part.model._default_manager.filter(**{part.of_class: class_id})
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


@transaction.atomic
def read_archive(user: User, data: bytes) -> int:
    """Makes the class of an archive, whole or not at all; gives its id. Raises InvalidError."""
    if not user.may_teach:
        raise NotAllowedError("Only people who teach make classes.")
    tables = _unpacked(data)
    try:
        return _Reader(user, tables).read()
    except (KeyError, TypeError, ValueError, AttributeError, ValidationError, DatabaseError):
        # The sums were right, so no accident did this: somebody wrote into it.
        raise _broken("does not fit together; make it again where it came from") from None


class _Reader:
    """Rows with ids of their own become rows with ids of this database."""

    def __init__(self, user: User, tables: dict[str, list[Row]]):
        self.user, self.tables = user, tables
        self.ids: dict[str, dict[int, int]] = {}
        self.come_along: set[int] = set()
        """People who are new here, by their old ids."""

    def read(self) -> int:
        self._people()
        self.ids[ENGINE], self.ids[VERSION] = engines.take_in_rows(
            self.tables[ENGINE], self.tables[VERSION], self.ids[PERSON]
        )
        practice.fill_in_rules(self.tables["practice.PracticeRun"])
        practice.fill_in_seeds(
            self.tables["practice.PracticeRun"], self.tables["practice.PracticeEngine"]
        )
        for part in PARTS:
            rows = self.tables[part.label]
            if part.label == "drills.Drill":
                rows = [row for row in rows if row["person_id"] in self.come_along]
            elif part.label == "drills.DrillAnswer":
                rows = [row for row in rows if row["drill_id"] in self.ids["drills.Drill"]]
            self.ids[part.label] = self._take(part.model, rows)
        (class_id,) = self.ids["classes.TeachingClass"].values()
        practice.prove_runs(class_id)
        classes.make_instructor(self.user, class_id)
        return class_id

    def _people(self) -> None:
        """Who taught comes back as a name that nobody can sign in with."""
        members = self.tables["classes.Membership"]
        students = {row["user_id"] for row in members if row["role"] == "student"}
        taken = accounts.taken_sign_in_names()
        ids = self.ids[PERSON] = {}
        for row in self.tables[PERSON]:
            name = row["sign_in_name"]
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
            self.come_along.add(row["id"])

    def _take(self, model: type[Model], rows: list[Row]) -> dict[int, int]:
        made: list[Model] = []
        old_ids: list[int] = []
        for row in rows:
            values = {}
            for field in fields_of(model):
                if field.attname not in row and field.has_default():
                    # An archive of an older Edrix, which did not have this column yet.
                    values[field.attname] = field.get_default()
                    continue
                value = row[field.attname]
                if field.primary_key:
                    old_ids.append(int(value))
                    continue
                if (label := refers_to(field)) is not None and value is not None:
                    value = self.ids[label][value]
                elif label is None and value is not None:
                    value = field.to_python(value)
                    field.run_validators(value)
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
        return dict(zip(old_ids, [int(one.pk) for one in made], strict=True))


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
            tables = {}
            for label in [*(part.label for part in PARTS), ENGINE, VERSION, PERSON]:
                written_as = label if label in manifest["tables"] else FORMER_LABELS[label]
                body = packed.read(f"{written_as}.json")
                if hashlib.sha256(body).hexdigest() != manifest["tables"][written_as]["sha256"]:
                    raise _broken(f"was damaged on its way: {label} is not as it was written")
                tables[label] = json.loads(body)
    except InvalidError:
        raise
    except Exception:  # A broken zip fails in many ways, all meaning this.
        raise _broken("is no archive of a class; choose one that Edrix made") from None
    if sum(map(len, tables.values())) > MOST_ROWS:
        raise _broken("has more rows than any class has")
    return tables


def _broken(problem: str) -> InvalidError:
    return InvalidError(f"This file {problem}.", [FieldFault("file", problem)])
