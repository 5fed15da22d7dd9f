"""Makes the first instructor of an empty school, and says how to sign in."""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from edrix.accounts import services


class Command(BaseCommand):
    help = "Makes the first instructor if nobody has an account yet."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("kept", help="unused here; the demo keeps its accounts in a file")

    def handle(self, *args: Any, **options: Any) -> None:
        if services.anybody_there():
            return
        passcode = services.new_passcode()
        services.make_person("Instructor", "instructor", passcode, may_teach=True, is_head=True)
        self.stdout.write("First account (shown once):")
        self.stdout.write(f"  instructor   {passcode}")
        self.stdout.write("")
        self.stdout.write("Locked out one day?  ./edrix account --help")
