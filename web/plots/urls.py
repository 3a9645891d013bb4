"""Addresses of the ground: plots, their soil and crops, waters, the drawing board, boundary files."""

from django.urls import path

from web.plots import board, boundaries, crops, many, plots, texture, waters

app_name = "ground"
urlpatterns = [
    path("new/", plots.new_plot, name="new_plot"),
    path("many/", many.many, name="many"),
    path("fields/", plots.plot_fields, name="plot_fields"),
    path("retired/", plots.retired, name="retired"),
    path("<int:pk>/edit/", plots.edit_plot, name="edit_plot"),
    path("<int:pk>/remove/", plots.delete_plot, name="delete_plot"),
    path("<int:pk>/texture/", texture.texture, name="texture"),
    path("<int:pk>/crops/", crops.crops, name="crops"),
    path("<int:pk>/crops/<int:planting_pk>/", crops.edit_planting, name="edit_planting"),
    path("<int:pk>/crops/<int:planting_pk>/remove/", crops.delete_planting, name="delete_planting"),
    path("<int:pk>/new-ground/", crops.new_ground, name="new_ground"),
    path("years/", crops.years, name="years"),
    path("waters/", waters.waters, name="waters"),
    path("waters/<int:pk>/", waters.waters, name="edit_water"),
    path("waters/<int:pk>/remove/", waters.delete_water, name="delete_water"),
    path("board/", board.board, name="board"),
    path("board/measure/", board.measure_fields, name="board_measure"),
    path("board/<slug:act>/", board.act, name="board_act"),
    path("boundaries/", boundaries.read_in, name="boundaries"),
    path("boundaries/plots.geojson", boundaries.geojson, name="geojson"),
    path("boundaries/plots.zip", boundaries.shapefile, name="shapefile"),
]
