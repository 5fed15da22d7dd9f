"""The address by which phones of the house reach this machine: found, asked for once, and kept.

Example: the first `./edrix serve` in a terminal finds 192.0.2.7 and asks whether phones are to come
in there. The answer is kept in the state folder; `--host` says it without being asked.
"""

import ipaddress
import socket
import sys
from collections.abc import Mapping

from ops.console import say
from ops.paths import private_file

ONLY_HERE, EVERYWHERE = "127.0.0.1", "0.0.0.0"  # noqa: S104 (asked for by whoever starts it)
_KEPT = "host"


def address_in_house() -> str | None:
    """This machine's address on the network that it would go out by; None without one."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # Nothing is sent: only the way there is looked up. An address of no real machine
            # (RFC 5737).
            probe.connect(("192.0.2.1", 9))
        except OSError:
            return None
        found = str(probe.getsockname()[0])
    return None if is_only_here(found) else found


def is_only_here(host: str) -> bool:
    """Whether nobody but this machine reaches that address."""
    try:
        return ipaddress.ip_address(host.strip("[]")).is_loopback
    except ValueError:
        return host == "localhost"


def chosen_host() -> str:
    """Where a school's server listens, when the command does not say: as was answered before, or
    asked now where somebody can answer."""
    kept = private_file(_KEPT)
    if host := kept.read_text().strip():
        return host
    found = address_in_house()
    if found is None or not sys.stdin.isatty():
        say(f"only this machine can open it; for phones: --host {found or EVERYWHERE}")
        return ONLY_HERE
    print(f"\n  Shall phones and other computers of the house open Edrix, at {found}?")
    said = input("  y: yes    n: only this machine    [y] ").strip().lower()
    host = ONLY_HERE if said.startswith("n") else EVERYWHERE
    kept.write_text(host)
    say(f"kept for the next starts; --host says it otherwise, {kept} forgets it when it is empty")
    return host


def name_for_devices(host: str, environment: Mapping[str, str]) -> str | None:
    """What other devices call this machine; None where they cannot reach it. EDRIX_HOSTS says it
    first."""
    if is_only_here(host):
        return None
    named = [one.strip() for one in environment.get("EDRIX_HOSTS", "").split(",") if one.strip()]
    for one in named:
        if one != "*" and not one.startswith(".") and not is_only_here(one):
            return one
    return address_in_house() if host == EVERYWHERE else host


def with_names(host: str, environment: Mapping[str, str]) -> dict[str, str]:
    """The environment of a server that answers to the names by which it can be reached."""
    if environment.get("EDRIX_HOSTS") or is_only_here(host):
        return dict(environment)
    name = name_for_devices(host, environment)
    known = ["localhost", "127.0.0.1", "[::1]", socket.gethostname(), *([name] if name else [])]
    return {**environment, "EDRIX_HOSTS": ",".join(known)}
