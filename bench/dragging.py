"""How smooth the chart is while a hand drags over it, in the real browser.

A chart of 500 points; a shift, then a baseline, is dragged for some seconds
with the limits following. Beside it, in the same run and page: the frames of
the same pointer moving where nothing follows it.
"""

import statistics

from playwright.sync_api import Page, sync_playwright

from bench.served import PORT, served

CHROMIUM = "/usr/bin/chromium"
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-dev-shm-usage", "--disable-quic",
    "--no-first-run", "--disable-background-networking", "--disable-component-update",
    "--disable-sync",
]  # fmt: skip
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


def main() -> None:
    with served() as (name, value), sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        context = browser.new_context(viewport={"width": 1280, "height": 800})
        context.add_cookies(
            [{"name": name, "value": value, "domain": "127.0.0.1", "path": "/"}]
        )  # fmt: skip
        page = context.new_page()
        page.goto(f"http://127.0.0.1:{PORT}/bench/charts/half-a-thousand")
        handle = page.get_by_role("slider", name="Process shift Second half")
        handle.wait_for()
        page.wait_for_timeout(1000)
        page.evaluate(WATCH)
        box = handle.locator("rect").last.bounding_box()
        assert box is not None, "the handle is drawn"
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        idle = frames(page, 300, 60, 200)
        answers: list[float] = []
        page.on("requestfinished", lambda request: answers.append(request.timing["responseEnd"]))
        page.mouse.move(x, y)
        page.mouse.down()
        shift = frames(page, x, y, 200)
        shift_answers = len(answers)
        page.keyboard.press("Escape")
        page.mouse.up()
        page.get_by_role("button", name="Segment Second half").click()
        page.get_by_role("button", name="Choose a baseline").click()
        last = page.get_by_role("slider", name="Last point of the baseline")
        grip = last.locator("rect").last.bounding_box()
        assert grip is not None, "the handle is drawn"
        x, y = grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        baseline = frames(page, x, y, -200)
        page.mouse.up()
        browser.close()
    print(f"{'frames, median ms':<34}{'median':>8}{'worst of 20':>14}")
    for gesture, times in (("pointer alone", idle), ("dragging a shift", shift),
                           ("dragging a baseline", baseline)):  # fmt: skip
        worst = statistics.quantiles(times, n=20)[-1]
        print(f"{gesture:<34}{statistics.median(times):8.1f}{worst:14.1f}")
    print(f"previews answered while the shift was dragged   {shift_answers}")
    print("dragging: a median of at most 20 ms")


if __name__ == "__main__":
    main()
