"""Addresses of plans."""

from django.urls import path

from web.bags import aims, holding_bags, material_page, materials, swaps
from web.comparing import fits, schools, soil_balance, untested
from web.credits import credits_page, own_figures
from web.plans import contractor, letters, proposals, reading_in, views

app_name = "planning"
urlpatterns = [
    path("", views.plans, name="plans"),
    path("adopt/", views.adopt_many, name="adopt_many"),
    path("letters/", letters.letters, name="letters"),
    path("contractor/", contractor.contractor, name="contractor"),
    path("contractor/rates/<slug:form>/", contractor.rate_map, name="rate_map"),
    path("sheets/", views.sheets, name="sheets"),
    path("fits/", fits.fits, name="fits"),
    path("holding/", holding_bags.holding_bags, name="holding_bags"),
    path("holding/stop/", holding_bags.stop_holding_bags, name="stop_holding_bags"),
    path("holding/use/", holding_bags.use_holding_bags, name="use_holding_bags"),
    path("materials/", materials.price_of_work, name="price_of_work"),
    path("materials/together/", materials.together, name="together"),
    path("materials/<slug:key>/", material_page.material, name="material"),
    path("own/", own_figures.own_figures, name="own_figures"),
    path("own/crops/<int:pk>/", own_figures.edit_crop, name="edit_own_crop"),
    path("own/crops/<int:pk>/remove/", own_figures.delete_crop, name="delete_own_crop"),
    path("own/level/remove/", own_figures.drop_level, name="drop_level"),
    path("plot/<int:pk>/", views.bench, name="bench"),
    path("plot/<int:pk>/working/<slug:key>/", views.bench_working, name="bench_working"),
    path("plot/<int:pk>/schools/", schools.side_by_side, name="schools"),
    path("plot/<int:pk>/schools/choose/", schools.choose, name="choose_school"),
    path("plot/<int:pk>/given/", credits_page.given, name="given"),
    path("plot/<int:pk>/given/switch/", credits_page.switch, name="switch_credit"),
    path("plot/<int:pk>/given/take-out/", credits_page.take_out, name="take_out_gift"),
    path("plot/<int:pk>/given/response/", credits_page.response, name="response"),
    path("plot/<int:pk>/try/", fits.try_crop, name="try_crop"),
    path("plot/<int:pk>/nitrogen/", materials.nitrogen_sources, name="nitrogen_sources"),
    path("plot/<int:pk>/aims/", aims.aims, name="aims"),
    path("plot/<int:pk>/aims/slide/", aims.slide, name="slide"),
    path("plot/<int:pk>/swap/<slug:material>/", swaps.swap, name="swap"),
    path("plot/<int:pk>/wish/", swaps.drop_wish, name="drop_wish"),
    path("plot/<int:pk>/aims/choose/", aims.choose_aim, name="choose_aim"),
    path("plot/<int:pk>/closer/", soil_balance.closer, name="closer"),
    path("plot/<int:pk>/sharpen/", soil_balance.sharpen, name="sharpen"),
    path("plot/<int:pk>/untested/", untested.untested, name="untested"),
    path("plot/<int:pk>/propose/", proposals.propose, name="propose"),
    path("plot/<int:pk>/read/", reading_in.read_plan, name="read_plan"),
    path("proposals/<int:pk>/", proposals.proposal, name="proposal"),
    path("proposals/<int:pk>/working/<slug:key>/", proposals.proposal_working, name="proposal_working"),
    path("proposals/<int:pk>/adopt/", proposals.adopt_proposal, name="adopt_proposal"),
    path("proposals/<int:pk>/decline/", proposals.decline_proposal, name="decline_proposal"),
    path("plot/<int:pk>/letter/", letters.plot_letter, name="plot_letter"),
    path("plot/<int:pk>/adopt/", views.adopt_plan, name="adopt"),
    path("<int:pk>/", views.adopted_plan, name="adopted"),
    path("<int:pk>/letter/", letters.adopted_letter, name="letter"),
    path("<int:pk>/sheet/", views.sheet, name="sheet"),
    path("<int:pk>/working/<slug:key>/", views.adopted_working, name="adopted_working"),
    path("<int:pk>/plan.json", views.adopted_json, name="json"),
    path("<int:pk>/withdraw/", views.withdraw, name="withdraw"),
]
