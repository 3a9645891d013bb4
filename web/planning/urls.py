"""Addresses of plans."""

from django.urls import path

from web.planning import aims, closer, fits, given, holding_bags, materials, own_figures, schools, shed, swaps, untested, views

app_name = "planning"
urlpatterns = [
    path("", views.plans, name="plans"),
    path("fits/", fits.fits, name="fits"),
    path("holding/", holding_bags.holding_bags, name="holding_bags"),
    path("holding/use/", holding_bags.use_holding_bags, name="use_holding_bags"),
    path("shed/", shed.shed, name="shed"),
    path("shed/<int:pk>/", shed.shed, name="edit_lot"),
    path("shed/<int:pk>/take-out/", shed.take_out_lot, name="take_out_lot"),
    path("buying/", shed.buying, name="buying"),
    path("buying/list.csv", shed.buying_csv, name="buying_csv"),
    path("materials/", materials.price_of_work, name="price_of_work"),
    path("materials/together/", materials.together, name="together"),
    path("own/", own_figures.own_figures, name="own_figures"),
    path("own/crops/<int:pk>/", own_figures.edit_crop, name="edit_own_crop"),
    path("own/crops/<int:pk>/remove/", own_figures.delete_crop, name="delete_own_crop"),
    path("own/level/remove/", own_figures.drop_level, name="drop_level"),
    path("plot/<int:pk>/", views.bench, name="bench"),
    path("plot/<int:pk>/working/<slug:key>/", views.bench_working, name="bench_working"),
    path("plot/<int:pk>/schools/", schools.side_by_side, name="schools"),
    path("plot/<int:pk>/schools/choose/", schools.choose, name="choose_school"),
    path("plot/<int:pk>/given/", given.given, name="given"),
    path("plot/<int:pk>/given/switch/", given.switch, name="switch_credit"),
    path("plot/<int:pk>/given/take-out/", given.take_out, name="take_out_gift"),
    path("plot/<int:pk>/given/response/", given.response, name="response"),
    path("plot/<int:pk>/try/", fits.try_crop, name="try_crop"),
    path("plot/<int:pk>/nitrogen/", materials.nitrogen_sources, name="nitrogen_sources"),
    path("plot/<int:pk>/aims/", aims.aims, name="aims"),
    path("plot/<int:pk>/aims/slide/", aims.slide, name="slide"),
    path("plot/<int:pk>/swap/<slug:material>/", swaps.swap, name="swap"),
    path("plot/<int:pk>/wish/", swaps.drop_wish, name="drop_wish"),
    path("plot/<int:pk>/aims/choose/", aims.choose_aim, name="choose_aim"),
    path("plot/<int:pk>/closer/", closer.closer, name="closer"),
    path("plot/<int:pk>/sharpen/", closer.sharpen, name="sharpen"),
    path("plot/<int:pk>/untested/", untested.untested, name="untested"),
    path("plot/<int:pk>/adopt/", views.adopt_plan, name="adopt"),
    path("<int:pk>/", views.adopted_plan, name="adopted"),
    path("<int:pk>/sheet/", views.sheet, name="sheet"),
    path("<int:pk>/working/<slug:key>/", views.adopted_working, name="adopted_working"),
    path("<int:pk>/plan.json", views.adopted_json, name="json"),
    path("<int:pk>/withdraw/", views.withdraw, name="withdraw"),
]
