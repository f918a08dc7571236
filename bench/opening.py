"""How long each main screen takes to be useful on a slow machine and line, with nothing kept.

The browser of a person who comes for the first time, its processor slowed four times and its line
to 10 Mbit with 40 ms to and fro: the demo's screens, each in a fresh context. Beside the time to
what the screen is for: how many scripts came, how many bytes over the line, by how much what was
drawn moved (layout shift), and the longest stretch in which nothing could be pressed.
"""

import json
import statistics
import sys

from django.core.management import call_command
from playwright.sync_api import Browser, ViewportSize, sync_playwright

from bench.dragging import ARGUMENTS, CHROMIUM
from bench.served import PORT, served, session_of
from fluctus.accounts.models import Workspace

SCREENS = {
    "a chart": ("charts/turnaround-at-quay", "[data-part=points]"),
    "the overview": ("", "main [role=img]"),
    "to fill in": ("fill-in", "input[data-due]"),
    "findings": ("findings", "main [role=list] button, main ul button"),
    "a page": ("pages/{sheet}", "[data-part=points]"),
    "values": ("charts/turnaround-at-quay/values", "main [role=gridcell]"),
    "data": ("data", "main li"),
    "improvements": ("improvements", "main article"),
}
ROUNDS = 3
SLOWDOWN = 4
LINE = {
    "offline": False,
    "latency": 40,
    "downloadThroughput": 10e6 / 8,
    "uploadThroughput": 10e6 / 8,
}
WATCH = """
const look = () => document.querySelector(window.what_)
  ? requestAnimationFrame(() => setTimeout(() => { window.useful_ = performance.now() }))
  : requestAnimationFrame(look)
look()
window.shift_ = 0; window.longest_ = 0
new PerformanceObserver((list) => {
  for (const each of list.getEntries()) if (!each.hadRecentInput) window.shift_ += each.value
}).observe({ type: 'layout-shift', buffered: true })
new PerformanceObserver((list) => {
  for (const each of list.getEntries()) window.longest_ = Math.max(window.longest_, each.duration)
}).observe({ type: 'longtask', buffered: true })
"""
TOLD = """() => {
  const came = performance.getEntriesByType('resource')
  const page = performance.getEntriesByType('navigation')[0]
  return {
    useful: window.useful_,
    scripts: came.filter((each) => /\\.js($|\\?)/.test(each.name)).length,
    bytes: came.reduce((sum, each) => sum + each.transferSize, page.transferSize),
    shift: window.shift_, longest: window.longest_,
  }
}"""


def opened(browser: Browser, cookie: tuple[str, str], path: str, what: str) -> dict[str, float]:
    """Open a screen as somebody who was never here; returns what it took."""
    address = f"http://127.0.0.1:{PORT}"
    context = browser.new_context(viewport=ViewportSize(width=1280, height=800))
    context.add_cookies([{"name": cookie[0], "value": cookie[1], "url": address}])
    page = context.new_page()
    page.add_init_script(f"window.what_ = {json.dumps(what)}{WATCH}")
    session = context.new_cdp_session(page)
    session.send("Network.enable")
    session.send("Network.emulateNetworkConditions", LINE)
    session.send("Emulation.setCPUThrottlingRate", {"rate": SLOWDOWN})
    page.goto(f"{address}{path}", wait_until="commit")
    page.wait_for_selector(what, timeout=20_000)
    page.wait_for_timeout(1500)
    told: dict[str, float] = page.evaluate(TOLD)
    context.close()
    return told


def main() -> None:
    with served(workers=2):
        call_command("load_demo", verbosity=0)
        workspace = Workspace.objects.get(slug="marrowick")
        sheet = workspace.pages.order_by("pk").values_list("pk", flat=True)[0]
        cookie = session_of(workspace.membership_set.order_by("pk")[0].person)
        with sync_playwright() as playwright:
            browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
            asked = sys.argv[1:]
            for screen, (path, what) in SCREENS.items():
                if asked and screen not in asked:
                    continue
                address = f"/marrowick/{path.format(sheet=sheet)}".rstrip("/")
                opened(browser, cookie, address, what)
                rounds = [opened(browser, cookie, address, what) for _ in range(ROUNDS)]
                middle = {key: statistics.median(each[key] for each in rounds) for key in rounds[0]}
                print(f"{screen:<14} useful after   {middle['useful'] / 1000:5.2f} s (at most 1.5)")
                print(f"{screen:<14} scripts        {middle['scripts']:5.0f} (at most 12)")
                print(f"{screen:<14} over the line  {middle['bytes'] / 1000:5.0f} kB")
                print(f"{screen:<14} moved by       {middle['shift']:5.3f} (at most 0.02)")
                print(f"{screen:<14} longest task   {middle['longest']:5.0f} ms (at most 200)")
            browser.close()


if __name__ == "__main__":
    main()
