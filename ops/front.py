"""nginx before the application: whole requests in, whole answers out.

gunicorn's threads are few, and each waits for the request that it reads. So the slow wait here:
headers and bodies are taken in full, within a time, before the application hears of them. The
application listens on a socket file that only this front reaches.
"""

import os
import pwd
import re
import shutil
import signal
import subprocess
import time
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from ops.console import Trouble
from ops.install import need_nginx
from ops.leftovers import WITH_PARENT

PATIENCE_S = 20
DEADLINE_S = 10
"""For the headers of a request, and between two pieces of its body."""
MOST_BODY_MB = 13
AWAY = (
    '{"status": 503, "title": "Not ready", "detail": "Edrix is starting again; nothing is lost. '
    'It goes on by itself in a moment.", "fields": [], "confirm": false}'
)

LARGE = (
    f'{{"status": 413, "title": "Too large", "detail": "What you sent is more than '
    f'{MOST_BODY_MB} MB; send less at once.", "fields": [], "confirm": false}}'
)


TEMPLATE = Path(__file__).with_name("nginx.conf.in")
PLAIN = Path(__file__).with_name("nginx-plain.conf.in")
GET_CERTIFICATE = Path(__file__).with_name("get-certificate.html")


@dataclass(frozen=True)
class Https:
    """folder: what `ops.certificate` made. plain: where plain http leads on to https."""

    folder: Path
    plain: tuple[str, int]


class Front:
    """One nginx of our own: its configuration and its files are in its folder.

    folder must be short enough for a socket's name. proxies: addresses that are believed when
    they say for whom they ask. behind_https: a proxy before it ends TLS, and says how it was asked.
    https: this front ends it itself. environment: what it is started with.
    """

    def __init__(
        self,
        folder: Path,
        address: tuple[str, int],
        proxies: Sequence[str] = (),
        *,
        behind_https: bool = False,
        https: Https | None = None,
        environment: Mapping[str, str] | None = None,
    ):
        self._environment = environment
        self._folder = folder
        self._behind_https = behind_https
        self._https = https
        self._address = address
        self._proxies = tuple(proxies)
        self._process: subprocess.Popen[bytes] | None = None

    @property
    def socket(self) -> Path:
        """Where the application listens."""
        return self._folder / "app.sock"

    def start(self) -> None:
        """Raises Trouble where it does not come up."""
        program = need_nginx()
        self._end_leftovers()
        self._folder.mkdir(parents=True, exist_ok=True)
        config = self._folder / "nginx.conf"
        config.write_text(_filled(TEMPLATE.read_text(), self._values()))
        log = self._folder / "nginx.log"
        with log.open("a") as out:
            self._process = subprocess.Popen(
                [*WITH_PARENT, program, "-p", self._folder, "-c", config, "-e", log],
                stdout=out,
                stderr=out,
                env=self._environment,
                start_new_session=True,
            )
        deadline = time.monotonic() + PATIENCE_S
        while not (self._folder / "nginx.pid").exists():
            if self._process.poll() is not None or time.monotonic() > deadline:
                last = "\n".join(log.read_text().splitlines()[-5:])
                self.stop()
                raise Trouble(f"the front did not start; its log {log} ends with:\n{last}")
            time.sleep(0.02)

    def runs(self) -> bool:
        return self._process is not None and self._process.poll() is None

    def pid(self) -> int | None:
        return self._process.pid if self._process is not None and self.runs() else None

    def stop(self) -> None:
        if self._process is None:
            return
        self._process.terminate()
        with suppress(subprocess.TimeoutExpired):
            self._process.wait(timeout=10)
        self._end_leftovers()
        self._process = None

    def _end_leftovers(self) -> None:
        """A master that was killed leaves its worker behind, which holds the port."""
        if self._process is not None:
            with suppress(ProcessLookupError):
                os.killpg(self._process.pid, signal.SIGKILL)
            self._process.wait()
        (self._folder / "nginx.pid").unlink(missing_ok=True)

    def _values(self) -> dict[str, str]:
        host, port = self._address
        values = {
            # As root it would go on as nobody, who cannot look into our folder.
            "USER": f"user {pwd.getpwuid(0).pw_name};" if os.getuid() == 0 else "",
            "FOLDER": str(self._folder),
            "SOCKET": str(self.socket),
            "LISTEN": f"{host}:{port}",
            "CERTIFICATE": "",
            "PLAIN": "",
            "DEADLINE": f"{DEADLINE_S}s",
            "MOST_BODY": f"{MOST_BODY_MB}m",
            "BELIEVED": " ".join(f"set_real_ip_from {proxy};" for proxy in self._proxies),
            "FORWARDED": "$http_x_forwarded_proto" if self._behind_https else "$scheme",
            "AWAY": AWAY,
            "LARGE": LARGE,
        }
        return values if self._https is None else {**values, **self._tls(self._https, values)}

    def _tls(self, https: Https, values: dict[str, str]) -> dict[str, str]:
        """What differs where this front ends TLS; puts what plain http gives into place."""
        given = self._folder / "plain"
        given.mkdir(exist_ok=True)
        shutil.copyfile(https.folder / "authority.crt", given / "school-certificate.crt")
        host, port = https.plain
        values = {
            **values,
            "LISTEN": f"{values['LISTEN']} ssl",
            "CERTIFICATE": f"ssl_certificate {https.folder}/server.crt; "
            f"ssl_certificate_key {https.folder}/server.key; ssl_protocols TLSv1.2 TLSv1.3;",
            "PLAIN_LISTEN": f"{host}:{port}",
            "HTTPS": f"https://$host:{self._address[1]}",
            "URL": "/open",
        }
        (given / "index.html").write_text(_filled(GET_CERTIFICATE.read_text(), values))
        return {**values, "PLAIN": _filled(PLAIN.read_text(), values)}


def _filled(template: str, values: dict[str, str]) -> str:
    return re.sub(r"@([A-Z_]+)@", lambda name: values[name[1]], template)
