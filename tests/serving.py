"""Starts the real application in a process of its own, as a user would."""

from __future__ import annotations

import http.client
import json
import re
import subprocess
import sys
from dataclasses import dataclass
from pathlib import Path
from typing import Any


@dataclass
class Served:
    """A running application."""

    process: subprocess.Popen[str]
    host: str
    port: int

    @property
    def url(self) -> str:
        """Its address."""
        return f"http://{self.host}:{self.port}/"

    def said_next(self) -> str:
        """Return the next line that it prints."""
        assert self.process.stderr is not None
        return self.process.stderr.readline()

    def ask(
        self, method: str, path: str, body: object = None, headers: dict[str, str] | None = None
    ) -> tuple[int, Any]:
        """Send a JSON request; return status and decoded answer."""
        connection = http.client.HTTPConnection(self.host, self.port, timeout=60)
        try:
            text = None if body is None else json.dumps(body)
            connection.request(method, path, text, {"Content-Type": "application/json", **(headers or {})})
            answer = connection.getresponse()
            data = answer.read()
        finally:
            connection.close()
        kind = answer.headers.get("Content-Type", "")
        return answer.status, json.loads(data) if "json" in kind else data

    def kill(self) -> None:
        """End it as kill -9 does."""
        self.process.kill()
        self.process.wait()


def serve(data: Path, port: int = 0, more: tuple[str, ...] = ()) -> Served:
    """Start ``elvatch serve`` over a data folder, on a free port when none is named; wait for its address."""
    command = [sys.executable, "-m", "elvatch", "serve", "--data", str(data), "--port", str(port), *more]
    process = subprocess.Popen(command, stderr=subprocess.PIPE, text=True)
    assert process.stderr is not None
    said = ""
    for line in process.stderr:
        said += line
        found = re.search(r"http://([\d.]+):(\d+)/", line)
        if found:
            return Served(process, found[1].replace("0.0.0.0", "127.0.0.1"), int(found[2]))
    raise RuntimeError(f"the application did not start: {said}")
