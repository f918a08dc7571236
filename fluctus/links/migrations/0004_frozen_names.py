"""What frozen links showed, by the names that charts have for it now."""

from typing import Any

from django.db import migrations

OF_A_LINE = {"apart": "other_scale", "apart_from": "differences"}


def renamed(answer: Any) -> Any:
    """Return an answer with its names of today; what has these already stays as it is."""
    if isinstance(answer, list):
        return [renamed(each) for each in answer]
    if not isinstance(answer, dict):
        return answer
    names: dict[str, str] = {}
    if "apart_from" in answer:
        names = OF_A_LINE
    elif "firmness" in answer:
        names = {"made": "how"}
    elif "run_length" in answer:
        names = {"made": "derivation"}
    return {names.get(name, name): renamed(value) for name, value in answer.items()}


def change(apps: Any, schema_editor: Any) -> None:
    for link in apps.get_model("links", "Link").objects.exclude(frozen=None).iterator(20):
        link.frozen = renamed(link.frozen)
        link.save(update_fields=["frozen"])


class Migration(migrations.Migration):
    dependencies = [("links", "0003_frozen_panels")]
    operations = [migrations.RunPython(change, migrations.RunPython.noop)]
