"""The pages that a browser shows, filled with what they are about."""

from __future__ import annotations

from typing import Any


def filled_page(name: str, **values: Any) -> str:
    """An HTML document from the template of that name in `report/pages`; what is put in is text, never markup."""
    import jinja2

    loader = jinja2.PackageLoader("mothseed.report", "pages")
    environment = jinja2.Environment(loader=loader, autoescape=True, undefined=jinja2.StrictUndefined)
    return environment.get_template(name).render(**values)
