"""What to expect, told truly: how soon one knows, what a target takes, rare events, what is new."""

import re
from collections.abc import Callable

from playwright.sync_api import Page, expect

from fluctus.accounts.models import Workspace
from fluctus.findings.models import Finding
from fluctus.kpis.models import Kpi
from tests.browser.conftest import set_up, tag
from tests.gallery import SHAPES, hang

Accessible = Callable[[Page], None]


def shown(page: Page, name: str) -> Kpi:
    """Hang a shape of the gallery in the demo's workspace and open it."""
    workspace = Workspace.objects.get(slug="marrowick")
    kpi = hang(workspace, next(shape for shape in SHAPES if shape.name == name))
    page.goto(f"/marrowick/charts/{kpi.slug}")
    expect(page.get_by_role("heading", name=name, level=1)).to_be_visible()
    return kpi


def test_how_soon_would_i_know_is_asked_both_ways(demo: Page, accessible: Accessible) -> None:
    set_up(demo, "Rules and findings")
    card = demo.get_by_role("region", name="How soon would I know?")
    expect(card).to_contain_text(re.compile(r"If the average fell by .* within \d+ weeks\."))
    card.get_by_label("The average changes by, min").fill("-1.5")
    expect(card).to_contain_text("If the average fell by 1.5 min")
    before = card.get_by_role("status").text_content()
    # Fewer rules find less; the question is answered by those that are chosen here.
    demo.get_by_role("checkbox", name="Run on one side of the average").uncheck()
    demo.get_by_role("checkbox", name="Three of four near a limit").uncheck()
    expect(card.get_by_role("status")).not_to_have_text(before or "")
    card.get_by_role("slider").press("ArrowRight")
    expect(card).not_to_contain_text("fell by 1.5 min")
    card.get_by_text("within a time").click()
    card.get_by_label("Shown 8 in 10 times within, weeks").fill("3")
    expect(card).to_contain_text("would show 8 in 10 times within 3 weeks")
    accessible(demo)


def test_a_target_is_pulled_and_tells_what_it_takes(demo: Page) -> None:
    target = tag(demo, "target")
    box = target.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x, y + 40, steps=6)
    expect(demo.get_by_text(re.compile("Every week under .* takes an average of"))).to_be_visible()
    # Escape lets it go back; nothing is asked.
    demo.keyboard.press("Escape")
    demo.mouse.up()
    expect(target).to_contain_text("20.0")
    demo.mouse.move(x, y)
    demo.mouse.down()
    demo.mouse.move(x, y + 40, steps=6)
    demo.mouse.up()
    card = demo.get_by_role("dialog", name="Target")
    expect(card).to_contain_text("at the present spread")
    wanted = card.get_by_label("Target, min").input_value()
    expect(target).to_contain_text(wanted)
    card.get_by_role("button", name="Save target").click()
    expect(card).to_have_count(0)
    assert Kpi.objects.get(slug="turnaround-at-quay").target == float(wanted)


def test_a_rare_count_is_charted_by_the_time_between(demo: Page, accessible: Accessible) -> None:
    source = shown(demo, "Mostly zero")
    expect(demo.get_by_text("too rare to chart by week")).to_be_visible()
    demo.get_by_role("button", name="Chart the time between events").click()
    name = "Time between mostly zero"
    expect(demo.get_by_role("heading", name=name, level=1)).to_be_visible()
    expect(demo.get_by_text("days · made of Mostly zero")).to_be_visible()
    expect(tag(demo, "average")).to_be_visible()
    accessible(demo)
    kpi = Kpi.objects.get(name=name)
    assert kpi.source == source
    # Its values come from there: none is written here.
    expect(demo.get_by_role("link", name="Add data")).to_have_count(0)
    before = kpi.observations.count()
    demo.goto(f"/marrowick/charts/{source.slug}")
    demo.get_by_placeholder("next value").fill("1")
    demo.get_by_role("button", name="Add value").click()
    expect(demo.get_by_role("alert").first).to_be_visible()
    assert kpi.observations.count() == before + 1


def test_a_value_that_holds_is_drawn_as_steps(demo: Page) -> None:
    shown(demo, "A fee that holds")
    expect(tag(demo, "upper")).to_be_visible()
    demo.get_by_role("button", name="Draw it as steps").click()
    expect(tag(demo, "upper")).to_have_count(0)
    expect(demo.get_by_text("Before that 189.5 from Apr 2025")).to_be_visible()
    expect(demo.get_by_text("moving range")).to_have_count(0)
    demo.get_by_role("button", name=re.compile("^Undo")).click()
    expect(tag(demo, "upper")).to_be_visible()


def test_the_log_begins_with_what_new_data_brought(demo: Page, accessible: Accessible) -> None:
    findings = demo.get_by_role("link", name=re.compile("^Findings"))
    # To somebody who looks for the first time nothing is new.
    expect(findings).to_have_text("Findings")
    findings.click()
    rows = demo.get_by_role("list", name="Findings")
    expect(rows.get_by_role("heading", name="Without a cause")).to_be_visible()
    expect(rows.get_by_role("heading", name="New since you last looked")).to_have_count(0)
    demo.get_by_role("link", name="Turnaround at quay").click()
    demo.get_by_placeholder("next value").fill("48")
    demo.get_by_role("button", name="Add value").click()
    expect(findings).to_contain_text("1 new since you last looked")
    findings.click()
    expect(rows.get_by_role("heading", name="New since you last looked")).to_be_visible()
    first = rows.get_by_role("listitem").first
    expect(first).to_contain_text("48.0 min")
    accessible(demo)
    # Two get one cause at once.
    first.get_by_role("checkbox").check()
    rows.get_by_role("listitem").nth(1).get_by_role("checkbox").check()
    form = demo.get_by_role("form", name="One cause for several findings")
    expect(form).to_contain_text("2 findings chosen")
    form.get_by_label("Their cause").fill("Linkspan under repair")
    form.get_by_role("button", name="Explain them").click()
    expect(form).to_have_count(0)
    assert Finding.objects.filter(cause="Linkspan under repair", state="explained").count() == 2
