"""What is no reading in a laboratory's file, in any container and script: codes, ranges, other media, days; and the names of samples."""

import pytest

from agronomy.labfile import Line, lines_of, understand
from tests.helpers.requests import TABLES

SOIL_XML = """<?xml version="1.0"?><report><order>J1</order><sample><id>L2201</id><sampleName>Hill top</sampleName>
<result><name>pH</name><method>1:1 water</method><value>6.4</value></result>
<result><name>Phosphorus (P2O5)</name><method>Olsen</method><value>24</value><unit>mg/kg</unit></result></sample></report>"""
MAIL = """From: lab@sorrelgate.example
Subject: results
MIME-Version: 1.0
Content-Type: text/html; charset=utf-8

<p>Report - Soil</p><table><tr><th rowspan=2>Field<th>pH<th>Potassium<th rowspan=2>Potassium target range</tr>
<tr><th><th>mg/kg</tr><tr><td>West bed<td>6.2<td>81<td>120 - 170</tr></table>"""
FILES = {
    "a variety and a batch look like elements": (
        "Sample,Variety,Batch,Parameter,Result,Unit\nNa-9,K 40,B-77,pH,5.8,\nNa-9,K 40,B-77,Phosphorus (P),31,mg/kg\nS-4,Zn 2,B-77,pH,6.4,",
        "soil",
        {("Na-9", "pH", "5.8", ""), ("Na-9", "P", "31", "mg/kg"), ("S-4", "pH", "6.4", "")},
    ),
    "ranges, years gone by and smallest and largest values stand beside": (
        "Parameter,Hill,Dale,Unit,Min,Max,Previous result\npH,6.1,5.4,,5.5,6.7,5.2\nPotassium (K),90,40,mg/kg,171,352,88",
        "soil",
        {("Hill", "pH", "6.1", ""), ("Dale", "pH", "5.4", ""), ("Hill", "K", "90", "mg/kg"), ("Dale", "K", "40", "mg/kg")},
    ),
    "a crop's row names no sample, and rows of depth and day tell of one": (
        "Test,A1,A2\nDepth,0-10 cm,10-20 cm\nCrop,barley,barley\npH,5.9,5.5\nNitrate (NO3-N),12 mg/kg,8 mg/kg",
        "soil",
        {("A1", "pH", "5.9", ""), ("A2", "pH", "5.5", ""), ("A1", "NO3-N", "12", "mg/kg"), ("A2", "NO3-N", "8", "mg/kg")},
    ),
    "a script of its own": (
        "Лаб. №;Поле;Глибина;Фосфор (P), mg/kg;Калій (K), mg/kg;Калій (K) Похибка (±)\n26-1;Сад;0-20 cm;9.1;302;24.2",
        "soil",
        {("Сад", "P", "9.1", "mg/kg"), ("Сад", "K", "302", "mg/kg")},
    ),
    "a unit told beside some numbers holds for the bare one, and a limit's column asks for none": (
        "Parametre,TX 1,TX 2,Detection limit\npH,5.9,5.4,\nPotash (K2O),7 mg/100 g,18,1.2",
        "soil",
        {("TX 1", "pH", "5.9", ""), ("TX 2", "pH", "5.4", ""), ("TX 1", "K", "7", "mg/100 g K2O"), ("TX 2", "K", "18", "mg/100 g K2O")},
    ),
    "a sample called as an element, and blocks that only group": (
        "Sample:,N field\npH:,6.1\nK:,80 mg/kg\n\nSample:,pH bed\npH:,5.2\nK:,90 mg/kg",
        "soil",
        {("N field", "pH", "6.1", ""), ("N field", "K", "80", "mg/kg"), ("pH bed", "pH", "5.2", ""), ("pH bed", "K", "90", "mg/kg")},
    ),
    "a block of letters is neither a name nor boron": (
        "Sample ID,Block,Test,Result,Units\n12,B,pH,6.4,\n12,B,Iron,196,mg/kg\n13,B,pH,5.9,\n13,B,Iron,88,mg/kg",
        "soil",
        {("12", "pH", "6.4", ""), ("12", "Fe", "196", "mg/kg"), ("13", "pH", "5.9", ""), ("13", "Fe", "88", "mg/kg")},
    ),
    "printed figures stand under their own headings though a cell is blank": (
        "Field      pH     P (mg/kg)   K (mg/kg)\nHill top   6.1    24          80\nDale       5.4                120",
        "soil",
        {
            ("Hill top", "pH", "6.1", ""),
            ("Hill top", "P", "24", "mg/kg"),
            ("Hill top", "K", "80", "mg/kg"),
            ("Dale", "pH", "5.4", ""),
            ("Dale", "K", "120", "mg/kg"),
        },
    ),
    "a printed line that slid along is left as written": (
        "Lab no   Field     Sampled      Reported     K (mg/kg)   Rating\n1        Hill      2026-03-01   2026-03-09   80          low\n"
        "2        Dale      2026-03-01   2026-03-09   90          low\n3        Moor      2026-03-01   2026-03-09   70          low\n\n"
        "4        2026-03-01   2026-03-09   60        high",
        "soil",
        {("Hill", "K", "80", "mg/kg"), ("Dale", "K", "90", "mg/kg"), ("Moor", "K", "70", "mg/kg")},
    ),
    "a title of another medium begins anew, and a page's number is no figure": (
        "Report - Soil\nSample: Bed\npH: 6.2\nK: 80 mg/kg\n1 / 2\nReport - Irrigation water\nSample: Tank\npH: 7.9\nCa: 61 mg/l",
        "soil",
        {("Bed", "pH", "6.2", ""), ("Bed", "K", "80", "mg/kg")},
    ),
    "rows of water among rows of soil": (
        "Sample,Matrix,Parameter,Result,Unit\nBed,soil,pH,6.2,\nTank,water,pH,7.9,\nBed,soil,Potassium,80,mg/kg",
        "soil",
        {("Bed", "pH", "6.2", ""), ("Bed", "K", "80", "mg/kg")},
    ),
    "an XML document": (SOIL_XML, "soil", {("Hill top", "pH", "6.4", ""), ("Hill top", "P", "24", "mg/kg P2O5")}),
    "columns and rows in JSON": (
        '{"columns": ["id", "field", "parameter", "value", "unit"], '
        '"rows": [["7", "Croft", "pH", 6.6, "-"], ["7", "Croft", "K", 70, "mg/kg"]]}',
        "soil",
        {("Croft", "pH", "6.6", ""), ("Croft", "K", "70", "mg/kg")},
    ),
    "a mail of tables whose headings span rows": (MAIL, "soil", {("West bed", "pH", "6.2", ""), ("West bed", "K", "81", "mg/kg")}),
    "a printed table with an empty cell": (
        "Sample      pH     P mg/kg   K mg/kg\nHill        6.1    12        80\nDale        5.7              75\nMoor        5.2    9",
        "soil",
        {("Hill", "pH", "6.1", ""), ("Hill", "P", "12", "mg/kg"), ("Hill", "K", "80", "mg/kg"), ("Dale", "pH", "5.7", "")}
        | {("Dale", "K", "75", "mg/kg"), ("Moor", "pH", "5.2", ""), ("Moor", "P", "9", "mg/kg")},
    ),
    "blocks, a sample to each": (
        "Client:,Ida\nSample ID:,A1\nCrop:,oats\nTest,Result,Detection limit\npH,5.7,\nPotassium,81 mg/kg,12\n\n"
        "Sample ID:,A2\nCrop:,oats\nTest,Result,Detection limit\npH,6.3,\nPotassium,140 mg/kg,12",
        "soil",
        {("A1", "pH", "5.7", ""), ("A1", "K", "81", "mg/kg"), ("A2", "pH", "6.3", ""), ("A2", "K", "140", "mg/kg")},
    ),
    "two columns on a printed page": (
        "Sample: Hill        Sample: Dale\nDepth: 0-20 cm      Depth: 0-20 cm\n"
        "pH       6.1        pH       5.4\nK mg/kg  90         K mg/kg  40",
        "soil",
        {("Hill", "pH", "6.1", ""), ("Hill", "K", "90", "mg/kg"), ("Dale", "pH", "5.4", ""), ("Dale", "K", "40", "mg/kg")},
    ),
    "what was never sampled stands beside": (
        "Parameter,Norra,Södra,Börvärde\nLabnr,26-1,26-2,\npH,6.1,5.4,6.5\nK (mg/kg),90,40,120",
        "soil",
        {("Norra", "pH", "6.1", ""), ("Södra", "pH", "5.4", ""), ("Norra", "K", "90", "mg/kg"), ("Södra", "K", "40", "mg/kg")},
    ),
    "a name that is printed once above its layers": (
        "Field,Depth (cm),Block,pH,K mg/kg\nWest,0-15,A,6.2,80\n,15-30,A,5.9,60",
        "soil",
        {("West", "pH", "6.2", ""), ("West", "K", "80", "mg/kg"), ("West", "pH", "5.9", ""), ("West", "K", "60", "mg/kg")},
    ),
    "soil and water beneath each other": (
        "Report - Soil\n\nSample,pH,K mg/kg\nBed,6.2,80\n\nReport - Irrigation water\n\nSample,pH,Chloride mg/L\nTank,7.9,40",
        "soil",
        {("Bed", "pH", "6.2", ""), ("Bed", "K", "80", "mg/kg")},
    ),
    "units of another script, and one for all": (
        "Поле;pH;P;K\nСад;6,1;9,1;302\nВсе элементы в мг/кг",
        "soil",
        {("Сад", "pH", "6.1", ""), ("Сад", "P", "9.1", "mg/kg"), ("Сад", "K", "302", "mg/kg")},
    ),
    "bars that show the rating": (
        "Sample,pH,Calcium [mg/kg],Calcium *\nBed,6.2,790,****\nYard,6.9,1400,********",
        "soil",
        {("Bed", "pH", "6.2", ""), ("Bed", "Ca", "790", "mg/kg"), ("Yard", "pH", "6.9", ""), ("Yard", "Ca", "1400", "mg/kg")},
    ),
}


@pytest.mark.parametrize("case", FILES)
def test_every_result_is_read_and_nothing_else(case):
    text, medium, wanted = FILES[case]
    name = "file.eml" if text.startswith("From:") else "file.txt"
    understood = understand(text.encode(), name, TABLES, answers={"medium": medium})
    lines = [item for item in lines_of(understood, TABLES) if isinstance(item, Line) and item.is_reading]
    assert {(line.sample, line.analyte, f"{line.value:g}", line.unit) for line in lines} == wanted


def test_depths_of_rows_names_and_columns():
    across = "Test,A1,A2\nDepth,0-10 cm,10-20 cm\npH,5.9,5.5\nPotassium,80 mg/kg,60 mg/kg"
    columns = "Field,Depth from (cm),Depth to (cm),pH,K mg/kg\nA1,0,30,5.9,80\nA2,30,60,5.5,60"
    names = "Field,pH,K mg/kg\nA1 (0-15 cm),5.9,80\nA2 (15-30 cm),5.5,60"
    found = {}
    for name, text in (("across", across), ("columns", columns), ("names", names)):
        lines = [item for item in lines_of(understand(text.encode(), "f.csv", TABLES), TABLES) if isinstance(item, Line)]
        found[name] = sorted({(line.top_cm, line.bottom_cm) for line in lines})
    assert found == {"across": [(0, 10), (10, 20)], "columns": [(0, 30), (30, 60)], "names": [(0, 15), (15, 30)]}


def test_a_day_is_no_sample_and_entities_open_no_file():
    text = "Test,12/03/2026,K\npH,5.9,\nPotassium,80 mg/kg,"
    lines = [item for item in lines_of(understand(text.encode(), "f.csv", TABLES), TABLES) if isinstance(item, Line)]
    assert all("hardly a sample" in (line.doubt or "") for line in lines if line.is_reading)
    bad = '<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "b">]><report><sample><name>pH</name><value>&a;</value></sample></report>'
    with pytest.raises(Exception, match="declares entities"):
        understand(bad.encode(), "f.xml", TABLES)


def test_marks_are_explained_at_the_foot_and_a_line_tells_ways_for_many():
    foot = '[a] water 1:1\n[b] Olsen\n"K, Ca: ammonium acetate; B: hot water"'
    text = f"Sample,pH [a],P [b] (mg/kg),K (mg/kg),Ca (mg/kg)\nBed,6.2,12,80,900\n{foot}"
    found = understand(text.encode(), "slip.csv", TABLES, answers={"medium": "soil"})
    ways = {line.analyte: line.method for line in lines_of(found, TABLES) if isinstance(line, Line)}
    assert ways == {"pH": "water 1:1", "P": "Olsen", "K": "ammonium acetate", "Ca": "ammonium acetate"}
    assert not found.questions


@pytest.mark.parametrize(
    ("text", "page"),
    [
        ("Échantillon;Matière organique %\nPré;3,1", "mac_roman"),
        ("Próbka;Głębokość;pH\nŁąka;0-20 cm;6,1", "cp1250"),
        ("Проба;Глубина;Гумус %\nСад;0-20 см;3,4", "cp1251"),
        ("Δείγμα;Βάθος;Οργανική ουσία %\nΡέμα;0-30 cm;2,1", "cp1253"),
    ],
)
def test_a_code_page_is_told_by_the_words_it_makes(text, page):
    found = understand(text.encode(page), "slip.csv", TABLES, answers={"medium": "soil"})
    assert [line.sample for line in lines_of(found, TABLES) if isinstance(line, Line)] == [text.split("\n")[1].split(";")[0]]
