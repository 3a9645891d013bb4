"""What an adviser adds beside doses, and when it bears on a plan."""

from pydantic import Field

from agronomy.tables.rooms.documents import Sourced, Strict, Text


class Advice(Sourced):
    """One sentence or two, said where all of `when` and one of `any` hold and none of `unless`; `{crop}` is the crop's name."""

    key: Text
    about: Text
    when: tuple[Text, ...] = ()
    any: tuple[Text, ...] = ()
    unless: tuple[Text, ...] = ()
    says: Text


class AdviceDocument(Strict):
    """All advice, what matters most first."""

    advice: tuple[Advice, ...] = Field(min_length=1)
