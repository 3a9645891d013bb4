"""The shed by lots, and the suppliers with what they ask."""

from django.db import models

from agronomy.intake.own_material import LabelDoc
from web.shaped import ShapedField


class StockLot(models.Model):
    """A lot in the shed: how much of a material, what a kilogram cost, how large its bags are. Amounts in kg."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="stock_lots")
    material = models.CharField(max_length=60)
    kg = models.FloatField()
    price_per_kg = models.FloatField(null=True, blank=True)
    bag_kg = models.FloatField(null=True, blank=True)
    bought_on = models.DateField(null=True, blank=True)
    label = ShapedField(of=LabelDoc, null=True, blank=True)  # what its own label or analysis says, as typed
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["material", "bought_on", "pk"]
        # several people may take from a lot at once; none of them takes what is no longer there
        constraints = [models.CheckConstraint(condition=models.Q(kg__gte=0, kg__lte=1e8), name="lot_is_never_overdrawn")]

    def __str__(self) -> str:
        return f"{self.kg:g} kg of {self.material}"


class Supplier(models.Model):
    """Somebody who sells: how long delivery takes."""

    holding = models.ForeignKey("people.Holding", on_delete=models.CASCADE, related_name="suppliers")
    name = models.CharField(max_length=80)
    delivery_days = models.PositiveSmallIntegerField(default=7)
    note = models.CharField(max_length=120, blank=True)

    class Meta:
        ordering = ["name", "pk"]
        constraints = [models.UniqueConstraint(fields=["holding", "name"], name="one_supplier_of_a_name")]

    def __str__(self) -> str:
        return self.name


class SupplierOffer(models.Model):
    """What a supplier asks for a material, and in which bags [own money per kg, kg]."""

    supplier = models.ForeignKey(Supplier, on_delete=models.CASCADE, related_name="offers")
    material = models.CharField(max_length=60)
    price_per_kg = models.FloatField()
    bag_kg = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["material", "price_per_kg", "pk"]
        constraints = [models.UniqueConstraint(fields=["supplier", "material"], name="one_offer_for_a_material")]

    def __str__(self) -> str:
        return f"{self.material} from {self.supplier}"
