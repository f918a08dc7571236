"""Findings that turn out to be one: the record of the part goes on with the whole."""

from fluctus.findings.models import Entry, Finding, FindingState

UNWORKED = (FindingState.OPEN,)
"""States of a finding that nobody has done anything about."""


def join_into(whole: Finding, part: Finding, why: str) -> None:
    """Hand the record of ``part`` over to ``whole``, which nobody has to save but the caller.

    What people made of the part becomes that of the whole where nobody had done
    anything about it yet; its remarks and history go on there in any case.
    """
    told = f"Joined with {part.title}, {part.label}"
    if part.cause:
        told += f", whose cause was: {part.cause}"
    if part.action:
        told += f"; action: {part.action}"
    if whole.state in UNWORKED and not whole.cause and part.state not in UNWORKED:
        whole.state, whole.state_before = part.state, part.state_before
    for name in ("cause", "action", "person", "due"):
        if not getattr(whole, name):
            setattr(whole, name, getattr(part, name))
    whole.version += 1
    Entry.objects.filter(finding=part).update(finding=whole)
    Entry.objects.create(finding=whole, text=f"{told} ({why})"[:2000])
    part.delete()
