"""How smooth the chart is while a hand drags over it, in the real browser.

Charts of 500 and of 50,000 points; a shift, then a baseline, is dragged for some seconds
with the limits following. Beside it, in the same run and page: the frames of
the same pointer moving where nothing follows it.
"""

import statistics

from playwright.sync_api import Locator, Page, sync_playwright

from bench.served import PORT, served

CHROMIUM = "/usr/bin/chromium"
ARGUMENTS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-dev-shm-usage",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
STEPS = 240
WATCH = """() => {
  window.frames_ = []
  let last = performance.now()
  const next = (now) => { window.frames_.push(now - last); last = now; requestAnimationFrame(next) }
  requestAnimationFrame(next)
}"""


def frames(page: Page, x: float, y: float, reach: float) -> list[float]:
    """Move the pointer to and fro, pressed or not, and return how long each frame took, in ms."""
    page.evaluate("window.frames_.length = 0")
    for step in range(STEPS):
        page.mouse.move(x + reach * (step % 60) / 60, y)
    return [float(frame) for frame in page.evaluate("window.frames_")]


Sample = tuple[str, list[float]]


def drag(page: Page, slug: str, name: str) -> list[Sample]:
    """Drag a shift, a baseline and the target of a chart; returns the frames of each."""
    page.goto(f"http://127.0.0.1:{PORT}/bench/charts/{slug}")
    handle = page.get_by_role("slider", name="Process shift Second half")
    handle.wait_for()
    page.wait_for_timeout(1000)
    page.evaluate(WATCH)
    samples: list[Sample] = [(f"{name}, pointer alone", frames(page, 300, 60, 200))]
    x, y = _middle(handle.locator("rect").last)
    page.mouse.move(x, y)
    page.mouse.down()
    samples.append((f"{name}, dragging a shift", frames(page, x, y, 200)))
    page.keyboard.press("Escape")
    page.mouse.up()
    page.get_by_role("button", name="Segment Second half").click()
    page.get_by_role("button", name="Choose a baseline").click()
    last = page.get_by_role("slider", name="Last point of the baseline")
    x, y = _middle(last.locator("rect").last)
    page.mouse.move(x, y)
    page.mouse.down()
    samples.append((f"{name}, dragging a baseline", frames(page, x, y, -200)))
    page.keyboard.press("Escape")
    page.mouse.up()
    return samples


def _middle(part: Locator) -> tuple[float, float]:
    box = part.bounding_box()
    assert box is not None, "the handle is drawn"
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def main() -> None:
    with served() as (name, value), sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.add_cookies([{"name": name, "value": value, "domain": "127.0.0.1", "path": "/"}])
        page = context.new_page()
        answers: list[str] = []
        page.on("requestfinished", lambda request: answers.append(request.url))
        samples = drag(page, "half-a-thousand", "500 points")
        samples += drag(page, "with-lines", "500 points with lines")
        samples += drag(page, "fifty-thousand", "50,000 points")
        browser.close()
    print(f"{'frames, ms':<40}{'median':>8}{'95th':>8}")
    for gesture, times in samples:
        print(
            f"{gesture:<40}{statistics.median(times):8.1f}"
            f"{statistics.quantiles(times, n=20)[-1]:8.1f}"
        )
    print(f"previews answered meanwhile {sum('preview' in url for url in answers)}")
    print("dragging: a median of at most 17 ms, a 95th percentile of at most 34")


if __name__ == "__main__":
    main()
