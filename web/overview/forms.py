"""The short head of a newcomer's first slip."""

from web.readings.forms import SlipForm


class FirstSlipForm(SlipForm):
    """A slip's head without the choice of a plot, which is made in the same breath."""

    class Meta(SlipForm.Meta):
        fields = ["lab", "how", "taken_on"]

    def __init__(self, *args, **kwargs):
        super(SlipForm, self).__init__(*args, **kwargs)
