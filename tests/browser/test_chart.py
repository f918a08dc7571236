"""Reading a chart and moving its shifts, by mouse and by keyboard."""

import re
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from demo.generate import DATA
from fluctus.core import SegmentSettings, Series, Settings, analyse
from fluctus.kpis.models import Kpi, Segment
from tests.browser.conftest import revision_of, set_up, tag, tag_value

# Turnaround, analysed here by the core from the demo's file: a second way to what the screen says.
ROWS = [line.split(",") for line in (DATA / "turnaround.csv").read_text().splitlines()[1:]]
WEEKS = [row[0] for row in ROWS]
ASIDE = np.array([week == "2026-01-05" for week in WEEKS])


def expected(*shifts: str) -> list[tuple[float, float, float]]:
    starts = [SegmentSettings(), *(SegmentSettings(WEEKS.index(shift)) for shift in shifts)]
    chart = analyse(
        Series([float(row[1]) for row in ROWS], ASIDE), Settings(tuple(starts), floor=0)
    )
    return [(s.lower or 0, s.average or 0, s.upper or 0) for s in chart.segments]


def on_tags(page: Page) -> tuple[float, float, float]:
    return tag_value(page, "lower"), tag_value(page, "average"), tag_value(page, "upper")


def rounded(levels: tuple[float, float, float]) -> tuple[float, float, float]:
    return tuple(pytest.approx(level, abs=0.051) for level in levels)  # type: ignore[return-value]


def handle(page: Page, number: int = 1) -> tuple[float, float]:
    """Where the grip of a shift is."""
    box = page.locator(f'[data-shift="{number}"]').bounding_box()
    lane = page.get_by_role("button", name="Segment ").first.bounding_box()
    assert box
    assert lane
    return box["x"] + box["width"] / 2, lane["y"] + lane["height"] / 2


def test_the_demo_chart_shows_the_computed_numbers(demo: Page) -> None:
    before, after = expected("2026-05-18")
    assert on_tags(demo) == rounded(after)
    headline = demo.get_by_text("Turnaround at quay:").first.inner_text().replace("\xa0", " ")
    assert headline == (
        f"Turnaround at quay: {after[1]:.1f} min on average since New ramp drill on 18 May, "
        f"{before[1] - after[1]:.1f} min less than before."
    )
    comparison = demo.get_by_role("table").filter(has_text="Limits apart")
    width = comparison.get_by_role("row", name="Limits apart").get_by_role("cell")
    assert width.all_inner_texts()[:2] == [f"{s[2] - s[0]:.1f}" for s in (before, after)]
    # The lines are drawn at the numbers: the axis' own scale reads them back.
    ticks = demo.locator("svg g[class*=axis] >> nth=0").locator("g")
    heights = {
        float(tick.locator("text").text_content() or ""): float(
            re.findall(r"[\d.]+", tick.get_attribute("transform") or "")[1]
        )
        for tick in ticks.all()
    }
    (low, y_low), (high, y_high) = min(heights.items()), max(heights.items())
    averages = demo.locator("[data-segment] line[stroke-width='2.2']:nth-of-type(3)")
    assert averages.count() == 2
    for line, level in zip(averages.all(), (before[1], after[1]), strict=True):
        y = float(re.findall(r"[\d.]+", line.get_attribute("style") or "")[0])
        assert low + (y - y_low) / (y_high - y_low) * (high - low) == pytest.approx(level, rel=1e-5)


def test_points_are_read_out_by_pointer_and_by_keyboard(demo: Page) -> None:
    chart = demo.get_by_role("application")
    chart.focus()
    demo.keyboard.press("Home")
    spoken = demo.locator("[aria-live=polite].unseen")
    expect(spoken).to_contain_text("Week of 6 October".replace("October", "Oct"))
    expect(spoken).to_contain_text("Moving range none")
    demo.keyboard.press(".")
    expect(spoken).to_contain_text("Week of 31 Aug 2026")
    expect(spoken).to_contain_text("Above the upper limit. 25.1")
    demo.keyboard.press("ArrowRight")
    expect(spoken).to_contain_text("Week of 7 Sep 2026")
    demo.keyboard.press("Escape")
    expect(spoken).to_be_empty()
    box = chart.bounding_box()
    assert box
    demo.mouse.move(box["x"] + box["width"] / 3, box["y"] + 120)
    expect(demo.get_by_text("From the average", exact=True)).to_be_visible()
    demo.get_by_role("button", name="Show Above the upper limit").click()
    expect(spoken).to_contain_text("Week of 31 Aug 2026")


def test_a_shift_is_dragged_with_limits_following_and_escape_lets_go(demo: Page) -> None:
    seen = revision_of("turnaround-at-quay")
    x, y = handle(demo)
    week = 868 / 58  # the plot is 868 pixels wide at this size and shows 58 weeks
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x - 5 * week, y, steps=5)
    dropped = "2026-04-13"
    expect(demo.get_by_text("since New ramp drill on 13 Apr")).to_be_visible()
    assert on_tags(demo) == rounded(expected(dropped)[1])
    demo.keyboard.press("Escape")
    demo.mouse.up()
    expect(demo.get_by_text("since New ramp drill on 18 May")).to_be_visible()
    assert revision_of("turnaround-at-quay") == seen

    x, y = handle(demo)
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x - 5 * week, y, steps=5)
    demo.mouse.up()
    expect(demo.get_by_text("Limits recalculated from")).to_be_visible()
    assert on_tags(demo) == rounded(expected(dropped)[1])
    segment = Segment.objects.get(kpi__slug="turnaround-at-quay", start__isnull=False)
    assert (segment.name, f"{segment.start:%d %b}") == ("New ramp drill", "12 Apr")  # UTC of 13 Apr

    demo.keyboard.press("Control+z")
    expect(demo.get_by_text("since New ramp drill on 18 May")).to_be_visible()
    demo.keyboard.press("Control+Shift+z")
    expect(demo.get_by_text("since New ramp drill on 13 Apr")).to_be_visible()
    demo.reload()
    expect(demo.get_by_role("button", name="Undo: Moved the shift")).to_be_enabled()


def test_a_shift_is_put_named_and_removed_by_keyboard_alone(demo: Page) -> None:
    demo.keyboard.press("Control+k")
    expect(demo.get_by_role("textbox", name="Jump to")).to_be_focused()
    demo.keyboard.type("unplanned")
    expect(demo.get_by_role("option", name="Unplanned stops")).to_be_visible()
    demo.keyboard.press("Enter")
    expect(demo.get_by_role("heading", name="Unplanned stops")).to_be_visible()
    expect(demo.get_by_text("Nine weeks in a row sit above the average")).to_be_visible()
    average = tag_value(demo, "average")
    chart = demo.get_by_role("application")
    chart.focus()
    for key in (".", ".", ".", "r"):
        demo.keyboard.press(key)
    bar = demo.get_by_role("form", name="Process shift")
    expect(bar).to_contain_text("Process shift from the week of 14 Sep 2026")
    expect(demo.get_by_text("Provisional limits: 9 of 17 weeks")).to_be_visible()
    expect(demo.locator('[data-segment="1"]')).to_have_attribute("data-firmness", "provisional")
    shift = demo.get_by_role("slider")
    expect(shift).to_be_focused()
    demo.keyboard.press("ArrowRight")
    expect(bar).to_contain_text("21 Sep")
    demo.keyboard.press("ArrowLeft")
    expect(bar).to_contain_text("14 Sep")
    bar.get_by_label("Name of the new segment").focus()
    demo.keyboard.type("Winter crew")
    demo.keyboard.press("Enter")
    expect(demo.get_by_text("since Winter crew on 14 Sep")).to_be_visible()
    assert tag_value(demo, "average") > average + 1
    shift.focus()
    demo.keyboard.press("Delete")
    expect(demo.get_by_text("Nine weeks in a row sit above the average")).to_be_visible()
    assert tag_value(demo, "average") == average
    demo.keyboard.press("Control+z")
    expect(demo.get_by_text("since Winter crew on 14 Sep")).to_be_visible()


def test_a_segment_is_renamed_and_its_limits_made_otherwise(demo: Page) -> None:
    demo.get_by_role("button", name="Segment New ramp drill").click()
    card = demo.get_by_role("dialog")
    expect(card).to_contain_text("2.660")
    card.get_by_label("Name").fill("Ramp drill, two hands")
    card.get_by_text("Median mR").click()
    card.get_by_role("button", name="Save segment").click()
    expect(
        demo.get_by_role("button", name="Segment Ramp drill, two hands, 26 weeks")
    ).to_be_visible()
    expect(tag(demo, "average_range")).to_contain_text("Median mR")
    tag(demo, "upper").click()
    expect(demo.get_by_role("dialog")).to_contain_text("3.145")


def test_a_stale_act_is_refused_and_the_chart_as_it_is_comes_in(demo: Page) -> None:
    Kpi.objects.filter(slug="turnaround-at-quay").update(revision=5, target=19)
    tag(demo, "target").click()
    card = demo.get_by_role("dialog")
    card.get_by_label("Target").fill("18")
    card.get_by_role("button", name="Save target").click()
    expect(demo.get_by_text("This chart has changed since you opened it.")).to_be_visible()
    expect(tag(demo, "target")).to_contain_text("19.0")
    assert Kpi.objects.get(slug="turnaround-at-quay").target == 19


def test_chips_switch_lines_and_the_choice_stays(demo: Page) -> None:
    demo.get_by_role("button", name="Natural process limits").click()
    expect(tag(demo, "upper")).to_have_count(0)
    demo.reload()
    expect(tag(demo, "average")).to_be_visible()
    expect(tag(demo, "upper")).to_have_count(0)


def test_a_stretch_of_a_long_chart_is_shown(demo: Page) -> None:
    demo.goto("/marrowick/charts/gate-cycle")
    expect(tag(demo, "average")).to_be_visible()
    level = tag_value(demo, "average")
    demo.get_by_role("button", name="by hour, all dates").click()
    demo.get_by_role("menuitemradio", name="Last 48 hours").click()
    expect(demo.locator("svg text", has_text="13 Nov")).to_have_count(0)
    expect(demo.get_by_role("button", name="Later dates")).to_be_disabled()
    assert tag_value(demo, "average") == level  # limits rest on all of the segment
    demo.get_by_role("button", name="Earlier dates").click()
    expect(demo.get_by_role("button", name="Later dates")).to_be_enabled()


@pytest.mark.parametrize("kind", ["CSV", "SVG", "PNG"])
def test_the_chart_is_exported(demo: Page, tmp_path: Path, kind: str) -> None:
    demo.get_by_role("button", name="Hand over").click()
    with demo.expect_download() as download:
        demo.get_by_role("menuitem", name=kind).click()
    saved = tmp_path / "export"
    download.value.save_as(saved)
    assert download.value.suggested_filename == f"turnaround-at-quay.{kind.lower()}"
    content = saved.read_bytes()
    if kind == "CSV":
        assert content.decode("utf-8-sig").count("\n") == 59
    elif kind == "PNG":
        assert content.startswith(b"\x89PNG")
        assert len(content) > 30_000
    else:
        text = content.decode()
        assert "New ramp drill" in text
        assert "Hanken Grotesk" in text
        assert "var(--" not in text  # it stands alone: every color is written out
        # Points on both charts, labels, what happened: all that the screen has.
        assert text.count("<circle") > 100
        assert all(word in text for word in ("25.1", "Strike day", "Target"))
        # And it draws: the browser shows it as a picture of its own size.
        demo.goto(saved.rename(tmp_path / "chart.svg").as_uri())
        assert demo.evaluate("document.documentElement.getBBox().width") > 900


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_serious(
    demo: Page, accessible: Callable[[Page], None], scheme: str
) -> None:
    demo.emulate_media(color_scheme=scheme, reduced_motion="reduce")  # type: ignore[arg-type]
    accessible(demo)
    demo.get_by_text("Points as a table").click()
    expect(demo.get_by_role("row").filter(has_text="Set aside: Gale")).to_be_visible()
    accessible(demo)
    demo.get_by_role("button", name="Segment New ramp drill").click()
    expect(demo.get_by_role("dialog")).to_be_visible()
    accessible(demo)
    demo.keyboard.press("Escape")
    demo.get_by_role("application").focus()
    demo.keyboard.press("End")
    demo.keyboard.press("r")
    expect(demo.get_by_role("form", name="Process shift")).to_be_visible()
    accessible(demo)
    demo.keyboard.press("Escape")
    for card, within in (
        ("Rules and findings", "Rules that flag signals"),
        ("How values are drawn", "Never below"),
        ("Calendar", "Time zone"),
    ):
        set_up(demo, card)
        expect(demo.get_by_role("dialog").get_by_label(within).first).to_be_visible()
        accessible(demo)
        demo.keyboard.press("Escape")
    demo.get_by_role("button", name="Turnaround at quay").first.click()
    expect(demo.get_by_role("textbox", name="Name")).to_be_focused()
    accessible(demo)


def test_it_is_usable_on_a_phone(demo: Page, accessible: Callable[[Page], None]) -> None:
    demo.set_viewport_size({"width": 390, "height": 844})
    expect(tag(demo, "average")).to_be_visible()
    expect(demo.get_by_role("button", name="KPIs")).to_be_visible()
    assert demo.evaluate("document.documentElement.scrollWidth") <= 390
    demo.get_by_role("button", name="KPIs").click()
    demo.get_by_role("link", name="Fuel per crossing").click()
    expect(demo.get_by_role("heading", name="Fuel per crossing")).to_be_visible()
    accessible(demo)
