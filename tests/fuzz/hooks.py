"""What the fuzzer names is there most of the time, so that more than "not found" is tried.

Loaded by schemathesis: ``SCHEMATHESIS_HOOKS=tests.fuzz.hooks schemathesis run …``.
"""

import os
import random
from typing import Any

import requests
import schemathesis

TOKEN = "a" * 32
SIGNED_IN = {
    "Cookie": f"sessionid={os.environ['FUZZ_SESSION']}; csrftoken={TOKEN}",
    "X-CSRFToken": TOKEN,
}
MADE_UP = {"cookie", "authorization", "x-csrftoken"}
KPIS = ["turnaround-at-quay", "departures-on-time", "ramp-cycle-time", "none-such"]
draw = random.Random(7)  # noqa: S311 - to be the same each time
uploads: list[int] = [0]


@schemathesis.hook
def before_call(context: Any, case: Any, kwargs: Any) -> None:
    """Put the demo in the place of made-up names, and the present revision of a chart."""
    parameters = case.path_parameters or {}
    if draw.random() < 0.97:
        # A made-up session is nobody's: whatever else is made up would never be looked at.
        case.cookies = {}
        case.headers = {
            name: value for name, value in case.headers.items() if name.lower() not in MADE_UP
        } | SIGNED_IN
    if "workspace" in parameters and draw.random() < 0.97:
        parameters["workspace"] = "marrowick"
    if "kpi" in parameters and draw.random() < 0.95:
        parameters["kpi"] = draw.choice(KPIS)
    if "number" in parameters and draw.random() < 0.9:
        parameters["number"] = draw.randint(1, 40)
    if "upload" in parameters and draw.random() < 0.95:
        parameters["upload"] = draw.choice(uploads)
    if case.method != "GET" and "kpi" in parameters and draw.random() < 0.8:
        case.headers["If-Match"] = f'"{_revision(case, parameters["kpi"])}"'


@schemathesis.hook
def after_call(context: Any, case: Any, response: Any) -> None:
    """Remember what was uploaded, to read it and bring it in."""
    if response.status_code == 201 and case.path.endswith("/uploads"):
        uploads.append(response.json()["id"])


def _revision(case: Any, kpi: str) -> int:
    base = case.operation.base_url
    path = f"{base}/api/v1/workspaces/marrowick/kpis/{kpi}/analysis?width=50"
    answer = requests.get(path, headers=SIGNED_IN, timeout=20)
    return int(answer.json()["kpi"]["revision"]) if answer.status_code == 200 else 1
