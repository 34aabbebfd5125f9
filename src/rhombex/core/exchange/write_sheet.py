"""Drawing sheets out: SVG and PDF, true to scale in millimetres."""

from __future__ import annotations

import io
from pathlib import Path
from xml.sax.saxutils import escape, quoteattr

from rhombex.core.plan.drawing import Sheet, Weight

WIDTH_MM: dict[Weight, float] = {
    "seen": 0.35,
    "cut": 0.5,
    "thin": 0.13,
    "chain": 0.18,
}  # ISO 128-2: wide is twice narrow and more
DASH_MM: dict[Weight, tuple[float, ...]] = {"chain": (4.0, 1.0, 0.6, 1.0)}
FACE = "Vera"  # comes with the library that writes PDF, under a free licence


def sheet_svg(sheet: Sheet) -> bytes:
    """SVG whose units are millimetres on paper."""
    w, h = sheet.size_mm
    out = [
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{w:g}mm" height="{h:g}mm" viewBox="0 0 {w:g} {h:g}" '
        f'font-family="sans-serif"><title>{escape(sheet.title)}</title><rect width="{w:g}" height="{h:g}" fill="white"/>'
    ]
    for weight, width in WIDTH_MM.items():
        dash = f' stroke-dasharray="{" ".join(f"{x:g}" for x in DASH_MM[weight])}"' if weight in DASH_MM else ""
        path = "".join(
            f"M{s.x0:.2f} {h - s.y0:.2f}L{s.x1:.2f} {h - s.y1:.2f}" for s in sheet.strokes if s.weight == weight
        )
        if path:
            out.append(
                f'<path d="{path}" fill="none" stroke="black" stroke-width="{width:g}" stroke-linecap="round"{dash}/>'
            )
    for t in sheet.texts:
        at = f'transform="translate({t.x:.3f} {h - t.y:.3f})' + (' rotate(-90)"' if t.upright else '"')
        out.append(f'<text {at} font-size="{t.size_mm:g}" text-anchor={quoteattr(t.anchor)}>{escape(t.words)}</text>')
    return ("\n".join(out) + "\n</svg>\n").encode()


def sheets_pdf(sheets: list[Sheet], title: str) -> bytes:
    """One PDF with a page for each sheet."""
    import reportlab
    from reportlab.lib.units import mm
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont
    from reportlab.pdfgen.canvas import Canvas

    if FACE not in pdfmetrics.getRegisteredFontNames():
        pdfmetrics.registerFont(TTFont(FACE, str(Path(reportlab.__file__).parent / "fonts" / "Vera.ttf")))
    out = io.BytesIO()
    page = Canvas(out, invariant=1)  # equal designs give equal bytes
    page.setTitle(title)
    page.setCreator("Rhombex")
    for sheet in sheets:
        page.setPageSize((sheet.size_mm[0] * mm, sheet.size_mm[1] * mm))
        page.setLineCap(1)
        for weight, width in WIDTH_MM.items():
            page.setLineWidth(width * mm)
            page.setDash([x * mm for x in DASH_MM.get(weight, ())])
            page.lines([(s.x0 * mm, s.y0 * mm, s.x1 * mm, s.y1 * mm) for s in sheet.strokes if s.weight == weight])
        for t in sheet.texts:
            page.saveState()
            page.translate(t.x * mm, t.y * mm)
            if t.upright:
                page.rotate(90)
            page.setFont(FACE, t.size_mm * mm)
            {"start": page.drawString, "middle": page.drawCentredString, "end": page.drawRightString}[t.anchor](
                0, 0, t.words
            )
            page.restoreState()
        page.showPage()
    page.save()
    return out.getvalue()
