"""Addresses of readings, by the ways they come in."""

from django.urls import path

from web.readings.views import files, kits, leaves, ledger, meter, own_cards, slips

app_name = "readings"
urlpatterns = [
    path("", ledger.slips, name="slips"),
    path("compare/", ledger.compare, name="compare"),
    path("readings.csv", ledger.export_csv, name="export"),
    path("new/", slips.new_slip, name="new_slip"),
    path("check-line/<int:place>/", slips.check_line, name="check_line"),
    path("lines-for-lab/", slips.lines_for_lab, name="lines_for_lab"),
    path("<int:pk>/edit/", slips.edit_slip, name="edit_slip"),
    path("<int:pk>/remove/", slips.delete_slip, name="delete_slip"),
    path("<int:pk>/fix/<int:line_pk>/", slips.fix_line, name="fix_line"),
    path("files/", files.files, name="files"),
    path("files/<int:pk>/", files.file, name="file"),
    path("files/<int:pk>/make-plots/", files.make_plots, name="make_plots"),
    path("files/<int:pk>/step/", files.file_step, name="file_step"),
    path("files/<int:pk>/take-out/", files.take_out_file, name="take_out_file"),
    path("files/<int:pk>/throw-away/", files.delete_file, name="delete_file"),
    path("files/<int:pk>/original/", files.original, name="original"),
    path("kits/", kits.kits, name="kits"),
    path("kits/new/", kits.own_kit, name="own_kit"),
    path("kits/<slug:key>/file/", kits.kit_file, name="kit_file"),
    path("kits/<slug:key>/remove/", kits.delete_kit, name="delete_kit"),
    path("kits/run/<int:pk>/", kits.kit_run, name="kit_run"),
    path("kits/run/<int:pk>/drop/", kits.drop_run, name="drop_run"),
    path("meter/", meter.meter, name="meter"),
    path("meter/<int:pk>/", meter.meter_session, name="meter_session"),
    path("meter/<int:pk>/live/", meter.meter_live, name="meter_live"),
    path("meter/<int:pk>/drop/", meter.drop_session, name="drop_session"),
    path("leaf-card/", leaves.leaf_card, name="leaf_card"),
    path("leaf-card/new/", own_cards.own_card, name="own_card"),
    path("leaf-card/<slug:key>/file/", own_cards.card_file, name="card_file"),
    path("leaf-card/<slug:key>/remove/", own_cards.delete_card, name="delete_card"),
]
