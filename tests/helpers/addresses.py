"""Every address of the web, from the resolver, with the objects that it is about: no new page escapes the tests of the house."""

from collections.abc import Iterator
from datetime import timedelta

from allauth.usersessions.models import UserSession
from django.http import HttpResponse
from django.test import Client
from django.urls import get_resolver, reverse
from django.utils import timezone

from web.api.models import ApiToken
from web.changes.models import Change
from web.core import tables
from web.desks.models import OwnBlend, SpreaderRun
from web.ground.models import OwnCrop, Plot, WaterSource
from web.jobs.models import Job, OwnProgramme
from web.people.models import Invitation, Membership, User
from web.planning.models import AdoptedPlan, PlanProposal
from web.readings.models import KitRun, LabFile, LabResult, MeterSession, OwnKit, OwnLeafCard
from web.records.models import LogEntry, LogPhoto, Sighting
from web.sampling.models import Sample, SamplingRound
from web.sensors.models import Gateway, Probe
from web.supplies.models import StockLot, Supplier, SupplierOffer
from web.trials.models import Trial, TrialPhoto

# What stands in an address: a kind of object that one_of_everything makes, or a word after "=".
OWNED: dict[str, tuple[str, ...]] = {
    "changes:undo": ("change",),
    "chart_page": ("plot",),
    "chart_learn": ("plot",),
    "desks:acidity": ("plot",),
    "desks:blend": ("blend",),
    "desks:drop_blend": ("blend",),
    "desks:drop_run": ("run_kept",),
    "desks:manure": ("plot",),
    "desks:measures": ("plot",),
    "desks:release": ("plot",),
    "desks:means": ("plot",),
    "desks:topdress": ("plot",),
    "desks:flush": ("plot",),
    "desks:keep_watch": ("plot",),
    "desks:settle_watch": ("seen",),
    "desks:drop_watch": ("seen",),
    "desks:traces": ("plot",),
    "ground:crops": ("plot",),
    "ground:delete_plot": ("plot",),
    "ground:delete_water": ("water",),
    "ground:edit_plot": ("plot",),
    "ground:edit_water": ("water",),
    "ground:new_ground": ("plot",),
    "ground:texture": ("plot",),
    "jobs:assign": ("work",),
    "records:correct": ("entry",),
    "jobs:drop": ("work",),
    "jobs:drop_programme": ("programme",),
    "jobs:edit_programme": ("programme",),
    "jobs:job": ("work",),
    "desks:load_job": ("plot",),
    "records:photo": ("photo",),
    "desks:trace_jobs": ("plot",),
    "plot_compare": ("plot",),
    "plot_history": ("plot",),
    "plot_measure": ("plot",),
    "plot_readings": ("plot",),
    "planning:adopt": ("plot",),
    "planning:adopted": ("plan",),
    "planning:aims": ("plot",),
    "planning:bench": ("plot",),
    "planning:choose_aim": ("plot",),
    "planning:choose_school": ("plot",),
    "planning:closer": ("plot",),
    "planning:delete_own_crop": ("mine",),
    "supplies:drop_offer": ("offer",),
    "supplies:drop_supplier": ("seller",),
    "planning:drop_wish": ("plot",),
    "supplies:edit_lot": ("lot",),
    "planning:edit_own_crop": ("mine",),
    "planning:given": ("plot",),
    "planning:json": ("plan",),
    "planning:letter": ("plan",),
    "planning:plot_letter": ("plot",),
    "planning:nitrogen_sources": ("plot",),
    "planning:propose": ("plot",),
    "planning:read_plan": ("plot",),
    "planning:response": ("plot",),
    "planning:schools": ("plot",),
    "planning:sharpen": ("plot",),
    "planning:sheet": ("plan",),
    "planning:slide": ("plot",),
    "supplies:supplier": ("seller",),
    "planning:switch_credit": ("plot",),
    "planning:take_out_gift": ("plot",),
    "supplies:take_out_lot": ("lot",),
    "planning:try_crop": ("plot",),
    "planning:untested": ("plot",),
    "planning:withdraw": ("plan",),
    "readings:delete_file": ("file",),
    "readings:make_plots": ("file",),
    "readings:delete_slip": ("slip",),
    "readings:drop_run": ("run",),
    "readings:drop_session": ("meter",),
    "readings:edit_slip": ("slip",),
    "readings:file": ("file",),
    "readings:file_step": ("file",),
    "readings:kit_run": ("run",),
    "readings:meter_live": ("meter",),
    "readings:meter_session": ("meter",),
    "readings:original": ("file",),
    "readings:take_out_file": ("file",),
    "sampling:delete_round": ("round",),
    "sampling:delete_sample": ("sample",),
    "sampling:lab_forms": ("round",),
    "sampling:labels": ("round",),
    "sampling:round": ("round",),
    "sampling:sample": ("sample",),
    "sensors:delete_probe": ("probe",),
    "sensors:gateway": ("gateway",),
    "sensors:probe": ("probe",),
    "sensors:renew_token": ("gateway",),
    "sensors:revoke": ("gateway",),
    "slip_page": ("slip",),
    "ground:edit_planting": ("plot", "planting"),
    "ground:delete_planting": ("plot", "planting"),
    "sampling:mark_all": ("round", "=taken"),
    "sampling:at_the_plot": ("code",),
    "sampling:mark_core": ("code", "=1"),
    "readings:fix_line": ("slip", "line"),
    "readings:delete_kit": ("kit",),
    "readings:kit_file": ("kit",),
    "readings:card_file": ("card",),
    "readings:delete_card": ("card",),
    "planning:bench_working": ("plot", "=dose-0"),
    "planning:swap": ("plot", "=urea"),
    "planning:proposal": ("proposal",),
    "planning:proposal_working": ("proposal", "=dose-0"),
    "planning:adopt_proposal": ("proposal",),
    "planning:decline_proposal": ("proposal",),
    "planning:adopted_working": ("plan", "=dose-0"),
    "people:take_out": ("member",),
    "trials:trial": ("trial",),
    "trials:redraw": ("trial",),
    "trials:delete_trial": ("trial",),
    **dict.fromkeys(("trials:doses", "trials:put_doses_on_list", "trials:measure_on", "trials:data_csv"), ("trial",)),
    **dict.fromkeys(("trials:data_in", "trials:add_photo", "trials:labels"), ("trial",)),
    "trials:drop_photo": ("trial_photo",),
    "people:change_role": ("member",),
    "people:end_session": ("signed_in",),
    "api:drop_token": ("token",),
    "people:take_back": ("invitation",),
}
# Addresses with a word in them that belongs to nobody, or that open with a secret of their own.
SHARED: dict[str, tuple[str, ...]] = {
    "ground:board_act": ("=lift",),
    "readings:check_line": ("=0",),
    "first_ground": ("=none",),
    "planning:rate_map": ("=geojson",),
    "how": ("=smp",),
    "practice:exercise": ("=dose",),
    "practice:years": ("=overlime",),
    "practice:set": ("=no-such-code",),
    "sheet_out": ("=log", "=csv"),
    "planning:material": ("=urea",),
    "wave_off": ("=epsom_ber",),
    "jobs:programme": ("=grass_cuts",),
    "jobs:copy_programme": ("=grass_cuts",),
    "jobs:feed": ("=no-such-token",),
    "people:join": ("=no-such-token",),
    "account_confirm_email": ("=no-such-token",),
    "account_reset_password_from_key": ("=nobody", "=no-such-token"),
}


BY_TOKEN = "api-1"  # programs sign in by a token; tests/web/test_api.py walks these addresses


def patterns() -> Iterator[tuple[str, list[str]]]:
    """Every named address and what it takes."""

    def walk(resolver, namespace: str) -> Iterator[tuple[str, list[str]]]:
        for pattern in resolver.url_patterns:
            if hasattr(pattern, "url_patterns"):
                if pattern.namespace != BY_TOKEN:
                    yield from walk(pattern, namespace + (f"{pattern.namespace}:" if pattern.namespace else ""))
            else:
                yield namespace + pattern.name, list(pattern.pattern.regex.groupindex)

    return walk(get_resolver(), "")


PLAIN = sorted(name for name, taken in patterns() if not taken)


def address(name: str, objects: dict) -> str:
    """The address of a name, with the objects that it is about."""
    told = OWNED.get(name) or SHARED.get(name, ())
    return reverse(name, args=[word[1:] if word.startswith("=") else objects[word] for word in told])


def opened_pages(client: Client, objects: dict) -> Iterator[tuple[str, HttpResponse]]:
    """All whole pages that a signed-in person can open, with their addresses."""
    for name in sorted({*OWNED, *SHARED, *PLAIN} - {"people:join"}):
        opened = address(name, objects)
        answer = client.get(opened)
        if answer.status_code == 200 and answer.headers["Content-Type"].startswith("text/html") and b"</html>" in answer.content:
            yield opened, answer


def pages(client: Client, objects: dict) -> list[str]:
    """The addresses of all whole pages that a signed-in person can open."""
    return [opened for opened, _ in opened_pages(client, objects)]


def one_of_everything(grower: Client, border: Plot) -> dict:
    """One of all that an address can be about, on one plot of one holding; its owner is signed in."""
    thornmere = border.holding
    grower.post(reverse("planning:adopt", args=[border.pk]))
    round_ = SamplingRound.objects.create(holding=thornmere, name="Autumn", planned_on="2026-10-01")
    gateway = Gateway.objects.create(holding=thornmere, name="Yard", token_sha256="0" * 64)
    seller = Supplier.objects.create(holding=thornmere, name="Barn Lane")
    content = b"Sample,pH\nLong Border 7,6.0\n"
    made = {
        "plot": border,
        "slip": border.slips.get(),
        "plan": AdoptedPlan.objects.get(),
        "change": Change.objects.get(),
        "round": round_,
        "gateway": gateway,
        "sample": Sample.objects.create(round=round_, plot=border, code="3334", bottom_cm=15, cores_wanted=10),
        "mine": OwnCrop.objects.create(holding=thornmere, name="Show dahlia", base="dahlia", figures={"ph_low": 6.4}),
        "lot": StockLot.objects.create(holding=thornmere, material="gypsum", kg=10),
        "blend": OwnBlend.objects.create(holding=thornmere, name="Breakfast", parts=[["blood_meal", 1], ["kelp_meal", 1]]),
        "run_kept": SpreaderRun.objects.create(holding=thornmere, spreader="barrow", material="urea", setting=3, measured_on="2026-10-01"),
        "seller": seller,
        "offer": SupplierOffer.objects.create(supplier=seller, material="gypsum", price_per_kg=0.2),
        "work": Job.objects.create(
            holding=thornmere, plot=border, material="gypsum", name="gypsum", what="S", kg=1, from_day="2026-10-01", to_day="2026-10-09"
        ),
        "photo": LogPhoto.objects.create(holding=thornmere, jpeg=b"jpeg"),
        "seen": Sighting.objects.create(holding=thornmere, plot=border, seen=["col_yellow"]),
        "entry": LogEntry.objects.create(holding=thornmere, plot=border, material="urea", name="urea", kg=1),
        "programme": OwnProgramme.objects.create(
            holding=thornmere, name="Mine", document={"name": "Mine", "per": "m2", "step": [{"after": 0, "do": "dig"}]}
        ),
        "water": WaterSource.objects.create(holding=thornmere, name="Tap"),
        "probe": Probe.objects.create(gateway=gateway, key="m-1", name="Moist", quantity="moisture"),
        "file": LabFile.objects.create(holding=thornmere, name="a.csv", content=content, sha256="1" * 64, sampled_on="2026-10-03"),
        "run": KitRun.objects.create(holding=thornmere, plot=border, kit="hedgerow_four", test="ph"),
        "meter": MeterSession.objects.create(holding=thornmere, plot=border, buffers=[{"ph": 7, "mv": 0}, {"ph": 4, "mv": 174}]),
    }
    plan, slip = made["plan"], made["slip"]
    made |= {
        "planting": border.plantings.first(),
        "line": LabResult.objects.create(slip=slip, place=9, analyte="Zn", typed="0.2", unit="mg/kg", method="DTPA"),
        "proposal": PlanProposal.objects.create(plot=border, note="so", rules_version="1", request=plan.request, result=plan.result),
        "member": Membership.objects.create(holding=thornmere, user=User.objects.create_user("hand@farm.example"), role="worker"),
        "invitation": Invitation.objects.create(
            holding=thornmere, role="worker", token_sha256="2" * 64, serves_until=timezone.now() + timedelta(days=7)
        ),
    }
    made["signed_in"] = UserSession.objects.create(
        user=thornmere.members.first(), session_key="k" * 32, ip="203.0.113.7", user_agent="Firefox, Linux"
    )
    about = {"name": "Ash or lime", "question": "Does ash do what lime does?", "treatments": ["nothing", "ash"], "blocks": 4, "seed": 5}
    about |= {"measured": "yield", "unit": "kg", "worth": 0.5, "begun_on": "2026-04-01"}
    made["trial"] = Trial.objects.create(holding=thornmere, plot=border, **about)
    picture = LogPhoto.objects.create(holding=thornmere, jpeg=b"")
    made["trial_photo"] = TrialPhoto.objects.create(trial=made["trial"], unit=101, taken_on="2026-06-01", photo=picture)
    made["token"] = ApiToken.objects.create(user=thornmere.members.first(), holding=thornmere, name="Sheet", token_sha256="3" * 64)
    strip = tables().kits["lantern_strip"].model_dump(mode="json", include={"how", "test"})
    OwnKit.objects.create(holding=thornmere, key="own_strip", document=strip | {"key": "own_strip", "name": "Own strip"})
    panels = [{"level": 2, "fill": "#c9cf5a", "says": "pale"}, {"level": 4, "fill": "#2f6b36", "says": "dark"}]
    about = {"name": "Own card", "crops": [], "position": "youngest leaf", "threshold": 3, "share_below": 0.6, "level": panels}
    OwnLeafCard.objects.create(holding=thornmere, key="own_card", document=about)
    return {kind: row.pk for kind, row in made.items()} | {"code": made["sample"].code, "kit": "own_strip", "card": "own_card"}
