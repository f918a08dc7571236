"""Which addresses the server may connect to for somebody: public ones, and those its host lists.

A name is resolved once, and what was checked is what is connected to: a name that answers
otherwise the second time gains nothing.
"""

import ipaddress
import socket
from collections.abc import Sequence
from typing import Final, TypeAlias

from django.conf import settings

from fluctus.http.refusals import Issue, RefusalError

Address: TypeAlias = ipaddress.IPv4Address | ipaddress.IPv6Address
TITLE: Final = "This address cannot be reached from here."
TRANSLATED: Final = (
    # Where each has its IPv4 address, in bits from the right.
    (ipaddress.IPv6Network("::/96"), 0),
    (ipaddress.IPv6Network("::ffff:0:0/96"), 0),
    (ipaddress.IPv6Network("::ffff:0:0:0/96"), 0),
    (ipaddress.IPv6Network("64:ff9b::/96"), 0),
    (ipaddress.IPv6Network("64:ff9b:1::/48"), 0),
    (ipaddress.IPv6Network("2002::/16"), 80),
)
"""Networks whose addresses stand for others: RFC 4291, 6052, 8215 and 3056."""


def checked_addresses(host: str, port: int) -> list[str]:
    """Return the addresses of a host to connect to; raises RefusalError where one must not be.

    One that must not be refuses all: which of several a connection takes is chance.
    """
    addresses = _resolved(host, port)
    for address in addresses:
        if not (is_public(address) or _is_listed(host, address, port)):
            raise RefusalError(
                TITLE,
                Issue(
                    f"{host[:200]} is inside the network of the server, or of the machine itself.",
                    "Use an address that is public, or ask who runs this installation to allow it "
                    "(FEEDS_MAY_REACH).",
                    "address",
                ),
            )
    return [str(address) for address in addresses]


def is_public(address: Address) -> bool:
    """Tell whether an address is one of the public network, whatever it is translated to."""
    if isinstance(address, ipaddress.IPv6Address):
        if address.scope_id is not None:
            return False
        for network, shift in TRANSLATED:
            if address in network:
                inner = ipaddress.IPv4Address((int(address) >> shift) & 0xFFFFFFFF)
                return is_public(inner)
    return (
        address.is_global
        and not address.is_multicast
        and not address.is_reserved
        and not address.is_unspecified
    )


def _resolved(host: str, port: int) -> list[Address]:
    try:
        found = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError) as error:
        raise RefusalError(
            "This address cannot be found.",
            Issue(f"There is no host {host[:200]}.", "Check how it is written.", "address"),
        ) from error
    texts = dict.fromkeys(str(entry[4][0]) for entry in found)
    return [ipaddress.ip_address(text) for text in texts]


def _is_listed(host: str, address: Address, port: int) -> bool:
    """Tell whether the host of the installation allows an address, by name, network and port."""
    entries: Sequence[str] = settings.FEEDS_MAY_REACH
    return any(_is_entry(entry.strip(), host, address, port) for entry in entries)


def _is_entry(entry: str, host: str, address: Address, port: int) -> bool:
    where, colon, of_port = entry.rpartition(":")
    if not colon or not of_port.isdecimal() or (":" in where and not where.startswith("[")):
        where, of_port = entry, ""
    if of_port and int(of_port) != port:
        return False
    where = where.strip("[]")
    try:
        return address in ipaddress.ip_network(where, strict=False)
    except ValueError:
        return where.casefold() == host.casefold()
