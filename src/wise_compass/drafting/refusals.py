"""The one way in which bad input is answered."""

from __future__ import annotations

from wise_compass.drafting.wording import PLAIN, Style


class Refused(Exception):
    """Something asked for cannot be: names the given, the limit for these numbers and the remedy.

    ``given`` is the id of the given at fault ("" when it is the figure or the file as a whole). ``template`` carries
    its lengths as quantities; :attr:`says` has them in millimetres, :meth:`words` in a person's own unit. It is one
    line, whatever was typed that it repeats.
    """

    def __init__(self, given: str, template: str) -> None:
        self.given = given
        self.template = " ".join(template.splitlines())
        super().__init__(self.says)

    def __reduce__(self) -> tuple[type[Refused], tuple[str, str]]:
        """As it goes from process to process, of whichever kind it is: what is said and of what, which
        :class:`Exception` by itself would not keep."""
        return Refused, (self.given, self.template)

    @property
    def says(self) -> str:
        """The refusal in millimetres."""
        return PLAIN.say(self.template)

    def words(self, style: Style = PLAIN) -> str:
        """The refusal in a person's own unit."""
        return style.say(self.template)
