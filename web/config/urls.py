"""Addresses, in the order of the work."""

from django.urls import include, path

from web.api.urls import by_token
from web.overview import (
    all_holdings,
    claims,
    closing,
    ground_page,
    health,
    learning,
    plot_labels,
    plot_places,
    rules,
    sheets_out,
    slip_pages,
    today,
    trend,
)
from web.overview import views as overview
from web.overview.archive import views as archive

urlpatterns = [
    path("", overview.home, name="home"),
    path("today/", today.today, name="today"),
    path("holdings/", all_holdings.all_holdings, name="all_holdings"),
    path("start/", overview.start, name="start"),
    path("start/slip/", overview.first_slip, name="first_slip"),
    path("start/<slug:way>/", overview.first_ground, name="first_ground"),
    path("ground/", ground_page.ground, name="ground_page"),
    path("plots/labels/", plot_labels.plot_labels, name="plot_labels"),
    path("plots/<int:pk>/readings/", plot_places.readings, name="plot_readings"),
    path("plots/<int:pk>/compare/", plot_places.compare, name="plot_compare"),
    path("plots/<int:pk>/measure/", plot_places.measure, name="plot_measure"),
    path("plots/<int:pk>/history/", plot_places.history, name="plot_history"),
    path("ground/", include("web.plots.urls")),
    path("samples/", include("web.sampling.urls")),
    path("readings/<int:pk>/", slip_pages.slip, name="slip_page"),
    path("readings/plot/<int:pk>/", slip_pages.chart, name="chart_page"),
    path("readings/plot/<int:pk>/learn/", trend.switch_learned, name="chart_learn"),
    path("readings/", include("web.readings.urls")),
    path("sensors/", include("web.sensors.urls")),
    path("supplies/", include("web.supplies.urls")),
    path("plans/", include("web.plans.urls")),
    path("jobs/log/", include("web.records.urls")),  # beside the jobs, so that a phone without a net keeps it
    path("jobs/", include("web.jobs.urls")),
    path("desks/", include("web.desks.urls")),
    path("practice/", include("web.practice.urls")),
    path("trials/", include("web.trials.urls")),
    path("changes/", include("web.changes.urls")),
    path("api/v1/", by_token),
    path("api/", include("web.api.urls")),
    path("rules/", rules.rules, name="rules"),
    path("rules/how/<slug:key>/", rules.how, name="how"),
    path("rules/said/", claims.claims, name="claims"),
    path("rules/said/<slug:key>/known/", claims.wave_off, name="wave_off"),
    path("learn/", learning.learn, name="learn"),
    path("learn/results/", learning.results, name="results"),
    path("learn/both-sides/", learning.both_sides, name="both_sides"),
    path("sources/", overview.sources, name="sources"),
    path("keys/", overview.keys, name="keys"),
    path("health/", health.health, name="health"),
    path("holding/archive/", archive.archive, name="archive"),
    path("holding/archive.zip", archive.archive_file, name="archive_file"),
    path("holding/sheets/<slug:name>.<slug:form>", sheets_out.sheet, name="sheet_out"),
    path("holding/close/", closing.close_this_holding, name="close_holding"),
    path("", include("web.people.signing.urls")),
    path("", include("web.people.urls")),
]

handler400 = "web.overview.errors.bad_request"
handler403 = "web.overview.errors.forbidden"
handler404 = "web.overview.errors.not_found"
handler429 = "web.overview.errors.too_often"
handler500 = "web.overview.errors.server_error"
