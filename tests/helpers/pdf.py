"""A PDF of one page with lines of text, as small as one can be."""

import zlib


def pdf_of(lines: list[str], *, packed: bool = False) -> bytes:
    def quoted(line: str) -> str:
        return line.replace("\\", "\\\\").replace("(", "\\(").replace(")", "\\)")

    body = "BT /F1 10 Tf 50 780 Td 12 TL\n" + "\n".join(f"({quoted(line)}) Tj T*" for line in lines) + "\nET"
    how = ""
    if packed:
        body, how = zlib.compress(body.encode("latin-1")).decode("latin-1"), "/Filter /FlateDecode "
    parts = [
        "<< /Type /Catalog /Pages 2 0 R >>",
        "<< /Type /Pages /Kids [3 0 R] /Count 1 >>",
        "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>",
        f"<< /Length {len(body)} {how}>>\nstream\n{body}\nendstream",
        "<< /Type /Font /Subtype /Type1 /BaseFont /Courier >>",
    ]
    made, places = b"%PDF-1.4\n", []
    for number, part in enumerate(parts, 1):
        places.append(len(made))
        made += f"{number} 0 obj\n{part}\nendobj\n".encode("latin-1")
    table = b"".join(b"%010d 00000 n \n" % place for place in places)
    end = f"trailer << /Size {len(parts) + 1} /Root 1 0 R >>\nstartxref\n{len(made)}\n%%EOF".encode()
    return made + f"xref\n0 {len(parts) + 1}\n0000000000 65535 f \n".encode() + table + end
