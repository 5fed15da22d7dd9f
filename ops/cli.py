"""The commands of `./edrix`."""

import argparse
import os
import sys
from collections.abc import Callable
from typing import NoReturn

from ops.console import Trouble
from ops.paths import PYTHON, ROOT

Command = Callable[[argparse.Namespace], int]


def main(arguments: list[str]) -> int:
    if arguments[:1] == ["calc"]:
        return _calc(arguments[1:])
    options = _parser().parse_args(arguments)
    command: Command = options.command
    try:
        return command(options)
    except Trouble as trouble:
        print(f"edrix: {trouble}", file=sys.stderr)
        return 1
    except KeyboardInterrupt:
        return 130


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="edrix", description="Edrix: teaching valve clearance adjustment. The one command."
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    def add(name: str, about: str, command: Command) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=about, description=about)
        sub.set_defaults(command=command)
        return sub

    for name, about, command in (
        ("demo", "Start Edrix with the demo school; prints the address and the accounts.", _demo),
        ("serve", "Start Edrix with an empty school of your own.", _serve),
    ):
        sub = add(name, about, command)
        sub.add_argument(
            "--host",
            help="address to listen on, 0.0.0.0 for all of this machine's (default: the demo on "
            "this machine only, a school as was answered at its first start); EDRIX_HOSTS names "
            "what others call this machine",
        )
        sub.add_argument("--port", type=int, default=0, help="port (default: first free from 8000)")
        sub.add_argument(
            "--https",
            nargs="?",
            type=int,
            const=0,
            metavar="PORT",
            help="serve https with a certificate that this school makes for itself, so that pages "
            "open without a network (default: first free from 8443); plain http then gives devices "
            "the certificate",
        )
    add(
        "worker",
        "Help with long work of the school in the database that EDRIX_DATABASE_URL names.",
        _worker,
    )
    account = add(
        "account", "List people, give a new passcode, add an instructor, make a head.", _account
    )
    account.add_argument(
        "what",
        choices=["list", "passcode", "add", "teach", "no-teach", "head", "no-head"],
        help="add takes a person's name, list nothing, the others a sign-in name",
    )
    account.add_argument("name", nargs="?", default="")
    account.add_argument("--demo", action="store_true", help="of the demo school")
    test = add("test", "Run every check: format, types, architecture, tests.", _test)
    test.add_argument("--only", metavar="STEP", action="append", help="one step; see the output")
    add("calc", "The arithmetic at the command line; see ./edrix calc --help.", _test)
    add(
        "journeys",
        "Play whole runs, sheets and lessons on every engine, level, box and fault; takes long.",
        _journeys,
    )
    add("shots", "Make the pictures in docs/screenshots from the demo.", _shots)
    add("api", "Write docs/openapi.json and the front end's types from the server.", _api)
    add("findings", "How often findings find what was planted, and accuse.", _findings)
    mutants = add(
        "mutate", "Change the core a little at a time; count what its tests notice.", _mutate
    )
    mutants.add_argument("modules", nargs="*", help="like heel or grading/marks; default: some")
    soak = add("soak", "Kill what serves sixty students again and again; nothing is lost.", _soak)
    soak.add_argument("--kills", type=int, default=100)
    soak.add_argument("--students", type=int, default=60)
    add("bench", "Measure the speeds that docs/benchmarks.md records.", _bench)
    return parser


def _calc(arguments: list[str]) -> int:
    from ops.install import need_venv

    try:
        need_venv()
    except Trouble as trouble:
        print(f"edrix: {trouble}", file=sys.stderr)
        return 1
    return _become("valvetrain.calculator", *arguments)


def _demo(options: argparse.Namespace) -> int:
    from ops.server import serve

    return serve(demo=True, host=options.host, port=options.port, https_port=options.https)


def _serve(options: argparse.Namespace) -> int:
    from ops.server import serve

    return serve(demo=False, host=options.host, port=options.port, https_port=options.https)


def _worker(_options: argparse.Namespace) -> int:
    from ops.server import work

    url = os.environ.get("EDRIX_DATABASE_URL")
    if not url:
        raise Trouble(
            "a worker needs EDRIX_DATABASE_URL, the database of the school that it works for; "
            "./edrix demo and ./edrix serve start one of their own"
        )
    return work(url)


def _account(options: argparse.Namespace) -> int:
    from ops.server import account

    return account(options.what, options.name, demo=options.demo)


def _test(options: argparse.Namespace) -> int:
    from ops.checks import run_checks

    return run_checks(options.only)


def _journeys(_options: argparse.Namespace) -> int:
    from ops.checks import run_journeys

    return run_journeys()


def _findings(_options: argparse.Namespace) -> int:
    return _in_venv("ops.finding_rates")


def _api(_options: argparse.Namespace) -> int:
    from ops.checks import write_api

    return write_api()


def _shots(_options: argparse.Namespace) -> int:
    return _in_venv("ops.shots")


def _mutate(options: argparse.Namespace) -> int:
    from ops.mutate import mutate

    return mutate(options.modules)


def _bench(_options: argparse.Namespace) -> int:
    return _in_venv("ops.bench")


def _soak(options: argparse.Namespace) -> int:
    from ops.install import need_nginx, need_venv, need_web
    from ops.soak import main as soak

    need_venv()
    need_nginx()
    need_web()
    return soak(options.kills, options.students)


def _in_venv(module: str) -> int:
    """Runs a module that needs the development packages, as this process."""
    from ops.install import need_chromium, need_venv, need_web

    need_venv("dev")
    need_web()
    need_chromium()
    os.chdir(ROOT)
    return _become(module)


def _become(module: str, *arguments: str) -> NoReturn:
    os.execv(PYTHON, [str(PYTHON), "-m", module, *arguments])  # noqa: S606 (no shell is wanted)
