"""The table of rules, in the order in which they are tried. A new one takes a module and a name here, or another package."""

from __future__ import annotations

from collections.abc import Iterator
from importlib import import_module

from mothseed import doors
from mothseed.check.rule import Finding, Look, Rule
from mothseed.faults import ExtensionError, MothSeedError

_MODULES = (
    "nothing_drawn",
    "unseeded",
    "angles",
    "gamut",
    "wasted",
    "unseen",
    "hiding",
    "bare_corners",
    "on_paper",
    "twice",
    "crowded",
    "idle_dials",
    "rarities",
    "shared_streams",
    "streams",
    "lattice_points",
    "repeat",
)
_FAILED = Rule({"failed-check": "a check of another package does not work"}, lambda _look: (), several=True)


def own_rules() -> Iterator[Rule]:
    """The rules of this package."""
    for name in _MODULES:
        yield import_module(f"mothseed.check.rules.{name}").RULE


def codes() -> dict[str, str]:
    """Every code of our own rules, with what it says."""
    found: dict[str, str] = {}
    for rule in (*own_rules(), _FAILED):
        found |= rule.codes
    return found


def found_by_all(look: Look) -> Iterator[tuple[Rule, Finding]]:
    """The findings of every rule. If a rule of another package fails, that is a finding too, and the others go on."""
    for rule in own_rules():
        for finding in rule.find(look):
            yield rule, finding
    for name in doors.names(doors.CHECKS):
        try:
            rule = doors.opened(doors.CHECKS, name, Rule)
            found = _found_by_another(rule, look, name)
        except ExtensionError as fault:
            yield _FAILED, _FAILED.finding("failed-check", None, fault.message, fault.hint)
            continue
        for finding in found:
            yield rule, finding


def _found_by_another(rule: Rule, look: Look, name: str) -> list[Finding]:
    try:
        return list(rule.find(look))
    except MothSeedError:
        raise
    except Exception as fault:
        package = doors.package_of(doors.CHECKS, name)
        raise ExtensionError(package, f"check {name} fails: {type(fault).__name__}: {fault}") from fault
