"""The list of what is shipped, from made-up bills of materials."""

import csv
import json
from pathlib import Path
from typing import Any

import pytest

from deploy.licenses import main


def component(name: str, *licenses: dict[str, Any], group: str = "") -> dict[str, Any]:
    more = {"group": group} if group else {}
    return {"name": name, "version": "1.0", "bom-ref": name, "licenses": list(licenses)} | more


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    server = {
        "metadata": {"component": {"bom-ref": "root"}},
        "components": [
            component("Ferry_Tides", {"license": {"id": "MIT"}}),
            component("only-a-tool", {"license": {"id": "MIT"}}),
            component("gangway", {"license": {"name": "License :: OSI Approved :: BSD License"}}),
        ],
        "dependencies": [
            {"ref": "root", "dependsOn": ["Ferry_Tides", "only-a-tool"]},
            {"ref": "only-a-tool", "dependsOn": []},
        ],
    }
    web = {"components": [component("quay", {"expression": "MIT OR ISC"}, group="@ferry")]}
    (tmp_path / "python.cdx.json").write_text(json.dumps(server))
    (tmp_path / "web.cdx.json").write_text(json.dumps(web))
    (tmp_path / "shipped.txt").write_text("ferry-tides==1.0\n# a remark\ngangway[extra]==1.0\n")
    return tmp_path


def test_what_is_shipped_is_listed_with_its_license(folder: Path) -> None:
    assert main(folder) == 0
    with (folder / "licenses.csv").open() as file:
        rows = list(csv.reader(file))
    assert rows[1:] == [
        ["python", "Ferry_Tides", "1.0", "MIT"],
        ["python", "gangway", "1.0", "BSD License"],
        ["web", "@ferry/quay", "1.0", "MIT OR ISC"],
    ]
    bill = json.loads((folder / "python.cdx.json").read_text())
    assert [each["name"] for each in bill["components"]] == ["Ferry_Tides", "gangway"]
    assert bill["dependencies"] == [{"ref": "root", "dependsOn": ["Ferry_Tides"]}]


def test_one_without_a_license_is_named_and_fails(
    folder: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    web = {"components": [component("nobody-knows")]}
    (folder / "web.cdx.json").write_text(json.dumps(web))
    assert main(folder) == 1
    assert "nobody-knows 1.0" in capsys.readouterr().out
