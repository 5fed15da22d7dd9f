"""Accounts at the command line, for when everybody is locked out."""

from typing import Any

from axes.utils import reset
from django.core.management.base import BaseCommand, CommandError, CommandParser

from edrix.accounts import services
from edrix.errors import ServiceError


class Command(BaseCommand):
    help = (
        "Lists people, gives a new passcode, adds an instructor, gives or takes the right to teach."
    )

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("what", choices=["list", "passcode", "add", "teach", "no-teach"])
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
            role = "teaches" if user.may_teach else "student"
            off = "" if user.is_active else "  (cannot sign in)"
            self.stdout.write(f"{user.sign_in_name:<30} {role:<8} {user.display_name}{off}")

    def _passcode(self, name: str) -> None:
        user = services.person_called(name)
        passcode = services.give_new_passcode(user.id)
        reset(username=user.sign_in_name)
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

    def _let(self, name: str, *, teaches: bool) -> None:
        user = services.person_called(name)
        services.let_teach(user, teaches)
        self.stdout.write(f"{user.display_name} {'teaches' if teaches else 'does not teach'} now.")
