"""A report on slides: one a chart, its sentence as title, what was found in the notes."""

from io import BytesIO

from pptx import Presentation
from pptx.dml.color import RGBColor
from pptx.enum.text import MSO_ANCHOR, PP_ALIGN
from pptx.slide import Slide
from pptx.text.text import TextFrame
from pptx.util import Emu, Inches, Length, Pt

from fluctus.reports.contents import ON_SLIDE, Chapter, Contents
from fluctus.reports.drawing import Renderer, a_renderer

WIDE, HIGH = Inches(13.333), Inches(7.5)
MARGIN = Inches(0.6)
SHARP = 2.6
"""Pixels of a picture for each pixel that it was drawn in: some 2,500 across the slide."""
INK, QUIET = RGBColor.from_string("17262C"), RGBColor.from_string("55656C")  # type: ignore[no-untyped-call]
TYPEFACE = "Hanken Grotesk"
LONGEST_TITLE = 240


def as_slides(contents: Contents) -> tuple[bytes, int]:
    """Set a report on slides; returns the presentation and how many slides it has."""
    deck = Presentation()
    deck.slide_width, deck.slide_height = WIDE, HIGH
    deck.core_properties.title = contents.title
    deck.core_properties.author = contents.author
    first = deck.slides.add_slide(deck.slide_layouts[5])
    _title(first, contents.title, 36)
    under = f"{contents.workspace} · {contents.dates} · {contents.made_at:%-d %B %Y}"
    lines = [under, contents.author, contents.intro, *contents.left_out]
    _text(first, "\n".join(filter(None, lines)), Inches(2.2), 20)
    with a_renderer() as renderer:
        for chapter in contents.chapters:
            slide = deck.slides.add_slide(deck.slide_layouts[5])
            if chapter.headline:
                _chart(slide, chapter, renderer)
            else:
                _title(slide, "", 28)
                _text(slide, chapter.text, Inches(1), 20)
    made = BytesIO()
    deck.save(made)
    return made.getvalue(), len(deck.slides)


def _chart(slide: Slide, chapter: Chapter, renderer: Renderer) -> None:
    _title(slide, chapter.headline[:LONGEST_TITLE], 26)
    under = " · ".join(filter(None, (chapter.name, chapter.dates)))
    _text(slide, under, Inches(1.2), 14)
    if chapter.svg:
        png = renderer.as_png(chapter.svg, SHARP)
        wide = WIDE - 2 * MARGIN
        high = int(wide * ON_SLIDE.height / ON_SLIDE.width)
        picture = slide.shapes.add_picture(BytesIO(png), MARGIN, Inches(1.75), Emu(wide), Emu(high))
        # What is told of the picture to who cannot see it.
        picture._element.nvPicPr.cNvPr.set("descr", f"{chapter.name}. {chapter.headline}")  # type: ignore[union-attr]
    notes = slide.notes_slide.notes_text_frame
    assert notes is not None, "the layout of notes has a place for text"
    notes.text = "\n".join(_notes(chapter))


def _notes(chapter: Chapter) -> list[str]:
    lines = [chapter.text, chapter.detail, *chapter.remarks]
    for finding in chapter.findings:
        told = [f"{finding.label}: {finding.title} ({finding.state}). {finding.text}"]
        told += [f"Cause: {finding.cause}"] if finding.cause else []
        told += [f"Action: {finding.action}"] if finding.action else []
        lines.append(" ".join(told))
    if chapter.table is not None:
        lines += [": ".join(filter(None, row)) for row in chapter.table.rows]
    return [line for line in (*lines, *chapter.how) if line]


def _title(slide: Slide, text: str, size: int) -> None:
    shape = slide.shapes.title
    assert shape is not None, "the layout has a title"
    shape.left, shape.top, shape.width, shape.height = (
        MARGIN,
        Inches(0.35),
        Emu(WIDE - 2 * MARGIN),
        Inches(0.9),
    )
    frame = shape.text_frame
    frame.word_wrap, frame.vertical_anchor = True, MSO_ANCHOR.TOP
    frame.text = text
    _style(frame, size, INK, bold=True)


def _text(slide: Slide, text: str, top: Length, size: int) -> None:
    box = slide.shapes.add_textbox(MARGIN, top, Emu(WIDE - 2 * MARGIN), Inches(0.5))
    box.text_frame.word_wrap = True
    box.text_frame.text = text
    _style(box.text_frame, size, QUIET, bold=False)


def _style(frame: TextFrame, size: int, color: RGBColor, *, bold: bool) -> None:
    for paragraph in frame.paragraphs:
        paragraph.alignment = PP_ALIGN.LEFT
        paragraph.font.size, paragraph.font.bold = Pt(size), bold
        paragraph.font.name, paragraph.font.color.rgb = TYPEFACE, color
