"""Addresses of the shed, its suppliers and what to buy."""

from django.urls import path

from web.supplies import buying, shed, suppliers

app_name = "supplies"
urlpatterns = [
    path("", shed.shed, name="shed"),
    path("<int:pk>/", shed.shed, name="edit_lot"),
    path("<int:pk>/take-out/", shed.take_out_lot, name="take_out_lot"),
    path("buying/", buying.buying, name="buying"),
    path("buying/list.csv", buying.buying_csv, name="buying_csv"),
    path("suppliers/", suppliers.suppliers, name="suppliers"),
    path("suppliers/<int:pk>/", suppliers.supplier, name="supplier"),
    path("suppliers/<int:pk>/remove/", suppliers.drop_supplier, name="drop_supplier"),
    path("suppliers/offer/<int:pk>/remove/", suppliers.drop_offer, name="drop_offer"),
]
