"""Accounts at the command line, for when everybody is locked out."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from edrix.accounts import services
from edrix.errors import ServiceError

WHAT = ("list", "passcode", "add", "teach", "no-teach", "head", "no-head")


class Command(BaseCommand):
    help = (
        "Lists people, gives a new passcode, adds an instructor, gives or takes the right to "
        "teach, makes or unmakes a head of the school."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("what", choices=WHAT)
        parser.add_argument("name", nargs="?", help="a sign-in name; for add, the person's name")

    def handle(self, *args: Any, what: str, name: str | None, **options: Any) -> None:
        if what == "list":
            return self._list()
        if not name:
            raise CommandError(f"say who: account {what} NAME")
        try:
            getattr(self, f"_{what.replace('-', '_')}")(name)
        except ServiceError as refusal:
            raise CommandError(str(refusal)) from None

    def _list(self) -> None:
        for user in services.everybody():
            role = "head" if user.is_head else "teaches" if user.may_teach else "student"
            off = "" if user.is_active else "  (cannot sign in)"
            self.stdout.write(f"{user.sign_in_name:<30} {role:<8} {user.display_name}{off}")

    def _passcode(self, name: str) -> None:
        user = services.person_called(name)
        passcode = services.give_new_passcode(user.id)
        self.stdout.write(f"New passcode (shown once):\n  {user.sign_in_name}   {passcode}")

    def _add(self, name: str) -> None:
        sign_in_name = services.free_sign_in_name(name, services.taken_sign_in_names())
        passcode = services.new_passcode()
        services.make_person(" ".join(name.split()), sign_in_name, passcode, may_teach=True)
        self.stdout.write(f"New instructor (shown once):\n  {sign_in_name}   {passcode}")

    def _teach(self, name: str) -> None:
        self._let(name, teaches=True)

    def _no_teach(self, name: str) -> None:
        self._let(name, teaches=False)

    def _head(self, name: str) -> None:
        self._make_head(name, is_head=True)

    def _no_head(self, name: str) -> None:
        self._make_head(name, is_head=False)

    def _make_head(self, name: str, *, is_head: bool) -> None:
        user = services.person_called(name)
        services.make_head(user, is_head)
        is_now = "is head of the school" if is_head else "is not head"
        self.stdout.write(f"{user.display_name} {is_now} now.")

    def _let(self, name: str, *, teaches: bool) -> None:
        user = services.person_called(name)
        services.let_teach(user, teaches)
        self.stdout.write(f"{user.display_name} {'teaches' if teaches else 'does not teach'} now.")
