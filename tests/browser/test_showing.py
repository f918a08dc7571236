"""Showing others: a meeting, a report made and read, a link opened, words to a person."""

import re
from collections.abc import Callable
from typing import Any

from django.contrib.auth.models import User
from playwright.sync_api import Browser, Page, expect
from pytest_django.live_server_helper import LiveServer

from fluctus.findings.models import Finding
from fluctus.kpis.models import Kpi
from tests.browser.conftest import revision_of, tag
from tests.jobs import work

Accessible = Callable[[Page], None]


def hand_over(page: Page, what: str | re.Pattern[str]) -> None:
    page.get_by_role("button", name="Hand over").click()
    page.get_by_role("menuitem", name=what).click()


def test_a_meeting_is_built_up_by_keys(demo: Page, accessible: Accessible) -> None:
    before = revision_of("turnaround-at-quay")
    hand_over(demo, "Show in a meeting")
    sentence = demo.get_by_role("heading", level=1)
    expect(sentence).to_contain_text("19.4 min on average since New ramp drill")
    expect(demo.get_by_role("complementary", name="What happened")).to_contain_text("Strike day")
    accessible(demo)
    label = demo.get_by_role("main", name="Meeting").locator("svg text", has_text="25.1")
    demo.keyboard.press("u")
    for said, average, limits, marked in (
        ("58 weeks", 0, 0, False),
        ("it is 19.4 min on average; before, it was 21.5 min", 1, 0, False),
        ("any one week can be expected between 16.3 and 22.5 min", 1, 1, False),
        ("One is more than routine: 31 Aug", 1, 1, True),
        ("What happened:", 1, 1, True),
        ("Limits were recalculated from 18 May", 1, 1, True),
    ):
        expect(sentence).to_contain_text(said)
        expect(tag(demo, "average")).to_have_count(average)
        expect(tag(demo, "upper")).to_have_count(limits)
        # The value of a signal stands beside its mark.
        expect(label).to_have_count(int(marked))
        demo.keyboard.press("PageDown")
    expect(sentence).to_contain_text("Limits were recalculated")
    for _ in range(5):
        demo.keyboard.press("ArrowLeft")
    expect(sentence).to_contain_text("58 weeks")
    demo.keyboard.press("b")
    blank = demo.get_by_role("button", name=re.compile("The screen is blank"))
    expect(blank).to_be_visible()
    demo.keyboard.press("b")
    expect(blank).to_have_count(0)
    assert revision_of("turnaround-at-quay") == before
    # What is decided is written down without leaving.
    demo.keyboard.press("u")
    demo.keyboard.press("w")
    demo.get_by_role("textbox", name="Cause").fill("The relief crew was new to the ramp")
    accessible(demo)
    with demo.expect_response(lambda answer: answer.request.method == "PATCH"):
        demo.get_by_role("button", name="Save", exact=True).click()
    assert Finding.objects.filter(cause__contains="relief crew was new").exists()
    demo.get_by_role("button", name="White background").click()
    accessible(demo)
    demo.get_by_role("button", name="Leave the meeting").click()
    expect(demo).to_have_url(re.compile("/charts/turnaround-at-quay$"))


def test_a_page_is_stepped_through_one_thing_at_a_time(demo: Page) -> None:
    demo.goto("/marrowick/pages")
    demo.get_by_role("link", name="Monday at the quays").click()
    hand_over(demo, "Show in a meeting")
    dots = demo.get_by_role("button", name=re.compile(r"^Thing \d"))
    expect(dots.first).to_be_visible()
    count = dots.count()
    assert count > 2
    expect(dots.first).to_have_attribute("aria-current", "step")
    for _ in range(count + 2):
        demo.keyboard.press("ArrowRight")
    expect(dots.last).to_have_attribute("aria-current", "step")
    demo.keyboard.press("Escape")
    expect(demo.get_by_role("heading", name="Monday at the quays")).to_be_visible()


def test_a_report_is_made_read_and_made_again(demo: Page, accessible: Accessible) -> None:
    hand_over(demo, re.compile("^Report"))
    dialog = demo.get_by_role("dialog")
    dialog.get_by_label("Title").fill("How the quays ran")
    dialog.get_by_label("Words of your own").fill("For Monday.")
    accessible(demo)
    dialog.get_by_role("button", name="Make it").click()
    expect(demo.get_by_role("status").filter(has_text="Waiting")).to_be_visible()
    work()
    take = demo.get_by_role("link", name="Take the PDF")
    expect(take).to_be_visible()
    first = demo.get_by_role("img", name=re.compile("^Page 1 of How the quays ran"))
    expect(first).to_be_visible()
    expect(first).to_have_js_property("complete", value=True)
    assert int(first.evaluate("image => image.naturalWidth")) > 800
    accessible(demo)
    with demo.expect_download() as taken:
        take.click()
    assert taken.value.suggested_filename == "how-the-quays-ran.pdf"
    demo.get_by_role("button", name="Make it again with new data").click()
    expect(demo.get_by_role("button", name="Cancel")).to_be_visible()
    demo.get_by_role("button", name="Cancel").click()
    expect(demo.get_by_text("Cancelled")).to_be_visible()
    demo.get_by_role("link", name="Reports").first.click()
    expect(demo.get_by_role("list", name="Reports").get_by_role("listitem")).to_have_count(2)
    accessible(demo)


def test_a_link_is_made_opened_by_a_stranger_and_revoked(
    demo: Page, browser: Browser, live_server: LiveServer, accessible: Accessible
) -> None:
    hand_over(demo, re.compile("^Link"))
    dialog = demo.get_by_role("dialog")
    dialog.get_by_role("textbox", name="Password").fill("low water")
    accessible(demo)
    dialog.get_by_role("button", name="Make the link").click()
    address = dialog.locator("code").text_content() or ""
    stranger = browser.new_context(reduced_motion="reduce").new_page()
    stranger.goto(address)
    stranger.get_by_role("textbox", name="Password").fill("high water")
    stranger.get_by_role("button", name="Open it").click()
    expect(stranger.get_by_role("alert")).to_contain_text("not the password")
    stranger.get_by_role("textbox", name="Password").fill("low water")
    stranger.get_by_role("button", name="Open it").click()
    expect(stranger.get_by_role("heading", name="Turnaround at quay", exact=True)).to_be_visible()
    expect(tag(stranger, "average")).to_be_visible()
    expect(stranger.get_by_role("navigation")).to_have_count(0)
    accessible(stranger)
    demo.goto("/marrowick/links")
    expect(demo.get_by_role("table", name="Links")).to_contain_text("1 time, last")
    accessible(demo)
    demo.get_by_role("button", name="Revoke the link to Turnaround at quay").click()
    expect(demo.get_by_role("table", name="Links")).to_contain_text("revoked")
    stranger.reload()
    expect(stranger.get_by_role("alert")).to_contain_text("It was revoked.")
    stranger.context.close()


def test_what_is_copied_is_what_other_programs_paste(demo: Page, live_server: LiveServer) -> None:
    demo.context.grant_permissions(["clipboard-read", "clipboard-write"], origin=live_server.url)

    def pasted(kind: str) -> Any:
        return demo.evaluate(
            """async (kind) => {
              const [item] = await navigator.clipboard.read()
              if (!item.types.includes(kind)) return item.types.join(' ')
              const blob = await item.getType(kind)
              return kind === 'image/png' ? blob.size : blob.text()
            }""",
            kind,
        )

    for what, done in (
        ("Copy sentence", "The sentence is copied."),
        ("Copy table", "The table is copied."),
        ("Copy picture", "The picture is copied."),
    ):
        hand_over(demo, what)
        expect(demo.get_by_text(done)).to_be_visible()
        if what == "Copy sentence":
            said = pasted("text/plain").replace("\u00a0", " ")
            assert "19.4 min on average since New ramp drill" in said
        elif what == "Copy table":
            rows = pasted("text/plain").splitlines()
            assert rows[0].startswith("period\tvalue\tmoving_range")
            assert len(rows) == 59
            assert "<th>moving_range</th>" in pasted("text/html")
        else:
            assert pasted("image/png") > 10_000


def test_a_person_is_named_and_finds_it(demo: Page, accessible: Accessible) -> None:
    finding = Finding.objects.filter(kpi__slug="turnaround-at-quay").order_by("-first")[0]
    isla = User.objects.get(username="demo")
    Finding.objects.filter(pk=finding.pk).update(person=isla, due="2026-01-31")
    demo.goto(f"/marrowick/charts/turnaround-at-quay?finding={finding.pk}")
    remark = demo.get_by_role("textbox", name="Remark")
    remark.fill("Ask @rho")
    demo.get_by_role("group", name="Name a person").get_by_role("button").click()
    expect(remark).to_have_value("Ask @Rhona Baird ")
    remark.press("Enter")
    expect(demo.get_by_text("Ask @Rhona Baird")).to_be_visible()
    entry = finding.entries.get(text__startswith="Ask @Rhona")
    entry.text, entry.author = (
        "Was it the crew, @Isla Corrie?",
        User.objects.get(username="demo-rhona"),
    )
    entry.save()
    demo.get_by_role("navigation", name="KPIs").get_by_role("link", name="For you").click()
    expect(demo.get_by_role("region", name="To look into")).to_contain_text("was due 31 Jan 2026")
    expect(demo.get_by_role("region", name="Named")).to_contain_text("Was it the crew")
    accessible(demo)


def test_a_data_package_comes_in_elsewhere(demo: Page) -> None:
    hand_over(demo, re.compile("^Report"))
    demo.get_by_text("Data package (ZIP)").click()
    demo.get_by_role("button", name="Make it").click()
    expect(demo.get_by_role("status").filter(has_text="Waiting")).to_be_visible()
    work()
    with demo.expect_download() as taken:
        demo.get_by_role("link", name="Take the ZIP").click()
    demo.goto("/marrowick/data")
    with demo.expect_file_chooser() as chooser:
        demo.get_by_role("button", name="Bring in a data package").click()
    chooser.value.set_files(taken.value.path())
    expect(demo.get_by_text("waiting for its turn")).to_be_visible()
    work()
    expect(demo.get_by_text("1 KPI came in: Turnaround at quay (2).").first).to_be_visible()
    first, second = Kpi.objects.filter(name__startswith="Turnaround").order_by("pk")
    assert first.digest == second.digest
    demo.get_by_role("main").get_by_role("link", name="Turnaround at quay (2)").click()
    expect(tag(demo, "average")).to_contain_text("19.4")


def test_a_comparison_is_taken_along_and_shown(demo: Page, accessible: Accessible) -> None:
    demo.goto("/marrowick/compare/parts?kpi=vehicles-left-behind")
    expect(demo.get_by_role("cell", name="no different").first).to_be_visible()
    with demo.expect_download() as taken:
        hand_over(demo, "Picture as SVG")
    picture = taken.value.path().read_text()
    # The charts as drawings, and what is said of them and stands in the table as text.
    assert picture.count("<svg") >= 4
    for text in ("is higher than chance explains", "Marrowick", "no different"):
        assert text in picture
    assert "Add to a page" not in picture
    with demo.expect_download() as taken:
        hand_over(demo, "Table as CSV")
    head, *rows = taken.value.path().read_text().splitlines()
    assert head.startswith("Part,Average,Limits")
    assert [row.partition(",")[0] for row in rows] == ["Ainsey", "Holmsand", "Marrowick"]
    hand_over(demo, "Show in a meeting")
    expect(demo.get_by_role("main", name="Meeting")).to_contain_text("higher than chance explains")
    accessible(demo)
    demo.keyboard.press("Escape")
    expect(demo.get_by_role("heading", name="Compare")).to_be_visible()


def test_chosen_findings_are_shown_one_after_the_other(demo: Page) -> None:
    demo.goto("/marrowick/findings")
    boxes = demo.get_by_role("list", name="Findings").get_by_role("checkbox")
    boxes.nth(0).check()
    boxes.nth(1).check()
    demo.get_by_role("link", name="Show in a meeting").click()
    sentence = demo.get_by_role("heading", level=1)
    expect(sentence).to_contain_text(re.compile(r"limit|average|row"))
    first = sentence.text_content()
    demo.keyboard.press("ArrowRight")
    expect(sentence).not_to_have_text(first or "")
