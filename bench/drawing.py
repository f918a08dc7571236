"""How long a chart of 26,000 values takes from the text of its answer to painted, in the browser.

Beside it, in the same browser: a canvas library that is given all the values, as the
plainest way to draw so many. And a chart of 500 values with lines and bands on it, beside one
without.
"""

import json
import statistics
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, ViewportSize, sync_playwright

from bench.dragging import ARGUMENTS, CHROMIUM
from bench.served import PORT, served

VALUES = 26_000
ROUNDS = 15
UPLOT = Path(__file__).parents[1] / "web/node_modules/uplot/dist"
PAINTED = """const painted = () => new Promise((done) => requestAnimationFrame(() => {
  const { port1, port2 } = new MessageChannel()
  port1.onmessage = () => done(performance.now())
  port2.postMessage(0)
}));"""
"""Resolves when the next frame has been painted."""
WATCH = f"""{PAINTED}
const ask = window.fetch
window.fetch = async (...request) => {{
  const answer = await ask(...request)
  if (!answer.url.includes('/analysis')) return answer
  const text = await answer.text()
  window.began = performance.now()
  return new Response(text, {{ status: answer.status, headers: answer.headers }})
}}
window.drawn = new Promise((done) => {{
  const watch = new MutationObserver(() => {{
    if (!document.querySelector('[data-part=points]')) return
    watch.disconnect()
    painted().then((now) => done(now - window.began))
  }})
  watch.observe(document, {{ childList: true, subtree: true }})
}})"""
CANVAS = f"""async (text) => {{
  {PAINTED}
  const began = performance.now()
  new uPlot(
    {{ width: 1000, height: 420, series: [{{}}, {{ stroke: 'black', points: {{ show: true }} }}] }},
    JSON.parse(text), document.body,
  )
  return await painted() - began
}}"""


def chart(page: Page, slug: str) -> float:
    """Open the chart; returns the milliseconds from its answer to painted."""
    page.goto(f"http://127.0.0.1:{PORT}/bench/charts/{slug}")
    return float(page.evaluate("() => window.drawn"))


def canvas(page: Page, text: str) -> float:
    """Draw all the values on a canvas; returns the milliseconds from their text to painted."""
    page.goto(f"http://127.0.0.1:{PORT}/bare")
    page.add_style_tag(path=UPLOT / "uPlot.min.css")
    page.add_script_tag(path=UPLOT / "uPlot.iife.min.js")
    return float(page.evaluate(CANVAS, text))


def main() -> None:
    hours = 1_700_000_000 + 3600 * np.arange(VALUES)
    values = np.random.default_rng(7).normal(20, 1.5, VALUES)
    text = json.dumps([hours.tolist(), values.tolist()])
    with served(long=VALUES) as (name, value), sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        size = ViewportSize(width=1280, height=800)
        ours, plain = (browser.new_context(viewport=size, bypass_csp=True) for _ in range(2))
        ours.add_cookies([{"name": name, "value": value, "domain": "127.0.0.1", "path": "/"}])
        ours.add_init_script(WATCH)
        page, beside = ours.new_page(), plain.new_page()
        times = [
            (
                chart(page, "long"),
                canvas(beside, text),
                chart(page, "half-a-thousand"),
                chart(page, "with-lines"),
            )
            for _ in range(ROUNDS)
        ]
        browser.close()
    drawn, bare, plain_chart, with_lines = (
        statistics.median(samples[3:]) for samples in zip(*times, strict=True)
    )
    print(f"{VALUES:,} values, from the answer to painted   {drawn:8.1f} ms")
    print(f"all of them on a canvas                     {bare:8.1f} ms")
    print(f"chart / canvas                              {drawn / bare:8.2f}      (at most 1)")
    print(f"500 values                                  {plain_chart:8.1f} ms")
    print(f"with an average, ten lines and three bands  {with_lines:8.1f} ms")
    ratio = with_lines / plain_chart
    print(f"with lines / without                        {ratio:8.2f}      (at most 1.3)")


if __name__ == "__main__":
    main()
