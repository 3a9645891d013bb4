"""The short head of a newcomer's first slip."""

from web.readings.forms import SlipForm


class FirstSlipForm(SlipForm):
    """A slip's head without the choice of a plot, which is made in the same breath."""

    def __init__(self, *args, holding, **kwargs):
        super().__init__(*args, holding=holding, plots=None, **kwargs)
        for name in ("plot", "note"):
            del self.fields[name]
