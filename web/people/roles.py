"""What each role of a holding may reach. Owners reach all of their holding; others only what stands here."""

from django.core.exceptions import PermissionDenied

from web.people.models import Membership
from web.people.signing.urls import urlpatterns as signing_in

SAFE = frozenset({"GET", "HEAD", "OPTIONS"})
# What is one's own, whatever the role: account, units, the choice of holding, one's calendar feed.
OWN = frozenset(
    {
        "people:units",
        "people:choose_holding",
        "people:account",
        "people:end_session",
        "people:end_others",
        "people:close_account",
        "people:new_holding",
        "api:tokens",
        "practice:practice",
        "practice:exercise",
        "practice:stories",
        "practice:years",
        "practice:sets",
        "practice:set",
        "api:drop_token",
        "all_holdings",
        "wave_off",
        "people:join",
        "jobs:make_feed",
        "jobs:revoke_feed",
        "jobs:worker",
    }
) | {address.name for address in signing_in}
# of these, what hangs on a holding: without one there is nothing to keep it at
OF_A_HOLDING = frozenset(
    {
        "people:units",
        "api:tokens",
        "api:drop_token",
        "wave_off",
        "jobs:make_feed",
        "jobs:revoke_feed",
        "home",
        "planning:together",
        "planning:material",
    }
)
LOOKED_UP = frozenset({"how", "home", "health", "keys", "rules", "claims", "sources", "planning:material", "planning:together"})
WORKER = frozenset(
    {
        "jobs:jobs",
        "jobs:job",
        "jobs:say_today",
        "records:log",
        "records:correct",
        "records:photo",
        "jobs:sheet",
        "jobs:calendar",
        "jobs:calendar_file",
        "sampling:at_the_plot",
        "sampling:mark_core",
        "changes:undo",
        "changes:recent",
    }
)
# Pages that a worker looks at for a job: how to measure it out, the tank, the spreader, the plan's sheet.
WORKER_READS = frozenset({"desks:measures", "desks:tank", "desks:spreader", "desks:traces", "desks:topdress", "planning:sheet"})
ADVISER_POSTS = frozenset({"planning:propose", "planning:read_plan", "planning:stop_holding_bags", "changes:undo"})  # each undo asks again
# What an adviser may do besides where the owner lets advisers enter readings and plan samples.
ADVISER_ENTERS = frozenset(
    {
        "readings:new_slip",
        "readings:edit_slip",
        "readings:fix_line",
        "readings:check_line",
        "readings:lines_for_lab",
        "readings:files",
        "readings:file",
        "readings:file_step",
        "readings:kits",
        "readings:kit_run",
        "readings:leaf_card",
        "readings:meter",
        "readings:meter_session",
        "readings:meter_live",
        "sampling:new_round",
        "sampling:round",
        "sampling:mark_all",
        "sampling:sample",
        "sampling:at_the_plot",
        "sampling:mark_core",
        "desks:keep_watch",
        "desks:settle_watch",
        "trials:trial",
        "trials:add_photo",
        "trials:data_in",
    }
)
# Pages that are a form and nothing else: nobody fills one in who may not send it.
FORM_PAGES = frozenset(
    {
        "start",
        "first_slip",
        "first_ground",
        "readings:new_slip",
        "readings:edit_slip",
        "readings:files",
        "readings:kits",
        "readings:leaf_card",
        "readings:meter",
        "readings:own_kit",
        "readings:own_card",
        "sampling:new_round",
        "ground:new_plot",
        "ground:many",
        "ground:edit_plot",
        "ground:edit_planting",
        "ground:edit_water",
        "ground:boundaries",
        "ground:board",
        "ground:delete_plot",
        "readings:delete_slip",
        "sampling:delete_round",
        "records:correct",
        "jobs:edit_programme",
        "planning:edit_own_crop",
        "supplies:edit_lot",
        "people:holding",
        "people:people",
        "close_holding",
        "archive",
        "sheet_out",
        "trials:new_trial",
        "trials:doses",
        "archive_file",  # all of the holding in one file: only its owners take it along
    }
)


def may(role: str, name: str, method: str, *, enters: bool = False) -> bool:
    """Whether a role may call an address (its name with its room) by a method; `enters`: the owner lets advisers enter readings.

    >>> may("worker", "jobs:job", "POST"), may("worker", "planning:bench", "GET"), may("adviser", "planning:bench", "GET")
    (True, False, True)
    >>> may("worker", "desks:measures", "GET"), may("worker", "desks:spreader", "POST")
    (True, False)
    >>> may("adviser", "readings:new_slip", "GET"), may("adviser", "readings:new_slip", "POST", enters=True)
    (False, True)
    >>> may("adviser", "planning:adopt", "POST"), may("adviser", "planning:propose", "POST"), may("owner", "planning:adopt", "POST")
    (False, True, True)
    """
    if role == Membership.Role.OWNER or name in OWN:
        return True
    if role == Membership.Role.WORKER:
        return name in WORKER or (name in LOOKED_UP | WORKER_READS and method in SAFE)
    if enters and name in ADVISER_ENTERS:
        return True
    return name in ADVISER_POSTS or (method in SAFE and name not in FORM_PAGES)


def check(request) -> None:
    """Raises PermissionDenied where the member's role does not reach the page that was asked for."""
    match = request.resolver_match
    if match is None or not request.user.is_authenticated:
        return
    membership = request.place.membership
    if membership is None:
        if match.view_name in (OWN | LOOKED_UP) - OF_A_HOLDING:
            return
        raise PermissionDenied("you are on no holding at present; begin one under “Your account”, or ask an owner for an invitation")
    if not request.place.may(match.view_name, request.method):
        raise PermissionDenied(f"as {membership.get_role_display()} of {membership.holding} you don't reach this page; ask its owner")
