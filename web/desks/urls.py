"""Addresses of the desks."""

from django.urls import path

from web.desks import budget_limited, holding_means, index
from web.desks.applying import acidity, bale, load_job, manure, measures, release, spreader, trace_jobs, traces
from web.desks.diagnosis import leaching, symptom_key, topdress, watch
from web.desks.mixing import blends, sieves, tank

app_name = "desks"
urlpatterns = [
    path("", index.desks, name="desks"),
    path("ailing/", symptom_key.ailing, name="ailing"),
    path("watch/", watch.watch, name="watch"),
    path("watch/<int:pk>/keep/", watch.keep_watch, name="keep_watch"),
    path("watch/<int:pk>/settle/", watch.settle_watch, name="settle_watch"),
    path("watch/<int:pk>/take-out/", watch.drop_watch, name="drop_watch"),
    path("tank/", tank.tank_desk, name="tank"),
    path("spreader/", spreader.spreader, name="spreader"),
    path("spreader/<int:pk>/take-out/", spreader.drop_run, name="drop_run"),
    path("blends/", blends.blends, name="blends"),
    path("blends/<int:pk>/", blends.kept_blend, name="blend"),
    path("blends/<int:pk>/take-out/", blends.drop_blend, name="drop_blend"),
    path("sieves/", sieves.sieves, name="sieves"),
    path("bales/", bale.bales, name="bales"),
    path("holding/means/", holding_means.holding_means, name="holding_means"),
    path("plot/<int:pk>/measures/", measures.measures, name="measures"),
    path("plot/<int:pk>/manure/", manure.manure, name="manure"),
    path("plot/<int:pk>/manure/job/", load_job.job_for_a_load, name="load_job"),
    path("plot/<int:pk>/acidity/", acidity.acidity, name="acidity"),
    path("plot/<int:pk>/salt/", leaching.flush, name="flush"),
    path("plot/<int:pk>/weeks/", release.release, name="release"),
    path("plot/<int:pk>/means/", budget_limited.means, name="means"),
    path("plot/<int:pk>/hungry/", topdress.topdress_desk, name="topdress"),
    path("plot/<int:pk>/traces/", traces.traces, name="traces"),
    path("plot/<int:pk>/traces/jobs/", trace_jobs.jobs_for_a_trace, name="trace_jobs"),
]
