"""A request for one plan: checked as it comes through the door, with all errors told at once."""

import copy
import difflib
import hashlib
import json
from dataclasses import replace
from datetime import date
from typing import Any

import orjson
from pydantic import ValidationError

from agronomy.base.errors import OutOfRange, RequestError, RuleError, UnknownName, check_range
from agronomy.base.numbers import parse_number
from agronomy.base.quantities import parse_quantity, positive_quantity
from agronomy.base.unit_words import in_country
from agronomy.ground.crop_names import crop_named
from agronomy.ground.kinds import kind_row
from agronomy.intake.bushels import in_pounds
from agronomy.intake.companion import with_companion
from agronomy.intake.credit_doc import read_credit_source
from agronomy.intake.learned import own_buffering, own_pools
from agronomy.intake.limit_docs import read_closed, read_hands
from agronomy.intake.own import own_crop, own_target
from agronomy.intake.own_material import own_material
from agronomy.intake.plot_parts import area_of, mix_of, pieces_of, season_of_water, texture_of
from agronomy.intake.request_doc import DoneDoc, ReadingDoc, RequestDoc
from agronomy.intake.response import read_response
from agronomy.intake.shapes import DEEPEST, is_deeper, is_in_document, patch, shape_error
from agronomy.intake.shed_doc import shed_line
from agronomy.model.application_record import ApplicationRecord
from agronomy.model.climate import Climate, climate_of, own_climate
from agronomy.model.closed_season import ClosedSeason
from agronomy.model.credit import CreditSource
from agronomy.model.ground_facts import FACTS
from agronomy.model.harvest import Harvest
from agronomy.model.labour import LabourCalendar
from agronomy.model.reading import LAB_LAYER_MOST_CM, Reading, analyte_key, method_key, read
from agronomy.model.request import Plot, Request
from agronomy.model.response import Response
from agronomy.model.soil import bulk_density
from agronomy.model.stock import StockLine
from agronomy.model.target import Target
from agronomy.tables import Tables
from agronomy.tables.crop import Crop
from agronomy.tables.material import K_IN_K2O, P_IN_P2O5, Material
from agronomy.tables.rooms.readings import NOT_STATED


def read_request(document: dict[str, Any], tables: Tables) -> Request:
    """A Request from its document (see docs/plan-format.md). Raises RequestError with every error found."""
    try:
        doc = RequestDoc.model_validate(document)
    except ValidationError as error:
        if is_deeper(document, DEEPEST):
            told = RuleError("request", None, f"the document is nested more than {DEEPEST} deep", "check the form in docs/plan-format.md")
            raise RequestError([told]) from None
        faults: list[Any] = error.errors(include_url=False)
        raise RequestError([shape_error(item) for item in faults] + _errors_beyond(document, faults, tables)) from None
    return _Reader(doc, tables).request(_digest(document))


EARLIEST_YEAR, LATEST_YEAR = 1900, 2199


def _errors_beyond(document: dict[str, Any], faults: list[dict], tables: Tables) -> list[RuleError]:
    """The rule errors in the parts of a document whose shape is sound, so that all errors are told at once."""
    patched = copy.deepcopy(document)
    for fault in faults:
        patch(patched, [part for part in fault["loc"] if is_in_document(part)])
    try:
        _Reader(RequestDoc.model_validate(patched), tables).request("")
    except RequestError as error:
        return error.errors
    except ValidationError:
        return []
    return []


def _digest(document: dict) -> str:
    try:
        text = orjson.dumps(document, default=str, option=orjson.OPT_SORT_KEYS | orjson.OPT_NON_STR_KEYS)
    except orjson.JSONEncodeError:  # a number or a nesting beyond what it writes
        text = json.dumps(document, sort_keys=True, default=str).encode()
    return hashlib.sha256(text).hexdigest()


class _Reader:
    """Turns a checked document into base units, gathering every error on the way."""

    def __init__(self, doc: RequestDoc, tables: Tables):
        self.doc, self.tables = doc, tables
        self.errors: list[RuleError] = []
        self.crop_asked = ""
        self.is_us = doc.units == "us"

    def request(self, digest: str) -> Request:
        doc = self.doc
        plot = self._plot()
        crop, companion = self._crops()
        readings = self._readings(plot)
        request = Request(
            today=self._attempt(lambda: self._day(doc.today, "today")) or doc.today,
            units=doc.units,
            plot=plot,
            readings=readings,
            crop=crop,
            planting=self._attempt(lambda: self._day(doc.crop.planting, "crop.planting")),
            yield_goal_t_per_ha=self._attempt(lambda: self._yield_goal(crop)),
            target_ph=self._attempt(
                lambda: self._optional(doc.crop.target_ph, lambda typed: self._number(typed, "crop.target_ph", 3.5, 8.5))
            ),
            school=doc.school,
            organic_only=doc.allow.organic_only,
            chloride=doc.allow.chloride,
            only=None if doc.materials is None else self._named(doc.materials, "materials"),
            shed=self._shed(),
            own_materials=self._own_materials(),
            climate=self._attempt(self._climate),
            done=self._done(plot),
            hands=self._attempt(lambda: read_hands(doc.hands)) or LabourCalendar(),
            closed=self._closed(),
            harvest=self._attempt(lambda: self._day(doc.crop.harvest, "crop.harvest")),
            sha256=digest,
            gifts=self._gifts(),
            uncounted=frozenset(doc.uncounted),
            caps=self._attempt(self._caps) or {},
            response=self._attempt(self._response),
            targets=self._targets(),
            aim=doc.aim,
            most_bags=doc.most_bags,
            budget=doc.budget,
            lost_times=doc.lost_times,
            wanted=self._named(doc.wanted, "wanted"),
            without=self._named(doc.without, "without"),
            country=self._attempt(self._country),
            equipment=self._equipment(),
            yield_got_t_per_ha=self._attempt(lambda: self._yield(doc.crop.yield_got, "crop.yield_got", crop.key if crop else None)),
            harvests=self._harvests(),
            own_buffering=self._attempt(lambda: own_buffering(doc.own_buffering)),
            own_pools=self._attempt(lambda: own_pools(doc.own_pools.items())) or {},
            **self._beside(companion),
        )
        if self.errors:
            raise RequestError(self.errors)
        return request

    def _beside(self, companion: Crop | None) -> dict[str, Any]:
        """What is told of the crop beside its key and days."""
        spacing = self._attempt(lambda: self._optional(self.doc.crop.spacing, self._spacing))
        return {"crop_asked": self.crop_asked, "companion": companion, "spacing_m2": spacing}

    def _attempt(self, act):
        try:
            return act()
        except RuleError as error:
            self.errors.append(error)
            return None

    def _optional(self, typed, act):
        return None if typed is None or typed == "" else act(typed)

    def _number(self, typed, field: str, low: float, high: float) -> float:
        number = parse_number(typed, field)
        if not low <= number <= high:
            raise OutOfRange(field, typed, f"{number:g} is outside {low:g} to {high:g}", "check the number")
        return number

    def _crop(self) -> Crop:
        key = crop_named(self.doc.crop.key, {}, self.tables, field="crop.key")
        self.crop_asked = self.tables.crops[key].name
        own = self.doc.crop.own
        name = (own.name if own else None) or ""
        is_cut, has_clover = self.doc.crop.yield_goal not in (None, ""), self.tables.crops[key].legume
        base = self.tables.crops[self.tables.growing.known_crop(key, name, is_cut=is_cut, has_clover=has_clover)]
        return base if own is None else own_crop(base, own, "crop.own")

    def _crops(self) -> tuple[Any, Crop | None]:
        """The crop (None where it can't be read, which is told), and what grows along on the same ground."""
        crop, typed = self._attempt(self._crop), self.doc.crop.companion
        key = self._attempt(lambda: crop_named(typed, {}, self.tables, field="crop.companion")) if typed else None
        if crop is None or key is None or key == crop.key:
            return crop, None
        return with_companion(crop, self.tables.crops[key])

    def _spacing(self, typed: str) -> float:
        """Ground to each plant [m2], from the spacing in the row and from row to row."""
        return positive_quantity(typed, "area", "crop.spacing", low=0.0005, high=2000, unit="ft2" if self.is_us else "m2")

    def _plot(self) -> Plot:
        doc = self.doc.plot
        depth = self._attempt(
            lambda: positive_quantity(doc.depth, "length", "plot.depth", low=2, high=100, unit="in" if self.is_us else None)
        )
        area = self._attempt(lambda: area_of(doc, depth or 15.0, self.tables, us=self.is_us))
        texture, clay = self._attempt(lambda: texture_of(doc, self.tables)) or (None, None)
        return Plot(
            name=doc.name,
            kind=kind_row(doc.kind, self.tables).family,
            ground=doc.kind,
            pieces=pieces_of(doc),
            area_m2=area,
            depth_cm=depth,
            texture=texture,
            clay_pct=clay,
            organic_matter_pct=self._attempt(
                lambda: self._optional(doc.organic_matter_pct, lambda typed: self._number(typed, "plot.organic_matter_pct", 0, 100))
            ),
            cec_cmol_per_kg=self._attempt(
                lambda: self._optional(doc.cec_cmol_per_kg, lambda typed: self._number(typed, "plot.cec_cmol_per_kg", 0.2, 200))
            ),
            free_lime=doc.free_lime,
            dug=doc.dug,
            hemisphere=doc.hemisphere,
            mix=self._attempt(lambda: mix_of(doc, self.tables)),
            **self._facts(),
            watering=doc.watering,
            watering_mm=self._attempt(lambda: self._optional(doc.watering_a_season, lambda typed: season_of_water(typed, us=self.is_us))),
            cover=doc.cover,
        )

    def _facts(self) -> dict[str, float | None]:
        """What was told of the ground beside, each within its bounds."""
        told = {}
        for name, fact in FACTS.items():
            typed = getattr(self.doc.plot, name)
            told[name] = self._attempt(
                lambda name=name, fact=fact, typed=typed: self._optional(
                    typed, lambda typed: self._number(typed, f"plot.{name}", fact.low, fact.high)
                )
            )
        return told

    def _country(self) -> str | None:
        """The country whose guides lead; raises UnknownName."""
        typed = (self.doc.country or "").strip().lower()
        if typed and typed not in self.tables.ground.countries:
            known = ", ".join(self.tables.ground.countries)
            raise UnknownName("country", typed, f"“{typed}” is not in our list of countries", f"use one of {known}, or leave it out")
        return typed or None

    def _equipment(self) -> tuple[str, ...]:
        """What the holding spreads with, each once; what nobody knows is told as an error."""
        known = self.tables.spread.equipment
        for place, key in enumerate(self.doc.equipment):
            if key not in known:
                near = f"use one of {', '.join(known)}"
                self.errors.append(UnknownName(f"equipment.{place}", key[:40], f"“{key[:40]}” is not in our list of equipment", near))
        return tuple(key for key in dict.fromkeys(self.doc.equipment) if key in known)

    def _readings(self, plot: Plot) -> tuple[Reading, ...]:
        density = plot.bulk_density_g_per_cm3
        if density is None:
            row = self.tables.textures[plot.texture or "loam"]
            density = bulk_density(row.bulk_density, min(plot.organic_matter_pct if plot.organic_matter_pct is not None else 2.0, 60.0))
        found = [
            self._attempt(lambda doc=doc, place=place: self._reading(doc, f"readings.{place}", density))
            for place, doc in enumerate(self.doc.readings)
        ]
        return tuple(reading for reading in found if reading is not None)

    def _reading(self, doc: ReadingDoc, field: str, density: float) -> Reading:
        analyte = analyte_key(doc.analyte, self.tables, f"{field}.analyte")
        if doc.taken is not None and not EARLIEST_YEAR <= doc.taken.year <= LATEST_YEAR:
            self._attempt(lambda: self._day(doc.taken, f"{field}.taken"))
        method = doc.method  # most are named as the table names them
        if method not in self.tables.analytes[analyte].methods:
            method = self._attempt(lambda: method_key(doc.method, analyte, self.tables, f"{field}.method")) or NOT_STATED
        layer = None if doc.layer is None else parse_quantity(doc.layer, "length", f"{field}.layer")
        top: float | None = None if doc.top is None else self._attempt(lambda: self._sampled(doc.top, f"{field}.top"))
        bottom: float | None = None if doc.bottom is None else self._attempt(lambda: self._sampled(doc.bottom, f"{field}.bottom"))
        if bottom is not None and bottom <= (top or 0.0):
            self.errors.append(OutOfRange(f"{field}.bottom", doc.bottom, "a layer ends below its top", "check both depths"))
            bottom = None
        # a laboratory reckons kg/ha of a deep layer by so many of its own layers; for the top it means its own, whatever the slip says
        deep = layer is None and bottom is not None and bottom - (top or 0.0) > LAB_LAYER_MOST_CM
        reading = read(
            analyte,
            doc.value,
            unit=doc.unit,
            method=method,
            how=doc.how,
            taken=doc.taken,
            tables=self.tables,
            error=doc.error,
            bulk_density_g_per_cm3=None if deep else density,
            layer_cm=bottom - (top or 0.0) if deep and bottom is not None else layer,
            top_cm=top,
            bottom_cm=bottom,
            field=field,
        )
        return replace(reading, stage=doc.stage, part=doc.part) if doc.stage or doc.part else reading

    def _sampled(self, typed, field: str) -> float | None:
        """A depth of a sample [cm]."""
        unit = "in" if self.is_us else None
        return self._optional(typed, lambda told: check_range(field, parse_quantity(told, "length", field, unit=unit), low=0, high=300))

    def _named(self, keys: list[str], field: str) -> tuple[str, ...]:
        """The known materials of a list, each once; unknown ones are told as errors."""
        for place, key in enumerate(keys):
            self._attempt(lambda key=key, place=place: self._material(key, f"{field}.{place}"))
        return tuple(key for key in dict.fromkeys(keys) if key in self.tables.materials)

    def _material(self, key: str, field: str) -> str:
        if key in self.tables.materials:
            return key
        near = difflib.get_close_matches(key[:60], self.tables.materials, 1, 0.6)
        mend = f"did you mean {near[0]}?" if near else "list the materials with: python -m agronomy materials"
        raise UnknownName(field, key[:60], f"“{key[:60]}” is not in our list of products", mend)

    def _gifts(self) -> tuple[CreditSource, ...]:
        found = [
            self._attempt(lambda doc=doc, place=place: read_credit_source(doc, f"credits.{place}", self.tables))
            for place, doc in enumerate(self.doc.credits)
        ]
        return tuple(gift for gift in found if gift is not None)

    def _targets(self) -> tuple[Target, ...]:
        found = [
            self._attempt(lambda doc=doc, place=place: own_target(doc, f"targets.{place}", self.tables))
            for place, doc in enumerate(self.doc.targets)
        ]
        return tuple(target for target in found if target is not None)

    def _caps(self) -> dict[str, float]:
        """Caps as elements; of an oxide and its element the lower one holds."""
        found: dict[str, float] = {}
        for name, typed in self.doc.caps.items():
            cap = parse_quantity(self._local(typed), "rate", f"caps.{name}")
            if not 0 <= cap <= 2000:
                raise OutOfRange(f"caps.{name}", typed, f"{cap:g} kg/ha is outside 0 to 2000 kg/ha", "check the number and its unit")
            element, share = {"P2O5": ("P", P_IN_P2O5), "K2O": ("K", K_IN_K2O)}.get(name, (name, 1.0))
            found[element] = min(cap * share, found.get(element, cap * share))
        return found

    def _response(self) -> Response | None:
        doc = self.doc.response
        if doc is None:
            return None
        return read_response(doc.slope, doc.curvature, doc.nitrogen_price, doc.crop_price, self.tables)

    def _day(self, day: date | None, field: str) -> date | None:
        """A day in a year that can be; else OutOfRange, because dates are reckoned on from it."""
        if day is not None and not EARLIEST_YEAR <= day.year <= LATEST_YEAR:
            raise OutOfRange(field, day.isoformat(), f"the year {day.year} is outside {EARLIEST_YEAR} to {LATEST_YEAR}", "check the year")
        return day

    def _yield_goal(self, crop: Crop | None) -> float | None:
        """The yield hoped for [t/ha], as long as it does not ask for more nitrogen than any crop takes up."""
        goal = self._optional(
            self.doc.crop.yield_goal, lambda typed: self._yield_quantity(typed, crop.key if crop else None, "crop.yield_goal")
        )
        most = self.tables.nitrogen.most_kg_per_ha.value
        if goal is not None and crop is not None and crop.n_per_t is not None and goal * crop.n_per_t > most:
            problem = (
                f"{goal:g} t/ha of {crop.name} would take {goal * crop.n_per_t:.0f} kg N/ha, more than the {most:.0f} that any "
                "crop takes up"
            )
            raise OutOfRange("crop.yield_goal", str(self.doc.crop.yield_goal)[:40], problem, "check the yield and its unit")
        return goal

    def _local(self, typed: object) -> object:
        """What was typed, with units that differ between countries as this one has them."""
        return in_country(typed, self.doc.country, self.doc.units)

    def _yield_quantity(self, typed: object, crop: str | None, field: str) -> float:
        told = in_pounds(self._local(typed), crop, self.tables, field)
        return positive_quantity(told, "yield", field, low=0.01, high=200)

    def _yield(self, typed, field: str, crop: str | None) -> float | None:
        return self._optional(typed, lambda told: self._yield_quantity(told, crop, field))

    def _harvests(self) -> tuple[Harvest, ...]:
        """What left the plot; a crop that the table no longer has is told as an error."""
        found = []
        for place, doc in enumerate(self.doc.harvests):
            field = f"harvests.{place}"
            crop = self.tables.crops.get(doc.crop)
            if crop is None:
                self.errors.append(
                    UnknownName(f"{field}.crop", doc.crop[:40], f"“{doc.crop[:40]}” is not in our list of crops", "use a crop's key")
                )
                continue
            got = self._attempt(lambda doc=doc, field=field, key=crop.key: self._yield(doc.got, f"{field}.got", key))
            self._attempt(lambda doc=doc, field=field: self._day(doc.on, f"{field}.on"))
            found.append(Harvest(crop, got, doc.on))
        return tuple(found)

    def _shed(self) -> dict[str, StockLine]:
        lines = {}
        for place, doc in enumerate(self.doc.shed):
            field = f"shed.{place}"
            key = self._attempt(lambda doc=doc, field=field: self._material(doc.material, f"{field}.material"))
            line = self._attempt(lambda doc=doc, field=field: shed_line(doc, field))
            if key and line:
                lines[key] = line
        return lines

    def _done(self, plot: Plot) -> tuple[ApplicationRecord, ...]:
        found = [
            self._attempt(lambda doc=doc, place=place: self._dressing(doc, plot, f"done.{place}"))
            for place, doc in enumerate(self.doc.done)
        ]
        return tuple(item for item in found if item is not None)

    def _dressing(self, doc: DoneDoc, plot: Plot, field: str) -> ApplicationRecord:
        material = self.tables.materials[self._material(doc.material, f"{field}.material")]
        kg = positive_quantity(self._local(doc.amount), "mass", f"{field}.amount", low=0, high=1e8)
        self._day(doc.on, f"{field}.on")
        return ApplicationRecord(material, kg / (plot.area_m2 or 1.0) * 10_000, doc.on)

    def _closed(self) -> tuple[ClosedSeason, ...]:
        found = []
        for place, doc in enumerate(self.doc.closed):
            self._named(doc.materials, f"closed.{place}.materials")
            found.append(self._attempt(lambda doc=doc, place=place: read_closed(doc, f"closed.{place}")))
        return tuple(season for season in found if season is not None)

    def _climate(self) -> Climate | None:
        doc = self.doc.climate
        if doc is None:
            return None
        return (
            climate_of(doc.key, self.tables)
            if doc.key
            else own_climate(doc.name, doc.warmth_c, doc.rain_mm, doc.last_frost, doc.first_frost)
        )

    def _own_materials(self) -> dict[str, Material]:
        """Materials of the shed whose own label says something else than the table."""
        found = {}
        for place, doc in enumerate(self.doc.shed):
            if doc.label is None or doc.material not in self.tables.materials:
                continue
            base = self.tables.materials[doc.material]
            own = self._attempt(lambda doc=doc, place=place, base=base: own_material(base, doc.label, f"shed.{place}.label"))
            if own is not None and own is not base:
                found[doc.material] = own
        return found
