"""Somebody who uses a running Fluctus from outside."""

import http.client
import http.cookiejar
import json
import ssl
import time
import urllib.error
import urllib.request
from typing import Any


class Person:
    """Somebody at the API of the demo workspace."""

    def __init__(self, address: str, certificate: str | None = None) -> None:
        """Sign in at an address, which has the ``certificate`` of a file where it is one's own."""
        self.address = address
        self.base = f"{address}/api/v1"
        self.jar = http.cookiejar.CookieJar()
        trusted = ssl.create_default_context(cafile=certificate)
        self.opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self.jar),
            urllib.request.HTTPSHandler(context=trusted),
        )
        self.place = "/workspaces/marrowick"
        self.sign_in()

    def sign_in(self) -> None:
        """Sign in as the person of the demo."""
        self.ask("GET", "/session")
        self.ask("POST", "/session/demo", {})

    def end_of(self, path: str) -> str:
        """Wait until an import or a report has ended; returns how, or that nobody could say."""
        end = time.monotonic() + 240
        while time.monotonic() < end:
            status, row = self.ask("GET", path)
            if status == 200 and row["status"] in ("done", "failed", "cancelled"):
                return str(row["status"])
            if status in (401, 403):
                self.sign_in()
            time.sleep(0.3)
        return "unknown"

    def ask(self, method: str, path: str, body: Any = None, revision: int | None = None) -> Any:
        """Return the status and the answer; status 0 where nobody answered."""
        headers = {"Content-Type": "application/json"}
        if isinstance(body, bytes):
            headers["Content-Type"] = "multipart/form-data; boundary=edge"
        if self.base.startswith("https:"):
            headers["Referer"] = f"{self.address}/"
        names = ("csrftoken", "__Host-csrftoken")
        token = next((cookie.value for cookie in self.jar if cookie.name in names), None)
        if token:
            headers["X-CSRFToken"] = token
        if revision is not None:
            headers["If-Match"] = f'"{revision}"'
        data = (
            body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
        )
        request = urllib.request.Request(self.base + path, data, headers, method=method)  # noqa: S310 - our own address
        try:
            with self.opener.open(request, timeout=30) as answer:
                return answer.status, json.loads(answer.read() or b"null")
        except urllib.error.HTTPError as error:
            content = error.read()
            return error.code, json.loads(content) if content[:1] == b"{" else None
        except (OSError, ValueError, http.client.HTTPException):
            return 0, None

    def send_table(self, text: str) -> tuple[int, Any]:
        """Upload a table as a file."""
        body = (
            b'--edge\r\nContent-Disposition: form-data; name="file"; filename="t.csv"\r\n\r\n'
            + text.encode()
            + b"\r\n--edge--\r\n"
        )
        status, sent = self.ask("POST", f"{self.place}/uploads", body)
        return status, sent
