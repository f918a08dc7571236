"""What frozen links showed, as panels show it."""

from typing import Any

from django.db import migrations


def as_panel(number: int, thing: dict[str, Any]) -> dict[str, Any]:
    """Return a thing that a link showed, as the content of a panel."""
    if "kind" in thing:
        return thing
    chart = thing["chart"]
    shown = {"key": str(number), "kind": "text", "title": "", "detail": "", "problem": ""}
    if chart is None:
        return shown | {"answer": {"text": thing["text"]}}
    sentence = chart["sentence"]
    return shown | {
        "kind": "chart",
        "title": sentence["headline"],
        "detail": sentence["detail"],
        "answer": {
            "chart": chart,
            "view": thing["view"],
            "pins": thing["pins"],
            "hidden": thing["hidden"],
        },
    }


def change(apps: Any, schema_editor: Any) -> None:
    for link in apps.get_model("links", "Link").objects.exclude(frozen=None).iterator(20):
        link.frozen = [as_panel(number, thing) for number, thing in enumerate(link.frozen)]
        link.save(update_fields=["frozen"])


class Migration(migrations.Migration):
    dependencies = [("links", "0002_shows")]
    operations = [migrations.RunPython(change, migrations.RunPython.noop)]
