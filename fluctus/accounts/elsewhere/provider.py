"""The provider that an installation trusts to say who somebody is (OpenID Connect Core 1.0).

The code flow with PKCE, a state and a nonce, which Authlib keeps and checks; what the provider
offers and signs with is read from its discovery document.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final

from authlib.common.errors import AuthlibBaseError
from authlib.integrations.django_client import DjangoOAuth2App, OAuth
from django.conf import settings
from django.http import HttpRequest
from joserfc.errors import JoseError
from requests import RequestException

from fluctus.http.refusals import Issue, NotThereError, RefusalError
from fluctus.http.site_address import site_address

BACK: Final = "/api/v1/session/elsewhere/back"
"""Where the provider sends people back to: to be told to it, below the address of the site."""
SECONDS: Final = 5.0
"""How long an answer of the provider is waited for."""
SHOWN_LENGTH: Final = 150
LONGEST_SUBJECT: Final = 255
"""As OpenID Connect has it: one that is cut could be that of another."""


@dataclass(frozen=True, slots=True)
class Somebody:
    """Who somebody is, as a provider says: a ``subject`` is one person there, for good."""

    issuer: str
    subject: str
    name: str
    """As others see it; "" where the provider does not say."""
    called: str
    """What they are called there: a user name, or a mail address."""


def provider_name() -> str:
    """Return what the provider is called; "" where there is none."""
    return settings.OIDC_NAME if settings.OIDC_ISSUER else ""


def address_at_provider(request: HttpRequest, *, anew: bool) -> str:
    """Return the address that somebody says there who they are at, and note what is to come back.

    ``anew`` asks the provider not to take for granted who it was last. Raises RefusalError (502)
    where the provider does not answer.
    """
    provider = _provider()
    back = f"{site_address()}{BACK}"
    try:
        begun = provider.create_authorization_url(back, **({"prompt": "login"} if anew else {}))
    except (AuthlibBaseError, RequestException, RuntimeError, ValueError) as error:
        raise _silent() from error
    provider.save_authorize_data(request, redirect_uri=back, **begun)
    return str(begun["url"])


def who_came_back(request: HttpRequest) -> Somebody:
    """Return who somebody is who comes back from the provider.

    Raises RefusalError: where the provider does not vouch for them, or it was not this browser
    that was sent there (403), and where it does not answer (502).
    """
    provider = _provider()
    try:
        # By what was set up here, whatever the provider says its own name is.
        claims_options = {
            "iss": {"essential": True, "value": settings.OIDC_ISSUER},
            "sub": {"essential": True},
        }
        token = provider.authorize_access_token(request, claims_options=claims_options)
    except RequestException as error:
        raise _silent() from error
    except (AuthlibBaseError, JoseError, ValueError, KeyError, TypeError) as error:
        raise _not_vouched_for() from error
    claims: dict[str, Any] = dict(token.get("userinfo") or {})
    subject = claims.get("sub")
    if not isinstance(subject, str) or not 0 < len(subject) <= LONGEST_SUBJECT:
        raise _not_vouched_for()
    return Somebody(
        settings.OIDC_ISSUER,
        subject,
        name=_first(claims, "name", "given_name"),
        called=_first(claims, "preferred_username", "email"),
    )


def _first(claims: dict[str, Any], *keys: str) -> str:
    """Return the first of some claims that says something."""
    texts = (claims[key].strip() for key in keys if isinstance(claims.get(key), str))
    return next(filter(None, texts), "")[:SHOWN_LENGTH]


def _provider() -> DjangoOAuth2App:
    if not settings.OIDC_ISSUER:
        raise NotThereError("address")
    return _of(settings.OIDC_ISSUER, settings.OIDC_CLIENT_ID, settings.OIDC_CLIENT_SECRET)


@lru_cache(maxsize=4)
def _of(issuer: str, client: str, secret: str) -> DjangoOAuth2App:
    """Return a provider, which remembers what it has read of its discovery document."""
    return OAuth().register(
        "elsewhere",
        client_id=client,
        client_secret=secret,
        server_metadata_url=f"{issuer.rstrip('/')}/.well-known/openid-configuration",
        client_kwargs={
            "scope": "openid profile email",
            "code_challenge_method": "S256",
            "default_timeout": SECONDS,
        },
    )


def _silent() -> RefusalError:
    name = provider_name()
    return RefusalError(
        "You could not be signed in.",
        Issue(f"There is no answer from {name}.", "Try again, or sign in with name and password."),
        status=502,
    )


def _not_vouched_for() -> RefusalError:
    return RefusalError(
        "You were not signed in.",
        Issue(
            f"What came back from {provider_name()} does not say who you are, or came to another "
            "browser than the one that asked.",
            "Begin again from here.",
        ),
        status=403,
    )
