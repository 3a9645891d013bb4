"""Boundary files in and out: GeoJSON and zipped shapefiles. Longitude and latitude become metres around a point of the holding."""

import io
import json
import zipfile
from collections.abc import Iterable
from math import cos, radians
from typing import Any

import shapefile
from shapely.geometry import MultiPolygon, Polygon
from shapely.geometry import shape as geometry_of
from shapely.ops import unary_union

from agronomy.base.errors import RuleError
from agronomy.base.record import record
from agronomy.base.required import required
from agronomy.ground.shapes import MOST_POINTS, as_polygon_shape, measure, polygon_of

METRES_PER_DEGREE = 111_194.9  # mean Earth radius 6371.0 km
BIGGEST_BYTES = 20_000_000
BIGGEST_UNPACKED = 100_000_000
MOST_FEATURES = 5000
ZONE_FIELDS = ("zone", "part", "subfield", "teilflaeche", "parcelle", "zona")
SEAM_M = 0.5  # outlines of neighbouring zones that lie closer than this touch
NAME_FIELDS = ("name", "plot", "field", "title", "label", "id", "nom", "nombre", "schlag", "bezeichnung")


@record
class Boundary:
    """One plot of a boundary file: its name, its shape in local metres, what was said about it, and the field that it is a zone of."""

    name: str
    shape: dict[str, Any]
    area_m2: float
    note: str
    field: str = ""


@record
class BoundaryFile:
    """All plots of a file, the point [lon, lat] its metres count from (None where it was in metres), and what was left out."""

    boundaries: tuple[Boundary, ...]
    origin: tuple[float, float] | None
    left_out: tuple[str, ...]


def read_boundaries(content: bytes, name: str, origin: tuple[float, float] | None = None) -> BoundaryFile:
    """The plots of a GeoJSON or zipped shapefile. `origin` [lon, lat] is the holding's own, where it has one.

    Raises RuleError for a file that is neither, is broken, or is too large. Coordinates within ±180 and ±90 of a file that
    does not say otherwise are taken for degrees.
    """
    if len(content) > BIGGEST_BYTES:
        raise RuleError("file", name, f"the file is larger than {BIGGEST_BYTES // 1_000_000} MB", "send the fields of one holding only")
    features, is_degrees = _shapefile(content, name) if content[:2] == b"PK" else _geojson(content, name)
    if not features:
        raise RuleError("file", name, "there is no outline in this file", "send polygons, not points or lines")
    if is_degrees and origin is None:
        origin = _middle([geometry for *_, geometry in features])
    boundaries: list[Boundary] = []
    left_out: list[str] = []
    for place, (said, field, geometry) in enumerate(features, 1):
        for number, polygon in enumerate(_polygons(geometry), 1):
            local = _to_metres(polygon, required(origin)) if is_degrees else polygon
            _add(local, said or f"Plot {place}", field, number, boundaries, left_out)
    return BoundaryFile(tuple(boundaries), origin if is_degrees else None, tuple(left_out))


def _add(polygon: Polygon, said: str, field: str, number: int, boundaries: list, left_out: list) -> None:
    name = said if number == 1 else f"{said} ({number})"
    if len(polygon.exterior.coords) > MOST_POINTS:
        polygon = polygon.simplify(0.5)
    shape = as_polygon_shape(polygon)
    try:
        area = measure(shape).area_m2
    except RuleError as error:
        left_out.append(f"{name}: {error.problem}")
        return
    boundaries.append(Boundary(name[:120], shape, area, "holes in it are not kept" if polygon.interiors else "", field[:100]))


def whole_of(zones: Iterable[dict[str, Any]]) -> dict[str, Any]:
    """The shape of a field from the shapes of its zones; where they lie apart, the hull around them. Source: definition.

    Metres.

    >>> halves = [{"type": "rectangle", "x": x, "y": 0, "length": 50, "width": 40, "turn": 0} for x in (0, 50)]
    >>> round(measure(whole_of(halves)).area_m2)
    4000
    """
    joined = unary_union([polygon_of(zone).buffer(SEAM_M, join_style="mitre") for zone in zones]).buffer(-SEAM_M, join_style="mitre")
    return as_polygon_shape(Polygon(joined.exterior) if isinstance(joined, Polygon) else joined.convex_hull)


def _geojson(content: bytes, name: str) -> tuple[list, bool]:
    try:
        document = json.loads(content.decode("utf-8-sig"))
    except (UnicodeDecodeError, ValueError, RecursionError):
        raise RuleError("file", name, "this is neither GeoJSON nor a zipped shapefile", "export it again as one of the two") from None
    if not isinstance(document, dict):
        raise RuleError("file", name, "this JSON is no GeoJSON", "export it again as GeoJSON")
    items = document.get("features") if document.get("type") == "FeatureCollection" else [document]
    if not isinstance(items, list) or len(items) > MOST_FEATURES:
        raise RuleError("file", name, f"the file holds no list of up to {MOST_FEATURES} features", "export it again as GeoJSON")
    found = []
    for item in items:
        raw = item.get("geometry", item) if isinstance(item, dict) else None
        properties = item.get("properties") if isinstance(item, dict) else None
        geometry = _geometry(raw)
        if geometry is not None:
            found.append((*_name(properties if isinstance(properties, dict) else {}), geometry))
    is_local = document.get("coordinates_in") == "local metres"
    return found, not is_local and _looks_like_degrees([geometry for *_, geometry in found])


def _geometry(raw: Any):
    if not isinstance(raw, dict) or raw.get("type") not in ("Polygon", "MultiPolygon"):
        return None
    try:
        return geometry_of(raw)
    except Exception:  # shapely raises many kinds for misshapen coordinates; all mean "no outline here"
        return None


def _shapefile(content: bytes, name: str) -> tuple[list, bool]:
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            if sum(item.file_size for item in archive.infolist()) > BIGGEST_UNPACKED:
                raise RuleError("file", name, "the zip unpacks to more than 100 MB", "send the fields of one holding only")
            parts = {item.filename.rsplit(".", 1)[-1].lower(): archive.read(item) for item in archive.infolist() if "." in item.filename}
    except (zipfile.BadZipFile, RuntimeError, NotImplementedError, OSError):
        raise RuleError("file", name, "the zip file is broken", "pack it again") from None
    if "shp" not in parts:
        raise RuleError("file", name, "there is no .shp file in this zip", "pack the .shp, .shx, .dbf and .prj together")
    try:
        reader = shapefile.Reader(
            **{kind: io.BytesIO(parts[kind]) for kind in ("shp", "shx", "dbf") if kind in parts}, encodingErrors="replace"
        )
        rows = (
            [(*_name(item.record.as_dict()), _geometry(item.shape.__geo_interface__)) for item in reader.iterShapeRecords()]
            if "dbf" in parts
            else [("", "", _geometry(item.__geo_interface__)) for item in reader.iterShapes()]
        )
    except Exception:  # pyshp raises many kinds for broken files
        raise RuleError("file", name, "the shapefile is broken", "export it again") from None
    projection = parts.get("prj", b"").decode("ascii", "replace")
    found = [row for row in rows if row[2] is not None][:MOST_FEATURES]
    is_degrees = "PROJCS" not in projection and "LOCAL_CS" not in projection and _looks_like_degrees([geometry for *_, geometry in found])
    return (found if is_degrees or "LOCAL_CS" in projection else _towards_origin(found)), is_degrees


def _towards_origin(found: list) -> list:
    """Projected metres count from far away; here they count from the file's own middle."""
    from shapely import affinity

    if not found:
        return found
    x, y = _middle([geometry for *_, geometry in found])
    return [(said, field, affinity.translate(geometry, -x, -y)) for said, field, geometry in found]


def _name(properties: dict) -> tuple[str, str]:
    """The name of an outline, and the field that it is a zone of, if it says that it is one."""
    lowered = {str(key).lower(): str(value).strip() for key, value in properties.items() if value is not None}
    name = next((lowered[key] for key in NAME_FIELDS if lowered.get(key)), "")
    zone = next((lowered[key] for key in ZONE_FIELDS if lowered.get(key)), "")
    if not zone or not name:
        return name or zone, ""
    field = lowered.get("field") or name
    return (name if lowered.get("field") and name != field else f"{field}, {zone}"), field


def _polygons(geometry) -> list[Polygon]:
    return list(geometry.geoms) if isinstance(geometry, MultiPolygon) else [geometry]


def _looks_like_degrees(geometries: list) -> bool:
    bounds = [geometry.bounds for geometry in geometries]
    return bool(bounds) and all(len(box) == 4 and box[0] >= -180 and box[2] <= 180 and box[1] >= -90 and box[3] <= 90 for box in bounds)


def _middle(geometries: list) -> tuple[float, float]:
    boxes = [geometry.bounds for geometry in geometries]
    west, south = min(box[0] for box in boxes), min(box[1] for box in boxes)
    east, north = max(box[2] for box in boxes), max(box[3] for box in boxes)
    return round((west + east) / 2, 6), round((south + north) / 2, 6)


def _to_metres(polygon: Polygon, origin: tuple[float, float]) -> Polygon:
    def ring(coordinates):
        return [to_local(point[0], point[1], origin) for point in coordinates]

    return Polygon(ring(polygon.exterior.coords), [ring(hole.coords) for hole in polygon.interiors])


def to_local(lon: float, lat: float, origin: tuple[float, float]) -> tuple[float, float]:
    """Metres east and north of the origin. Good to 1 in 10 000 within 10 km of it. Source: definition (equirectangular).

    Metres and degrees.

    >>> to_local(0.001, 60.0, (0.0, 60.0))
    (55.597, 0.0)
    """
    scale = METRES_PER_DEGREE * cos(radians(origin[1]))
    return round((lon - origin[0]) * scale, 3), round((lat - origin[1]) * METRES_PER_DEGREE, 3)


def to_degrees(x: float, y: float, origin: tuple[float, float]) -> tuple[float, float]:
    """Longitude and latitude of a local point; inverse of to_local. Source: definition.

    Metres and degrees [°].

    >>> [round(part, 4) for part in to_degrees(*to_local(0.01, 52.01, (0.0, 52.0)), (0.0, 52.0))]
    [0.01, 52.01]
    """
    return round(origin[0] + x / (METRES_PER_DEGREE * cos(radians(origin[1]))), 8), round(origin[1] + y / METRES_PER_DEGREE, 8)


def _outline(shape: dict, origin) -> list[list[float]]:
    corners = list(polygon_of(shape).exterior.coords)
    return [list(to_degrees(x, y, origin)) if origin else [round(x, 3), round(y, 3)] for x, y in corners]


def to_geojson(plots: list[tuple[str, dict, dict]], origin: tuple[float, float] | None) -> dict[str, Any]:
    """A FeatureCollection of (name, shape, further properties). Without an origin coordinates stay local metres, and it says so.

    Degrees [°], or metres without an origin.
    """
    features = [
        {"type": "Feature", "properties": {"name": name, **more}, "geometry": {"type": "Polygon", "coordinates": [_outline(shape, origin)]}}
        for name, shape, more in plots
    ]
    document = {"type": "FeatureCollection", "features": features}
    return document if origin else document | {"coordinates_in": "local metres"}


_WGS84 = (
    'GEOGCS["GCS_WGS_1984",DATUM["D_WGS_1984",SPHEROID["WGS_1984",6378137.0,298.257223563]],'
    'PRIMEM["Greenwich",0.0],UNIT["Degree",0.0174532925199433]]'
)

_LOCAL = 'LOCAL_CS["metres around a point of the holding",UNIT["Meter",1.0]]'


def to_shapefile(
    plots: list[tuple[str, dict, dict]], origin: tuple[float, float] | None, *, layer: str = "plots", beside: dict[str, str] | None = None
) -> bytes:
    """A zipped shapefile of (name, shape, further attributes, the same for all rows); `beside` are texts by file name that go along.

    In degrees where there is an origin, else in local metres; its .prj says which.
    """
    shp, shx, dbf = io.BytesIO(), io.BytesIO(), io.BytesIO()
    with shapefile.Writer(shp=shp, shx=shx, dbf=dbf, shapeType=shapefile.POLYGON, encoding="utf-8") as writer:
        writer.field("name", "C", 120)
        for field, value in (plots[0][2] if plots else {}).items():
            writer.field(field, *(("C", 40) if isinstance(value, str) else ("N", 18, 6)))
        for name, shape, more in plots:
            writer.poly([_outline(shape, origin)[::-1]])
            writer.record(name.encode("utf-8")[:120].decode("utf-8", "ignore"), *more.values())
    packed = io.BytesIO()
    with zipfile.ZipFile(packed, "w", zipfile.ZIP_DEFLATED) as archive:
        for kind, part in (("shp", shp), ("shx", shx), ("dbf", dbf)):
            archive.writestr(f"{layer}.{kind}", part.getvalue())
        archive.writestr(f"{layer}.cpg", "UTF-8")
        archive.writestr(f"{layer}.prj", _WGS84 if origin else _LOCAL)
        for file, text in (beside or {}).items():
            archive.writestr(file, text)
    return packed.getvalue()
