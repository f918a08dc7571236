"""What tests of findings share: a KPI with one, the log, and changes of a finding."""

from typing import Any

from tests.conftest import Api

STEADY = [20.0, 21.0, 19.0, 20.0, 21.0, 20.0, 19.0, 20.0, 21.0, 19.0, 20.0, 21.0, 20.0, 19.0]
LOW = [15.0, 16.0, 14.0, 15.0, 16.0, 14.0, 15.0, 16.0, 15.0]


def log(api: Api, **query: Any) -> dict[str, Any]:
    answer = api.get("/findings", **query)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def one(api: Api, rule: str = "outside_limits") -> dict[str, Any]:
    """The one finding of a rule; of two runs, the one below."""
    found = log(api, rule=rule, gone="true")["findings"]
    (wanted,) = (one for one in found if rule != "run" or one["side"] == -1)
    return dict(wanted)


def detail(api: Api, finding: dict[str, Any], within: int = 3) -> dict[str, Any]:
    return dict(api.get(f"/findings/{finding['id']}", within=within).json())


def change(api: Api, finding: dict[str, Any], **changes: Any) -> Any:
    return api.send("PATCH", f"/findings/{finding['id']}", changes, finding["version"])


def said(finding: dict[str, Any], api: Api) -> list[str]:
    return [entry["text"] for entry in detail(api, finding)["entries"]]


def one_of(api: Api, slug: str) -> dict[str, Any]:
    (found,) = log(api, kpi=slug, rule="outside_limits")["findings"]
    return dict(found)
