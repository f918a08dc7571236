"""From a part and its whole to a ratio, from a spike to what made it, from a finding to held."""

from collections.abc import Callable
from datetime import date, timedelta

from django.contrib.auth.models import User
from playwright.sync_api import Page, expect

from demo.scenario import ISLA
from fluctus.improvements.models import Aim
from fluctus.kpis.models import Kpi
from tests.conftest import Api, csv_of, ok

Accessible = Callable[[Page], None]
WOBBLE = [0.4, -0.3, 0.1, -0.5, 0.3, 0.0, -0.2, 0.5, -0.1, -0.2]


def level(value: float, count: int) -> list[float]:
    return [value + WOBBLE[n % 10] for n in range(count)]


def isla() -> Api:
    return Api(User.objects.get(username=ISLA), "marrowick")


def test_a_part_and_its_whole_become_a_ratio_of_sums(demo: Page, accessible: Accessible) -> None:
    first = date(2026, 1, 5)
    pairs = [(40 + n % 5, 46 + n % 3) for n in range(12)]
    rows = "\n".join(f"{first + timedelta(weeks=n)},{a},{b}" for n, (a, b) in enumerate(pairs))
    demo.get_by_role("link", name="New KPI").click()
    demo.get_by_label("Paste the table here").fill(f"Week,Sailed on time,Sailings\n{rows}")
    demo.get_by_role("button", name="Read this table").click()
    offer = demo.get_by_text("Sailed on time looks like a part of Sailings")
    expect(offer).to_be_visible()
    demo.get_by_role("button", name="Make one ratio of them").click()
    expect(demo.get_by_text("make one ratio: sum by sum, never averaged")).to_be_visible()
    accessible(demo)
    demo.get_by_role("button", name="Save 12 values as a KPI").click()
    title = "Sailed on time of sailings"
    expect(demo.get_by_role("heading", name=title)).to_be_visible()
    demo.get_by_role("application").focus()
    demo.keyboard.press("End")
    expect(demo.get_by_text("41 of 48", exact=True)).to_be_visible()
    quarter = ok(isla().get("/kpis/sailed-on-time-of-sailings/analysis", by="quarter"))["points"]
    assert quarter["value"] == [100 * sum(a for a, _ in pairs) / sum(b for _, b in pairs)]
    # The table of values takes both numbers, and says so of one.
    demo.get_by_role("link", name="Values").click()
    cell = demo.get_by_role("gridcell", name="Value of Week of 30 Mar 2026")
    cell.click()
    demo.keyboard.type("45")
    expect(demo.get_by_role("grid").get_by_role("alert")).to_have_text(
        "Write both numbers: 92 of 98"
    )
    demo.keyboard.type(" of 50")
    demo.keyboard.press("Enter")
    expect(demo.get_by_text("90.0 (45 of 50)")).to_be_visible()


def test_a_spike_is_told_by_the_part_that_made_it(demo: Page, accessible: Accessible) -> None:
    demo.get_by_role("link", name="No-shows of bookings").click()
    opens = "Open the finding Above the upper limit of 28 Sep"
    demo.get_by_role("button", name=opens).click()
    side = demo.get_by_role("complementary")
    side.get_by_role("button", name="What made it").click()
    told = side.get_by_role("region", name="What made 28 Sep")
    expect(told).to_contain_text("Of the 5.24\u00a0points more than usual, Ainsey brought 5.92.")
    expect(told.get_by_role("listitem").nth(1)).to_contain_text("Ainsey")
    expect(told.get_by_role("listitem").nth(1)).to_contain_text("above its own limits")
    told.get_by_text("By number").click()
    expect(told).to_contain_text("The numerator")
    accessible(demo)
    # A KPI made from two others, from the chart of one of them.
    demo.goto("/marrowick/charts/vehicles-left-behind")
    demo.get_by_role("button", name="More", exact=True).click()
    demo.get_by_role("menuitem", name="Make from this and another").click()
    form = demo.get_by_role("dialog", name="Make from Vehicles left behind and another")
    form.get_by_placeholder("Choose a KPI").click()
    demo.get_by_role("option", name="Passengers a day").click()
    form.get_by_label("Times").fill("1000")
    expect(form.get_by_role("status")).to_contain_text("58 weeks")
    form.get_by_label("Name").fill("Left behind per thousand")
    accessible(demo)
    form.get_by_role("button", name="Make it").click()
    expect(demo.get_by_role("heading", name="Left behind per thousand")).to_be_visible()
    expect(demo.get_by_text("Made of the whole: Passengers a day has no parts.")).to_be_visible()
    made = Kpi.objects.get(name="Left behind per thousand")
    assert [source.slug for source in made.follows] == ["vehicles-left-behind", "passengers-a-day"]


def test_an_improvement_from_a_finding_to_held_and_to_faded(
    demo: Page, accessible: Accessible
) -> None:
    api = isla()
    values = [*level(20, 18), 27.0, *level(20, 5)]
    slug = api.add_kpi("Lane wait", values, direction="lower", unit="min")
    demo.goto(f"/marrowick/charts/{slug}")
    demo.get_by_role("button", name="Open the finding Above the upper limit").first.click()
    side = demo.get_by_role("complementary")
    side.get_by_role("button", name="What was done about it").click()
    form = demo.get_by_role("dialog", name="Write an improvement down")
    form.get_by_label("What was done").fill("Lanes marked")
    form.get_by_label("Since").fill("22/06/2026")
    form.get_by_label("By, min").fill("2")
    form.get_by_role("combobox", name="Owner").click()
    demo.get_by_role("option", name="Isla Corrie").click()
    expect(form.get_by_role("status")).to_contain_text("8 in 10 within")
    accessible(demo)
    form.get_by_role("button", name="Write it down").click()
    expect(form).to_have_count(0)
    assert Aim.objects.get(improvement__name="Lanes marked").improvement.finding is not None
    mark = demo.get_by_role("button", name="Improvement Lanes marked")
    states = []
    for value, count in ((17, 12), (20, 12)):
        values += level(value, count)
        assert api.bring_in(csv_of(values), into=slug).status_code == 201
        states.append(Aim.objects.get(improvement__name="Lanes marked").state)
    assert states == ["held", "faded"]
    demo.reload()
    expect(mark).to_be_visible()
    demo.get_by_role("link", name="Improvements").click()
    row = demo.get_by_role("article", name="Lanes marked")
    expect(row).to_contain_text("It moved, and has gone back since")
    accessible(demo)
    row.get_by_role("button", name="More about Lanes marked").click()
    demo.get_by_role("menuitem", name="Its history").click()
    history = row.get_by_role("list", name="Its history")
    expect(history).to_contain_text("Lane wait: faded.")
    expect(history).to_contain_text("by the data")
    # Its owner hears of it; what is removed comes back.
    demo.get_by_role("link", name="For you").click()
    expect(demo.get_by_text("Lanes marked: Lane wait")).to_be_visible()
    demo.get_by_role("link", name="Improvements").click()
    row.get_by_role("button", name="More about Lanes marked").click()
    demo.get_by_role("menuitem", name="Remove it").click()
    expect(row).to_have_count(0)
    demo.get_by_role("button", name="Bring it back").click()
    expect(row).to_be_visible()


def test_the_shift_of_an_improvement_is_reviewed_where_it_is_proposed(demo: Page) -> None:
    api = isla()
    values = level(20, 20) + level(17, 12)
    slug = api.add_kpi("Lane wait", values, direction="lower", unit="min")
    form = {"name": "Lanes", "began": "2026-05-25", "aims": [{"kpi": slug, "wanted": "lower"}]}
    ok(api.send("POST", "/improvements", form))
    demo.goto("/marrowick/improvements")
    row = demo.get_by_role("article", name="Lanes", exact=True)
    row.get_by_role("link", name="Review the shift").click()
    review = demo.get_by_role("form", name="Process shift")
    expect(review).to_contain_text("Process shift from the week of 25 May 2026")
    review.get_by_role("button", name="Recalculate from 25 May").click()
    expect(review).to_have_count(0)
    demo.get_by_role("link", name="Improvements").click()
    expect(row).to_contain_text("It held")
    expect(row.get_by_role("link", name="Review the shift")).to_have_count(0)
