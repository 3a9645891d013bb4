"""How much one holding may keep, so that no one fills the server for all."""

from django.conf import settings
from django.db.models.signals import pre_save


class QuotaReached(Exception):
    """A holding has as much of a kind as it may; `says` tells a person."""

    def __init__(self, what: str, most: int):
        self.says = f"This holding has {most} {what}, the most that this server keeps for one. Remove what is no longer wanted."
        super().__init__(self.says)


def _check(sender, instance, raw: bool, **_) -> None:
    if raw or not instance._state.adding:
        return
    most = settings.QUOTAS[sender._meta.label]
    if sender._base_manager.filter(holding=instance.holding_id).count() >= most:
        raise QuotaReached(str(sender._meta.verbose_name_plural), most)


def watch(apps) -> None:
    """Looks at each new row of the models that have a quota."""
    for label in settings.QUOTAS:
        pre_save.connect(_check, sender=apps.get_model(label), dispatch_uid=f"quota-{label}")
