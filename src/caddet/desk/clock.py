"""What day it is: the only place where the desk asks."""

from __future__ import annotations

from datetime import date


def today() -> str:
    """Today as YYYY-MM-DD."""
    return date.today().isoformat()


def shown_date(iso: str) -> str:
    """A date as it is read: 14 November 2026; without one, so in words."""
    if not iso:
        return "no date"
    day = date.fromisoformat(iso)
    return f"{day.day} {day:%B %Y}"


def shown_month(month: str) -> str:
    """A month as it is read: November 2027."""
    return f"{date.fromisoformat(month + '-01'):%B %Y}"
