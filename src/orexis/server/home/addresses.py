"""The machine's own addresses in the house."""

import socket
from ipaddress import IPv4Address, IPv4Network

import psutil

HOME_NETWORKS = tuple(
    map(
        IPv4Network,
        ("10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "127.0.0.0/8"),
    )
)
"""Networks that nothing on the internet is reached from (RFC 1918, RFC 3927), and loopback."""


class AddressRefusedError(ValueError):
    """An address is not one for the devices of a house; the message says so."""


def own_addresses() -> list[str]:
    """The machine's IPv4 addresses that only its own network reaches, without loopback."""
    up = {name for name, stats in psutil.net_if_stats().items() if stats.isup}
    found = [
        IPv4Address(link.address)
        for name, links in psutil.net_if_addrs().items()
        for link in links
        if name in up and link.family == socket.AF_INET
    ]
    return [str(address) for address in found if is_at_home(address) and not address.is_loopback]


def is_at_home(address: IPv4Address) -> bool:
    """Whether an address is within a house's own network."""
    return any(address in network for network in HOME_NETWORKS)


def checked(address: str) -> str:
    """An address as it is written. Raises `AddressRefusedError` for one that is not at home."""
    try:
        found = IPv4Address(address)
    except ValueError:
        raise AddressRefusedError(f"{address} is not an IPv4 address.") from None
    if not is_at_home(found):
        raise AddressRefusedError(
            f"{address} is reached from outside of the house, so Orexis does not listen there."
        )
    return str(found)
