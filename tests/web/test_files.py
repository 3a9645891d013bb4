"""Laboratories' files: looked over, answered, read in as whole slips, taken out as one act; bad ones leave nothing behind."""

import io
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.urls import reverse

from tests.helpers.forms import sent_by
from tests.helpers.holdings import plot
from tests.helpers.pages import text_of
from web.changes.models import Change
from web.readings.models import LabFile, LabHabit, LabReport, LabResult
from web.sampling.models import Sample, SamplingRound

MESSY = """Fenwick Soil Room;;;;;
Report 4711;;;;;

Sample;Date;pH;P (Olsen) mg/kg;K mg/kg;Wobble;Colour
Long Border 7;03.10.2026;5,8;22;340000;3.1;brown
bag {code};03.10.2026;61;<1;66;
nobody's bed;03.10.2026;6,1;ND;70;
"""


def upload(client, content: bytes | str, name: str = "report.csv", **data):
    content = content.encode() if isinstance(content, str) else content
    return client.post(
        reverse("readings:files"), {"file": SimpleUploadedFile(name, content), "medium": "soil", "lab": "Fenwick Soil Room"} | data
    )


def read_in(client, file: LabFile, **data):
    client.post(reverse("readings:file", args=[file.pk]), data | {"read-in": "1"})
    for _ in range(50):
        file.refresh_from_db()
        if file.state != LabFile.State.READING:
            return
        client.post(reverse("readings:file_step", args=[file.pk]))


@pytest.fixture
def bag(border, thornmere):
    tulips = plot(thornmere, "Tulip bed", crop="tulip")
    round_ = SamplingRound.objects.create(holding=thornmere, name="Autumn", planned_on="2026-10-01")
    return Sample.objects.create(round=round_, plot=tulips, code="3334", bottom_cm=20, cores_wanted=10)


def test_a_messy_file_is_corrected_read_in_matched_and_undone(grower, border, bag):
    assert upload(grower, MESSY.format(code=bag.code)).status_code == 302
    file = LabFile.objects.get()
    page = text_of(grower.get(reverse("readings:file", args=[file.pk])))
    assert "left in the file: “Colour”" in page
    assert "is outside 0 to 10000 mg/kg" in page
    assert "did you mean 6.1?" in page
    assert "nobody&#x27;s bed" in page
    grower.post(reverse("readings:file", args=[file.pk]), {"typed:6C": "6,1", "was:6C": "61", "typed:5E": "340", "was:5E": "340000"})
    read_in(grower, file)
    assert file.state == LabFile.State.IN
    slips = {slip.plot.name: slip for slip in LabReport.objects.filter(source_file=file)}
    assert set(slips) == {"Long Border 7", "Tulip bed"}
    kept = {line.analyte or line.heading: line for line in slips["Long Border 7"].lines.all()}
    assert kept["K"].typed == "340"
    assert (kept["Wobble"].kind, kept["Wobble"].typed) == ("kept", "3.1")
    assert slips["Tulip bed"].lines.get(analyte="P").typed == "<1"
    bag.refresh_from_db()
    assert bag.arrived_on is not None
    assert bytes(LabFile.objects.get().content) == MESSY.format(code=bag.code).encode()
    assert grower.get(reverse("readings:original", args=[file.pk])).content == bytes(file.content)
    bench = text_of(grower.get(reverse("planning:bench", args=[border.pk])))
    assert "What to do" in bench  # the line kept as written does not trouble the plan
    assert grower.post(reverse("changes:undo", args=[Change.objects.first().pk])).status_code == 307
    grower.post(reverse("readings:take_out_file", args=[file.pk]))
    assert LabReport.objects.count() == 1
    bag.refresh_from_db()
    assert bag.arrived_on is None


def test_answers_of_a_laboratory_are_remembered(grower, border):
    content = "Sample,pH,P,K\nLong Border 7,6.0,22,150\n"
    upload(grower, content)
    file = LabFile.objects.get()
    read_in(
        grower, file, **{"answer-unit:P": "lb/acre", "answer-unit:K": "lb/acre", "answer-method:P": "Bray P1", "sampled_on": "2026-10-03"}
    )
    assert LabResult.objects.filter(analyte="P", unit="lb/acre", method="Bray P1").count() == 1
    assert LabHabit.objects.get().answers["method:P"] == "Bray P1"
    upload(grower, content, name="next.csv")
    assert "The very same file was imported before" in text_of(grower.get(reverse("readings:file", args=[LabFile.objects.first().pk])))
    again = LabFile.objects.first()
    assert again.answers["unit:P"] == "lb/acre"
    assert 'value="lb/acre" selected' in text_of(grower.get(reverse("readings:file", args=[again.pk])))


def bomb() -> bytes:
    kept = io.BytesIO()
    with zipfile.ZipFile(kept, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("xl/worksheets/sheet1.xml", b"0" * 60_000_000)
    return kept.getvalue()


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "empty"),
        (b"x" * 50_000_000, "50 MB"),
        (bomb(), "unpack"),
        (b"\x7fELF" + b"\x00" * 400, "program"),
        (b"no table here", "results were found"),
    ],
    ids=["empty", "50 MB", "bomb", "binary", "prose"],
)
def test_bad_files_are_refused_and_nothing_is_stored(grower, border, content, said):
    response = upload(grower, content)
    assert response.status_code == 422
    assert said in text_of(response)
    assert not LabFile.objects.exists()
    assert LabReport.objects.count() == 1


def test_formulas_are_text_and_go_out_harmless(grower, border):
    upload(grower, 'Sample,pH,K mg/kg\nLong Border 7,6.0,"=HYPERLINK(""x"")"\n')
    read_in(grower, LabFile.objects.get(), sampled_on="2026-10-03")
    assert LabResult.objects.get(heading="K mg/kg").typed.startswith("=HYPERLINK")
    assert "'=HYPERLINK" in text_of(grower.get(reverse("readings:export")))


def test_a_file_is_read_in_by_steps_and_can_go_on_after_a_break(grower, border, monkeypatch):
    from web.readings import importing

    monkeypatch.setattr(importing, "SLIPS_IN_A_STEP", 3)
    rows = "".join(f"Long Border 7,2026-09-{day:02},6.{day % 10},20\n" for day in range(1, 11))
    upload(grower, "Sample,Date,pH,P mg/kg\n" + rows)
    file = LabFile.objects.get()
    grower.post(reverse("readings:file", args=[file.pk]), {"read-in": "1"})
    grower.post(reverse("readings:file_step", args=[file.pk]))
    assert LabReport.objects.filter(source_file=file).count() == 3
    assert "3 of 10 reports" in text_of(grower.get(reverse("readings:file", args=[file.pk])))
    read_in(grower, file)
    assert LabReport.objects.filter(source_file=file).count() == 10


LAYERED = "Sample,Depth (cm),NO3-N (kg/ha)\nLong Border 7,0-30,28\nLong Border 7,30-60,19\n"


def test_layers_become_slips_of_their_own_and_the_plan_counts_each(grower, border):
    upload(grower, LAYERED)
    read_in(grower, LabFile.objects.get(), sampled_on="2026-10-03")
    layers = LabReport.objects.filter(source_file__isnull=False).order_by("top_cm")
    assert [(slip.top_cm, slip.bottom_cm) for slip in layers] == [(0, 30), (30, 60)]


def test_a_paste_makes_plots_of_its_names_and_undo_takes_them_back(grower, border):
    mail = "Sample: Bean bed\npH: 6,2\nPhosphor: 14 mg/100g\n\nSample: Squash bed\npH: 5,6\n"
    assert grower.post(reverse("readings:files"), {"pasted": mail, "medium": "soil"}).status_code == 302
    file = LabFile.objects.get()
    wanting = grower.post(reverse("readings:make_plots", args=[file.pk]), {"kind": "bed", "area": "12 m2"})
    assert wanting.status_code == 422
    assert "Crop to plan for" in text_of(wanting)
    grower.post(reverse("readings:make_plots", args=[file.pk]), {"kind": "bed", "crop": "cabbage", "area": "12 m2"})
    made = border.holding.plots.filter(name__in=["Bean bed", "Squash bed"])
    assert [plot.planting.crop for plot in made] == ["cabbage", "cabbage"]
    read_in(grower, file, sampled_on="2026-10-03")
    read = {(line.slip.plot.name, line.analyte): line.typed for line in LabResult.objects.filter(slip__plot__in=made)}
    assert read == {("Bean bed", "pH"): "6.2", ("Bean bed", "P"): "14", ("Squash bed", "pH"): "5.6"}
    nothing = grower.post(reverse("readings:files"), {"pasted": " ", "medium": "soil"})
    assert nothing.status_code == 422
    assert "paste the results" in text_of(nothing)


def test_a_unit_that_the_file_does_not_say_waits_for_an_answer(grower, border):
    upload(grower, "Sample,pH,P Olsen\nLong Border 7,6.0,22\n")
    file = LabFile.objects.get()
    read_in(grower, file, sampled_on="2026-10-03")
    assert LabResult.objects.get(slip__source_file=file, heading="P Olsen").kind == LabResult.Kind.KEPT
    grower.post(reverse("readings:take_out_file", args=[file.pk]))
    read_in(grower, file, sampled_on="2026-10-03", **{"answer-unit:P Olsen": "mg/kg"})
    assert LabResult.objects.get(slip__source_file=file, analyte="P").kind == LabResult.Kind.READING


@pytest.mark.parametrize("first", ["Make the plots", "Keep these matches", "Show it again", "Read "])
def test_an_answer_survives_whatever_button_is_pressed_next(grower, border, first):
    """A person sets the question's field and goes on by any button; the answer is kept by file, through undo and sending again."""
    rows = "Sample,pH,P mg/kg\nLong Border 7,6.0,22\nBean bed,6.2,14\n"

    def press(button: str, **typed: str) -> None:
        opened = reverse("readings:file", args=[LabFile.objects.first().pk])
        address, data = sent_by(grower.get(opened).content.decode(), button, **typed)
        grower.post(address or opened, {name: value for name, value in data.items() if name != "csrfmiddlewaretoken"})
        grower.post(reverse("readings:file_step", args=[LabFile.objects.first().pk]))

    def methods() -> set[str]:
        return set(LabResult.objects.filter(slip__source_file=LabFile.objects.first(), analyte="P").values_list("method", flat=True))

    upload(grower, rows)
    press(first, **{"answer-method:P": "Olsen", "kind": "bed", "crop": "cabbage", "area": "12 m2"})
    assert LabFile.objects.get().answers["method:P"] == "Olsen"
    if first in ("Keep these matches", "Show it again"):
        press("Make the plots", kind="bed", crop="cabbage", area="12 m2")
    if first != "Read ":
        press("Read ", sampled_on="2026-10-03")
    assert methods() == {"Olsen"}
    grower.post(reverse("readings:take_out_file", args=[LabFile.objects.first().pk]))
    upload(grower, rows)
    assert LabFile.objects.count() == 2
    press("Read ", sampled_on="2026-10-03")
    assert methods() == {"Olsen"}


def test_names_that_nearly_agree_are_matched_with_the_reason_and_numbers_never_slip(grower, border, thornmere):
    plot(thornmere, "Long Border 8")
    rows = "Sample;pH\nLng Border 7;6,1\n8 Long Border;6,2\nLong Border 9;6,3\n"
    upload(grower, rows)
    page = text_of(grower.get(reverse("readings:file", args=[LabFile.objects.get().pk])))
    assert page.count("nearly the same name: look at it") == 2
    matched = LabFile.objects.get().matching
    assert set(matched) == {"Lng Border 7", "8 Long Border"}
    assert matched["Lng Border 7"] == border.as_target
