"""The directory as a server that speaks OpenID Connect: the code flow, with PKCE.

GET  /.well-known/openid-configuration   what it offers
GET  /keys                               what it signs with
GET  /authorize                          a page on which somebody says who they are, for people
GET  /authorize?…&as=rhona               back to who asks, with a code
POST /token                              the code, once, for who it is

Anybody may be anybody there: it vouches for made-up people to the demo alone.
"""

import base64
import hmac
import json
import secrets
import time
from dataclasses import dataclass, field
from hashlib import sha256
from html import escape
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any, Final
from urllib.parse import parse_qs, urlencode, urlsplit

from joserfc import jwt
from joserfc.jwk import RSAKey

CLIENT: Final = "fluctus"
STAFF: Final = {
    "rhona": "Rhona Baird",
    "calum": "Calum Weir",
    "ewan": "Ewan Munro",
    "morag": "Morag Sinclair",
}
"""Who works there; the last two are not known to Fluctus until they are invited."""
CODE_SECONDS: Final = 60
TOKEN_SECONDS: Final = 300
PAGE: Final = """<!doctype html><html lang="en"><meta charset="utf-8">
<title>Staff directory</title><meta name="viewport" content="width=device-width">
<style>body{{font:16px/1.5 sans-serif;max-width:26rem;margin:4rem auto;padding:0 1rem}}
a{{display:block;padding:.7rem 1rem;margin:.5rem 0;border:1px solid #777;border-radius:6px;
color:inherit;text-decoration:none}}a:hover,a:focus{{background:#eef}}</style>
<h1>Marrowick staff directory</h1>
<p>A simulated stand-in: choose who you are. Fluctus asks to know.</p>{choices}</html>"""


@dataclass(slots=True)
class _Asked:
    """What a code was given for."""

    subject: str
    nonce: str
    challenge: str
    redirect_uri: str
    at: float


@dataclass
class Directory:
    """Who is in it, what it signs with, and the codes that wait to be taken."""

    client_secret: str
    key: RSAKey = field(default_factory=lambda: RSAKey.generate_key(2048, auto_kid=True))
    waiting: dict[str, _Asked] = field(default_factory=dict)

    def code_for(self, subject: str, query: dict[str, str]) -> str:
        """Note that somebody has said who they are; returns the code that says so."""
        code = secrets.token_urlsafe(24)
        self.waiting[code] = _Asked(
            subject,
            query.get("nonce", ""),
            query["code_challenge"],
            query["redirect_uri"],
            time.monotonic(),
        )
        return code

    def token_for(self, form: dict[str, str], issuer: str) -> dict[str, Any] | None:
        """Take a code; None where it is none, or was asked for by another one."""
        asked = self.waiting.pop(form.get("code", ""), None)
        if asked is None or time.monotonic() - asked.at > CODE_SECONDS:
            return None
        digest = sha256(form.get("code_verifier", "").encode()).digest()
        challenge = base64.urlsafe_b64encode(digest).rstrip(b"=").decode()
        if challenge != asked.challenge or form.get("redirect_uri") != asked.redirect_uri:
            return None
        now = int(time.time())
        claims = {
            "iss": issuer,
            "sub": asked.subject,
            "aud": CLIENT,
            "iat": now,
            "exp": now + TOKEN_SECONDS,
            "nonce": asked.nonce,
            "name": STAFF[asked.subject],
            "preferred_username": f"{asked.subject}@marrowick.example",
        }
        header = {"alg": "RS256", "kid": self.key.kid}
        return {
            "access_token": secrets.token_urlsafe(24),
            "token_type": "Bearer",
            "expires_in": TOKEN_SECONDS,
            "id_token": jwt.encode(header, claims, self.key),
        }

    def is_client(self, authorization: str) -> bool:
        """Tell whether who asks for a token is who it was set up for."""
        scheme, _, given = authorization.partition(" ")
        expected = base64.b64encode(f"{CLIENT}:{self.client_secret}".encode()).decode()
        return scheme.lower() == "basic" and hmac.compare_digest(given, expected)


def offered_at(address: str) -> dict[str, Any]:
    """Return the discovery document of a directory at an address."""
    return {
        "issuer": address,
        "authorization_endpoint": f"{address}/authorize",
        "token_endpoint": f"{address}/token",
        "jwks_uri": f"{address}/keys",
        "response_types_supported": ["code"],
        "subject_types_supported": ["public"],
        "id_token_signing_alg_values_supported": ["RS256"],
        "code_challenge_methods_supported": ["S256"],
    }


def server_of(directory: Directory, port: int) -> ThreadingHTTPServer:
    """Return a server of the directory on a port of loopback; 0 takes any that is free."""

    class Answers(BaseHTTPRequestHandler):
        """One request."""

        @property
        def address(self) -> str:
            """Where the directory is."""
            return f"http://127.0.0.1:{server.server_port}"

        def do_GET(self) -> None:
            """Answer with a document, the page, or the way back."""
            parts = urlsplit(self.path)
            query = {name: values[0] for name, values in parse_qs(parts.query).items()}
            if parts.path == "/.well-known/openid-configuration":
                self._json(200, offered_at(self.address))
            elif parts.path == "/keys":
                self._json(200, {"keys": [directory.key.as_dict(private=False)]})
            elif parts.path == "/authorize" and _is_asked_rightly(query):
                self._authorize(query)
            else:
                self._send(400, b"There is nothing at this address.", "text/plain")

        def do_POST(self) -> None:
            """Give the token for a code."""
            length = min(int(self.headers.get("Content-Length", "0")), 10_000)
            sent = parse_qs(self.rfile.read(length).decode())
            if not directory.is_client(self.headers.get("Authorization", "")):
                self._json(401, {"error": "invalid_client"})
                return
            form = {name: values[0] for name, values in sent.items()}
            token = directory.token_for(form, self.address)
            self._json(200, token) if token else self._json(400, {"error": "invalid_grant"})

        def _authorize(self, query: dict[str, str]) -> None:
            if query.get("as") in STAFF:
                answer = {
                    "code": directory.code_for(query["as"], query),
                    "state": query.get("state", ""),
                }
                self.send_response(302)
                self.send_header("Location", f"{query['redirect_uri']}?{urlencode(answer)}")
                self.end_headers()
                return
            choices = "".join(
                f'<a href="/authorize?{escape(urlencode(query | {"as": subject}))}">'
                f"{escape(name)}</a>"
                for subject, name in STAFF.items()
            )
            self._send(200, PAGE.format(choices=choices).encode(), "text/html; charset=utf-8")

        def _json(self, status: int, content: dict[str, Any]) -> None:
            self._send(status, json.dumps(content).encode(), "application/json")

        def _send(self, status: int, content: bytes, kind: str) -> None:
            self.send_response(status)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(content)))
            self.end_headers()
            self.wfile.write(content)

        def log_message(self, *_: object) -> None:
            """Say nothing: codes stand in the addresses."""

    server = ThreadingHTTPServer(("127.0.0.1", port), Answers)
    return server


def _is_asked_rightly(query: dict[str, str]) -> bool:
    back = urlsplit(query.get("redirect_uri", ""))
    return (
        query.get("client_id") == CLIENT
        and query.get("response_type") == "code"
        and query.get("code_challenge_method") == "S256"
        # Nobody but an installation of this machine is sent back to.
        and back.hostname in ("127.0.0.1", "localhost")
        and back.path.endswith("/session/elsewhere/back")
    )
