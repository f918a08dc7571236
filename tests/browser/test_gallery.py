"""Charts hold for every number: the gallery of shapes, at three widths, in light and in dark."""

import os
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Page, expect
from pytest_django.live_server_helper import LiveServer

from fluctus.accounts.models import Workspace
from tests.demo_database import SIGNED_IN
from tests.gallery import SHAPES, WITH_CONTEXT, Shape, hang

PARTS, WITH_LINES = 6, 2
"""Tests that the shapes are shared out to, and those with lines and bands on them."""
PICTURES = os.environ.get("GALLERY", "")
"""A folder that keeps a picture of each, to look at."""
WIDTHS = (1280, 1024, 390)
DRAWN = """() => {
  const svg = document.querySelector('[data-part=plot]')?.ownerSVGElement
  return svg && Math.abs(svg.viewBox.baseVal.width - svg.clientWidth) < 1
}"""
"""Whether a chart has been drawn for the width that it has now."""
FAULTS = """() => {
  const faults = []
  const svg = document.querySelector('[role=application] svg')
  const frame = svg.getBoundingClientRect()
  const name = (text) => JSON.stringify(text.textContent.slice(0, 40))
  const texts = [...svg.querySelectorAll('text')].flatMap((text) => {
    const box = text.getBoundingClientRect()
    return box.width > 0 && getComputedStyle(text).visibility !== 'hidden' ? [{ text, box }] : []
  })
  const apart = (a, b) =>
    Math.min(a.right, b.right) - Math.max(a.left, b.left) < 1.5 ||
    Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) < 4
  texts.forEach(({ text, box }, n) => {
    if (box.left < frame.left - 1 || box.right > frame.right + 1 ||
        box.top < frame.top - 1 || box.bottom > frame.bottom + 1)
      faults.push(`${name(text)} leaves its drawing`)
    for (const other of texts.slice(n + 1))
      if (!apart(box, other.box)) faults.push(`${name(text)} overlaps ${name(other.text)}`)
  })
  // A label gives way to points; tags and names stand where there are none.
  const labels = texts.filter(({ text }) => text.closest('[data-part=labels]'))
  for (const point of svg.querySelectorAll('[data-part=points] circle')) {
    const box = point.getBoundingClientRect()
    const at = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 }
    for (const { text, box: label } of labels)
      if (at.x > label.left && at.x < label.right &&
          at.y > label.top + 2 && at.y < label.bottom - 2)
        faults.push(`${name(text)} covers a point`)
  }
  for (const tag of svg.querySelectorAll('[data-line]')) {
    const room = tag.querySelector('rect').getBoundingClientRect()
    for (const text of tag.querySelectorAll('text')) {
      const box = text.getBoundingClientRect()
      if (box.left < room.left || box.right > room.right)
        faults.push(`${name(text)} leaves its tag`)
    }
  }
  const levels = (color) => {
    const [r, g, b] = color.match(/[\\d.]+/g).slice(0, 3).map((part) => {
      const share = part / 255
      return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
    })
    return 0.2126 * r + 0.7152 * g + 0.0722 * b
  }
  const ground = levels(getComputedStyle(document.body).backgroundColor)
  for (const { text } of texts) {
    if (text.closest('[data-line], [class*=bar]')) continue // on a card or a bar of their own
    const own = levels(getComputedStyle(text).fill)
    const ratio = (Math.max(own, ground) + 0.05) / (Math.min(own, ground) + 0.05)
    if (ratio < 4.5) faults.push(`${name(text)} has a contrast of ${ratio.toFixed(1)}`)
  }
  for (const part of document.querySelectorAll('main *')) {
    const style = getComputedStyle(part)
    if (style.overflowX === 'hidden' && style.textOverflow !== 'ellipsis' &&
        part.scrollWidth > part.clientWidth + 1 && part.clientWidth > 4 &&
        part.textContent.trim() && !part.closest('.unseen, svg'))
      faults.push(`${JSON.stringify(part.textContent.slice(0, 40))} is cut off`)
  }
  if (document.documentElement.scrollWidth > innerWidth)
    faults.push(`the page scrolls sideways by ${document.documentElement.scrollWidth - innerWidth}`)
  return [...new Set(faults)].slice(0, 8)
}"""


@pytest.mark.parametrize("part", range(PARTS + WITH_LINES))
def test_every_chart_of_the_gallery_holds(
    filled_with_demo: None,
    page: Page,
    live_server: LiveServer,
    part: int,
    accessible: Callable[[Page], None],
) -> None:
    shapes = SHAPES[part::PARTS] if part < PARTS else WITH_CONTEXT[part - PARTS :: WITH_LINES]
    workspace = Workspace.objects.get(slug="marrowick")
    hung = [(shape, hang(workspace, shape)) for shape in shapes]
    page.context.add_cookies(
        [{"name": "sessionid", "value": SIGNED_IN, "url": live_server.url, "httpOnly": True}]
    )
    faults: dict[str, Any] = {}
    for shape, kpi in hung:
        page.set_viewport_size({"width": 1280, "height": 800})
        page.goto(f"/marrowick/charts/{kpi.slug}")
        expect(page.get_by_role("heading", name=shape.name, level=1)).to_be_visible()
        expect(page.locator("[data-part=plot]")).to_be_visible()
        faults |= _faults(page, shape)
    assert faults == {}
    accessible(page)


def _faults(page: Page, shape: Shape) -> dict[str, list[str]]:
    """What is wrong with a chart at each width, in light and in dark."""
    found = {}
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800 if width > 600 else 844})
        page.wait_for_function(DRAWN)
        for scheme in ("light", "dark"):
            page.emulate_media(color_scheme=scheme)
            seen: list[str] = page.evaluate(FAULTS)
            if PICTURES:
                page.screenshot(path=f"{PICTURES}/{shape.name[:40]} {width} {scheme}.png")
            if seen:
                found[f"{shape.name}, {width} wide, {scheme}"] = seen
    return found


CROWDED = """() => {
  const faults = []
  for (const row of document.querySelectorAll('[data-at]:has([data-row])')) {
    const name = row.querySelector('[data-row]')?.textContent.slice(0, 40) ?? 'a row'
    const box = row.getBoundingClientRect()
    const parts = [...row.children].map((part) => part.getBoundingClientRect())
    parts.forEach((one, n) => {
      if (one.right > box.right + 1 || one.bottom > box.bottom + 1)
        faults.push(`${name}: part ${n}`)
    })
    const value = document.createRange()
    value.selectNode(row.children[2].firstChild)
    const right = value.getBoundingClientRect().right
    if (right > parts[2].right + 1) faults.push(`${name}: its value leaves its column`)
  }
  if (document.documentElement.scrollWidth > innerWidth) faults.push('it scrolls sideways')
  return faults.slice(0, 8)
}"""


def test_all_shapes_of_the_gallery_stand_in_the_overview_and_on_one_plot(
    filled_with_demo: None,
    page: Page,
    live_server: LiveServer,
    accessible: Callable[[Page], None],
) -> None:
    workspace = Workspace.objects.get(slug="marrowick")
    slugs = [hang(workspace, shape).slug for shape in SHAPES]
    page.context.add_cookies(
        [{"name": "sessionid", "value": SIGNED_IN, "url": live_server.url, "httpOnly": True}]
    )
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        for start in (0, 1600, 3200):
            page.goto("/marrowick?order=name&weeks=all")
            expect(page.locator("[data-row]").first).to_be_visible()
            page.evaluate("(top) => scrollTo(0, top)", start)
            page.wait_for_load_state("networkidle")
            expect(page.locator("[data-at]:not(:has([data-row]))")).to_have_count(0)
            if PICTURES:
                page.screenshot(path=f"{PICTURES}/overview {width} {start}.png")
            assert page.evaluate(CROWDED) == []
    accessible(page)
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto("/marrowick/compare/goal?weeks=all&" + "&".join(f"kpi={slug}" for slug in slugs[:24]))
    expect(page.get_by_role("img", name="KPIs in").first).to_be_visible()
    accessible(page)
