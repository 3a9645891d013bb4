"""The map for a spreader: what its shapes add up to is what the plan puts on, by zone and by squares, in either system of units."""

import io
import zipfile
from datetime import date

import pytest
import shapefile

from agronomy.base.errors import RuleError
from agronomy.base.quantities import factor
from agronomy.dose.rate_map import UNITS, RateZone, ZoneDose, rate_columns, rate_rows
from agronomy.ground.boundaries import to_geojson, to_shapefile
from agronomy.ground.shapes import measure


def dose(material: str, rate: float, number: int = 1) -> ZoneDose:
    days = {"start": date(2027, 3, 1), "end": date(2027, 3, 20)}
    return ZoneDose(material=material, name=material, dressing=number, rate_kg_per_ha=rate, placement="broadcast", **days)


def zone(name: str, points: list, *doses: ZoneDose) -> RateZone:
    shape = {"type": "polygon", "points": points}
    return RateZone(name=name, shape=shape, area_m2=measure(shape).area_m2, doses=doses)


ZONES = [
    zone("North", [[0, 50], [210, 50], [200, 160], [0, 140]], dose("ground_limestone", 5000), dose("urea", 80), dose("urea", 60, 2)),
    zone("South", [[0, 0], [205, -10], [210, 50], [0, 50]], dose("urea", 40), dose("urea_inhibited", 50)),
]


@pytest.mark.parametrize("system", UNITS)
@pytest.mark.parametrize("grid", [None, 7.0, 24.0])
def test_shapes_add_up_to_what_the_plan_puts_on(system, grid):
    columns = rate_columns(ZONES, system)
    weight, ground, _ = UNITS[system]
    rows = rate_rows(ZONES, columns, system=system, grid_m=grid)
    for column in columns:
        spread = sum(told[f"area_{ground}"] * told[column.field] for _, _, told in rows) * factor(weight, "kg")
        assert spread == pytest.approx(column.total_kg, rel=2e-3)
    assert len({column.field for column in columns}) == len(columns) == 4
    assert all(len(column.field) <= 10 for column in columns)


@pytest.mark.parametrize("origin", [None, (1.2, 52.4)])
def test_the_files_open_with_their_columns_and_say_what_they_are(origin):
    columns = rate_columns(ZONES)
    rows = rate_rows(ZONES, columns)
    packed = zipfile.ZipFile(io.BytesIO(to_shapefile(rows, origin, layer="rates", beside={"read-me.txt": "kg/ha"})))
    assert packed.read("read-me.txt") == b"kg/ha"
    reader = shapefile.Reader(**{part: io.BytesIO(packed.read(f"rates.{part}")) for part in ("shp", "shx", "dbf")})
    north = reader.record(0).as_dict()
    document = to_geojson(rows, origin)["features"][0]["properties"]
    assert north["name"] == document["name"] == "North"
    for column in columns:
        assert north[column.field] == pytest.approx(document[column.field])


def test_squares_too_small_for_the_field_are_refused():
    with pytest.raises(RuleError, match="more than"):
        rate_rows(ZONES, rate_columns(ZONES), grid_m=0.5)
