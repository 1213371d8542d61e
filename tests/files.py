"""Small made-up files of every kind, written without the readers under test."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Mapping
from email.message import EmailMessage

import docx
import openpyxl
import pyarrow
import pyarrow.parquet

ENTRIES = (
    "Gale from the west all night; the outer mooring parted at four.",
    "Ferry late with sixty aboard. The ramp at Kelpwick is iced.",
    "Two trawlers landed cod, and the scale is out by a stone.",
)


def zipped(members: Mapping[str, bytes | str]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in members.items():
            archive.writestr(name, data)
    return out.getvalue()


def unzipped(data: bytes) -> dict[str, bytes | str]:
    with zipfile.ZipFile(io.BytesIO(data)) as archive:
        return {name: archive.read(name) for name in archive.namelist()}


def xlsx() -> bytes:
    """Two sheets; the second holds the entries, below an empty row, with a date and a number."""
    import datetime

    book = openpyxl.Workbook()
    book.active.title = "Notes"
    book.active["A1"] = "nothing here"
    sheet = book.create_sheet("Entries")
    rows = [["harbour", "when", "hours", "text"]] + [
        ["Quellan", datetime.date(2014, 1, 14 + at), 3.0, text] for at, text in enumerate(ENTRIES)
    ]
    sheet.append([])
    for row in rows:
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def ods() -> bytes:
    def cell(value: str) -> str:
        return f'<table:table-cell office:value-type="string"><text:p>{value}</text:p></table:table-cell>'

    rows = [["harbour", "text"], *(["Tarnholt", text] for text in ENTRIES)]
    return ods_of("".join(f"<table:table-row>{''.join(map(cell, row))}</table:table-row>" for row in rows))


def ods_of(table: str) -> bytes:
    """An ODS spreadsheet of these rows."""
    content = (
        f"{_ODF_ROOT}<office:body><office:spreadsheet>"
        f'<table:table table:name="Log">{table}</table:table>'
        "</office:spreadsheet></office:body></office:document-content>"
    )
    return _odf("application/vnd.oasis.opendocument.spreadsheet", content)


_ODF_ROOT = (
    '<?xml version="1.0" encoding="UTF-8"?><office:document-content '
    'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
    'xmlns:table="urn:oasis:names:tc:opendocument:xmlns:table:1.0" '
    'xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0" office:version="1.2">'
)


def _odf(kind: str, content: str) -> bytes:
    manifest = (
        '<?xml version="1.0"?><manifest:manifest '
        'xmlns:manifest="urn:oasis:names:tc:opendocument:xmlns:manifest:1.0" manifest:version="1.2">'
        f'<manifest:file-entry manifest:full-path="/" manifest:media-type="{kind}"/>'
        "</manifest:manifest>"
    )
    meta = (
        '<office:document-meta xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" '
        'xmlns:dc="http://purl.org/dc/elements/1.1/"><office:meta><dc:title>Log of Tarnholt</dc:title>'
        "<dc:creator>the warden</dc:creator></office:meta></office:document-meta>"
    )
    return zipped({"mimetype": kind, "content.xml": content, "meta.xml": meta, "META-INF/manifest.xml": manifest})


def odt() -> bytes:
    body = (
        "<text:h>January</text:h>"
        f"<text:p>{ENTRIES[0]}<text:line-break/>Second<text:s text:c='2'/>line"
        "<text:note><text:note-body><text:p>a footnote</text:p></text:note-body></text:note></text:p>"
        f"<text:h>February</text:h><text:p>{ENTRIES[1]}</text:p>"
    )
    content = f"{_ODF_ROOT}<office:body><office:text>{body}</office:text></office:body></office:document-content>"
    return _odf("application/vnd.oasis.opendocument.text", content)


def docx_file() -> bytes:
    document = docx.Document()
    document.core_properties.title = "Log of Quellan"
    document.core_properties.author = "the keeper"
    document.add_heading("January", 1)
    document.add_paragraph(ENTRIES[0])
    table = document.add_table(rows=1, cols=2)
    table.cell(0, 0).text, table.cell(0, 1).text = "wind", "12kn"
    document.add_heading("February", 1)
    document.add_paragraph(ENTRIES[1])
    out = io.BytesIO()
    document.save(out)
    return out.getvalue()


def epub() -> bytes:
    chapters = {
        f"OEBPS/c{at}.xhtml": f'<html xmlns="http://www.w3.org/1999/xhtml"><head><title>Day {at}</title>'
        f"</head><body><h1>Day {at}</h1><p>{text}</p></body></html>"
        for at, text in enumerate(ENTRIES)
    }
    items = "".join(f'<item id="c{at}" href="c{at}.xhtml"/>' for at in range(3))
    spine = "".join(f'<itemref idref="c{at}"/>' for at in (1, 0, 2))
    package = (
        '<package xmlns="http://www.idpf.org/2007/opf" xmlns:dc="http://purl.org/dc/elements/1.1/">'
        "<metadata><dc:title>A year of entries</dc:title><dc:language>en</dc:language></metadata>"
        f"<manifest>{items}</manifest><spine>{spine}</spine></package>"
    )
    container = (
        '<container xmlns="urn:oasis:names:tc:opendocument:xmlns:container"><rootfiles>'
        '<rootfile full-path="OEBPS/book.opf"/></rootfiles></container>'
    )
    return zipped(
        {"mimetype": "application/epub+zip", "META-INF/container.xml": container, "OEBPS/book.opf": package, **chapters}
    )


def pdf(pages: tuple[str, ...] = ENTRIES) -> bytes:
    """A PDF with a line of text a page, written object by object."""
    objects = [
        b"<< /Type /Catalog /Pages 2 0 R >>",
        f"<< /Type /Pages /Count {len(pages)} /Kids "
        f"[{' '.join(f'{4 + 2 * at} 0 R' for at in range(len(pages)))}] >>".encode(),
        b"<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>",
    ]
    for at, text in enumerate(pages):
        stream = f"BT /F1 12 Tf 40 700 Td ({text}) Tj ET".encode() if text else b""
        objects.append(
            f"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents {5 + 2 * at} 0 R "
            "/Resources << /Font << /F1 3 0 R >> >> >>".encode()
        )
        objects.append(b"<< /Length %d >>\nstream\n%s\nendstream" % (len(stream), stream))
    out, places = b"%PDF-1.4\n", []
    for number, body in enumerate(objects, start=1):
        places.append(len(out))
        out += b"%d 0 obj\n%s\nendobj\n" % (number, body)
    table = b"".join(b"%010d 00000 n \n" % at for at in places)
    return out + (
        b"xref\n0 %d\n0000000000 65535 f \n%strailer\n<< /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n"
        % (len(objects) + 1, table, len(objects) + 1, len(out))
    )


def eml(number: int = 0, page: bool = False, attached: bool = False) -> bytes:
    message = EmailMessage()
    message["Subject"] = f"Entry {number}: störm"
    message["From"] = "Keeper <keeper@kelpwick.example>"
    message["To"] = "warden@quellan.example"
    message["Date"] = "Tue, 14 Jan 2014 23:10:00 +0100"
    message["Message-ID"] = f"<{number}@kelpwick.example>"
    if page:
        message.set_content(f"<p>{ENTRIES[number % 3]}</p><p>Second.</p>", subtype="html")
    else:
        message.set_content(f"{ENTRIES[number % 3]}\nFrom now on it is calm.")
    if attached:
        message.add_attachment(b"\x89PNG", maintype="image", subtype="png", filename="chart.png")
    return bytes(message)


def mbox(count: int) -> bytes:
    return b"".join(
        b"From keeper@kelpwick.example Tue Jan 14 23:10:00 2014\n"
        + eml(at, page=at % 3 == 1).replace(b"\nFrom ", b"\n>From ")
        + b"\n"
        for at in range(count)
    )


def parquet() -> bytes:
    table = pyarrow.table(
        {
            "text": list(ENTRIES),
            "about": [{"harbour": "Quellan"}, None, {"harbour": "Ossingby"}],
            "hours": [1.0, 2.5, None],
        }
    )
    out = io.BytesIO()
    pyarrow.parquet.write_table(table, out)
    return out.getvalue()


def nested_json() -> str:
    """Records two levels down; the second lacks its text, the third its writer."""
    harbours = [
        {
            "name": "Kelpwick",
            "entries": [
                {"id": 1, "body": {"text": ENTRIES[0]}, "by": {"name": "Orrin", "role": "keeper"}},
                {"id": 2, "body": {}, "by": {"name": "Maud", "role": "pilot"}},
            ],
        },
        {"name": "Quellan", "entries": [{"id": 3, "body": {"text": ENTRIES[2]}, "tags": ["cod", "scale"]}]},
    ]
    return json.dumps({"made": "2014-02-01", "harbours": harbours})


XML = f"""<?xml version="1.0" encoding="UTF-8"?>
<log xmlns="urn:example:log">
  <harbour name="Kelpwick">
    <entry id="1"><when>2014-01-14</when><text>{ENTRIES[0]} <b>Twice</b> over.</text></entry>
    <entry id="2"><text>{ENTRIES[1]}</text><tag>ice</tag><tag>ramp</tag></entry>
  </harbour>
  <harbour name="Quellan">
    <entry id="3"><text>{ENTRIES[2]}</text></entry>
  </harbour>
</log>
"""

PAGE = f"""<!doctype html><html lang="en-GB"><head><title>Log of
Kelpwick</title><meta name="date" content="2014-01-14"><script>var p = "<p>no</p>"</script></head>
<body><nav><a href="/">Home</a> <a href="/log">The whole log of this harbour</a></nav>
<main><h1>Night watch</h1><p>{ENTRIES[0]}</p><p>{ENTRIES[1]}<br>Ice<b>berg</b> seen.</p>
<p class="sign">signed, the keeper</p></main><footer>Harbour office</footer></body></html>"""

RIS = f"""TY  - JOUR
TI  - Moorings in winter
AU  - Ferrant, Orrin
AU  - Lisk, Maud
PY  - 2014/01//
AB  - {ENTRIES[0]}
KW  - gales
KW  - moorings
ER  -

TY  - JOUR
T1  - Ice on ramps
N2  - {ENTRIES[1]}
  and so on.
ER  -
"""

BIBTEX = f"""@article{{ferrant2014,
  title = {{Moorings in winter}}, author = {{Ferrant, Orrin and L{{\\"o}}sk, Maud}},
  journal = {{Harbour Notes}}, year = 2014, abstract = {{{ENTRIES[0]}}}
}}
@article{{broken, title = {{No end,
@book{{lisk2015, title = "Ice on ramps", year = "2015", abstract = "{ENTRIES[1]}"}}
"""
